#include "base/temporary_file.h"

#include <cerrno>
#include <cstring>
#include <fmt/format.h>
#include <sys/mman.h>
#include <unistd.h>
#include <utility>

namespace alder {

Result<TemporaryFile> TemporaryFile::with(std::string_view bytes) {
  const int file = memfd_create("alderpoint", MFD_CLOEXEC);
  if (file < 0) return fail("there is no memory for a temporary file ({}).", std::strerror(errno));
  TemporaryFile made(file);
  while (!bytes.empty()) {
    const ssize_t count = ::write(file, bytes.data(), bytes.size());
    if (count < 0 && errno == EINTR) continue;
    if (count < 0)
      return fail("there is no memory for a temporary file ({}).", std::strerror(errno));
    bytes.remove_prefix(static_cast<std::size_t>(count));
  }
  return made;
}

TemporaryFile::TemporaryFile(TemporaryFile&& other) noexcept
    : file_(std::exchange(other.file_, -1)) {}

TemporaryFile::~TemporaryFile() {
  if (file_ >= 0) ::close(file_);
}

std::string TemporaryFile::path() const {
  return fmt::format("/proc/self/fd/{}", file_);
}

} // namespace alder
