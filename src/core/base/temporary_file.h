// A file for a library that reads from files only; gone with its object.
#pragma once

#include "base/error.h"
#include <string>
#include <string_view>

namespace alder {

class TemporaryFile {
 public:
  // With these bytes in it, and a name that ends so.
  static Result<TemporaryFile> with(std::string_view bytes, const std::string& ending);
  TemporaryFile(TemporaryFile&& other) noexcept;
  TemporaryFile(const TemporaryFile&) = delete;
  TemporaryFile& operator=(const TemporaryFile&) = delete;
  TemporaryFile& operator=(TemporaryFile&&) = delete;
  ~TemporaryFile();
  const std::string& path() const { return path_; }

 private:
  explicit TemporaryFile(std::string path)
      : path_(std::move(path)) {}
  std::string path_;
};

} // namespace alder
