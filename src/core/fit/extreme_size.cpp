#include "fit/extreme_size.h"

#include "fit/balance.h"
#include "fit/small_program.h"
#include <algorithm>

namespace alder {
namespace {

constexpr double kBetter = 3e-13; // mm by which another size must be better to be another
constexpr double kSamePlace = 1e-7;
constexpr double kPerMm = 1e-7; // see NearestPlace: 1e-10 mm for a place 0.03 mm off
constexpr double kLoss = 1e-4;  // mm of radius, for how far the place is settled
constexpr int kMostBoxes = 400;
constexpr std::size_t kMostBounds = 200;

// Places about an estimate: its free steps within +-half, mm at the points' reach.
struct Box {
  Estimate middle;
  Unknowns half{};
  std::vector<std::size_t> points; // those that can be the worst of all in it
};

class Search {
 public:
  Search(Shape shape, const Cloud& cloud, const FitConstraints& k, Sides sides, Chebyshev local,
         const Estimate& middle)
      : shape_(shape)
      , cloud_(cloud)
      , k_(k)
      , sides_(sides)
      , side_(sides == Sides::Upper ? 1 : -1)
      , parameters_(parametersOf(shape))
      , best_(std::move(local))
      , nearest_{middle, kPerMm} {}

  ExtremeSize run() {
    Box first{best_.estimate, {}, {}};
    std::vector<double> d;
    distances(shape_, cloud_, first.middle, d);
    const auto [low, high] = std::minmax_element(d.begin(), d.end());
    const double form = *high - *low + kBetter;
    free_ = freeDirections(shape_, first.middle, k_, cloud_.centre, cloud_.reach, false);
    const auto n = static_cast<int>(free_.cols());
    if (n == 0 || n > kMostUnknowns) return {best_, n == 0, 0};
    for (int j = 0; j < n; ++j)
      first.half[static_cast<std::size_t>(j)] = 2 * form;
    for (std::size_t i = 0; i < cloud_.size(); ++i)
      if (side_ * d[i] > best_.worst - 4 * n * form) first.points.push_back(i);
    best_.worst += nearest_.at(shape_, best_.estimate, cloud_.reach);
    takeFrom(best_.estimate, first.points, -1e-12); // settled anew, by the place too
    turnToWhatContactsHold();
    settled_ = settled();
    followLoose(first);
    std::vector<Box> open{first};
    int count = 0;
    for (; !open.empty() && count < kMostBoxes; ++count) {
      Box box = std::move(open.back());
      open.pop_back();
      examine(box, open);
      // What is still open then is hard because several places are nearly as good: from each box
      // the local search, which costs little, finds the best of them long before the boxes close in
      // on it.
      if (count == 20 || count == 80 || count == 200)
        for (const Box& left : open)
          takeFrom(left.middle, first.points);
    }
    best_ = balanced(shape_, cloud_, best_, k_, sides_, nearest_);
    const double within = looseness(first, kLoss);
    best_.worst -= nearest_.at(shape_, best_.estimate, cloud_.reach);
    return {best_, open.empty(), within};
  }

