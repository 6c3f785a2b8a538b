#include "judge/part_history.h"

#include "requirement/limits.h"
#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <cmath>
#include <limits>

namespace alder {
namespace {

// Of ranges of two: mean range over standard deviation (d2), limits of individuals (E2) and of the
// range (D4).
constexpr double kD2 = 1.128379167, kE2 = 2.659574, kD4 = 3.266532;
constexpr double kNormal95 = 1.959963985;

Index potential(double width, double spread, std::size_t count) {
  const double value = width / (6 * spread), free = static_cast<double>(count) - 1;
  const boost::math::chi_squared chi(free);
  return {value, value * std::sqrt(boost::math::quantile(chi, 0.025) / free),
          value * std::sqrt(boost::math::quantile(chi, 0.975) / free)};
}

Index critical(double mean, double spread, std::optional<double> lower, std::optional<double> upper,
               std::size_t count) {
  double value = std::numeric_limits<double>::infinity();
  if (upper) value = (*upper - mean) / (3 * spread);
  if (lower) value = std::min(value, (mean - *lower) / (3 * spread));
  const auto n = static_cast<double>(count);
  const double half = kNormal95 * std::sqrt(1 / (9 * n) + value * value / (2 * (n - 1)));
  return {value, value - half, value + half};
}

} // namespace

PartHistory historyOf(const std::vector<double>& figures, std::optional<double> lower,
                      std::optional<double> upper) {
  PartHistory h;
  h.count = figures.size();
  if (figures.empty()) return h;
  const auto n = static_cast<double>(figures.size());
  const auto [least, most] = std::minmax_element(figures.begin(), figures.end());
  h.lowest = *least, h.highest = *most;
  for (const double f : figures)
    h.mean += f / n;
  for (std::size_t i = 0; i < figures.size(); ++i)
    if ((upper && figures[i] > *upper) || (lower && figures[i] < *lower)) h.outside.push_back(i);
  if (figures.size() < 2) return h;
  double squares = 0, range = 0;
  for (std::size_t i = 0; i < figures.size(); ++i) {
    squares += (figures[i] - h.mean) * (figures[i] - h.mean);
    if (i > 0) range += std::abs(figures[i] - figures[i - 1]) / (n - 1);
  }
  h.spread = std::sqrt(squares / (n - 1));
  h.within = range / kD2;
  h.control_low = h.mean - kE2 * range, h.control_high = h.mean + kE2 * range;
  h.range_high = kD4 * range;
  for (std::size_t i = 0; i < figures.size(); ++i)
    if (figures[i] > h.control_high || figures[i] < h.control_low ||
        (i > 0 && std::abs(figures[i] - figures[i - 1]) > h.range_high))
      h.beyond.push_back(i);
  constexpr double kNone = 1e-12;
  if (h.spread > kNone) {
    if (lower && upper) h.pp = potential(*upper - *lower, h.spread, h.count);
    if (lower || upper) h.ppk = critical(h.mean, h.spread, lower, upper, h.count);
  }
  if (h.within > kNone) {
    if (lower && upper) h.cp = potential(*upper - *lower, h.within, h.count);
    if (lower || upper) h.cpk = critical(h.mean, h.within, lower, upper, h.count);
  }
  return h;
}

PartHistory historyOf(const Requirement& r, const std::vector<double>& figures) {
  if (!isDimension(r.kind)) return historyOf(figures, std::nullopt, r.tolerance);
  return historyOf(figures, hasLower(r) ? std::optional(r.lower) : std::nullopt,
                   hasUpper(r) ? std::optional(r.upper) : std::nullopt);
}

} // namespace alder
