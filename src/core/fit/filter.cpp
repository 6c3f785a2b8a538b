#include "fit/filter.h"

#include "base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

// ISO 16610-21: sqrt(ln 2 / pi), so that the cut-off wavelength is passed by half.
const double kAlpha = std::sqrt(std::log(2.0) / kPi);
// At this distance, in cut-offs, a weight has fallen below 1e-6 of the largest.
constexpr double kReach = 1.0;

// The part of the profile that each point stands for: half the way to its neighbours.
std::vector<double> spacings(const Profile& p) {
  const std::size_t n = p.positions.size();
  std::vector<double> s(n);
  for (std::size_t i = 0; i < n; ++i) {
    const double before = i > 0          ? p.positions[i] - p.positions[i - 1]
                          : p.period > 0 ? p.positions[0] + p.period - p.positions[n - 1]
                                         : p.positions[1] - p.positions[0];
    const double after = i + 1 < n      ? p.positions[i + 1] - p.positions[i]
                         : p.period > 0 ? p.positions[0] + p.period - p.positions[n - 1]
                                        : p.positions[n - 1] - p.positions[n - 2];
    s[i] = (before + after) / 2;
  }
  return s;
}

// Weighted sums about one place; a line is fitted to open profiles (moment criterion of first
// order), a constant to closed ones.
struct Local {
  double w = 0, wx = 0, wxx = 0, wz = 0, wxz = 0;
  void add(double weight, double x, double z) {
    w += weight, wx += weight * x, wxx += weight * x * x;
    wz += weight * z, wxz += weight * x * z;
  }
  double value(bool closed, double otherwise) const {
    if (w <= 0) return otherwise;
    const double determinant = w * wxx - wx * wx;
    if (closed || determinant <= 1e-12 * w * wxx) return wz / w;
    return (wz * wxx - wxz * wx) / determinant;
  }
};

std::vector<double> smoothed(const Profile& p, const std::vector<double>& weights, double cutoff) {
  const auto n = static_cast<long>(p.positions.size());
  std::vector<double> out(p.values.size());
  const double scale = kPi / (kAlpha * kAlpha * cutoff * cutoff), reach = kReach * cutoff;
  const bool closed = p.period > 0;
  if (closed && reach > 16 * p.period) { // all waves are shorter: their mean is left
    Local all;
    for (std::size_t k = 0; k < weights.size(); ++k)
      all.add(weights[k], 0, p.values[k]);
    std::fill(out.begin(), out.end(), all.value(true, 0));
    return out;
  }
  tbb::parallel_for(0L, n, [&](long i) {
    Local local;
    const auto add = [&](long j, double turn) {
      const auto k = static_cast<std::size_t>(j);
      const double x = p.positions[k] + turn - p.positions[static_cast<std::size_t>(i)];
      if (std::abs(x) > reach) return false;
      local.add(weights[k] * std::exp(-scale * x * x), x, p.values[k]);
      return true;
    };
    // Outward from the point; round a closed profile as often as the filter reaches.
    for (const long step : {1L, -1L}) {
      long j = step > 0 ? i : i - 1;
      double turn = 0;
      while (true) {
        if (j >= n || j < 0) {
          if (!closed) break;
          turn += j >= n ? p.period : -p.period;
          j = j >= n ? 0 : n - 1;
        }
        if (!add(j, turn)) break;
        j += step;
      }
    }
    out[static_cast<std::size_t>(i)] = local.value(closed, p.values[static_cast<std::size_t>(i)]);
  });
  return out;
}

double median(std::vector<double> v) {
  const auto middle = v.begin() + static_cast<long>(v.size() / 2);
  std::nth_element(v.begin(), middle, v.end());
  return *middle;
}

} // namespace

std::string_view name(FilterKind kind) {
  static constexpr std::array<std::string_view, 3> kNames{"none", "gaussian", "robust"};
  return kNames[static_cast<std::size_t>(kind)];
}

Result<FilterKind> filterKindNamed(std::string_view wanted) {
  for (const auto kind : {FilterKind::None, FilterKind::Gaussian, FilterKind::Robust})
    if (name(kind) == wanted) return kind;
  return fail("\"{}\" is no filter; there are none, gaussian and robust.", wanted);
}

