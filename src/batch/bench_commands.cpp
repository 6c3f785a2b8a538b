#include "commands.h"

#include "base/units.h"
#include "exchange/routine/project.h"
#include "plan/id_text.h"
#include <algorithm>
#include "rehearse/qualify.h"
#include "rehearse/rehearsal.h"
#include "route/reach.h"
#include <chrono>
#include <cstdio>

namespace alder::batch {

namespace {

// `why` it could not be qualified; empty: it was. What was known before stays, and counts as long as
// it is valid.
Json tipAnswer(const Plan& plan, const Access& access, const std::string& why, std::int64_t now) {
  Json json{{"stylus", plan.bench.styli[static_cast<std::size_t>(access.stylus)].name},
            {"tip", plan.tip(access).name},
            {"a", shownDegrees(access.a)},
            {"b", shownDegrees(access.b)},
            {"state", name(stateOf(plan.qualified, access, plan.bench, now))}};
  if (!why.empty()) json["why"] = why;
  const QualifiedTip* t = plan.qualified.find(access);
  if (!t) return json;
  json["offset"] = toJson(t->offset);
  json["diameter"] = t->diameter;
  json["form"] = t->form;
  json["sigma"] = t->sigma;
  json["touches"] = t->touches;
  json["limits"] = beyondLimits(*t, plan.bench);
  return json;
}

} // namespace

// What was qualified in one set-up.
struct QualifiedThere {
  bool clear = true, good = true;
  double seconds = 0;
  Json tips = Json::array();
};

// The tips and angles of one set-up that were not qualified in those before it.
static Result<QualifiedThere> qualifyIn(Plan& plan, const std::vector<Access>& used,
                                        const QualifyOptions& o) {
  const Obstacles obstacles = obstaclesOf(plan);
  auto each = qualifyEach(plan, obstacles, used);
  if (!each) return pass(each.error());
  auto rehearsal = rehearse(plan, obstacles, each->way);
  if (!rehearsal) return pass(rehearsal.error());
  const auto now = std::chrono::duration_cast<std::chrono::seconds>(
      std::chrono::system_clock::now().time_since_epoch());
  auto found = qualifyOnSimulatedMachine(plan, each->way, plan.qualified,
                                         {o.seed, now.count(), o.moved, Vec3::Zero()});
  if (!found) return pass(found.error());
  plan.qualified = *found;
  QualifiedThere there{rehearsal->clear(), rehearsal->clear() && each->left.empty(),
                       rehearsal->seconds};
  for (const Access& a : used) {
    const auto left = std::find_if(each->left.begin(), each->left.end(),
                                   [&](const Unreached& u) { return u.access == a; });
    const bool reached = left == each->left.end();
    there.tips.push_back(tipAnswer(plan, a, reached ? "" : left->why, now.count()));
    const QualifiedTip* t = plan.qualified.find(a);
    if (reached && t) there.good &= beyondLimits(*t, plan.bench).empty();
    if (o.json) continue;
    if (!reached)
      std::printf("%-24s cannot be qualified: %s\n", nameOf(plan, a).c_str(), left->why.c_str());
    else if (t)
      std::printf("%-24s ø %.4f  offset %.4f  form %.4f  sigma %.4f  %d touches  %s\n",
                  nameOf(plan, a).c_str(), t->diameter, t->offset.norm(), t->form, t->sigma,
                  t->touches, beyondLimits(*t, plan.bench).c_str());
  }
  return there;
}

Result<int> qualify(const QualifyOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  Plan& plan = project->plan;
  QualifiedThere all;
  std::vector<Access> done;
  const auto setups = setupsOf(plan);
  for (const Setup& setup : setups) {
    Plan there = inSetup(plan, setup.id);
    std::vector<Access> used = accessesUsed(there);
    std::erase_if(used, [&](const Access& a) {
      return std::find(done.begin(), done.end(), a) != done.end();
    });
    if (used.empty() && setups.size() > 1) continue;
    auto one = qualifyIn(there, used, o);
    if (!one) return pass(one.error());
    plan.qualified = there.qualified;
    all.clear &= one->clear, all.good &= one->good, all.seconds += one->seconds;
    for (Json& tip : one->tips)
      all.tips.push_back(std::move(tip));
    done.insert(done.end(), used.begin(), used.end());
  }
  if (!o.output.empty())
    if (auto saved = saveProject(*project, o.output); !saved) return pass(saved.error());
  if (o.json)
    std::printf("%s\n",
                Json{{"tips", all.tips}, {"seconds", all.seconds}, {"clear", all.clear}}
                    .dump(2)
                    .c_str());
  return all.good ? 0 : 1;
}

Result<int> reach(const ReachOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  const Plan& plan = project->plan;
  const Feature* feature = nullptr;
  for (const Feature& f : plan.features)
    if (plan.nominal(f.id).name == o.feature || idText(f.id) == o.feature) feature = &f;
  if (!feature)
    return fail("{}: has no feature \"{}\"; draft --json lists them.", o.routine, o.feature);
  if (feature->touches.empty())
    return fail("{}: {} has no touches ({}).", o.routine, o.feature, feature->why_not);
  int stylus = feature->access.stylus, tip = feature->access.tip;
  for (std::size_t s = 0; !o.stylus.empty() && s < plan.bench.styli.size(); ++s)
    if (plan.bench.styli[s].name == o.stylus) stylus = static_cast<int>(s), tip = 0;
  if (stylus < 0 ||
      (!o.stylus.empty() && plan.bench.styli[static_cast<std::size_t>(stylus)].name != o.stylus))
    return fail("{}: the bench has no stylus \"{}\".", o.routine, o.stylus);
  auto maps = reachMaps(plan, obstaclesOf(plan), {feature->id}, stylus, tip, 1);
  if (!maps) return pass(maps.error());
  const ReachMap& map = maps->front();
  Json cells = Json::array();
  for (const ReachCell& c : map.cells) {
    Json cell{{"a", shownDegrees(c.a)},
              {"b", shownDegrees(c.b)},
              {"reach", name(c.reach)},
              {"touches", c.reached}};
    if (c.reach != Reach::Free && c.reach != Reach::Away)
      cell["blocked_by"] = {c.blocked.moving, c.blocked.still};
    cells.push_back(std::move(cell));
  }
  if (o.json)
    std::printf("%s\n", Json{{"feature", o.feature},
                             {"stylus", plan.bench.styli[static_cast<std::size_t>(stylus)].name},
                             {"touches", map.touches},
                             {"cells", cells}}
                            .dump()
                            .c_str());
  else
    std::printf("%s: %d of %zu head angles reach all %d touches\n", o.feature.c_str(),
                map.freeCount(), map.cells.size(), map.touches);
  return map.freeCount() > 0 ? 0 : 1;
}

} // namespace alder::batch
