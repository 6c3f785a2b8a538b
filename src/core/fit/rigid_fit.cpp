#include "fit/rigid_fit.h"

#include "fit/exchange_solver.h"
#include "fit/round_datum.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// Relative size below which a motion counts as not fixed. Nominal surfaces leave their own
// symmetries free exactly; CAD data is good to about 1e-7.
constexpr double kFixed = 1e-5;

Vec6 motionRow(const Vec3& p, const Vec3& n, const RigidFit& fit) {
  Vec6 row;
  row.head<3>() = (p - fit.centre).cross(n) / fit.scale;
  row.tail<3>() = n;
  return -row; // moving the surface towards the point makes the distance smaller
}

// All points of a stage in one row, with the free sizes as further unknowns.
struct StagePoints {
  struct One {
    const SurfacePoints* surface;
    Vec3 point;
    int size; // index of its free size, or -1
  };
  std::vector<One> points;
  int sizes = 0;
};

StagePoints pointsOf(const DatumStage& stage) {
  StagePoints out;
  for (const auto& s : stage.surfaces) {
    const int size = s.free_size ? out.sizes++ : -1;
    for (const Vec3& p : s.points)
      out.points.push_back({&s, p, size});
  }
  return out;
}

// Deviation of a point and its derivatives by the motion within `freedom` and by the sizes.
double linearise(const StagePoints::One& one, const RigidFit& fit, const Frame& inverse,
                 const Freedom& freedom, const SmallVector& sizes, SmallVector& row) {
  const Vec3 q = inverse * one.point;
  const Vec3 n = fit.placement.linear() * one.surface->normal(q);
  row.setZero(freedom.cols() + sizes.size());
  row.head(freedom.cols()) = freedom.transpose() * motionRow(one.point, n, fit);
  double d = one.surface->distance(q) - one.surface->offset;
  if (one.size >= 0 && sizes.size() > 0) {
    d -= sizes[one.size];
    row[freedom.cols() + one.size] = -1;
  }
  return d;
}

struct Normal {
  SmallMatrix matrix;
  SmallVector right;
  double least = 0; // what is held by less is taken to be free
};

Normal normalOf(const StagePoints& stage, const RigidFit& fit, const Freedom& freedom,
                const SmallVector& sizes) {
  const auto n = freedom.cols() + sizes.size();
  Normal out{SmallMatrix::Zero(n, n), SmallVector::Zero(n), 0};
  const Frame inverse = fit.placement.inverse();
  SmallVector row;
  for (const auto& one : stage.points) {
    const double d = linearise(one, fit, inverse, freedom, sizes, row);
    const double w = one.surface->weight * one.surface->weight;
    out.matrix += w * row * row.transpose();
    out.right -= w * d * row;
    out.least += kFixed * kFixed * w;
  }
  return out;
}

// Least squares of least norm: directions that the points do not see stay at rest, also where no
// other is left: about the axis of a turned part noise alone would turn it by any angle.
SmallVector leastNorm(const Normal& normal) {
  const auto e = eigenpairs(normal.matrix);
  const double largest = e.values.size() ? e.values[e.values.size() - 1] : 0;
  SmallVector x = SmallVector::Zero(normal.right.size());
  for (Eigen::Index i = 0; i < e.values.size(); ++i)
    if (e.values[i] > std::max(kFixed * kFixed * largest, normal.least) && e.values[i] > 0)
      x += e.vectors.col(i) * (e.vectors.col(i).dot(normal.right) / e.values[i]);
  return x;
}

// The part of `freedom` that the stage leaves free.
Freedom remaining(const StagePoints& stage, const RigidFit& fit, const Freedom& freedom) {
  if (freedom.cols() == 0) return freedom;
  const Normal n = normalOf(stage, fit, freedom, SmallVector::Zero(stage.sizes));
  const auto q = freedom.cols();
  SmallMatrix motion = n.matrix.topLeftCorner(q, q);
  if (stage.sizes > 0) { // what a change of size can explain fixes nothing
    const SmallMatrix cross = n.matrix.topRightCorner(q, stage.sizes);
    motion -= cross * inversePositive(n.matrix.bottomRightCorner(stage.sizes, stage.sizes)) *
              cross.transpose();
  }
  const auto e = eigenpairs(motion);
  Eigen::Index open = 0;
  while (open < q && e.values[open] < n.least)
    ++open;
  return freedom * e.vectors.leftCols(open);
}

