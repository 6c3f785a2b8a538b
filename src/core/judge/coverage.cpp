#include "judge/coverage.h"

#include "base/random.h"
#include "base/units.h"
#include "judge/judge.h"
#include "judge/verdict.h"
#include "judge/verdict_basis.h"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace alder {
namespace {

// What is touched of all that the judge looks at: what else there is does not move its figure.
std::vector<FeatureId> lookedAt(const Plan& plan, const Requirement& r) {
  std::vector<FeatureId> ids;
  for (FeatureId id : basisOf(plan.spec, r).features)
    if (!plan.nominal(id).isConstructed()) ids.push_back(id);
  return ids;
}

// Points as the touches would bring them of an exact part on a machine with this noise; `only`: on
// one feature, all others exact. Each feature has noise of its own, whichever others there are.
Measurements asPlanned(const Plan& plan, const std::vector<FeatureId>& features, double noise,
                       std::uint64_t seed, FeatureId only = {}) {
  Measurements all;
  for (const FeatureId id : features) {
    const Feature& f = plan.feature(id);
    if (!f.covered()) continue;
    Random random(seed << 32 | static_cast<std::uint32_t>(id.value));
    const double mine = only.valid() && only != id ? 0 : noise;
    MeasuredFeature m;
    for (const Touch& t : f.touches) {
      m.points.push_back(t.point + mine * random.normal() * t.normal);
      m.rows.push_back(t.row);
      m.faces.push_back(t.face);
      m.nominals.push_back(t.point);
    }
    all[id] = std::move(m);
  }
  return all;
}

// What is not fixed could pass by luck where every point is exact.
constexpr double kLeast = 1e-4; // mm
constexpr int kDraws = 6;

// One requirement, tried on points of its own features.
class Trial {
 public:
  Trial(const Plan& plan, const Requirement& r)
      : plan_(plan)
      , r_(r)
      , features_(lookedAt(plan, r))
      , noise_(plan.bench.machine.probing_noise) {}

  Tried result() {
    if (const Evaluation e = judged(kLeast, 1); !e.actual)
      return {"The touches do not suffice to judge it: " + e.how, 0};
    const Evaluation e = judged(0, 1);
    const double width = e.upper - e.lower;
    if (!e.actual) return {"The touches do not suffice to judge it: " + e.how, 0};
    if (noise_ <= 0 || !(width > 0) || !std::isfinite(width)) return {};
    exact_ = *e.actual;
    const double moved = movedBy({}), share = moved / width;
    // A deviation of form shows noise as it is, a few times its standard deviation, wherever
    // touches lie: that is the machine's to improve. More than that their places do.
    constexpr double kByPlaces = 8;
    if (share <= kMostNoise || moved < kByPlaces * noise_) return {"", share};
    return {tooCloseTogether(share), share};
  }

 private:
  Evaluation judged(double noise, std::uint64_t seed, FeatureId only = {}) const {
    return judge(plan_, r_, asPlanned(plan_, features_, noise, seed, only));
  }

  // Root mean square of how far noise alone moves the result.
  double movedBy(FeatureId only) const {
    double squares = 0;
    int count = 0;
    for (int i = 0; i < kDraws; ++i) {
      const Evaluation e = judged(noise_, static_cast<std::uint64_t>(2 + i), only);
      // Points that fix nothing are as bad as a figure that is off by all of its tolerance.
      const double off = e.actual ? *e.actual - exact_ : e.upper - e.lower;
      squares += off * off;
      ++count;
    }
    return std::sqrt(squares / count);
  }

  // Which feature's touches let noise do the most.
  FeatureId mostMoved() const {
    FeatureId worst;
    double most = -1;
    for (FeatureId id : featuresNeeded(plan_.spec, r_))
      if (const double moved = movedBy(id); moved > most) worst = id, most = moved;
    return worst;
  }

  std::string tooCloseTogether(double share) const {
    const FeatureId worst = mostMoved();
    return fmt::format(
        "The touches{} lie so close together that probing noise of {} mm alone moves the "
        "result by {:.0f} % of its tolerance. Touch it wider apart, or with a smaller ball.",
        worst.valid() ? " of " + plan_.nominal(worst).name : "", shortFigure(noise_), 100 * share);
  }

  const Plan& plan_;
  const Requirement& r_;
  const std::vector<FeatureId> features_;
  const double noise_;
  double exact_ = 0;
};

bool sameTouches(const Plan& a, const Plan& b, const Requirement& r) {
  const auto features = lookedAt(a, r);
  return std::all_of(features.begin(), features.end(), [&](FeatureId id) {
    return a.feature(id).covered() == b.feature(id).covered() &&
           a.feature(id).touches == b.feature(id).touches;
  });
}

} // namespace

Tried coverageOf(const Plan& plan, const Requirement& requirement) {
  if (auto why = whyNotCovered(plan, requirement); !why.empty()) return {std::move(why), 0};
  return Trial(plan, requirement).result();
}

Coverage coverageOf(const Plan& plan, const Progress& progress) {
  Coverage coverage;
  for (const Requirement& r : plan.spec.requirements) {
    if (progress.cancelled()) break;
    coverage[r.id] = coverageOf(plan, r);
  }
  return coverage;
}

void CoverageMemory::keep(RequirementId id, Tried tried, std::shared_ptr<const Plan> plan) {
  const std::lock_guard lock(mutex_);
  all_[id] = {std::move(tried), std::move(plan)};
}

std::optional<Tried> CoverageMemory::find(const Plan& plan, const Requirement& r) const {
  Kept kept;
  {
    const std::lock_guard lock(mutex_);
    const auto found = all_.find(r.id);
    if (found == all_.end()) return {};
    kept = found->second;
  }
  const Plan& before = *kept.plan;
  // Without touches nothing was tried then, and what a step leaves out may be in again.
  const bool stands = plan.part == before.part && plan.spec == before.spec &&
                      plan.bench.machine.probing_noise == before.bench.machine.probing_noise &&
                      isCovered(plan, r) && isCovered(before, r) && sameTouches(plan, before, r);
  return stands ? std::optional(kept.tried) : std::nullopt;
}

Coverage coverageOf(const std::shared_ptr<const Plan>& plan, CoverageMemory& memory,
                    const Progress& progress) {
  Coverage coverage;
  for (const Requirement& r : plan->spec.requirements) {
    if (progress.cancelled()) break;
    if (auto stands = memory.find(*plan, r)) {
      coverage[r.id] = *stands;
      continue;
    }
    coverage[r.id] = coverageOf(*plan, r);
    memory.keep(r.id, coverage[r.id], plan);
  }
  return coverage;
}

} // namespace alder
