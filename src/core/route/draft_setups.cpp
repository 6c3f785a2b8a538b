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

struct Joining {
  std::vector<FeatureId> features;
  bool firm = false; // they hold the part in all ways
};

// Features that both reach, each added for what it holds most of what was free (a greedy
// D-optimal choice), until all is held firmly. Datum features count for more.
Joining joiningFeatures(const Plan& plan, const Plan& there, const std::vector<FeatureId>& moved) {
  constexpr double kFirm = 0.02; // of the best held direction
  constexpr double kJust = 1e-3; // enough to be joined, see judge/setup_join
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
    const bool well =
        f.covered() && again.covered() && !touchedPoorly(plan, f) && !touchedPoorly(there, again);
    if (well) both.push_back(f.id);
  }
  const Box3 box = plan.part->mesh.box();
  const Vec3 middle = box.center();
  const double reach = std::max(1.0, box.diagonal().norm() / 2);
  const SmallMatrix nothing = 1e-4 * SmallMatrix::Identity(6, 6);
  SmallMatrix held = nothing, here = nothing; // there, and in the plan
  Joining chosen;
  while (chosen.features.size() < kMost && chosen.features.size() < both.size()) {
    std::optional<FeatureId> best;
    double most = -1;
    for (FeatureId id : both) {
      if (std::find(chosen.features.begin(), chosen.features.end(), id) != chosen.features.end())
        continue;
      const SmallMatrix with = held + firmness(there.feature(id), middle, reach);
      const SmallVector values = eigenpairs(with).values;
      double gain = 0;
      for (int k = 0; k < 6; ++k)
        gain += std::log(values[k]);
      gain += datums.count(id) ? 1.0 : 0.0;
      if (!best || gain > most + 1e-9) best = id, most = gain;
    }
    if (!best) break;
    chosen.features.push_back(*best);
    held += firmness(there.feature(*best), middle, reach);
    here += firmness(plan.feature(*best), middle, reach);
    const SmallVector values = eigenpairs(held).values, before = eigenpairs(here).values;
    chosen.firm = values[0] - 1e-4 > kJust * values[5] && before[0] - 1e-4 > kJust * before[5];
    if (std::min(values[0] / values[5], before[0] / before[5]) > kFirm) break;
  }
  return chosen;
}

// What else the requirements of these features need, so that they can be judged from the set-up
// alone: it cannot be joined.
void addNeeded(const Plan& plan, const Plan& there, const std::vector<FeatureId>& moved,
               std::vector<FeatureId>& joining) {
  const auto among = [](const std::vector<FeatureId>& ids, FeatureId id) {
    return std::find(ids.begin(), ids.end(), id) != ids.end();
  };
  for (const Requirement& r : plan.spec.requirements) {
    const auto needed = featuresNeeded(plan.spec, r);
    if (std::none_of(needed.begin(), needed.end(), [&](FeatureId id) { return among(moved, id); }))
      continue;
    for (FeatureId id : needed)
      if (!among(moved, id) && !among(joining, id) && !plan.nominal(id).portion &&
          there.features.holds(id) && there.feature(id).covered())
        joining.push_back(id);
  }
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
  setup.how =
      fmt::format("Lay the part on {}.", liesOn(plan, standing.placement, standing.supports));
  setup.placement = standing.placement;
  setup.supports = standing.supports;
  setup.fixture = Json::object(); // what held the part before is not there
  return setup;
}

} // namespace

std::vector<FaceId> facesBelow(const PartModel& part, const Frame& placement,
                               const Supports& supports) {
  constexpr double kOn = 1e-3; // mm, of the top of a support
  const Vec3 up = turn(placement.inverse(), Vec3::UnitZ());
  std::vector<FaceId> below;
  for (const Face& face : part.faces)
    if (face.ideal.type == SurfaceType::Plane && face.ideal.direction.dot(up) < -0.999 &&
        std::any_of(supports.begin(), supports.end(), [&](const Support& s) {
          return std::abs((s.at - face.ideal.point).dot(up)) < kOn;
        }))
      below.push_back(face.id);
  return below;
}

std::string liesOn(const Plan& plan, const Frame& placement, const Supports& supports) {
  const Vec3 up = turn(placement.inverse(), Vec3::UnitZ());
  const auto below = facesBelow(*plan.part, placement, supports);
  for (const NominalFeature& f : plan.spec.features)
    if (!f.portion && std::any_of(f.faces.begin(), f.faces.end(), [&](FaceId face) {
          return std::find(below.begin(), below.end(), face) != below.end();
        }))
      return f.name;
  for (int k = 0; k < 3; ++k)
    if (std::abs(up[k]) > 0.9999)
      return fmt::format("its {}{} side", up[k] > 0 ? "−" : "+", "XYZ"[k]); // of the CAD frame
  return "a flat face";
}

bool joinFirmly(const Plan& one, const Plan& other) {
  return joiningFeatures(one, other, {}).firm;
}

Done addSetup(Plan& plan, const TriedStanding& tried, const Progress& progress) {
  const SetupId working = plan.setup;
  plan.setups = setupsOf(plan);
  for (Setup& s : plan.setups)
    if (s.how.empty() && !s.supports.empty())
      s.how = fmt::format("Lay the part on {}.", liesOn(plan, s.placement, s.supports));
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
  const Joining joined = joiningFeatures(plan, tried.plan, moved);
  auto joining = joined.features;
  if (!joined.firm) addNeeded(plan, tried.plan, moved, joining);
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
