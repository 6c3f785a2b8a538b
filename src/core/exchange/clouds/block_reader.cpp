#include "exchange/clouds/block_reader.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <sstream>

namespace alder {

Result<BlockReader> BlockReader::open(const std::filesystem::path& path, const Progress& progress) {
  BlockReader reader;
  reader.label_ = path.filename().string();
  reader.progress_ = progress;
  std::error_code code;
  if (std::filesystem::is_directory(path, code))
    return fail("{}: is a folder; name a file of points.", path.string());
  auto stream = std::make_unique<std::ifstream>(path, std::ios::binary);
  if (!*stream) return fail("{}: cannot be opened: {}.", path.string(), std::strerror(errno));
  reader.size_ = std::filesystem::file_size(path, code);
  if (code) return fail("{}: cannot be read: {}.", path.string(), code.message());
  reader.stream_ = std::move(stream);
  return reader;
}

BlockReader BlockReader::inMemory(const std::string& bytes, const std::string& label) {
  BlockReader reader;
  reader.label_ = label;
  reader.size_ = bytes.size();
  reader.stream_ = std::make_unique<std::istringstream>(bytes);
  return reader;
}

Result<std::string> BlockReader::raw(std::size_t most) {
  if (progress_.cancelled()) return cancelledError();
  std::string block(most, '\0');
  stream_->read(block.data(), static_cast<std::streamsize>(most));
  if (stream_->bad()) return fail("{}: cannot be read beyond byte {}.", label_, position_);
  block.resize(static_cast<std::size_t>(stream_->gcount()));
  hash_ = hashOfLong(block, hash_);
  position_ += block.size();
  if (size_ > 0)
    progress_.step(std::min(1.0, static_cast<double>(position_) / static_cast<double>(size_)),
                   "reading points");
  return block;
}

Result<std::string> BlockReader::head(std::size_t most) {
  if (waiting_.size() < most) {
    auto more = raw(most - waiting_.size());
    if (!more) return more;
    waiting_ += *more;
  }
  return waiting_.substr(0, most);
}

Result<std::string> BlockReader::next(std::size_t most) {
  if (waiting_.empty()) return raw(most);
  std::string block = std::move(waiting_);
  waiting_.clear();
  if (block.size() > most) {
    waiting_ = block.substr(most);
    block.resize(most);
  } else if (block.size() < most) {
    auto more = raw(most - block.size());
    if (!more) return more;
    block += *more;
  }
  return block;
}

Result<std::string> BlockReader::lines(std::size_t most) {
  auto block = next(most);
  if (!block || block->size() < most) return block; // the end
  auto end = block->find_last_of('\n');
  if (end == std::string::npos) end = block->find_last_of('\r');
  if (end == std::string::npos)
    return fail("{}: a line of more than {} bytes; it is no file of points.", label_, most);
  waiting_ = block->substr(end + 1) + waiting_;
  block->resize(end + 1);
  return block;
}

} // namespace alder
