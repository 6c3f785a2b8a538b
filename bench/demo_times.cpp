// What the person at the demo waits for, as share of the promised two seconds.
#include "base/files.h"
#include "exchange/routine/project.h"
#include "part/step_import.h"
#include "ratio.h"
#include "rehearse/rehearsal.h"
#include "route/draft.h"
#include "route/router.h"

namespace alder::bench {
namespace {

constexpr double kPromise = 2.0; // seconds

std::string data(const char* name) {
  return (dataFolder() / "demo/data" / name).string();
}

double opening() {
  return medianSeconds([] { (void)importStepFile(data("heron.step")); }, 3) / kPromise;
}

double drafting() {
  const auto part = *importStepFile(data("heron.step"));
  const auto bench = *readBench(*readFile(data("bench.json")), "bench");
  return medianSeconds(
             [&] {
               const auto plan = draftPlan(part, bench);
               (void)routePlan(*plan, obstaclesOf(*plan));
             },
             3) /
         kPromise;
}

double rehearsing() {
  const auto project = openProject(data("heron.alder"));
  const Obstacles o = obstaclesOf(project->plan);
  const auto way = routePlan(project->plan, o);
  return medianSeconds([&] { (void)rehearse(project->plan, o, *way); }, 3) / kPromise;
}

} // namespace

std::vector<Ratio> demoTimes() {
  return {{"demo/import over 2 s", 0.6, opening},
          {"demo/draft-and-route over 2 s", 1, drafting},
          {"demo/rehearse over 2 s", 1, rehearsing}};
}

} // namespace alder::bench
