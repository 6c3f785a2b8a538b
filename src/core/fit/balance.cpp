#include "fit/balance.h"

#include <algorithm>

namespace alder {
namespace {

constexpr double kAsGood = 1e-12;  // mm of size that rounding may cost
constexpr double kFarthest = 0.01; // of the reach: a place farther off is another optimum

class Balance {
 public:
  Balance(Shape shape, const Cloud& cloud, const Chebyshev& near, const FitConstraints& k,
          Sides sides, const NearestPlace& nearest)
      : shape_(shape)
      , cloud_(cloud)
      , k_(k)
      , side_(sides == Sides::Upper ? 1 : -1)
      , nearest_(nearest)
      , now_(near) {}

  // Nothing where no balance is found near.
  std::optional<Chebyshev> run() {
    for (int round = 0; round < 20; ++round) {
      if (!settle()) return {};
      const auto least =
          std::min_element(now_.contacts.begin(), now_.contacts.end(),
                           [](const Contact& a, const Contact& b) { return a.weight < b.weight; });
      if (least->weight < -1e-12) { // it holds nothing
        now_.contacts.erase(least);
        continue;
      }
      const std::size_t beyond = worst();
      if (now_.worst <= held_ + 1e-14 * (cloud_.reach + 1)) return now_;
      if (std::any_of(now_.contacts.begin(), now_.contacts.end(),
                      [&](const Contact& c) { return c.point == beyond; }))
        return {};
      if (!enter(beyond)) return {};
    }
    return {};
  }

 private:
  SmallMatrix freeAt(const Estimate& e) const {
    return freeDirections(shape_, e, k_, cloud_.centre, cloud_.reach, false);
  }
  Estimate after(const SmallMatrix& free, const SmallVector& y) const {
    const SmallVector step = free * y;
    return constrained(shape_, moved(shape_, now_.estimate, step.data()), k_, cloud_.centre);
  }
  double depth(const Estimate& e, std::size_t point) const {
    double g[kMostParameters];
    return side_ * distanceAt(shape_, cloud_, e, point, g) + nearest_.at(shape_, e, cloud_.reach);
  }
  // Slopes of the contacts' depths at a place, a column each.
  SmallMatrix slopes(const SmallMatrix& free, const Estimate& e) const {
    const std::vector<Contact>& contacts = now_.contacts;
    SmallMatrix out(free.cols(), static_cast<Eigen::Index>(contacts.size()));
    const SmallVector off = nearest_.slope(shape_, e, cloud_.reach);
    SmallVector g(free.rows());
    for (Eigen::Index i = 0; i < out.cols(); ++i) {
      distanceAt(shape_, cloud_, e, contacts[static_cast<std::size_t>(i)].point, g.data());
      out.col(i) = free.transpose() * (side_ * g + off);
    }
    return out;
  }

  // Of the weighted sum of depths. From slopes, over a short way: a turn about the contacts' own
  // plane bends the sum by a ten-thousandth of what a shift does, and would drown in the error of
  // longer ways.
  SmallMatrix curvature(const SmallMatrix& free) const {
    SmallVector w(static_cast<Eigen::Index>(now_.contacts.size()));
    for (Eigen::Index i = 0; i < w.size(); ++i)
      w[i] = now_.contacts[static_cast<std::size_t>(i)].weight;
    const auto slope = [&](const SmallVector& y) -> SmallVector {
      const Estimate e = after(free, y);
      const SmallMatrix there = freeAt(e);
      // the steps there that bring about what the steps here do
      const SmallMatrix same =
          inversePositive(there.transpose() * there) * there.transpose() * free;
      return same.transpose() * (slopes(there, e) * w);
    };
    return curvatureFrom(slope, free.cols(), 1e-5 * cloud_.reach);
  }

