#include "rehearse/qualify.h"

#include "base/hash.h"
#include "base/units.h"
#include "plan/qualification_fit.h"
#include <algorithm>
#include <cmath>
#include <functional>

namespace alder {

TipTruth truthOf(const Bench& bench, const Access& access) {
  const Stylus& stylus = bench.styli[static_cast<std::size_t>(access.stylus)];
  const Tip& tip = stylus.tips[static_cast<std::size_t>(access.tip)];
  Random mounted(hashOf(bench.name + stylus.name + tip.name));
  // The stylus is mounted a little off, which turns with the head; the head adds its own error.
  const Vec3 own(mounted.uniform(-0.03, 0.03), mounted.uniform(-0.03, 0.03),
                 mounted.uniform(-0.02, 0.02));
  Random turned(hashOf(fmt::format("{} {:.4f} {:.4f}", bench.head.name, access.a, access.b)));
  const Vec3 head(turned.uniform(-0.008, 0.008), turned.uniform(-0.008, 0.008),
                  turned.uniform(-0.008, 0.008));
  return {headTurn(access.a, access.b) * own + head,
          tip.ball_diameter - mounted.uniform(0.002, 0.008)};
}

Vec3 contactBelieved(const ReferenceSphere& sphere, const TipTruth& tip, const Vec3& really_at,
                     const Vec3& from) {
  const Vec3 d = (sphere.centre - from).normalized();
  const Vec3 gap = from + tip.offset - (sphere.centre + really_at);
  const double reach = (sphere.diameter + tip.diameter) / 2;
  const double half = gap.dot(d);
  const double inside = half * half - (gap.squaredNorm() - reach * reach);
  return from + (-half - std::sqrt(std::max(0.0, inside))) * d;
}

Result<Qualification> qualifyOnSimulatedMachine(const Plan& plan, const Way& way,
                                                const Qualification& before,
                                                const QualifyRun& run) {
  Random random(run.seed);
  const ReferenceSphere& sphere = plan.bench.sphere;
  Qualification result;
  if (!run.sphere_moved) result = before;
  for (std::size_t s = 0; s < way.steps.size(); ++s) {
    const Step& step = way.steps[s];
    if (step.kind != StepKind::Qualify) continue;
    const TipTruth truth = truthOf(plan.bench, step.access);
    Points centres;
    for (int i = std::max(step.first, 1); i <= step.last; ++i) {
      if (!way.positions[static_cast<std::size_t>(i)].contact) continue;
      const Vec3 from = way.positions[static_cast<std::size_t>(i) - 1].ball;
      const Vec3 noise =
          plan.bench.machine.probing_noise * random.normal() * (sphere.centre - from).normalized();
      centres.push_back(contactBelieved(sphere, truth, run.sphere_at, from) + noise);
    }
    auto more = withTip(std::move(result), sphere, step.access, centres, run.now);
    if (!more) return fail("{}: {}", step.text, more.error().message);
    result = std::move(*more);
  }
  return result;
}

} // namespace alder