Done validate(const Filtering& f) {
  for (const double v : {f.cutoff, f.undulations, f.outlier_sigma, f.outlier_share})
    if (!std::isfinite(v) || v < 0) return fail("A filter's figures must not be below 0.");
  if (f.kind != FilterKind::None && f.cutoff <= 0 && f.undulations <= 0)
    return fail("A filter needs a cut-off in mm or undulations per revolution.");
  if (f.outlier_sigma > 0 && f.outlier_sigma < 1)
    return fail("Outliers lie beyond at least 1 standard deviation.");
  if (f.outlier_share > 0.5) return fail("No more than half of the points can be outliers.");
  return {};
}

std::string describe(const Filtering& f) {
  std::string text;
  if (f.kind != FilterKind::None) {
    text = f.kind == FilterKind::Robust ? "robust Gaussian filter " : "Gaussian filter ";
    text += f.cutoff > 0 ? fmt::format("{:g} mm", f.cutoff)
                         : fmt::format("{:g} undulations per revolution", f.undulations);
  }
  if (f.outlier_sigma > 0)
    text += fmt::format("{}outliers beyond {:g} sigma left out", text.empty() ? "" : ", ",
                        f.outlier_sigma);
  if (f.outlier_share > 0)
    text += fmt::format("{}the farthest {:g} % of the points left out", text.empty() ? "" : ", ",
                        100 * f.outlier_share);
  return text.empty() ? "no filter" : text;
}

std::vector<double> filtered(const Profile& p, FilterKind kind, double cutoff) {
  const std::size_t n = p.positions.size();
  if (kind == FilterKind::None || cutoff <= 0 || n < 2) return p.values;
  const auto spacing = spacings(p);
  auto line = smoothed(p, spacing, cutoff);
  if (kind == FilterKind::Gaussian) return line;
  // Biweights of the distances to the line before, ISO 16610-31: 4.4478 median distances are three
  // standard deviations.
  double before = 0;
  for (int round = 0; round < 50; ++round) {
    std::vector<double> off(n);
    for (std::size_t i = 0; i < n; ++i)
      off[i] = std::abs(p.values[i] - line[i]);
    const double c = 4.4478 * median(off);
    if (c <= 1e-12 || std::abs(c - before) <= 1e-6 * c) break;
    before = c;
    auto weights = spacing;
    for (std::size_t i = 0; i < n; ++i) {
      const double u = 1 - (off[i] / c) * (off[i] / c);
      weights[i] *= u > 0 ? u * u : 0;
    }
    line = smoothed(p, weights, cutoff);
  }
  return line;
}

Result<std::vector<std::size_t>> withoutOutliers(std::size_t count, const Filtering& f,
                                                 const DeviationsOf& deviations) {
  std::vector<std::size_t> kept(count);
  std::iota(kept.begin(), kept.end(), std::size_t{0});
  const auto drop = [&](const std::vector<double>& off, double beyond) {
    std::vector<std::size_t> rest;
    for (std::size_t k = 0; k < kept.size(); ++k)
      if (off[k] <= beyond) rest.push_back(kept[k]);
    const bool any = rest.size() < kept.size();
    kept = std::move(rest);
    return any;
  };
  // The farthest share in ten rounds, so that one far point does not take good ones with it.
  const auto in_all = static_cast<std::size_t>(f.outlier_share * static_cast<double>(count) + 1e-9);
  for (std::size_t gone = 0; gone < in_all;) {
    auto d = deviations(kept);
    if (!d) return pass(d.error());
    for (double& v : *d)
      v = std::abs(v);
    const std::size_t now = std::min(std::max<std::size_t>(1, in_all / 10), in_all - gone);
    std::vector<std::size_t> order(kept.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return (*d)[a] > (*d)[b]; });
    order.resize(now);
    std::sort(order.begin(), order.end(), std::greater<>());
    for (const std::size_t k : order)
      kept.erase(kept.begin() + static_cast<long>(k));
    gone += now;
  }
  while (f.outlier_sigma > 0) {
    auto d = deviations(kept);
    if (!d) return pass(d.error());
    double mean = 0, square = 0;
    for (const double v : *d)
      mean += v / static_cast<double>(d->size());
    for (double& v : *d) {
      v = std::abs(v - mean);
      square += v * v / static_cast<double>(d->size());
    }
    // What rounding leaves of exact points is no scatter.
    if (!drop(*d, std::max(f.outlier_sigma * std::sqrt(square), 1e-9))) break;
    if (2 * kept.size() < count)
      return fail("more than half of the points lie beyond {:g} sigma; choose a wider bound.",
                  f.outlier_sigma);
  }
  return kept;
}

} // namespace alder
