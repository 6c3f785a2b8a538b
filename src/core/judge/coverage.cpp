#include "judge/coverage.h"

#include "base/random.h"
#include "base/units.h"
#include "judge/verdict.h"
#include <cmath>
#include <fmt/format.h>

namespace alder {
namespace {

// Points as the touches would bring them of an exact part on a machine with this noise; `only`: on
// one feature, all others exact.
Measurements asPlanned(const Plan& plan, double noise, std::uint64_t seed, FeatureId only = {}) {
  Measurements all;
  Random random(seed);
  for (const Feature& f : plan.features) {
    if (!f.covered()) continue;
    const double mine = only.valid() && only != f.id ? 0 : noise;
    MeasuredFeature m;
    for (const Touch& t : f.touches) {
      m.points.push_back(t.point + mine * random.normal() * t.normal);
      m.rows.push_back(t.row);
      m.faces.push_back(t.face);
      m.nominals.push_back(t.point);
    }
    all[f.id] = std::move(m);
  }
  return all;
}

// What is not fixed could pass by luck where every point is exact.
constexpr double kLeast = 1e-4; // mm
constexpr int kDraws = 6;

// Root mean square of how far noise alone moves the result.
double movedBy(const Plan& plan, const Requirement& r, double noise, double exact, FeatureId only) {
  double squares = 0;
  int count = 0;
  for (int i = 0; i < kDraws; ++i) {
    const Evaluation e =
        judge(plan, r, asPlanned(plan, noise, static_cast<std::uint64_t>(2 + i), only));
    if (!e.actual) continue;
    squares += (*e.actual - exact) * (*e.actual - exact);
    ++count;
  }
  return count == 0 ? 0 : std::sqrt(squares / count);
}

// Which feature's touches let noise do the most.
FeatureId mostMoved(const Plan& plan, const Requirement& r, double noise, double exact) {
  FeatureId worst;
  double most = -1;
  for (FeatureId id : featuresNeeded(plan.spec, r))
    if (const double moved = movedBy(plan, r, noise, exact, id); moved > most)
      worst = id, most = moved;
  return worst;
}

std::string tooCloseTogether(const Plan& plan, const Requirement& r, double noise, double exact,
                             double share) {
  const FeatureId worst = mostMoved(plan, r, noise, exact);
  return fmt::format("The touches{} lie so close together that probing noise of {} mm alone moves the "
                     "result by {:.0f} % of its tolerance. Touch it wider apart, or with a smaller ball.",
                     worst.valid() ? " of " + plan.nominal(worst).name : "", shortFigure(noise),
                     100 * share);
}

Tried tried(const Plan& plan, const Requirement& r, const Measurements& exact,
            const Measurements& nearly) {
  if (auto why = whyNotCovered(plan, r); !why.empty()) return {std::move(why), 0};
  if (const Evaluation e = judge(plan, r, nearly); !e.actual)
    return {"The touches do not suffice to judge it: " + e.how, 0};
  const Evaluation e = judge(plan, r, exact);
  const double width = e.upper - e.lower, noise = plan.bench.machine.probing_noise;
  if (!e.actual || noise <= 0 || !(width > 0) || !std::isfinite(width)) return {};
  const double moved = movedBy(plan, r, noise, *e.actual, {}), share = moved / width;
  // A deviation of form shows noise as it is, a few times its standard deviation, wherever touches
  // lie: that is the machine's to improve. More than that their places do.
  constexpr double kByPlaces = 8;
  if (share <= kMostNoise || moved < kByPlaces * noise) return {"", share};
  return {tooCloseTogether(plan, r, noise, *e.actual, share), share};
}

} // namespace

Tried coverageOf(const Plan& plan, const Requirement& requirement) {
  return tried(plan, requirement, asPlanned(plan, 0, 1), asPlanned(plan, kLeast, 1));
}

Coverage coverageOf(const Plan& plan, const Progress& progress) {
  Coverage coverage;
  const Measurements nearly = asPlanned(plan, kLeast, 1), exact = asPlanned(plan, 0, 1);
  for (const Requirement& r : plan.spec.requirements) {
    if (progress.cancelled()) break;
    coverage[r.id] = tried(plan, r, exact, nearly);
  }
  return coverage;
}

} // namespace alder
