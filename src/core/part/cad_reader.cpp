// The side of alderpoint-cad; see cad_process.h.
#include "part/cad_process.h"

#include "part/face_region.h"
#include "part/part_image.h"
#include <BRepCheck_Analyzer.hxx>
#include <Standard_Failure.hxx>
#include <cstdio>
#include <exception>
#include <new>
#include <sys/resource.h>
#include <unistd.h>

#if defined(__SANITIZE_ADDRESS__)
#define ALDER_SANITIZED
#elif defined(__has_feature)
#if __has_feature(address_sanitizer)
#define ALDER_SANITIZED
#endif
#endif

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
#if defined(ALDER_SANITIZED)
  (void)megabytes; // it maps terabytes for itself
#else
  const rlimit limit{static_cast<rlim_t>(megabytes) << 20, static_cast<rlim_t>(megabytes) << 20};
  (void)::setrlimit(RLIMIT_AS, &limit);
#endif
  const rlimit none{0, 0};
  (void)::setrlimit(RLIMIT_CORE, &none);
}

void say(const std::string& line) {
  std::string text = line;
  for (char& c : text)
    if (c == '\n' || c == '\r') c = ' ';
  std::printf("%s\n", text.c_str());
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

int runCadReader(const std::string& label, std::size_t megabytes) {
  limitMemory(megabytes);
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
  } catch (const std::bad_alloc&) {
    say(fmt::format("error: {}: reading it needs more than {} MB; export it simpler, or one body of it.",
                    label, megabytes));
  } catch (const Standard_Failure& failure) {
    say(fmt::format("error: {}: the geometry cannot be used ({}); export it again from the CAD system.",
                    label, failure.GetMessageString()));
  } catch (const std::exception& e) {
    say(fmt::format("error: {}: the CAD library gives up ({}); export it again from the CAD system.",
                    label, e.what()));
  }
  return 1;
}

} // namespace alder
