#include "reader.h"

#include "refused_memory.h"
#include <cstdio>
#include <cstdlib>
#include <sys/mman.h>
#include <sys/resource.h>
#include <unistd.h>

namespace alder {
namespace {

std::string fromDescriptor(int fd) {
  std::string bytes;
  char some[65536];
  for (ssize_t n; (n = ::read(fd, some, sizeof some)) > 0;)
    bytes.append(some, static_cast<std::size_t>(n));
  return bytes;
}

void limitMemory(std::size_t megabytes) {
  const rlimit limit{static_cast<rlim_t>(megabytes) << 20, static_cast<rlim_t>(megabytes) << 20};
  if (countsRefusedMemory()) (void)::setrlimit(RLIMIT_AS, &limit);
  const rlimit none{0, 0};
  (void)::setrlimit(RLIMIT_CORE, &none);
}

// False when there is no space for the stack of another thread, which is not taken by malloc.
bool hasSpaceForThread() {
  rlimit stack{};
  (void)::getrlimit(RLIMIT_STACK, &stack);
  const std::size_t size = stack.rlim_cur == RLIM_INFINITY ? 8 << 20 : stack.rlim_cur;
  void* space = ::mmap(nullptr, size, PROT_NONE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  if (space == MAP_FAILED) return false;
  (void)::munmap(space, size);
  return true;
}

std::string oneLine(std::string text) {
  for (char& c : text)
    if (c == '\n' || c == '\r') c = ' ';
  return text + '\n';
}

void say(const std::string& line) {
  std::fputs(oneLine(line).c_str(), stdout);
  std::fflush(stdout);
}

bool handOver(const std::string& answer) {
  std::size_t done = 0;
  while (done < answer.size()) {
    const ssize_t n = ::write(3, answer.data() + done, answer.size() - done);
    if (n <= 0) return false;
    done += static_cast<std::size_t>(n);
  }
  return true;
}

} // namespace

int readerMain(int argc, char** argv, const std::string& smaller,
               const std::function<Result<std::string>(const ReaderTask&)>& read,
               const std::function<std::string(const std::exception&)>& given_up) {
  if (argc < 3) return 2;
  ReaderTask task;
  task.label = argv[1];
  task.arguments.assign(argv + 3, argv + argc);
  const std::string too_large = fmt::format("error: {}: reading it needs more than {} MB; {}.",
                                            task.label, argv[2], smaller);
  endWhenMemoryIsRefused(oneLine(too_large));
  limitMemory(std::strtoull(argv[2], nullptr, 10));
  task.progress.report = [](double fraction, std::string_view what) {
    say(fmt::format("{:.3f} {}", fraction, what));
  };
  try {
    task.bytes = fromDescriptor(0);
    const auto answer = read(task);
    if (!answer) {
      say("error: " + answer.error().message);
      return 1;
    }
    return handOver(*answer) ? 0 : 2;
  } catch (const std::exception& e) {
    say(hasSpaceForThread() ? "error: " + task.label + ": " + given_up(e) : too_large);
  }
  return 1;
}

} // namespace alder
