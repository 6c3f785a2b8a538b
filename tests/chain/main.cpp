// alderpoint-chain --from 1 --count 100 [--keep FOLDER]: parts drawn by lot through the whole job.
// One line a part; exit status 1 where one does not hold.
#include "chain.h"

#include "base/files.h"
#include "large_part.h"
#include "random_parts.h"
#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <QTemporaryDir>
#include <chrono>
#include <cstdio>
#include <filesystem>

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  CLI::App cli{
      "Takes parts drawn by lot through draft, rehearsal, qualification, run, judging and report."};
  unsigned from = 1, count = 15, stride = 1;
  std::string keep;
  bool only_parts = false;
  int holes = 0;
  cli.add_option("--from", from, "first seed");
  cli.add_option("--count", count, "how many");
  cli.add_option("--stride", stride, "every so many seeds");
  cli.add_option("--keep", keep, "folder in which files are left");
  cli.add_flag("--only-parts", only_parts, "write the STEP files and do nothing else");
  cli.add_option("--large", holes,
                 "write a plate with so many holes, three faces each, and do nothing else");
  CLI11_PARSE(cli, argc, argv);
  if (holes > 0) {
    const auto part = alder::test::largePart(holes);
    if (!part || !alder::writeFile(keep + "/large.step", part->step)) return 2;
    std::printf("%d requirements\n", part->requirements);
    return 0;
  }
  int bad = 0;
  for (unsigned k = 0; k < count; ++k) {
    const unsigned seed = from + k * stride;
    QTemporaryDir temporary;
    std::string folder = temporary.path().toStdString();
    if (!keep.empty()) {
      folder = keep + "/" + std::to_string(seed);
      std::filesystem::create_directories(folder);
    }
    if (only_parts) {
      const auto part = alder::test::randomPart(seed);
      if (part) (void)alder::writeFile(folder + "/part.step", part->step);
      std::printf("%s\n", part ? part->name.c_str() : part.error().message.c_str());
      continue;
    }
    const auto begin = std::chrono::steady_clock::now();
    const auto result = alder::test::runChain(seed, folder);
    const double seconds =
        std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    std::printf("%-22s %2d of %2d covered, %5.1f s  %s\n", result.name.c_str(), result.covered,
                result.requirements, seconds, result.faults.empty() ? "holds" : "DOES NOT HOLD");
    for (const std::string& why : result.why_not)
      std::printf("    not covered: %s\n", why.c_str());
    for (const std::string& fault : result.faults)
      std::printf("    FAULT: %s\n", fault.c_str());
    std::fflush(stdout);
    bad += !result.faults.empty();
  }
  std::printf("%u parts, %d do not hold\n", count, bad);
  return bad > 0;
}
