// Bytes under a path, for a library that reads from or writes to files only. They are in memory,
// not in any folder, and gone with their object or with the process, however it ends.
#pragma once

#include "base/error.h"
#include <string>
#include <string_view>

namespace alder {

class TemporaryFile {
 public:
  static Result<TemporaryFile> with(std::string_view bytes);
  TemporaryFile(TemporaryFile&& other) noexcept;
  TemporaryFile(const TemporaryFile&) = delete;
  TemporaryFile& operator=(const TemporaryFile&) = delete;
  TemporaryFile& operator=(TemporaryFile&&) = delete;
  ~TemporaryFile();
  std::string path() const; // of this process

 private:
  explicit TemporaryFile(int file)
      : file_(file) {}
  int file_ = -1;
};

} // namespace alder
