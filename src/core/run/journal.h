// What a run came to, line by line as it happens, so that nothing measured is lost when the program
// is. Each line is JSON; the first says of what run. Format in docs/files.md.
#pragma once

#include "run/session.h"
#include <filesystem>

namespace alder {

struct RunHead {
  std::string routine; // name
  std::string key;     // of the routine as it was; another one does not go on with this run
  RunKind kind = RunKind::Automatic;
  std::int64_t seconds = 0; // since 1970, when it was begun
  std::string again = {};   // part of which features are measured again; empty: a whole part
};

struct RunJournal {
  RunHead head;
  std::vector<RunEvent> events;
};

std::string journalLine(const RunHead& head);
std::string journalLine(const RunEvent& event);
// A last line that was not written to its end counts as never written. Error names the line.
Result<RunJournal> readJournal(const std::string& text, const std::string& label);

// The events, one after the other, into a session of the routine as it was.
Done replay(RunSession& session, const std::vector<RunEvent>& events);

// Appends to a file; each line is on the disk when it returns.
class JournalFile {
 public:
  static Result<JournalFile> create(const std::filesystem::path& path, const RunHead& head);
  // Cuts off what was not written to its end.
  static Result<JournalFile> goOn(const std::filesystem::path& path);
  JournalFile(JournalFile&& other) noexcept;
  JournalFile& operator=(JournalFile&&) = delete;
  ~JournalFile();
  Done add(const RunEvent& event);

 private:
  JournalFile(int file, std::string path)
      : file_(file)
      , path_(std::move(path)) {}
  Done write(const std::string& line);
  int file_;
  std::string path_;
};

} // namespace alder
