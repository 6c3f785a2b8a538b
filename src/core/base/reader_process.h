// Files that others made are read in processes of their own: a library may crash, hang or eat all
// memory over what it is given, the program may not.
#pragma once

#include "base/progress.h"
#include <string>
#include <vector>

namespace alder {

struct ReaderLimits {
  double seconds = 0;        // 0: 40 s and 4 s for each megabyte of the file
  std::size_t megabytes = 0; // 0: three quarters of the machine's memory
};

// Which program reads, and what a person is told when it fails.
struct ReaderProgram {
  std::string program; // stands beside this one
  std::string reads;   // "CAD files"
  std::string library; // "the CAD library"
  std::string again;   // what helps: "export it again from the CAD system"
};

// Runs `program LABEL MEGABYTES arguments...` with the file on descriptor 0. It tells progress on 1
// as lines "0.5 Meshing", or "error: ..." at the end, and writes its answer to 3, which is returned.
// Whatever is in the file: one line of error, and this process lives on. Can be cancelled at any
// time.
Result<std::string> readApart(const ReaderProgram& reader, const std::string& bytes,
                              const std::string& label, const std::vector<std::string>& arguments,
                              const Progress& progress = {}, const ReaderLimits& limits = {});

} // namespace alder
