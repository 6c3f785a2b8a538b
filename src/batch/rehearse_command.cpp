// Ways of a routine's set-ups: rehearsed, and handed to machines.
#include "answers.h"
#include "base/files.h"
#include "commands.h"
#include "exchange/machine/path_table.h"
#include "exchange/machine/program_file.h"
#include "exchange/routine/project.h"
#include "rehearse/rehearsal.h"
#include "route/time_model.h"
#include <algorithm>
#include <cstdio>

namespace alder::batch {

Result<std::vector<SetupWay>> waysOf(const Plan& plan, const std::string& setup) {
  if (setup.empty()) return setupWays(plan);
  const auto all = setupsOf(plan);
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (all[i].name != setup && std::to_string(i + 1) != setup) continue;
    Plan alone = inSetup(plan, all[i].id);
    alone.setups.clear(); // those of the others are not asked for
    return setupWays(alone);
  }
  std::string names;
  for (const Setup& s : all)
    names += (names.empty() ? "" : ", ") + s.name;
  return fail("--setup {}: the routine has {}.", setup, names);
}

namespace {

void printRehearsal(const SetupWay& w, const Rehearsal& r) {
  for (const Clash& c : r.clashes)
    std::printf("clash at %.1f s, %s: %s meets %s, %.2f mm deep\n", c.seconds,
                w.way.steps[static_cast<std::size_t>(c.step)].text.c_str(), c.moving.c_str(),
                c.still.c_str(), c.depth);
  for (const Note& n : w.way.notes)
    std::printf("note: %s\n", n.text.c_str());
  for (const PairRule& p : w.plan.pairs)
    std::printf("exception: %s\n", describe(p).c_str());
  std::printf("%s: %.1f s, %.0f mm, least clearance %.2f mm\n", r.clear() ? "clear" : "not clear",
              r.seconds, r.path, r.least_clearance);
}

} // namespace

Result<int> rehearse(const RoutineOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  auto ways = waysOf(project->plan, o.setup);
  if (!ways) return pass(ways.error());
  bool clear = true;
  std::vector<Json> answers;
  for (const SetupWay& w : *ways) {
    auto rehearsal = alder::rehearse(w.plan, w.obstacles, w.way);
    if (!rehearsal) return pass(rehearsal.error());
    clear &= rehearsal->clear();
    if (o.json) {
      answers.push_back(rehearsalAnswer(w.plan, w.way, *rehearsal));
      continue;
    }
    if (ways->size() > 1) std::printf("%s\n", nameOfSetup(w.plan, w.plan.setup).c_str());
    printRehearsal(w, *rehearsal);
  }
  if (o.json) {
    std::vector<std::string> names;
    for (const SetupWay& w : *ways)
      names.push_back(nameOfSetup(w.plan, w.plan.setup));
    print(answers.size() == 1 ? answers.front() : rehearsalOfSetups(answers, names));
  }
  return clear ? 0 : 1;
}

// A program is of one set-up: of several each has a file of its own, numbered.
Result<int> exportToMachine(const ExportOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  auto ways = waysOf(project->plan, o.setup);
  if (!ways) return pass(ways.error());
  if (o.target.ends_with("path.csv")) {
    if (auto done = writeFile(o.target, pathTable(*ways)); !done) return pass(done.error());
    return 0;
  }
  for (std::size_t i = 0; i < ways->size(); ++i) {
    const SetupWay& w = (*ways)[i];
    std::string target = o.target;
    if (ways->size() > 1) target.insert(target.rfind('.'), fmt::format("-{}", i + 1));
    auto bytes = machineFile(target, w.plan, w.way, timesOf(w.plan.bench, w.way));
    if (!bytes) return pass(bytes.error());
    if (auto done = writeFile(target, *bytes); !done) return pass(done.error());
    if (ways->size() > 1)
      std::printf("%s: %s\n", nameOfSetup(w.plan, w.plan.setup).c_str(), target.c_str());
  }
  return 0;
}

} // namespace alder::batch