 private:
  Estimate after(const Estimate& e, const Unknowns& y) const {
    const SmallVector step = free_ * Eigen::Map<const SmallVector>(y.data(), free_.cols());
    return constrained(shape_, moved(shape_, e, step.data()), k_, cloud_.centre);
  }
  // weight * side * gradient of each contact of the best so far, by row
  SmallMatrix weightedGradients() const {
    SmallMatrix rows(static_cast<Eigen::Index>(best_.contacts.size()), free_.cols());
    const SmallVector slope = nearest_.slope(shape_, best_.estimate, cloud_.reach);
    SmallVector gradient(static_cast<Eigen::Index>(parameters_.size()));
    for (Eigen::Index i = 0; i < rows.rows(); ++i) {
      const Contact& k = best_.contacts[static_cast<std::size_t>(i)];
      distanceAt(shape_, cloud_, best_.estimate, k.point, gradient.data());
      rows.row(i) = k.weight * (free_.transpose() * (side_ * gradient + slope)).transpose();
    }
    return rows;
  }
  // Boxes lie along what the contacts leave loose: places nearly as good are long and thin.
  void turnToWhatContactsHold() {
    const SmallMatrix rows = weightedGradients();
    free_ = (free_ * eigenpairs(rows.transpose() * rows).vectors).eval();
  }
  // How far the deviation of a point can fall below its first-order value within the box. To second
  // order the distance from an axis grows by (its shift there, across the radius)^2 / 2r, and
  // shrinks by r (its tilt in the radius' plane)^2 / 2.
  double bend(const Estimate& e, std::size_t i, const Unknowns& half) const {
    const Vec3 p = e.frame.linear().transpose() * (cloud_.at(i) - e.frame.translation());
    const double rho = shape_ == Shape::Sphere ? p.norm() : p.head<2>().norm();
    double across = 0, along = 0, tilted = 0, lean = 0;
    for (Eigen::Index j = 0; j < free_.cols(); ++j) {
      const double h = half[static_cast<std::size_t>(j)];
      Vec3 shift(free_(0, j), free_(1, j), shape_ == Shape::Sphere ? free_(2, j) : 0);
      if (shape_ == Shape::Cylinder) {
        const double tx = free_(2, j), ty = free_(3, j);
        shift += p.z() * Vec3(tx, ty, 0);
        tilted += h * std::abs(tx * p.x() + ty * p.y()) / rho;
        lean += h * std::hypot(tx, ty);
      }
      const double out =
          (shape_ == Shape::Sphere ? shift.dot(p) : shift.head<2>().dot(p.head<2>())) / rho;
      along += h * std::abs(out);
      across += h * std::sqrt(std::max(shift.squaredNorm() - out * out, 0.0));
    }
    const bool corrected =
        k_.through || k_.perpendicular || k_.changes; // a tilt is then brought back
    const double held = corrected ? lean * lean * cloud_.reach : 0;
    const double third = lean * lean * (along + across);
    if (sides_ == Sides::Upper) return held + third + tilted * tilted * (rho + along) * 0.55;
    return held + third +
           across * across / (2 * std::max(rho - along - across, 0.1 * rho + 1e-9)) * 1.1;
  }

  // The places' worst points, worst first; at most 60.
  std::vector<std::size_t> worstAt(const Estimate& e, const std::vector<std::size_t>& points,
                                   double& worst) const {
    double g[kMostParameters];
    std::vector<std::pair<double, std::size_t>> all;
    all.reserve(points.size());
    for (const std::size_t i : points)
      all.emplace_back(-side_ * distanceAt(shape_, cloud_, e, i, g), i);
    const std::size_t most = std::min<std::size_t>(all.size(), 60);
    std::partial_sort(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(most), all.end());
    worst = all.empty() ? -1e300 : -all.front().first + nearest_.at(shape_, e, cloud_.reach);
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < most; ++i)
      out.push_back(all[i].second);
    return out;
  }
  void takeIfBetter(const Estimate& e, const std::vector<std::size_t>& points) {
    double worst = 0;
    const auto first = worstAt(e, points, worst);
    if (first.empty() || worst > best_.worst - kBetter) return;
    take(solveChebyshev(shape_, cloud_, e, k_, sides_, false, first, nearest_));
  }
  void takeFrom(const Estimate& e, const std::vector<std::size_t>& points,
                double better = kBetter) {
    double worst = 0;
    const auto first = worstAt(e, points, worst);
    take(solveChebyshev(shape_, cloud_, e, k_, sides_, false, first, nearest_), better);
  }
  void take(Chebyshev other, double better = kBetter) {
    if (other.worst > best_.worst - better) return;
    best_ = std::move(other);
    settled_ = settled();
  }

