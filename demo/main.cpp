// Writes the demo's files: alderpoint-demo ROOT, with ROOT the folder of the project.
#include "base/files.h"
#include "heron.h"
#include <cstdio>

int main(int argc, char** argv) {
  using namespace alder;
  if (argc != 2) {
    std::fputs("usage: alderpoint-demo ROOT\n", stderr);
    return 2;
  }
  const std::filesystem::path root = argv[1], data = root / "demo" / "data";
  auto step = demo::heronStep();
  Done done = step ? writeFile(data / "heron.step", *step) : Done(pass(step.error()));
  if (done) done = writeFile(data / "bench.json", demo::benchJson(true));
  if (done) done = writeFile(root / "assets" / "bench.json", demo::benchJson(false));
  if (done) done = writeFile(data / "heron-defects.json", demo::defectsJson());
  if (!done) {
    std::fprintf(stderr, "%s\n", done.error().message.c_str());
    return 2;
  }
  return 0;
}
