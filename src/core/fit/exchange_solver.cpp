#include "fit/exchange_solver.h"

#include <algorithm>
#include <limits>

namespace alder {
namespace {

struct Held {
  std::size_t point;
  int side;
  bool operator==(const Held&) const = default;
};

// The worst of each stripe of points that lies beyond `limit`, on each side that counts.
void addWorst(const std::vector<double>& d, Sides sides, double limit, std::size_t stripes,
              std::vector<Held>& set) {
  stripes = std::min(stripes, d.size());
  const auto add = [&](const Held& h) {
    if (std::find(set.begin(), set.end(), h) == set.end()) set.push_back(h);
  };
  for (std::size_t s = 0; s < stripes; ++s) {
    const std::size_t from = s * d.size() / stripes, to = (s + 1) * d.size() / stripes;
    const auto [low, high] = std::minmax_element(d.begin() + static_cast<std::ptrdiff_t>(from),
                                                 d.begin() + static_cast<std::ptrdiff_t>(to));
    if (sides != Sides::Lower && *high > limit)
      add({static_cast<std::size_t>(high - d.begin()), 1});
    if (sides != Sides::Upper && -*low > limit)
      add({static_cast<std::size_t>(low - d.begin()), -1});
  }
}

struct Round {
  SmallVector weights;
  bool limited = false;
};

// Stays within `trust` of where it begins: few points alone may leave the shape unbounded.
Round solveOn(const ExchangeProblem& problem, const std::vector<Held>& set, double trust,
              double worst_now) {
  Round round;
  const Eigen::Index n = problem.step_size();
  problem.begin_round();
  MinimaxProblem p;
  p.scale = std::max(problem.reach, 1e-9);
  p.curvature_step = problem.curvature_step(worst_now);
  p.linearise = [&] {
    const auto m = static_cast<Eigen::Index>(set.size());
    Linearised out{SmallVector(m), SmallMatrix(n, m)};
    SmallVector g(n);
    for (Eigen::Index i = 0; i < m; ++i) {
      const Held& h = set[static_cast<std::size_t>(i)];
      out.values[i] = h.side * problem.one(h.point, g);
      out.gradients.col(i) = h.side * g;
    }
    return out;
  };
  p.worst = [&](const SmallVector& step) {
    if (problem.drift(step) > trust) {
      round.limited = true;
      return std::numeric_limits<double>::infinity();
    }
    const auto d = problem.after(step);
    double worst = -1e300;
    for (const Held& h : set)
      worst = std::max(worst, h.side * d(h.point));
    return worst;
  };
  p.weighted = [&](const SmallVector& step, const SmallVector& w) {
    const auto d = problem.after(step);
    double sum = 0;
    for (std::size_t i = 0; i < set.size(); ++i)
      if (const double weight = w[static_cast<Eigen::Index>(i)]; weight > 0)
        sum += weight * set[i].side * d(set[i].point);
    return sum;
  };
  if (problem.slope_after)
    p.weighted_slope = [&](const SmallVector& step, const SmallVector& w) {
      const auto slope = problem.slope_after(step);
      SmallVector sum = SmallVector::Zero(n), one;
      for (std::size_t i = 0; i < set.size(); ++i)
        if (const double weight = w[static_cast<Eigen::Index>(i)]; weight > 0) {
          slope(set[i].point, one);
          sum += weight * set[i].side * one;
        }
      return sum;
    };
  p.accept = problem.accept;
  p.remember = problem.remember;
  round.weights = solveMinimax(p);
  return round;
}

} // namespace

Exchanged solveByExchange(const ExchangeProblem& problem, Sides sides,
                          const std::vector<std::size_t>& first) {
  std::vector<double> d;
  problem.all(d);
  std::vector<Held> set;
  for (const std::size_t i : first) {
    if (sides != Sides::Lower) set.push_back({i, 1});
    if (sides != Sides::Upper) set.push_back({i, -1});
  }
  addWorst(d, sides, -1e300, 12, set);
  Exchanged out;
  const double enough = 1e-14 * (problem.reach + 1);
  double worst = 0;
  for (const double v : d)
    worst = std::max(worst, std::abs(v));
  for (int count = 0; count < 60; ++count) {
    double largest = 0;
    for (const double v : d)
      largest = std::max(largest, std::abs(v));
    const double trust = 10 * largest + 1e-6 * problem.reach;
    const Round round = solveOn(problem, set, trust, worst);
    problem.all(d);
    double held = -1e300;
    worst = -1e300;
    for (const Held& h : set)
      held = std::max(held, h.side * d[h.point]);
    for (const double v : d) {
      if (sides != Sides::Lower) worst = std::max(worst, v);
      if (sides != Sides::Upper) worst = std::max(worst, -v);
    }
    out.worst = worst;
    out.contacts.clear();
    for (std::size_t i = 0; i < set.size(); ++i)
      if (const double w = round.weights[static_cast<Eigen::Index>(i)]; w > 1e-9)
        out.contacts.push_back({set[i].point, set[i].side, w});
    if (!std::isfinite(worst) || (worst <= held + enough && !round.limited)) break;
    if (set.size() > 160) { // those that hold nothing make room
      std::vector<Held> kept;
      for (std::size_t i = 0; i < set.size(); ++i)
        if (round.weights[static_cast<Eigen::Index>(i)] > 0 ||
            set[i].side * d[set[i].point] > 0.8 * held)
          kept.push_back(set[i]);
      set = std::move(kept);
    }
    addWorst(d, sides, held + enough, 16, set);
  }
  return out;
}

} // namespace alder
