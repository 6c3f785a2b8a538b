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
        kkt(i, i) += 1e-14 * largest;
        kkt(i, n) = kkt(n, i) = std::sqrt(largest);
        right[i] = at.values[set[static_cast<std::size_t>(i)]];
      }
      right[n] = std::sqrt(largest);
      const SmallVector x = solveSquare(kkt, right);
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

namespace {

// Curvature of the weighted sum by second differences, without its negative directions.
SmallMatrix curvature(const MinimaxProblem& problem, const SmallVector& weights, Eigen::Index n) {
  const double h = problem.curvature_step;
  const auto at = [&](Eigen::Index i, double a, Eigen::Index j, double b) {
    SmallVector y = SmallVector::Zero(n);
    y[i] += a * h;
    y[j] += b * h;
    return problem.weighted(y, weights);
  };
  const double middle = problem.weighted(SmallVector::Zero(n), weights);
  SmallMatrix out(n, n);
  for (Eigen::Index i = 0; i < n; ++i) {
    out(i, i) = (at(i, 1, i, 0) - 2 * middle + at(i, -1, i, 0)) / (h * h);
    for (Eigen::Index j = 0; j < i; ++j)
      out(i, j) = out(j, i) =
          (at(i, 1, j, 1) - at(i, 1, j, -1) - at(i, -1, j, 1) + at(i, -1, j, -1)) / (4 * h * h);
  }
  const auto e = eigenpairs(out);
  return e.vectors * e.values.cwiseMax(0).asDiagonal() * e.vectors.transpose();
}

} // namespace

SmallVector solveMinimax(const MinimaxProblem& problem, int most_steps) {
  Linearised at = problem.linearise();
  const auto n = at.gradients.rows();
  double now = at.values.maxCoeff();
  SmallVector weights;
  SmallMatrix curved = SmallMatrix::Zero(n, n);
  double prox = 1e-2 / problem.scale;
  for (int step = 0; step < most_steps && n > 0; ++step) {
    const ProximalStep p = proximalStep(at, curved + prox * SmallMatrix::Identity(n, n));
    weights = p.weights;
    const double promised = now - p.value;
    if (promised < 1e-15 * problem.scale) break;
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
  return weights;
}

} // namespace alder
