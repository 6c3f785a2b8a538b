#include "base/reader_process.h"

#include "base/files.h"
#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <unistd.h>

extern char** environ;

namespace alder {
namespace {

using Clock = std::chrono::steady_clock;

// A file descriptor that is closed with its owner.
class Descriptor {
 public:
  explicit Descriptor(int fd = -1)
      : fd_(fd) {}
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  ~Descriptor() { close(); }
  int get() const { return fd_; }
  void close() {
    if (fd_ >= 0) ::close(fd_);
    fd_ = -1;
  }
  void set(int fd) {
    close();
    fd_ = fd;
  }

 private:
  int fd_;
};

bool writeAll(int fd, const std::string& bytes) {
  std::size_t done = 0;
  while (done < bytes.size()) {
    const ssize_t n = ::write(fd, bytes.data() + done, bytes.size() - done);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return false;
    done += static_cast<std::size_t>(n);
  }
  return true;
}

std::string readFromStart(int fd) {
  std::string bytes;
  const off_t size = ::lseek(fd, 0, SEEK_END);
  if (size <= 0) return bytes;
  bytes.resize(static_cast<std::size_t>(size));
  std::size_t done = 0;
  while (done < bytes.size()) {
    const ssize_t n = ::pread(fd, bytes.data() + done, bytes.size() - done, static_cast<off_t>(done));
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return {};
    done += static_cast<std::size_t>(n);
  }
  return bytes;
}

std::size_t memoryAllowed(const ReaderLimits& limits) {
  if (limits.megabytes > 0) return limits.megabytes;
  const auto pages = static_cast<std::size_t>(::sysconf(_SC_PHYS_PAGES)),
             size = static_cast<std::size_t>(::sysconf(_SC_PAGE_SIZE));
  return pages / 4 * 3 / 1024 * size / 1024;
}

// The child with what is needed to follow it; killed and waited for with its owner.
class ReaderProcess {
 public:
  ReaderProcess() = default;
  ReaderProcess(const ReaderProcess&) = delete;
  ReaderProcess& operator=(const ReaderProcess&) = delete;
  ~ReaderProcess() {
    if (pid_ <= 0) return;
    ::kill(pid_, SIGKILL);
    (void)wait();
  }

  Done start(const ReaderProgram& reader, const std::string& bytes, std::vector<std::string> arguments) {
    const std::string label = arguments.front();
    arguments.insert(arguments.begin(), programBeside(reader.program).string());
    in_.set(::memfd_create("alderpoint-in", MFD_CLOEXEC));
    out_.set(::memfd_create("alderpoint-out", MFD_CLOEXEC));
    std::array<int, 2> pipe{};
    if (in_.get() < 0 || out_.get() < 0 || ::pipe2(pipe.data(), O_CLOEXEC) != 0)
      return fail("{}: there is no memory left to read it.", label);
    talk_.set(pipe[0]);
    Descriptor end(pipe[1]);
    if (!writeAll(in_.get(), bytes) || ::lseek(in_.get(), 0, SEEK_SET) != 0)
      return fail("{}: there is no memory left to read it.", label);
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_adddup2(&actions, in_.get(), 0);
    posix_spawn_file_actions_adddup2(&actions, end.get(), 1);
    posix_spawn_file_actions_addopen(&actions, 2, "/dev/null", O_WRONLY, 0);
    posix_spawn_file_actions_adddup2(&actions, out_.get(), 3);
    std::vector<char*> pointers;
    for (std::string& argument : arguments)
      pointers.push_back(argument.data());
    pointers.push_back(nullptr);
    const int failed =
        ::posix_spawn(&pid_, pointers.front(), &actions, nullptr, pointers.data(), environ);
    posix_spawn_file_actions_destroy(&actions);
    if (failed == 0) return {};
    pid_ = -1;
    return fail("{}: the reader of {} ({}) does not start ({}); install the program again.", label,
                reader.reads, arguments.front(), std::strerror(failed));
  }

  // Lines of the child as they come; false when it says nothing more.
  template <class Line> bool listen(int milliseconds, const Line& line) {
    pollfd waiting{talk_.get(), POLLIN, 0};
    if (::poll(&waiting, 1, milliseconds) <= 0) return true;
    std::array<char, 4096> some{};
    const ssize_t n = ::read(talk_.get(), some.data(), some.size());
    if (n < 0) return errno == EINTR || errno == EAGAIN;
    if (n == 0) return false;
    said_.append(some.data(), static_cast<std::size_t>(n));
    for (std::size_t end; (end = said_.find('\n')) != std::string::npos;) {
      line(said_.substr(0, end));
      said_.erase(0, end + 1);
    }
    return true;
  }

  int wait() {
    int status = 0;
    while (::waitpid(pid_, &status, 0) < 0 && errno == EINTR) {
    }
    pid_ = -1;
    return status;
  }
  std::string answer() const { return readFromStart(out_.get()); }

 private:
  pid_t pid_ = -1;
  Descriptor in_, out_, talk_;
  std::string said_;
};

} // namespace

Result<std::string> readApart(const ReaderProgram& reader, const std::string& bytes,
                              const std::string& label, const std::vector<std::string>& arguments,
                              const Progress& progress, const ReaderLimits& limits) {
  if (bytes.empty()) return fail("{}: the file is empty.", label);
  const double seconds =
      limits.seconds > 0 ? limits.seconds : 40 + 4 * static_cast<double>(bytes.size()) / 1e6;
  const std::size_t megabytes = memoryAllowed(limits);
  std::vector<std::string> all{label, std::to_string(megabytes)};
  all.insert(all.end(), arguments.begin(), arguments.end());
  ReaderProcess process;
  if (auto done = process.start(reader, bytes, std::move(all)); !done) return pass(done.error());
  const auto began = Clock::now();
  std::string error;
  const auto line = [&](const std::string& text) {
    constexpr std::string_view kError = "error: ";
    if (text.starts_with(kError)) {
      error = text.substr(kError.size());
      return;
    }
    const auto space = text.find(' ');
    if (space == std::string::npos) return;
    progress.step(std::strtod(text.c_str(), nullptr), text.substr(space + 1));
  };
  constexpr int kTick = 50; // ms, to see that it is cancelled
  while (process.listen(kTick, line)) {
    if (progress.cancelled()) return cancelledError();
    if (std::chrono::duration<double>(Clock::now() - began).count() > seconds)
      return fail("{}: reading it takes longer than {:.0f} s; it may be damaged, {}.", label,
                  seconds, reader.again);
  }
  const int status = process.wait();
  if (WIFSIGNALED(status))
    return fail("{}: {} breaks down over it (signal {}); it is damaged, {}.", label, reader.library,
                WTERMSIG(status), reader.again);
  if (!error.empty()) return fail("{}", error);
  if (WEXITSTATUS(status) != 0)
    return fail("{}: {} ends over it (status {}), or needs more than {} MB; {}.", label,
                reader.library, WEXITSTATUS(status), megabytes, reader.again);
  return process.answer();
}

} // namespace alder
