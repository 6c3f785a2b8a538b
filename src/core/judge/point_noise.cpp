#include "judge/point_noise.h"

#include "base/random.h"
#include "judge/verdict_basis.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr int kTrials = 8;

struct Noisy {
  FeatureId id;
  std::vector<Vec3> deviations; // one standard deviation of each point
};

std::vector<Noisy> noisyOf(const Plan& plan, const Requirement& r, const Measurements& measured) {
  std::vector<Noisy> all;
  for (const FeatureId id : basisOf(plan.spec, r).features) {
    const auto m = measured.find(id);
    if (m == measured.end() || m->second.noise.size() < m->second.points.size()) continue;
    const NominalSurface surface(plan.part, plan.nominal(id));
    Noisy noisy{id, {}};
    for (std::size_t i = 0; i < m->second.points.size(); ++i)
      noisy.deviations.push_back(m->second.noise[i] * surface.normal(i < m->second.faces.size()
                                                                         ? m->second.faces[i]
                                                                         : FaceId{},
                                                                     m->second.points[i]));
    all.push_back(std::move(noisy));
  }
  return all;
}

// By how much noise has made the figure larger, where as much noise once more makes it larger by
// `more`. Extremes grow with the noise as the hypotenuse of a triangle: of a zone, whose figure
// began at 0, that is known; of a limit of size it is not where it began, and the most is taken.
double grownBy(const Requirement& r, double seen, double more) {
  if (more <= 0) return -more;
  if (isDimension(r.kind)) return (1 + std::sqrt(2.0)) * more;
  const double with = seen + more;
  return seen - std::sqrt(std::max(0.0, 2 * seen * seen - with * with));
}

} // namespace

std::optional<double>
uncertaintyOfNoise(const Plan& plan, const Requirement& r, const Measurements& measured,
                   double figure,
                   const std::function<std::optional<double>(const Measurements&)>& again) {
  const auto noisy = noisyOf(plan, r, measured);
  if (noisy.empty()) return {};
  // Of what is judged by two limits the nearer one decides: smallest and largest size change places
  // there without a jump.
  const double middle = (r.lower + r.upper) / 2;
  const auto counted = [&](double f) { return isDimension(r.kind) ? std::abs(f - middle) : f; };
  const double seen = counted(figure);
  double sum = 0, squares = 0;
  int count = 0;
  for (int trial = 0; trial < kTrials; ++trial) {
    Measurements disturbed = measured;
    for (const Noisy& n : noisy) {
      Random random(static_cast<std::uint64_t>(trial + 1) << 32 |
                    static_cast<std::uint32_t>(n.id.value));
      MeasuredFeature& m = disturbed.at(n.id);
      for (std::size_t i = 0; i < m.points.size(); ++i)
        m.points[i] += random.normal() * n.deviations[i];
    }
    const auto other = again(disturbed);
    if (!other) continue;
    const double off = counted(*other) - seen;
    sum += off, squares += off * off;
    ++count;
  }
  if (count < 2) return {};
  const double mean = sum / count;
  const double variance = std::max(0.0, squares - count * mean * mean) / (count - 1);
  return 2 * std::sqrt(variance + std::pow(grownBy(r, seen, mean), 2));
}

} // namespace alder
