// A routine with 500 measured parts of the demo: opening it, the history of a requirement as the
// file keeps it, and what an edit leaves as it was; each over what a person notices.
#include "base/files.h"
#include "base/random.h"
#include "exchange/points/points_file.h"
#include "exchange/routine/project.h"
#include "exchange/runs/judge_parts.h"
#include "exchange/runs/run_frames.h"
#include "judge/judge.h"
#include "ratio.h"
#include "route/router.h"
#include "run/simulated_run.h"
#include <filesystem>

namespace alder::bench {
namespace {

constexpr int kParts = 500;

// Made once: one run, its points moved a little for each part, with verdicts kept of all.
const Project& manyParts() {
  static const Project made = [] {
    auto project = *openProject((dataFolder() / "demo/data/heron.alder").string());
    const Plan& plan = project.plan;
    const Run run = *runOnSimulatedMachine(plan, *routePlan(plan, obstaclesOf(plan)), {}, 1);
    const VerdictKeys keys(plan);
    std::vector<KeptVerdict> kept;
    for (const Evaluation& e : judgeAll(plan, measurementsOf(run)))
      kept.push_back({e.requirement, keys.of(plan.spec.requirement(e.requirement)), brief(e)});
    Random random(1);
    for (int i = 0; i < kParts; ++i) {
      Run one = run;
      for (MeasuredPoint& p : one.points)
        p.surface += 0.002 * random.normal() * p.normal;
      StoredRun stored{fmt::format("part-{:04}", i + 1), frameLines(one) + pointsText(one)};
      stored.then = resultsOf(plan, judgeAll(plan, {}));
      stored.kept = {pointsKey(stored.csv), kept};
      project.runs.push_back(std::move(stored));
    }
    return project;
  }();
  return made;
}

double openingAll() {
  const std::string path =
      (std::filesystem::temp_directory_path() / "alderpoint-bench-parts.alder").string();
  if (!saveProject(manyParts(), path)) return 1e9;
  const double seconds = medianSeconds([&] { (void)openProject(path); }, 3);
  std::filesystem::remove(path);
  return seconds / 3.0;
}

double history() {
  const Project& project = manyParts();
  const RequirementId first = project.plan.spec.requirements[1].id;
  std::vector<JudgingTask> tasks;
  for (const StoredRun& run : project.runs)
    tasks.push_back({run.name,
                     std::make_shared<const std::string>(run.csv),
                     nullptr,
                     "",
                     std::make_shared<const KeptVerdicts>(run.kept),
                     {first},
                     false});
  std::size_t known = 0;
  const double seconds = medianSeconds(
      [&] {
        known = 0;
        (void)judgeParts(project.plan, tasks, first, {},
                         [&](const JudgingResult& r) { known += r.verdicts.size(); }, {});
      },
      5);
  return known == kParts ? seconds / 0.3 : 1e9;
}

double anEdit() {
  const Plan& before = manyParts().plan;
  Plan now = before;
  Requirement& r = now.spec.requirements[1];
  r.upper += 0.01;
  std::size_t stand = 0;
  const double seconds = medianSeconds([&] { stand = verdictsThatStand(before, now).size(); }, 9);
  return stand > 20 ? seconds / 0.05 : 1e9;
}

} // namespace

std::vector<Ratio> measuredParts() {
  return {{"parts/open 500 over 3 s", 1, openingAll},
          {"parts/history of 500 over 300 ms", 1, history},
          {"parts/what stands after an edit over 50 ms", 1, anEdit}};
}

} // namespace alder::bench
