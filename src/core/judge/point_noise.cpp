#include "judge/point_noise.h"

#include "base/random.h"
#include "judge/verdict_basis.h"
#include "requirement/limits.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr int kTrials = 6;

struct Noisy {
  FeatureId id;
  std::vector<Vec3> deviations; // one standard deviation of each point
};

std::vector<Noisy> noisyOf(const Plan& plan, const Requirement& r, const Measurements& measured) {
  std::vector<Noisy> all;
  for (const FeatureId id : basisOf(plan.spec, r).features) {
    const auto m = measured.find(id);
    if (m == measured.end() || m->second.noise.size() < m->second.points.size()) continue;
    if (std::all_of(m->second.noise.begin(), m->second.noise.end(),
                    [](double noise) { return noise <= 0; }))
      continue; // nothing is known of it
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

struct Trials {
  double mean = 0, variance = 0;
  int count = 0;
};

class NoiseTrial {
 public:
  using Again = std::function<std::optional<double>(const Measurements&)>;
  NoiseTrial(const Measurements& measured, std::vector<Noisy> noisy, const Again& again)
      : measured_(measured)
      , noisy_(std::move(noisy))
      , again_(again) {}

  // What noise does to the figure of these points; `counted` of what it comes to.
  Trials of(const Measurements& points, std::uint64_t seed,
            const std::function<double(double)>& counted) const {
    double sum = 0, squares = 0;
    Trials t;
    for (int trial = 0; trial < kTrials; ++trial) {
      Measurements disturbed = points;
      for (const Noisy& n : noisy_) {
        Random random((seed * kTrials + static_cast<std::uint64_t>(trial) + 1) << 32 |
                      static_cast<std::uint32_t>(n.id.value));
        MeasuredFeature& m = disturbed.at(n.id);
        for (std::size_t i = 0; i < m.points.size(); ++i)
          m.points[i] += random.normal() * n.deviations[i];
      }
      const auto figure = again_(disturbed);
      if (!figure) continue;
      const double v = counted(*figure);
      sum += v, squares += v * v;
      ++t.count;
    }
    if (t.count < 2) return {};
    t.mean = sum / t.count;
    t.variance = std::max(0.0, squares - t.count * t.mean * t.mean) / (t.count - 1);
    return t;
  }
  // The same places on a part without any error.
  Measurements exact() const {
    Measurements points = measured_;
    for (const Noisy& n : noisy_) {
      MeasuredFeature& m = points.at(n.id);
      for (std::size_t i = 0; i < m.points.size() && i < m.nominals.size(); ++i)
        m.points[i] = m.nominals[i];
    }
    return points;
  }

 private:
  const Measurements& measured_;
  std::vector<Noisy> noisy_;
  const Again& again_;
};

} // namespace

std::optional<double>
uncertaintyOfNoise(const Plan& plan, const Requirement& r, const Measurements& measured,
                   double figure,
                   const std::function<std::optional<double>(const Measurements&)>& again) {
  auto noisy = noisyOf(plan, r, measured);
  if (noisy.empty()) return {};
  const NoiseTrial trial(measured, std::move(noisy), again);
  const bool two_limits = isDimension(r.kind);
  // Of what is judged by two limits the nearer one decides: smallest and largest size change places
  // there without a jump.
  const double middle = (r.lower + r.upper) / 2;
  const bool only_lower = two_limits && !hasUpper(r), single = hasSingleLimit(r);
  const Trials seen = trial.of(measured, 0, [&](double f) {
    return only_lower ? -f : two_limits && !single ? std::abs(f - middle) : f;
  });
  if (seen.count == 0) return {};
  const Measurements exact = trial.exact();
  const auto none = again(exact);
  if (!none) return {};
  const Trials alone = trial.of(exact, 1, [&](double f) { return std::abs(f - *none); });
  if (alone.count == 0) return {};
  // A form and the noise on it add as the sides of a right angle; noise is taken at its most. A
  // size's extremes, and a zone about a datum that rests on extremes, are off by as much as by
  // noise alone.
  const double most = alone.mean + 2 * std::sqrt(alone.variance);
  const double bias = isForm(r.kind)
                          ? figure - std::sqrt(std::max(0.0, figure * figure - most * most))
                          : alone.mean;
  return 2 * std::sqrt(seen.variance + bias * bias);
}

} // namespace alder
