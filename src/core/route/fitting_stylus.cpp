#include "route/fitting_stylus.h"

#include "base/units.h"
#include "bench/bench_edit.h"
#include "route/feature_router.h"
#include "route/feature_touches.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// What is changed of a straight stylus.
struct Change {
  std::size_t stylus = 0;
  double ball = 0, longer = 0; // mm
};

bool hasPlacesFor(const Plan& plan, const NominalFeature& n, double ball) {
  const Feature& f = plan.feature(n.id);
  return touchesSuffice(n.ideal, touchesAnywhere(plan, f, ball / 2), f.recipe.stroke);
}

// Nearest changes first. A hole that is too small for the balls of the bench needs another ball.
std::vector<Change> changesFor(const Plan& plan, const NominalFeature& n) {
  constexpr double kLonger[] = {20, 40, 80};
  constexpr double kBalls[] = {5, 4, 3, 2.5, 2, 1.5, 1, 0.7, 0.5, 0.3};
  std::vector<Change> longer, smaller;
  for (std::size_t s = 0; s < plan.bench.styli.size(); ++s) {
    const auto& tips = plan.bench.styli[s].tips;
    if (tips.size() != 1 || !tips[0].straight() || tips[0].disc()) continue;
    const double ball = tips[0].ball_diameter;
    for (const double more : kLonger)
      longer.push_back({s, ball, more});
    for (const double other : kBalls)
      if (other < ball &&
          !(n.ideal.hole && 1.5 * other > n.ideal.diameter && n.ideal.diameter > 0) &&
          hasPlacesFor(plan, n, other))
        for (const double more : {0.0, kLonger[0], kLonger[1]})
          smaller.push_back({s, other, more});
  }
  const auto by = [](const Change& a, const Change& b) { return a.longer < b.longer; };
  std::stable_sort(longer.begin(), longer.end(), by);
  // The largest balls that go are the stiffest.
  constexpr std::size_t kMostSmaller = 12;
  std::stable_sort(smaller.begin(), smaller.end(), [](const Change& a, const Change& b) {
    return a.ball != b.ball ? a.ball > b.ball : a.longer < b.longer;
  });
  if (smaller.size() > kMostSmaller) smaller.resize(kMostSmaller);
  const bool too_small =
      n.ideal.hole && std::all_of(longer.begin(), longer.end(),
                                  [&](const Change& c) { return n.ideal.diameter < c.ball + 0.4; });
  std::vector<Change> all = too_small ? smaller : longer;
  if (!too_small) all.insert(all.end(), smaller.begin(), smaller.end());
  return all;
}

std::string shortNumber(double value) {
  return shortFigure(value);
}

// The bench with the changed stylus as its last; an error where the bench could not be so.
Result<Bench> benchWith(const Bench& bench, const Change& change, std::string& words) {
  Json json = bench.json.empty() ? Json() : Json::parse(bench.json, nullptr, false);
  if (!json.is_object() || !json.contains("styli")) return fail("the bench has no file");
  const std::string& from = bench.styli[change.stylus].name;
  Json& element = json["styli"][change.stylus]["tips"][0]["elements"][0];
  const double length = element.value("length_mm", 0.0) + change.longer,
               thick = element.value("diameter_mm", 1.0);
  // So much thinner than the ball that it keeps clear of a wall that the ball touches.
  constexpr double kThinnest = 0.2, kThinner = 0.6;
  const double shaft = std::min(
      thick, std::max(kThinnest,
                      std::floor(10 * std::min(0.7 * change.ball, change.ball - kThinner)) / 10));
  std::string name = fmt::format("ø{} · {} mm", shortNumber(change.ball), shortNumber(length));
  for (int k = 2; std::any_of(bench.styli.begin(), bench.styli.end(),
                              [&](const Stylus& s) { return s.name == name; });
       ++k)
    name = fmt::format("ø{} · {} mm · {}", shortNumber(change.ball), shortNumber(length), k);
  copyStylus(json, change.stylus, name);
  Json& tip = json["styli"].back()["tips"][0];
  tip["ball_diameter_mm"] = change.ball;
  tip["elements"][0]["length_mm"] = length;
  tip["elements"][0]["diameter_mm"] = shaft;
  words = fmt::format("a ball ø{} on a shaft of {} mm, ø{}, in place of that of {}",
                      shortNumber(change.ball), shortNumber(length), shortNumber(shaft), from);
  return readBench(json.dump(), "bench");
}

bool probeBears(const Bench& bench) {
  const Stylus& stylus = bench.styli.back();
  const double most = bench.probe.length;
  return most <= 0 || std::all_of(stylus.tips.begin(), stylus.tips.end(),
                                  [&](const Tip& t) { return t.length() <= most; });
}

// Angles at which the last stylus reaches enough of the feature.
std::optional<Access> reached(const Plan& plan, const Obstacles& obstacles, FeatureId feature) {
  const Feature& f = plan.feature(feature);
  const Head& head = plan.bench.head;
  const int stylus = static_cast<int>(plan.bench.styli.size()) - 1;
  const auto touches = touchesAnywhere(plan, f, plan.bench.styli.back().tips[0].edgeRoom());
  if (!touchesSuffice(plan.nominal(feature).ideal, touches, f.recipe.stroke)) return {};
  const Clearance clearance(plan, obstacles);
  const int stride_a = std::max(1, static_cast<int>(std::lround(radians(15) / head.a.step))),
            stride_b = std::max(1, static_cast<int>(std::lround(radians(30) / head.b.step)));
  for (int i = 0; i < stepsOf(head.a); i += stride_a)
    for (int j = 0; j < stepsOf(head.b); j += stride_b) {
      const Access access{stylus, 0, head.a.low + i * head.a.step, head.b.low + j * head.b.step};
      const Tool tool = toolOf(plan.bench, access);
      const FeatureRouter router(clearance, tool, f);
      std::vector<Touch> good;
      for (const Touch& t : touches)
        if (touchable(tool, turn(plan.placement, t.normal)) && router.reaches(t)) good.push_back(t);
      std::string why;
      if (touchesSuffice(plan.nominal(feature).ideal, good, f.recipe.stroke) &&
          !router.route(good, why).empty())
        return access;
    }
  return {};
}

} // namespace

std::optional<FittingStylus> fittingStylus(const Plan& plan, const Obstacles& obstacles,
                                           FeatureId feature) {
  const NominalFeature& n = plan.nominal(feature);
  if (n.faces.empty()) return {};
  for (const Change& change : changesFor(plan, n)) {
    FittingStylus fitting;
    auto bench = benchWith(plan.bench, change, fitting.words);
    if (!bench || !probeBears(*bench)) continue;
    Plan changed = plan;
    changed.bench = std::move(*bench);
    standOn(changed.bench, changed.placement, changed.supports);
    const auto access = reached(changed, obstacles, feature);
    if (!access) continue;
    fitting.access = *access;
    fitting.bench = std::move(changed.bench);
    return fitting;
  }
  return {};
}

std::string helpToReach(const Plan& plan, const Obstacles& obstacles, FeatureId feature) {
  const auto fitting = fittingStylus(plan, obstacles, feature);
  return fitting ? fmt::format("{} would reach it at A{:g} B{:g}", fitting->words,
                               shownDegrees(fitting->access.a), shownDegrees(fitting->access.b))
                 : std::string();
}

} // namespace alder