void solveLeastSquares(const StagePoints& stage, RigidFit& fit, const Freedom& freedom) {
  SmallVector sizes = SmallVector::Zero(stage.sizes);
  for (int step = 0; step < 50; ++step) {
    const SmallVector change = leastNorm(normalOf(stage, fit, freedom, sizes));
    fit.placement = fit.moved(fit.placement, freedom * change.head(freedom.cols()));
    sizes += change.tail(sizes.size());
    if (change.norm() < 1e-12) break;
  }
}

// Where the one motion that is left lowers all deviations, though not alike, the surface comes
// outside the material by it until it touches (a tertiary plane, touched on one side of the axis
// about which it turns). Touched on both sides it cannot, and stays between.
void turnOutside(const StagePoints& stage, RigidFit& fit, const Freedom& freedom) {
  constexpr double kAlike = 0.02; // of the largest slope: below it a point lies at the axis itself
  if (freedom.cols() != 1) return;
  SmallVector row;
  double least = 1e300, most = -1e300;
  for (const auto& one : stage.points) {
    linearise(one, fit, fit.placement.inverse(), freedom, SmallVector(), row);
    least = std::min(least, row[0]), most = std::max(most, row[0]);
  }
  const double largest = std::max(std::abs(least), std::abs(most));
  if (least < kAlike * largest && most > -kAlike * largest) return;
  for (int step = 0; step < 50; ++step) {
    const Frame inverse = fit.placement.inverse();
    double worst = -1e300, slope = 1;
    for (const auto& one : stage.points)
      if (const double d = linearise(one, fit, inverse, freedom, SmallVector(), row); d > worst)
        worst = d, slope = row[0];
    const SmallVector turn = SmallVector::Constant(1, -worst / slope);
    fit.placement = fit.moved(fit.placement, freedom * turn);
    if (std::abs(turn[0]) < 1e-14 * fit.scale) break;
  }
}

// Where a motion lowers all deviations alike, the surface is brought outside the material by it.
void pushOutside(const StagePoints& stage, RigidFit& fit, const Freedom& freedom) {
  const Frame inverse = fit.placement.inverse();
  const auto q = freedom.cols();
  Normal down{SmallMatrix::Zero(q, q), SmallVector::Zero(q)};
  SmallVector row;
  double most = -1e300;
  for (const auto& one : stage.points) {
    most = std::max(most, linearise(one, fit, inverse, freedom, SmallVector(), row));
    down.matrix += row * row.transpose();
    down.right -= row;
  }
  const SmallVector y = leastNorm(down);
  for (const auto& one : stage.points) {
    linearise(one, fit, inverse, freedom, SmallVector(), row);
    if (std::abs(row.dot(y) + 1) > 1e-6) return turnOutside(stage, fit, freedom);
  }
  fit.placement = fit.moved(fit.placement, freedom * (y * most));
}

bool hasOneSize(const StagePoints& stage) {
  return stage.sizes == 1 && std::all_of(stage.points.begin(), stage.points.end(),
                                         [](const auto& one) { return one.size == 0; });
}

// Distance outside the material of the point that lies farthest out.
double worstOf(const StagePoints& stage, const RigidFit& fit) {
  const Frame inverse = fit.placement.inverse();
  double least = 1e300;
  for (const auto& one : stage.points)
    least = std::min(least, one.surface->offset - one.surface->distance(inverse * one.point));
  return -least;
}

