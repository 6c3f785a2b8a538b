#include "fit/small_program.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

struct Program {
  int unknowns = 0;
  Unknowns objective{}, low{}, high{};
  std::vector<LinearBound> bounds;
};

double along(int unknowns, const Unknowns& row, const Unknowns& x) {
  double sum = 0;
  for (int j = 0; j < unknowns; ++j)
    sum += row[static_cast<std::size_t>(j)] * x[static_cast<std::size_t>(j)];
  return sum;
}

std::optional<Unknowns> optimum(const Program& p, double tolerance);

// With bound `i` held as an equation: its largest coefficient's unknown, `out`, is put into all
// that stand before it.
std::optional<Unknowns> optimumOn(const Program& p, std::size_t i, double tolerance) {
  const auto n = static_cast<std::size_t>(p.unknowns);
  const LinearBound& held = p.bounds[i];
  std::size_t out = 0;
  for (std::size_t j = 1; j < n; ++j)
    if (std::abs(held.row[j]) > std::abs(held.row[out])) out = j;
  if (std::abs(held.row[out]) < 1e-12) return {}; // it asks for the impossible of no unknown
  Unknowns share{};                               // of the other unknowns in `out`
  for (std::size_t j = 0, k = 0; j < n; ++j)
    if (j != out) share[k++] = held.row[j] / held.row[out];
  const double fixed = held.most / held.row[out];
  const auto without = [&](const Unknowns& row) {
    Unknowns r{};
    for (std::size_t j = 0, k = 0; j < n; ++j)
      if (j != out) {
        r[k] = row[j] - row[out] * share[k];
        ++k;
      }
    return r;
  };
  Program q;
  q.unknowns = p.unknowns - 1;
  q.objective = without(p.objective);
  for (std::size_t j = 0, k = 0; j < n; ++j)
    if (j != out) {
      q.low[k] = p.low[j];
      q.high[k++] = p.high[j];
    }
  q.bounds.reserve(i + 2);
  LinearBound upper{{}, p.high[out] - fixed}, lower{share, fixed - p.low[out]};
  for (std::size_t k = 0; k + 1 < n; ++k)
    upper.row[k] = -share[k];
  q.bounds.push_back(upper);
  q.bounds.push_back(lower);
  for (std::size_t j = 0; j < i; ++j)
    q.bounds.push_back({without(p.bounds[j].row), p.bounds[j].most - p.bounds[j].row[out] * fixed});
  const auto x = optimum(q, tolerance);
  if (!x) return {};
  Unknowns all{};
  for (std::size_t j = 0, k = 0; j < n; ++j)
    if (j != out) all[j] = (*x)[k++];
  all[out] = fixed - along(q.unknowns, share, *x);
  return all;
}

std::optional<Unknowns> optimum(const Program& p, double tolerance) {
  if (p.unknowns == 1) {
    double low = p.low[0], high = p.high[0];
    for (const auto& [row, most] : p.bounds) {
      if (std::abs(row[0]) < 1e-12) {
        if (most < -tolerance) return {};
      } else if (row[0] > 0) {
        high = std::min(high, most / row[0]);
      } else {
        low = std::max(low, most / row[0]);
      }
    }
    if (low > high + tolerance) return {};
    return Unknowns{p.objective[0] > 0 ? high : low};
  }
  Unknowns x{};
  for (std::size_t j = 0; j < static_cast<std::size_t>(p.unknowns); ++j)
    x[j] = p.objective[j] > 0 ? p.high[j] : p.low[j];
  for (std::size_t i = 0; i < p.bounds.size(); ++i) {
    if (along(p.unknowns, p.bounds[i].row, x) <= p.bounds[i].most + tolerance) continue;
    const auto better = optimumOn(p, i, tolerance);
    if (!better) return {};
    x = *better;
  }
  return x;
}

} // namespace

std::optional<Unknowns> largestOf(int unknowns, const Unknowns& objective,
                                  const std::vector<LinearBound>& bounds, const Unknowns& middle,
                                  const Unknowns& half, double tolerance) {
  Program p{unknowns, objective, middle, middle, bounds};
  for (std::size_t j = 0; j < static_cast<std::size_t>(unknowns); ++j) {
    p.low[j] -= half[j];
    p.high[j] += half[j];
  }
  return optimum(p, tolerance);
}

} // namespace alder
