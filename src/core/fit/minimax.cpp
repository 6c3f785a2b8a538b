#include "fit/minimax.h"

#include <algorithm>
#include <cmath>

namespace alder {

// The dual: weights w >= 0 of sum 1 that maximise w.c - |G w|^2 / 2, by an active set that grows by
// the worst function and drops those whose weight would turn negative (Wolfe 1976).
ProximalStep proximalStep(const Linearised& at, const SmallMatrix& h) {
  const auto m = at.values.size();
  const SmallMatrix l = choleskyFactor(h);
  SmallMatrix g(at.gradients.rows(), m);
  for (Eigen::Index k = 0; k < m; ++k)
    g.col(k) = solveLower(l, at.gradients.col(k));
  Eigen::Index first = 0;
  at.values.maxCoeff(&first);
  std::vector<Eigen::Index> set{first};
  std::vector<double> w{1};
  SmallVector u = -g.col(first);
  for (int round = 0; round < 200; ++round) {
    const SmallVector values = at.values + g.transpose() * u;
    Eigen::Index worst = 0;
    const double most = values.maxCoeff(&worst);
    double held = -1e300;
    for (const auto k : set)
      held = std::max(held, values[k]);
    if (most <= held + 1e-15 * (1 + std::abs(most)) ||
        std::find(set.begin(), set.end(), worst) != set.end())
      break;
    set.push_back(worst);
    w.push_back(0);
    while (true) {
      const auto n = static_cast<Eigen::Index>(set.size());
      SmallMatrix kkt = SmallMatrix::Zero(n + 1, n + 1);
      SmallVector right(n + 1);
      double largest = 0;
      for (Eigen::Index i = 0; i < n; ++i)
        largest = std::max(largest, g.col(set[static_cast<std::size_t>(i)]).squaredNorm());
      for (Eigen::Index i = 0; i < n; ++i) {
        for (Eigen::Index j = 0; j < n; ++j)
          kkt(i, j) =
              g.col(set[static_cast<std::size_t>(i)]).dot(g.col(set[static_cast<std::size_t>(j)]));
        kkt(i, n) = kkt(n, i) = std::sqrt(largest);
        right[i] = at.values[set[static_cast<std::size_t>(i)]];
      }
      right[n] = std::sqrt(largest);
      // Gradients that depend on each other make it singular; without that little on the diagonal,
      // the weights are not bounded, and with it the values are met to 1e-9 mm only.
      SmallMatrix firm = kkt;
      firm.diagonal().head(n).array() += 1e-14 * largest;
      const SmallVector x = solveNear(firm, kkt, right);
      if (!x.allFinite()) return {SmallVector::Zero(h.rows()), SmallVector::Zero(m), most};
      double reach = 1;
      Eigen::Index leaves = -1;
      for (Eigen::Index i = 0; i < n; ++i) {
        const double now = w[static_cast<std::size_t>(i)];
        if (x[i] < 0 && now / (now - x[i]) < reach) {
          reach = now / (now - x[i]);
          leaves = i;
        }
      }
      for (Eigen::Index i = 0; i < n; ++i) {
        double& now = w[static_cast<std::size_t>(i)];
        now = std::max(0.0, now + reach * (x[i] - now));
      }
      if (leaves < 0) break;
      set.erase(set.begin() + leaves);
      w.erase(w.begin() + leaves);
    }
    u.setZero();
    for (std::size_t i = 0; i < set.size(); ++i)
      u -= w[i] * g.col(set[i]);
  }
  ProximalStep out{solveLowerTransposed(l, u), SmallVector::Zero(m), 0};
  for (std::size_t i = 0; i < set.size(); ++i)
    out.weights[set[i]] = w[i];
  out.value = (at.values + at.gradients.transpose() * out.step).maxCoeff();
  return out;
}

SmallMatrix curvatureOf(const std::function<double(const SmallVector&)>& f, Eigen::Index n,
                        double h) {
  const auto at = [&](Eigen::Index i, double a, Eigen::Index j, double b) {
    SmallVector y = SmallVector::Zero(n);
    y[i] += a * h;
    y[j] += b * h;
    return f(y);
  };
  const double middle = f(SmallVector::Zero(n));
  SmallMatrix out(n, n);
  for (Eigen::Index i = 0; i < n; ++i) {
    out(i, i) = (at(i, 1, i, 0) - 2 * middle + at(i, -1, i, 0)) / (h * h);
    for (Eigen::Index j = 0; j < i; ++j)
      out(i, j) = out(j, i) =
          (at(i, 1, j, 1) - at(i, 1, j, -1) - at(i, -1, j, 1) + at(i, -1, j, -1)) / (4 * h * h);
  }
  return out;
}

SmallMatrix curvatureFrom(const std::function<SmallVector(const SmallVector&)>& slope,
                          Eigen::Index n, double h) {
  SmallMatrix out(n, n);
  for (Eigen::Index i = 0; i < n; ++i) {
    SmallVector y = SmallVector::Zero(n);
    y[i] = h;
    const SmallVector ahead = slope(y);
    y[i] = -h;
    out.col(i) = (ahead - slope(y)) / (2 * h);
  }
  return (out + out.transpose()) / 2;
}

namespace {

SmallMatrix curvatureOfSum(const MinimaxProblem& problem, const SmallVector& weights,
                           Eigen::Index n) {
  if (problem.weighted_slope)
    return curvatureFrom([&](const SmallVector& y) { return problem.weighted_slope(y, weights); },
                         n, problem.curvature_step);
  return curvatureOf([&](const SmallVector& y) { return problem.weighted(y, weights); }, n,
                     problem.curvature_step);
}

// Curvature of the weighted sum, without its negative directions.
SmallMatrix curvature(const MinimaxProblem& problem, const SmallVector& weights, Eigen::Index n) {
  const auto e = eigenpairs(curvatureOfSum(problem, weights, n));
  return e.vectors * e.values.cwiseMax(0).asDiagonal() * e.vectors.transpose();
}

struct Newton {
  SmallVector step, weights;
};

// One Newton step to where the functions that hold the place are alike and their weighted gradients
// add up to nothing; nothing where that is no minimum.
std::optional<Newton> newtonStep(const MinimaxProblem& problem, const SmallVector& weights) {
  const Linearised at = problem.linearise();
  const Eigen::Index n = at.gradients.rows();
  const SmallMatrix h = curvatureOfSum(problem, weights, n);
  std::vector<Eigen::Index> held;
  for (Eigen::Index i = 0; i < weights.size(); ++i)
    if (weights[i] > 1e-9) held.push_back(i);
  while (!held.empty()) {
    const auto m = static_cast<Eigen::Index>(held.size());
    // h step + sum of share g = 0, values + g . step alike, shares of sum 1
    SmallMatrix kkt = SmallMatrix::Zero(n + m + 1, n + m + 1);
    SmallVector right = SmallVector::Zero(n + m + 1);
    SmallMatrix gradients(n, m);
    kkt.topLeftCorner(n, n) = h;
    for (Eigen::Index i = 0; i < m; ++i) {
      const Eigen::Index k = held[static_cast<std::size_t>(i)];
      gradients.col(i) = at.gradients.col(k);
      kkt(n + i, n + m) = kkt(n + m, n + i) = -1;
      right[n + i] = -at.values[k];
    }
    kkt.block(0, n, n, m) = gradients;
    kkt.block(n, 0, m, n) = gradients.transpose();
    right[n + m] = -1;
    const SmallVector x = solveSquare(kkt, right);
    if (!x.allFinite() || (kkt * x - right).norm() > 1e-9) return {};
    const SmallVector share = x.segment(n, m);
    Eigen::Index least = 0;
    if (share.minCoeff(&least) < 0) {
      held.erase(held.begin() + least);
      continue;
    }
    const auto pairs = eigenpairs(gradients * gradients.transpose());
    Eigen::Index loose = 0;
    while (loose < n && pairs.values[loose] < 1e-12)
      ++loose;
    const SmallMatrix free = pairs.vectors.leftCols(loose);
    if (loose > 0 && eigenpairs(free.transpose() * h * free).values[0] <= 0) return {}; // a saddle
    Newton out{x.head(n), SmallVector::Zero(weights.size())};
    for (Eigen::Index i = 0; i < m; ++i)
      out.weights[held[static_cast<std::size_t>(i)]] = share[i];
    return out;
  }
  return {};
}

// Near a flat optimum the values alone fix the place to the root of their rounding only. The steps
// stand if they end at rest and no worse than they began.
bool settle(const MinimaxProblem& problem, SmallVector& weights) {
  constexpr double kFarthest = 2e-2, kAtRest = 1e-10; // of the scale
  if (!problem.remember) return false;
  const auto nothing = [&] { return SmallVector::Zero(problem.linearise().gradients.rows()); };
  const double before = problem.worst(nothing());
  const auto restore = problem.remember();
  SmallVector last = weights;
  bool at_rest = false;
  for (int round = 0; round < 8 && !at_rest; ++round) {
    const auto newton = newtonStep(problem, last);
    if (!newton || newton->step.norm() > kFarthest * problem.scale) break;
    problem.accept(newton->step);
    last = newton->weights;
    at_rest = newton->step.norm() < kAtRest * problem.scale;
  }
  // No worse than before, and none that does not hold it beyond those that do.
  double held = -1e300;
  if (at_rest) {
    const SmallVector values = problem.linearise().values;
    for (Eigen::Index i = 0; i < values.size(); ++i)
      if (last[i] > 0) held = std::max(held, values[i]);
  }
  const double now = problem.worst(nothing()), rounding = 1e-13 * problem.scale;
  if (!at_rest || now > before + rounding || now > held + rounding) {
    restore();
    return false;
  }
  weights = last;
  return true;
}

} // namespace

SmallVector solveMinimax(const MinimaxProblem& problem, int most_steps) {
  Linearised at = problem.linearise();
  const auto n = at.gradients.rows();
  double now = at.values.maxCoeff();
  SmallVector weights;
  SmallMatrix curved = SmallMatrix::Zero(n, n);
  double prox = 1e-2 / problem.scale;
  int next_try = 0;
  for (int step = 0; step < most_steps && n > 0; ++step) {
    const ProximalStep p = proximalStep(at, curved + prox * SmallMatrix::Identity(n, n));
    weights = p.weights;
    const double promised = now - p.value;
    if (promised < 1e-15 * problem.scale) break;
    // Along a valley that is nearly level the steps would creep.
    if (promised < 1e-8 * problem.scale && step >= next_try) {
      if (settle(problem, weights)) return weights;
      at = problem.linearise();
      next_try = step + 10;
    }
    const double then = problem.worst(p.step);
    if (std::isfinite(then) && then < now - 0.05 * promised) {
      problem.accept(p.step);
      at = problem.linearise();
      now = at.values.maxCoeff();
      prox = std::max(prox * 0.2, 1e-5 / problem.scale);
      curved = curvature(problem, weights, n);
    } else {
      if (promised < 1e-13 * problem.scale || prox > 1e9 / problem.scale) break;
      prox *= 6;
    }
  }
  if (weights.size() == 0) {
    weights = SmallVector::Zero(at.values.size());
    Eigen::Index worst = 0;
    at.values.maxCoeff(&worst);
    weights[worst] = 1;
  }
  if (n > 0) settle(problem, weights);
  return weights;
}

} // namespace alder