// The best place near where the fit stands.
void solveNear(const StagePoints& stage, RigidFit& fit, const Freedom& freedom) {
  const bool one_size = hasOneSize(stage);
  // The place: a motion within the freedom, and free sizes.
  SmallVector sizes = SmallVector::Zero(one_size ? 0 : stage.sizes);
  const auto q = freedom.cols();
  Frame inverse = fit.placement.inverse(), round_start = fit.placement;
  SmallVector row;
  ExchangeProblem p;
  p.reach = fit.scale;
  p.step_size = [&] { return q + sizes.size(); };
  p.all = [&](std::vector<double>& d) {
    d.clear();
    for (const auto& one : stage.points)
      d.push_back(one.surface->distance(inverse * one.point) - one.surface->offset -
                  (sizes.size() > 0 && one.size >= 0 ? sizes[one.size] : 0));
  };
  p.one = [&](std::size_t i, SmallVector& g) {
    return linearise(stage.points[i], fit, inverse, freedom, sizes, g);
  };
  const auto placed = [&](const SmallVector& step) {
    return fit.moved(fit.placement, freedom * step.head(q));
  };
  p.after = [&](const SmallVector& step) -> std::function<double(std::size_t)> {
    const SmallVector next = sizes + step.tail(sizes.size());
    return [&stage, next, back = placed(step).inverse()](std::size_t i) {
      const auto& one = stage.points[i];
      return one.surface->distance(back * one.point) - one.surface->offset -
             (next.size() > 0 && one.size >= 0 ? next[one.size] : 0);
    };
  };
  p.slope_after = [&](const SmallVector& step) -> std::function<void(std::size_t, SmallVector&)> {
    RigidFit there = fit;
    there.placement = placed(step);
    const SmallVector next = sizes + step.tail(sizes.size());
    return
        [&, there, next, back = Frame(there.placement.inverse())](std::size_t i, SmallVector& g) {
          linearise(stage.points[i], there, back, freedom, next, g);
        };
  };
  p.begin_round = [&] { round_start = fit.placement; };
  p.drift = [&](const SmallVector& step) {
    const Frame moved = placed(step);
    return (moved * fit.centre - round_start * fit.centre).norm() +
           (moved.linear() - round_start.linear()).norm() * fit.scale;
  };
  p.accept = [&](const SmallVector& step) {
    fit.placement = placed(step);
    sizes += step.tail(sizes.size());
    inverse = fit.placement.inverse();
  };
  p.remember = [&]() -> std::function<void()> {
    return [&, placement = fit.placement, size = sizes] {
      fit.placement = placement;
      sizes = size;
      inverse = placement.inverse();
    };
  };
  p.curvature_step = [&](double) { return 1e-3 * fit.scale; };
  solveByExchange(p, one_size ? Sides::Upper : Sides::Both);
}

// False where no place is best: the points leave the surface free to go ever farther.
bool solveTangent(const StagePoints& stage, RigidFit& fit, const Freedom& freedom) {
  solveLeastSquares(stage, fit, freedom);
  const Frame by_squares = fit.placement;
  solveNear(stage, fit, freedom);
  if (hasOneSize(stage) && stage.points.front().surface->round && freedom.cols() > 0) {
    RigidFit other = fit;
    other.placement = largestRound(*stage.points.front().surface, fit, freedom, by_squares);
    // Its place is settled also where the size hardly is, at the cost of some 1e-10 mm of it.
    if (worstOf(stage, other) < worstOf(stage, fit) + 1e-9) fit.placement = other.placement;
  }
  if (stage.sizes == 0) pushOutside(stage, fit, freedom);
  // From outside the material it lies off the mean by about the form; by as much as the feature is
  // large, it ran away.
  const double moved = (fit.placement * fit.centre - by_squares * fit.centre).norm(),
               turned = (fit.placement.linear() - by_squares.linear()).norm();
  return std::isfinite(moved) && moved < fit.scale && turned < 0.5;
}

// What both hold, as orthonormal columns: directions of `a` that `b` does not shorten.
Freedom common(const Freedom& a, const Freedom& b) {
  if (a.cols() == 0 || b.cols() == 0) return Freedom(6, 0);
  const SmallMatrix across = a.transpose() * b;
  const auto e = eigenpairs(SmallMatrix(across * across.transpose()));
  Eigen::Index first = e.values.size();
  while (first > 0 && e.values[first - 1] > 1 - 1e-9)
    --first;
  return a * e.vectors.rightCols(e.values.size() - first);
}

