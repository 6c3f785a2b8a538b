// The other side of base/reader_process.h: a program LABEL MEGABYTES that reads a file of others.
#pragma once

#include "base/progress.h"
#include <exception>
#include <functional>
#include <string>
#include <vector>

namespace alder {

struct ReaderTask {
  std::string label; // of the file, for people
  std::string bytes; // what is in it
  std::vector<std::string> arguments;
  Progress progress; // told to who started this program
};

// Takes the file from descriptor 0, and writes the answer to 3 or one line of error to 1; the status
// for main. `given_up` says what is told where a library throws; memory that is refused is told
// as such, with `smaller` as what helps.
int readerMain(int argc, char** argv, const std::string& smaller,
               const std::function<Result<std::string>(const ReaderTask&)>& read,
               const std::function<std::string(const std::exception&)>& given_up);

} // namespace alder
