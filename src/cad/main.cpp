// alderpoint-cad LABEL MEGABYTES: reads a CAD file for the other programs; see part/cad_process.h.
// Reads the file from descriptor 0, tells progress on 1 as lines "0.5 Meshing", or "error: ..." at
// the end, and writes the image of the part to 3.
#include "part/step_import.h"
#include "refused_memory.h"

#include "part/face_region.h"
#include "part/part_image.h"
#include <BRepCheck_Analyzer.hxx>
#include <Standard_Failure.hxx>
#include <cstdio>
#include <cstdlib>
#include <exception>
#include <sys/mman.h>
#include <sys/resource.h>
#include <unistd.h>

namespace {

using namespace alder;

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

// A shape that is not sound is used here as the planner will use it, so that it breaks here.
void tryFaces(const PartModel& part) {
  if (BRepCheck_Analyzer(part.shape).IsValid()) return;
  for (const Surface& surface : part.surfaces) {
    const FaceRegion region(part, surface.faces);
    for (const SurfacePoint& s : region.grid(60))
      (void)region.edgeDistance(s.point);
  }
}

Result<std::string> read(const std::string& label) {
  Progress progress;
  progress.report = [](double fraction, std::string_view what) {
    say(fmt::format("{:.3f} {}", fraction, what));
  };
  auto part = importStep(fromDescriptor(0), label, progress);
  if (!part) return pass(part.error());
  tryFaces(**part);
  return partImage(**part);
}

} // namespace

int main(int argc, char** argv) {
  if (argc != 3) return 2;
  const std::string label = argv[1];
  const std::string too_large = fmt::format(
      "error: {}: reading it needs more than {} MB; export it simpler, or one body of it.", label,
      argv[2]);
  endWhenMemoryIsRefused(oneLine(too_large));
  limitMemory(std::strtoull(argv[2], nullptr, 10));
  try {
    const auto image = read(label);
    if (!image) {
      say("error: " + image.error().message);
      return 1;
    }
    std::size_t done = 0;
    while (done < image->size()) {
      const ssize_t n = ::write(3, image->data() + done, image->size() - done);
      if (n <= 0) return 2;
      done += static_cast<std::size_t>(n);
    }
    return 0;
  } catch (const Standard_Failure& failure) {
    say(fmt::format(
        "error: {}: the geometry cannot be used ({}); export it again from the CAD system.", label,
        failure.GetMessageString()));
  } catch (const std::exception& e) {
    say(hasSpaceForThread()
            ? fmt::format("error: {}: the CAD library gives up ({}); export it again "
                          "from the CAD system.",
                          label, e.what())
            : too_large);
  }
  return 1;
}