Freedom spanOf(const Freedom& a, const Freedom& b) {
  std::vector<Vec6> basis;
  for (const Freedom* f : {&a, &b})
    for (Eigen::Index c = 0; c < f->cols(); ++c) {
      Vec6 v = f->col(c);
      for (int again = 0; again < 2; ++again)
        for (const Vec6& known : basis)
          v -= known.dot(v) * known;
      if (v.norm() > 1e-7) basis.push_back(v.normalized());
    }
  Freedom out(6, static_cast<Eigen::Index>(basis.size()));
  for (std::size_t k = 0; k < basis.size(); ++k)
    out.col(static_cast<Eigen::Index>(k)) = basis[k];
  return out;
}

// Motions along and about the nominal axes that a datum with such locks leaves alone.
Freedom unlocked(const RigidFit& fit, const std::string& locks) {
  Freedom out(6, 0);
  static constexpr std::string_view kNames = "uvwxyz"; // rotations first, as in a motion
  for (int k = 0; k < 6; ++k) {
    if (locks.find(kNames[static_cast<std::size_t>(k)]) != std::string::npos) continue;
    Vec6 motion = Vec6::Zero();
    motion.segment<3>(k < 3 ? 0 : 3) = fit.placement.linear().col(k % 3);
    out.conservativeResize(6, out.cols() + 1);
    out.col(out.cols() - 1) = motion;
  }
  return out;
}

} // namespace

Freedom RigidFit::allFreedom() const {
  return Freedom::Identity(6, 6);
}

Freedom RigidFit::withTranslations() const {
  return spanOf(Freedom::Identity(6, 6).rightCols(3), freedom);
}

Freedom RigidFit::withinPlane(const Vec3& normal) const {
  constexpr double kOut = 0.05; // sine of an angle: the normal is measured, the freedom nominal
  if (freedom.cols() == 0) return freedom;
  const Vec3 u = anyPerpendicular(normal), v = normal.cross(u);
  Freedom out = Freedom::Zero(6, 3);
  out.col(0).tail<3>() = normal;
  out.col(1).head<3>() = u;
  out.col(2).head<3>() = v;
  const SmallMatrix across = freedom.transpose() * out;
  const auto e = eigenpairs(SmallMatrix(across * across.transpose()));
  Eigen::Index within = 0;
  while (within < e.values.size() && e.values[within] < kOut * kOut)
    ++within;
  return freedom * e.vectors.leftCols(within);
}

Frame RigidFit::moved(const Frame& from, const Vec6& motion) const {
  return screwMotion(motion.head<3>() / scale, motion.tail<3>(), centre) * from;
}

Result<RigidFit> fitInOrder(const std::vector<DatumStage>& stages, const Frame& start) {
  RigidFit fit;
  fit.placement = start;
  Points all;
  for (const auto& stage : stages) {
    std::size_t count = 0;
    for (const auto& s : stage.surfaces) {
      all.insert(all.end(), s.points.begin(), s.points.end());
      count += s.points.size();
    }
    if (count == 0) return fail("datum {} has no measured points.", stage.name);
  }
  fit.centre = centroid(all);
  double spread = 0;
  for (const Vec3& p : all)
    spread = std::max(spread, (p - fit.centre).norm());
  fit.scale = std::max(spread, 1.0);
  fit.freedom = fit.allFreedom();
  for (const auto& stage : stages) {
    if (fit.freedom.cols() == 0) { // those before it left nothing for it to fix
      fit.taken.push_back(0);
      continue;
    }
    const StagePoints points = pointsOf(stage);
    if (stage.association == DatumAssociation::Tangent) {
      if (!solveTangent(points, fit, fit.freedom))
        return fail(
            "datum {}: its points lie on one side, so that nothing fixes it from outside the "
            "material; touch it all round.",
            stage.name);
    } else {
      solveLeastSquares(points, fit, fit.freedom);
    }
    Freedom left = remaining(points, fit, fit.freedom);
    // The datum was fitted with all its freedom; what it may not fix is given back.
    if (!stage.locks.empty()) left = spanOf(left, common(fit.freedom, unlocked(fit, stage.locks)));
    fit.taken.push_back(static_cast<int>(fit.freedom.cols() - left.cols()));
    fit.freedom = left;
  }
  return fit;
}

