#include "base/temporary_file.h"

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <unistd.h>
#include <utility>

namespace alder {

Result<TemporaryFile> TemporaryFile::with(std::string_view bytes, const std::string& ending) {
  std::error_code error;
  const auto folder = std::filesystem::temp_directory_path(error);
  if (error) return fail("there is no folder for temporary files ({}).", error.message());
  std::string path = (folder / ("alderpoint-XXXXXX" + ending)).string();
  const int file = mkstemps(path.data(), static_cast<int>(ending.size()));
  if (file < 0) return fail("{}: cannot be written ({}).", folder.string(), std::strerror(errno));
  TemporaryFile made(path);
  while (!bytes.empty()) {
    const ssize_t count = ::write(file, bytes.data(), bytes.size());
    if (count < 0 && errno == EINTR) continue;
    if (count < 0) {
      const int why = errno;
      ::close(file);
      return fail("{}: cannot be written ({}).", path, std::strerror(why));
    }
    bytes.remove_prefix(static_cast<std::size_t>(count));
  }
  ::close(file);
  return made;
}

TemporaryFile::TemporaryFile(TemporaryFile&& other) noexcept
    : path_(std::exchange(other.path_, {})) {}

TemporaryFile::~TemporaryFile() {
  std::error_code ignored;
  if (!path_.empty()) std::filesystem::remove(path_, ignored);
}

} // namespace alder
