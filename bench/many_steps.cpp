// A routine of a hundred thousand steps: what the person waits for who opens and changes it, as
// share of what they notice.
#include "base/files.h"
#include "exchange/routine/project.h"
#include "plan/steps/step_edit.h"
#include "ratio.h"
#include "route/router.h"
#include <filesystem>
#include <fstream>
#include <unistd.h>

namespace alder::bench {
namespace {

constexpr int kSteps = 100000;
constexpr double kOpen = 3.0, kEdit = 0.05, kMemory = 1024; // seconds, seconds, MB

// The Heron with everything an operator may be told in between, in groups of a hundred.
const Project& routine() {
  static const Project project = [] {
    auto opened = openProject((dataFolder() / "demo/data/heron.alder").string());
    Project p = std::move(*opened);
    int next = freeId(p.plan.steps).value;
    while (static_cast<int>(p.plan.steps.size()) < kSteps) {
      RoutineStep s;
      s.id = StepId{next};
      s.depth = next % 100 == 0 ? 0 : 1;
      if (s.depth == 0)
        s.body = GroupStep{"Group " + std::to_string(next)};
      else if (next % 4 == 0)
        s.body = WaitStep{"Look at place " + std::to_string(next), "", true, 1};
      else if (next % 4 == 1)
        s.body = MoveStep{CountFrom::Part, {}, Vec3(next % 80, next % 60, 150)};
      else if (next % 4 == 2)
        s.body = NoteStep{"Note " + std::to_string(next)};
      else
        s.body = AskStep{"Value " + std::to_string(next), true, "mm"};
      if (p.plan.steps.empty() || s.depth == 0 || next % 100 != 0) p.plan.steps.push_back(s);
      ++next;
    }
    // The first ones stand behind a measure step, not in a group.
    for (auto& s : p.plan.steps) {
      if (std::holds_alternative<GroupStep>(s.body)) break;
      s.depth = 0;
    }
    return p;
  }();
  return project;
}

std::string file() {
  static const std::string path = [] {
    const std::string at = (std::filesystem::temp_directory_path() /
                            ("alderpoint-bench-" + std::to_string(::getpid()) + ".alder"))
                               .string();
    (void)saveProject(routine(), at);
    return at;
  }();
  return path;
}

double residentMegabytes() {
  std::ifstream in("/proc/self/statm");
  double pages = 0, resident = 0;
  in >> pages >> resident;
  return resident * static_cast<double>(::sysconf(_SC_PAGESIZE)) / (1024 * 1024);
}

double opening() {
  const std::string path = file();
  const double seconds = medianSeconds([&] { (void)openProject(path); }, 3);
  std::filesystem::remove(path);
  return seconds / kOpen;
}

double memory() {
  Project copy = routine();
  EditHistory history;
  for (int k = 0; k < 200; ++k)
    if (auto edit = changeStep(copy.plan, copy.plan.steps[static_cast<std::size_t>(50000 + k)].id,
                               NoteStep{"changed"}))
      (void)history.apply(copy.plan, {"change", {*edit}});
  return residentMegabytes() / kMemory;
}

// One change somewhere, and one of many steps at once.
double editing(const std::function<Result<Edit>(const Plan&)>& change) {
  Plan plan = routine().plan;
  EditHistory history;
  const double seconds = medianSeconds(
      [&] {
        auto edit = change(plan);
        (void)history.apply(plan, {"change", {*edit}});
        (void)history.undo(plan);
      },
      9);
  return seconds / kEdit;
}

double one() {
  return editing(
      [](const Plan& plan) { return changeStep(plan, plan.steps[60000].id, NoteStep{"changed"}); });
}

double many() {
  return editing([](const Plan& plan) {
    std::vector<StepId> ids;
    for (std::size_t i = 70000; i < 71000; ++i)
      ids.push_back(plan.steps[i].id);
    return moveSteps(plan, ids, plan.steps[30000].id);
  });
}

} // namespace

std::vector<Ratio> manySteps() {
  return {{"steps/open-100000 over 3 s", 1, opening},
          {"steps/edit-and-undo over 50 ms", 1, one},
          {"steps/move-1000-and-undo over 50 ms", 1, many},
          {"steps/memory over 1 GB", 1, memory}};
}

} // namespace alder::bench
