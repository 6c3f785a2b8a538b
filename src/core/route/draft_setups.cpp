#include "route/draft_setups.h"

#include "fit/small_linear.h"
#include "route/access_planner.h"
#include "route/order.h"
#include "route/portions.h"
#include "route/touch_leverage.h"
#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

// How firmly features hold a rigid body, by the normals of their touches: 6 by 6, turns at the
// reach of the part.
SmallMatrix firmness(const Feature& f, const Vec3& middle, double reach) {
  SmallMatrix sum = SmallMatrix::Zero(6, 6);
  for (const Touch& t : f.touches) {
    SmallVector row(6);
    row << (t.point - middle).cross(t.normal) / reach, t.normal;
    sum += row * row.transpose();
  }
  return f.touches.empty() ? sum : SmallMatrix(sum / static_cast<double>(f.touches.size()));
}

// Features that both reach, each added for what it holds most of what was free (a greedy
// D-optimal choice), until all is held firmly. Datum features count for more.
std::vector<FeatureId> joiningFeatures(const Plan& plan, const Plan& there,
                                       const std::vector<FeatureId>& moved) {
  constexpr double kFirm = 0.02; // of the best held direction
  constexpr std::size_t kMost = 6;
  std::set<FeatureId> datums;
  for (const Datum& d : plan.spec.datums)
    datums.insert(d.features.begin(), d.features.end());
  std::vector<FeatureId> both;
  for (const Feature& f : plan.features) {
    const NominalFeature& n = plan.nominal(f.id);
    if (n.portion || n.ideal.type == SurfaceType::Freeform || !there.features.holds(f.id) ||
        std::find(moved.begin(), moved.end(), f.id) != moved.end())
      continue;
    const Feature& again = there.feature(f.id);
    if (f.covered() && again.covered() && !touchedPoorly(there, again)) both.push_back(f.id);
  }
  const Box3 box = plan.part->mesh.box();
  const Vec3 middle = box.center();
  const double reach = std::max(1.0, box.diagonal().norm() / 2);
  SmallMatrix held = 1e-4 * SmallMatrix::Identity(6, 6);
  std::vector<FeatureId> chosen;
  while (chosen.size() < kMost && chosen.size() < both.size()) {
    std::optional<FeatureId> best;
    double most = -1;
    for (FeatureId id : both) {
      if (std::find(chosen.begin(), chosen.end(), id) != chosen.end()) continue;
      const SmallMatrix with = held + firmness(there.feature(id), middle, reach);
      const SmallVector values = eigenpairs(with).values;
      double gain = 0;
      for (int k = 0; k < 6; ++k)
        gain += std::log(values[k]);
      gain += datums.count(id) ? 1.0 : 0.0;
      if (!best || gain > most + 1e-9) best = id, most = gain;
    }
    if (!best) break;
    chosen.push_back(*best);
    held += firmness(there.feature(*best), middle, reach);
    const SmallVector values = eigenpairs(held).values;
    if (values[0] > kFirm * values[5]) break;
  }
  return chosen;
}

std::string freeName(const Specification& spec, const std::string& wanted) {
  const auto taken = [&](const std::string& name) {
    return std::any_of(spec.features.begin(), spec.features.end(),
                       [&](const NominalFeature& f) { return f.name == name; });
  };
  std::string name = wanted;
  for (int k = 2; taken(name); ++k)
    name = fmt::format("{} · {}", wanted, k);
  return name;
}

Setup newSetup(const Plan& plan, const Standing& standing) {
  Setup setup;
  int number = 1;
  for (const Setup& s : plan.setups)
    setup.id = SetupId{std::max(setup.id.value, s.id.value + 1)}, ++number;
  setup.name = fmt::format("set-up {}", number);
  setup.how = fmt::format("Lay the part on {}.", liesOn(plan, standing));
  setup.placement = standing.placement;
  setup.supports = standing.supports;
  setup.fixture = Json::object(); // what held the part before is not there
  return setup;
}

} // namespace

std::string liesOn(const Plan& plan, const Standing& standing) {
  for (const NominalFeature& f : plan.spec.features)
    for (FaceId face : standing.faces)
      if (!f.portion && std::binary_search(f.faces.begin(), f.faces.end(), face)) return f.name;
  return "a flat face";
}

Done addSetup(Plan& plan, const TriedStanding& tried, const Progress& progress) {
  const SetupId working = plan.setup;
  plan.setups = setupsOf(plan);
  const Setup setup = newSetup(plan, tried.standing);
  plan.setups.push_back(setup);
  std::vector<FeatureId> moved;
  for (const Feature& f : plan.features) {
    const bool open = isOfSetup(plan, f) && !plan.nominal(f.id).portion &&
                      (!f.covered() || touchedPoorly(plan, f));
    if (!open || !tried.plan.features.holds(f.id)) continue;
    const Feature& there = tried.plan.feature(f.id);
    if (there.covered() && (!f.covered() || !touchedPoorly(tried.plan, there)))
      moved.push_back(f.id);
  }
  const auto joining = joiningFeatures(plan, tried.plan, moved);
  for (FeatureId id : moved) {
    dropPortionsOf(plan, id);
    plan.feature(id).setup = setup.id; // planned anew below
  }
  for (FeatureId id : joining) {
    NominalFeature n = plan.nominal(id);
    n.id = plan.spec.features.next();
    n.name = freeName(plan.spec, fmt::format("{} in {}", n.name, setup.name));
    n.portion = Portion{id, true};
    Feature f = tried.plan.feature(id);
    f.id = n.id, f.setup = setup.id, f.access_forced = false;
    const std::size_t place = touchedCount(plan);
    plan.spec.features.insert(place, n);
    plan.features.insert(place, f);
  }
  Plan there = inSetup(plan, setup.id);
  const Obstacles obstacles = obstaclesOf(there);
  if (auto done = planAccess(there, obstacles, progress); !done) return done;
  if (auto done = planPortions(there, obstacles, progress); !done) return done;
  planOrder(there);
  plan = inSetup(there, working);
  planOrder(plan); // what is measured there is not measured here
  return {};
}

} // namespace alder