namespace {

double lengthOf(const Residuals& residuals, const std::function<Vec3(std::size_t)>& f,
                std::size_t i) {
  const Vec3 v = f(i);
  return (residuals.is_signed && residuals.is_signed(i) ? v.x() : v.norm()) -
         (residuals.less.empty() ? 0 : residuals.less[i]);
}

} // namespace

LeastWorst minimiseWorst(const RigidFit& fit, const Freedom& freedom, const Residuals& residuals) {
  const auto length = [&](const std::function<Vec3(std::size_t)>& f, std::size_t i) {
    return lengthOf(residuals, f, i);
  };
  if (freedom.cols() == 0 || residuals.count == 0) {
    LeastWorst out{fit.placement, residuals.count ? -1e300 : 0};
    const auto f = residuals.at(fit.placement);
    for (std::size_t i = 0; i < residuals.count; ++i)
      out.worst = std::max(out.worst, length(f, i));
    return out;
  }
  Frame now = fit.placement, round_start = now;
  const auto placed = [&](const SmallVector& step) { return fit.moved(now, freedom * step); };
  constexpr double h = 1e-5; // mm: residuals are nearly linear in so small a motion
  std::function<Vec3(std::size_t)> here;
  std::vector<std::function<Vec3(std::size_t)>> ahead, behind;
  const auto refresh = [&] {
    here = residuals.at(now);
    ahead.clear(), behind.clear();
    for (Eigen::Index k = 0; k < freedom.cols(); ++k) {
      ahead.push_back(residuals.at(fit.moved(now, freedom.col(k) * h)));
      behind.push_back(residuals.at(fit.moved(now, freedom.col(k) * -h)));
    }
  };
  refresh();
  // Least squares of the vectors first: smooth where the lengths are not, near zero.
  for (int step = 0; step < 10; ++step) {
    Normal normal{SmallMatrix::Zero(freedom.cols(), freedom.cols()),
                  SmallVector::Zero(freedom.cols())};
    Eigen::Matrix<double, 3, Eigen::Dynamic> j(3, freedom.cols());
    for (std::size_t i = 0; i < residuals.count; ++i) {
      for (std::size_t k = 0; k < ahead.size(); ++k)
        j.col(static_cast<Eigen::Index>(k)) = (ahead[k](i) - behind[k](i)) / (2 * h);
      normal.matrix += j.transpose() * j;
      normal.right -= j.transpose() * here(i);
    }
    const SmallVector change = leastNorm(normal);
    if (!change.allFinite() || change.norm() > fit.scale) break;
    now = placed(change);
    refresh();
    if (change.norm() < 1e-11 * fit.scale) break;
  }
  ExchangeProblem p;
  p.reach = fit.scale;
  p.step_size = [&] { return freedom.cols(); };
  p.all = [&](std::vector<double>& d) {
    d.resize(residuals.count);
    for (std::size_t i = 0; i < d.size(); ++i)
      d[i] = length(here, i);
  };
  p.one = [&](std::size_t i, SmallVector& g) {
    g.resize(freedom.cols());
    for (std::size_t k = 0; k < ahead.size(); ++k)
      g[static_cast<Eigen::Index>(k)] = (length(ahead[k], i) - length(behind[k], i)) / (2 * h);
    return length(here, i);
  };
  p.after = [&](const SmallVector& step) -> std::function<double(std::size_t)> {
    return [&, f = residuals.at(placed(step))](std::size_t i) { return length(f, i); };
  };
  p.begin_round = [&] { round_start = now; };
  p.drift = [&](const SmallVector& step) {
    const Frame moved = placed(step);
    return (moved * fit.centre - round_start * fit.centre).norm() +
           (moved.linear() - round_start.linear()).norm() * fit.scale;
  };
  p.accept = [&](const SmallVector& step) {
    now = placed(step);
    refresh();
  };
  p.remember = [&]() -> std::function<void()> {
    return [&, saved = now] {
      now = saved;
      refresh();
    };
  };
  p.curvature_step = [&](double worst) {
    return std::clamp(0.01 * std::abs(worst), 1e-9 * fit.scale, 1e-3 * fit.scale);
  };
  const Exchanged solved = solveByExchange(p, Sides::Upper);
  return {now, solved.worst};
}

} // namespace alder