  // Newton's steps with these contacts; their weights may come out negative.
  bool settle() {
    const auto m = static_cast<Eigen::Index>(now_.contacts.size());
    double moved_by = 0;
    for (int step = 0; step < 12; ++step) {
      const SmallMatrix free = freeAt(now_.estimate), a = slopes(free, now_.estimate);
      const Eigen::Index n = free.cols();
      if (m > n + 1 || m == 0) return false;
      SmallMatrix kkt = SmallMatrix::Zero(n + m + 1, n + m + 1);
      SmallVector right = SmallVector::Zero(n + m + 1);
      kkt.topLeftCorner(n, n) = curvature(free);
      kkt.block(0, n, n, m) = a;
      kkt.block(n, 0, m, n) = a.transpose();
      kkt.block(n, n + m, m, 1).setConstant(-1);
      kkt.block(n + m, n, 1, m).setConstant(1);
      const double level = depth(now_.estimate, now_.contacts[0].point);
      for (Eigen::Index i = 0; i < m; ++i)
        right[n + i] =
            level - depth(now_.estimate, now_.contacts[static_cast<std::size_t>(i)].point);
      right[n + m] = 1;
      const SmallVector x = solveSquare(kkt, right);
      if (!x.allFinite()) return false;
      const SmallVector y = x.head(n);
      moved_by += y.norm();
      if (moved_by > kFarthest * cloud_.reach) return false;
      now_.estimate = after(free, y);
      for (Eigen::Index i = 0; i < m; ++i)
        now_.contacts[static_cast<std::size_t>(i)].weight = x[n + i];
      if (y.norm() < 1e-10 * cloud_.reach) {
        held_ = -1e300;
        for (const Contact& c : now_.contacts)
          held_ = std::max(held_, depth(now_.estimate, c.point));
        return true;
      }
    }
    return false;
  }

  // The point that lies farthest beyond, and how far.
  std::size_t worst() {
    std::vector<double> d;
    distances(shape_, cloud_, now_.estimate, d);
    std::size_t at = 0;
    for (std::size_t i = 1; i < d.size(); ++i)
      if (side_ * d[i] > side_ * d[at]) at = i;
    now_.worst = side_ * d[at] + nearest_.at(shape_, now_.estimate, cloud_.reach);
    return at;
  }

  // A further contact; of as many as hold all, the one leaves whose weight it takes over first.
  bool enter(std::size_t point) {
    now_.contacts.push_back({point, side_ > 0 ? 1 : -1, 0});
    const SmallMatrix free = freeAt(now_.estimate);
    const auto m = static_cast<Eigen::Index>(now_.contacts.size());
    if (m <= free.cols() + 1) return true;
    SmallMatrix all(free.cols() + 1, m);
    all.topRows(free.cols()) = slopes(free, now_.estimate);
    all.bottomRows(1).setConstant(1);
    SmallVector v(m);
    v[m - 1] = 1;
    v.head(m - 1) = solveSquare(all.leftCols(m - 1), -all.col(m - 1));
    Eigen::Index leaves = -1;
    double most = 1e300;
    for (Eigen::Index i = 0; i + 1 < m; ++i) {
      const double w = now_.contacts[static_cast<std::size_t>(i)].weight;
      if (v[i] < 0 && w / -v[i] < most) most = w / -v[i], leaves = i;
    }
    if (leaves < 0) return false;
    for (Eigen::Index i = 0; i < m; ++i)
      now_.contacts[static_cast<std::size_t>(i)].weight += most * v[i];
    now_.contacts.erase(now_.contacts.begin() + leaves);
    return true;
  }

  Shape shape_;
  const Cloud& cloud_;
  const FitConstraints& k_;
  double side_;
  const NearestPlace& nearest_;
  Chebyshev now_;
  double held_ = 0; // how deep its contacts are
};

} // namespace

Chebyshev balanced(Shape shape, const Cloud& cloud, const Chebyshev& near,
                   const FitConstraints& constraints, Sides sides, const NearestPlace& nearest) {
  if (near.contacts.empty()) return near;
  auto found = Balance(shape, cloud, near, constraints, sides, nearest).run();
  return found && found->worst < near.worst + kAsGood ? *found : near;
}

} // namespace alder
