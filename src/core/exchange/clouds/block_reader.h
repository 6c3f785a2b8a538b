// A file read in blocks, with what was read so far.
#pragma once

#include "base/error.h"
#include "base/hash.h"
#include "base/progress.h"
#include <filesystem>
#include <fstream>
#include <istream>
#include <memory>

namespace alder {

class BlockReader {
 public:
  static Result<BlockReader> open(const std::filesystem::path& path, const Progress& progress);
  static BlockReader inMemory(const std::string& bytes, const std::string& label);

  const std::string& label() const { return label_; }
  std::uintmax_t size() const { return size_; }
  std::uintmax_t position() const { return position_; }
  std::uint64_t hash() const { return hash_; }

  // The first bytes, which stay to be read.
  Result<std::string> head(std::size_t most);
  // The next bytes; fewer, or none, at the end. Error when the file cannot be read on or the
  // reading was cancelled.
  Result<std::string> next(std::size_t most);
  // Whole lines: what follows the last line end stays to be read, but at the end of the file.
  // Error where a line is longer than a block.
  Result<std::string> lines(std::size_t most);

 private:
  BlockReader() = default;
  Result<std::string> raw(std::size_t most);

  std::unique_ptr<std::istream> stream_;
  std::string label_;
  std::uintmax_t size_ = 0, position_ = 0;
  std::uint64_t hash_ = kHashOfNothing;
  std::string waiting_; // read, but not given yet
  Progress progress_;
};

} // namespace alder