  // How far about the best place so far no better one lies, by its contacts alone. A better one at
  // the step y lowers every contact, g.y <= c |y|^2, and the weighted gradients add up to nothing:
  // so y is nearly square to all w g, and there the weighted sum's curvature h must not be
  // positive.
  double settled() const {
    const Estimate& e = best_.estimate;
    const Eigen::Index n = free_.cols();
    if (best_.contacts.size() < 2) return 0;
    const SmallMatrix weighted = weightedGradients();
    double c = 0, nearest = 1e300, farthest = 0;
    for (const Contact& k : best_.contacts) {
      constexpr double unit = 1e-6;
      Unknowns all{};
      std::fill(all.begin(), all.begin() + n, unit);
      c = std::max(c, bend(e, k.point, all) / (unit * unit));
      const Vec3 p = e.frame.linear().transpose() * (cloud_.at(k.point) - e.frame.translation());
      const double rho = shape_ == Shape::Sphere ? p.norm() : p.head<2>().norm();
      nearest = std::min(nearest, rho), farthest = std::max(farthest, rho);
    }
    if (weighted.colwise().sum().norm() > 1e-7) return 0;
    const auto sum = [&](const SmallVector& y) {
      Unknowns u{};
      std::copy(y.data(), y.data() + n, u.begin());
      const Estimate there = after(e, u);
      double total = 0, g[kMostParameters];
      for (const Contact& k : best_.contacts)
        total += k.weight * side_ * distanceAt(shape_, cloud_, there, k.point, g);
      return total;
    };
    SmallMatrix h = curvatureOf(sum, n, 1e-3 * cloud_.reach);
    h.diagonal().array() += 2 * kPerMm;
    const double bent = h.norm(), square = 1 / nearest + 1 / cloud_.reach,
                 third = 3 * square * square * std::max(1.0, farthest / cloud_.reach);
    const auto pairs = eigenpairs(weighted.transpose() * weighted);
    double best = 0;
    for (Eigen::Index loose = 0; loose < n;
         ++loose) { // how many directions the contacts leave free
      const double held = std::sqrt(std::max(pairs.values[loose], 0.0));
      if (held < 1e-12) continue;
      const double aside = std::sqrt(static_cast<double>(weighted.rows())) * c / held;
      double radius = 0.3 / std::max(aside, 1e-300);
      if (loose > 0) {
        const SmallMatrix v = pairs.vectors.leftCols(loose);
        const double least = eigenpairs(v.transpose() * h * v).values[0];
        radius = std::min(radius, 0.5 * least / (2 * bent * aside + 2 * third));
      }
      best = std::max(best, radius);
    }
    return best;
  }

  // A local search creeps along a valley that few contacts leave almost level, and ends where a
  // step gains less than it can tell: so longer steps are tried there, to the contact that ends it.
  void followLoose(const Box& all) {
    for (int round = 0; round < 5 && settled_ < 1e-4; ++round) {
      const SmallMatrix rows = weightedGradients();
      const SmallVector loosest = eigenpairs(rows.transpose() * rows).vectors.col(0);
      const double before = best_.worst;
      const Estimate from = best_.estimate;
      for (double s = 1e-4; s < all.half[0]; s *= 4)
        for (const double sign : {1.0, -1.0}) {
          Unknowns y{};
          for (Eigen::Index j = 0; j < loosest.size(); ++j)
            y[static_cast<std::size_t>(j)] = sign * s * loosest[j];
          takeFrom(after(from, y), all.points);
        }
      if (best_.worst >= before) return;
    }
  }

  bool withinSettled(const Box& box) const {
    double half = 0;
    for (const double h : box.half)
      half += h * h;
    const Frame &a = best_.estimate.frame, &b = box.middle.frame;
    const double away = (a.translation() - b.translation()).norm() +
                        (a.linear().col(2) - b.linear().col(2)).norm() * cloud_.reach;
    return away + std::sqrt(half) < settled_;
  }

  // What a place in the box must hold to be worse than the best by less than `less`, hardest first,
  // and the points that speak.
  std::vector<LinearBound> boundsIn(const Box& box, double less, bool bends,
                                    std::vector<std::size_t>& points) const {
    const auto n = static_cast<std::size_t>(free_.cols());
    std::vector<std::pair<LinearBound, std::size_t>> all;
    const double off = nearest_.at(shape_, box.middle, cloud_.reach);
    const SmallVector slope = nearest_.slope(shape_, box.middle, cloud_.reach);
    SmallVector gradient(static_cast<Eigen::Index>(parameters_.size()));
    for (const std::size_t i : box.points) {
      const double d = side_ * distanceAt(shape_, cloud_, box.middle, i, gradient.data()) + off;
      const SmallVector g = free_.transpose() * (side_ * gradient + slope);
      double reach = 0;
      LinearBound bound{{}, best_.worst + less - d + (bends ? bend(box.middle, i, box.half) : 0)};
      for (std::size_t j = 0; j < n; ++j) {
        bound.row[j] = g[static_cast<Eigen::Index>(j)];
        reach += std::abs(bound.row[j]) * box.half[j];
      }
      if (reach > bound.most) all.emplace_back(bound, i);
    }
    std::sort(all.begin(), all.end(),
              [](const auto& a, const auto& b) { return a.first.most < b.first.most; });
    std::vector<LinearBound> out;
    for (const auto& [bound, i] : all) {
      points.push_back(i);
      if (out.size() < kMostBounds) out.push_back(bound);
    }
    return out;
  }

  // How far the place can move and lose less than `less` of size, to first order.
  double looseness(const Box& all, double less) const {
    std::vector<std::size_t> points;
    Box about = all;
    about.middle = best_.estimate;
    const auto rows = boundsIn(about, less, false, points);
    const auto n = static_cast<std::size_t>(free_.cols());
    double most = 0;
    for (std::size_t j = 0; j < n; ++j)
      for (const double sign : {1.0, -1.0}) {
        Unknowns wanted{};
        wanted[j] = sign;
        const auto x = largestOf(static_cast<int>(n), wanted, rows, {}, all.half, 1e-13);
        if (x) most = std::max(most, std::abs((*x)[j]));
      }
    return most;
  }

  void examine(Box& box, std::vector<Box>& open) {
    const auto n = static_cast<std::size_t>(free_.cols());
    takeIfBetter(box.middle, box.points);
    if (withinSettled(box)) return;
    std::vector<std::size_t> points;
    const auto rows = boundsIn(box, -kBetter, true, points);
    Unknowns low{}, high{}, middle{}, half{};
    std::vector<Unknowns> corners;
    for (std::size_t j = 0; j < n; ++j)
      for (const double sign : {1.0, -1.0}) {
        Unknowns wanted{};
        wanted[j] = sign;
        const auto x = largestOf(static_cast<int>(n), wanted, rows, {}, box.half, 1e-13);
        if (!x) return; // nothing better in this box
        (sign > 0 ? high : low)[j] = (*x)[j];
        corners.push_back(*x);
      }
    for (const Unknowns& x : corners)
      takeIfBetter(after(box.middle, x), points);
    std::size_t widest = 0;
    double kept = 0;
    for (std::size_t j = 0; j < n; ++j) {
      middle[j] = (high[j] + low[j]) / 2;
      // A little more: the next box lies askew by as much as this one tilts.
      half[j] = 1.001 * (high[j] - low[j]) / 2 + 1e-12;
      if (half[j] > half[widest]) widest = j;
      kept = std::max(kept, half[j] / box.half[j]);
    }
    if (half[widest] < kSamePlace) return;
    if (kept < 0.5) {
      open.push_back({after(box.middle, middle), half, std::move(points)});
      return;
    }
    half[widest] /= 2;
    for (const double sign : {1.0, -1.0}) {
      Unknowns m = middle;
      m[widest] += sign * half[widest];
      open.push_back({after(box.middle, m), half, points});
    }
  }

  Shape shape_;
  const Cloud& cloud_;
  const FitConstraints& k_;
  Sides sides_;
  double side_;
  const std::vector<Parameter>& parameters_;
  Chebyshev best_;
  NearestPlace nearest_;
  SmallMatrix free_;   // columns: what one unknown changes of the parameters
  double settled_ = 0; // about the best: no better one within this
};

} // namespace

ExtremeSize extremeSize(Shape shape, const Cloud& cloud, const Chebyshev& local,
                        const Estimate& middle, const FitConstraints& constraints, Sides sides) {
  return Search(shape, cloud, constraints, sides, local, middle).run();
}

} // namespace alder
