#include "fit/round_datum.h"

#include "fit/extreme_size.h"
#include <algorithm>

namespace alder {
namespace {

// Shift and tilt of an axis or centre for each motion of the freedom, as rows of the shape's
// parameters in the frame `axes` whose origin lies on the axis; tilts times `reach`.
SmallMatrix axisMotions(const RigidFit& fit, const Freedom& freedom, const Frame& axes, bool sphere,
                        double reach) {
  SmallMatrix out(sphere ? 3 : 4, freedom.cols());
  for (Eigen::Index c = 0; c < freedom.cols(); ++c) {
    const Vec3 turn = freedom.col(c).head<3>() / fit.scale;
    const Vec3 shift = Vec3(freedom.col(c).tail<3>()) + turn.cross(axes.translation() - fit.centre);
    const Vec3 local = axes.linear().transpose() * shift;
    if (sphere) {
      out.col(c) = local;
    } else {
      const Vec3 tilt = axes.linear().transpose() * turn.cross(Vec3(axes.linear().col(2)));
      out.col(c) << local.x(), local.y(), tilt.x() * reach, tilt.y() * reach;
    }
  }
  return out;
}

// Least norm; what no motion brings about is left.
SmallVector motionFor(const SmallMatrix& motions, const SmallVector& wanted) {
  const auto e = eigenpairs(motions.transpose() * motions);
  const SmallVector right = motions.transpose() * wanted;
  SmallVector y = SmallVector::Zero(motions.cols());
  const double largest = e.values.size() ? e.values[e.values.size() - 1] : 0;
  for (Eigen::Index i = 0; i < e.values.size(); ++i)
    if (e.values[i] > 1e-12 * largest && e.values[i] > 0)
      y += e.vectors.col(i) * (e.vectors.col(i).dot(right) / e.values[i]);
  return y;
}

} // namespace

Frame largestRound(const SurfacePoints& surface, const RigidFit& fit, const Freedom& freedom,
                   const Frame& middle) {
  const RoundSurface& round = *surface.round;
  const bool sphere = round.shape == Shape::Sphere;
  const Cloud cloud = cloudOf(surface.points);
  // The frame of the axis at the height of the points, or of the centre.
  const auto axesAt = [&](const Frame& placement, const Vec3& x) {
    const Vec3 d = placement.linear() * round.direction;
    Vec3 origin = placement * round.point;
    if (!sphere) origin += (cloud.centre - origin).dot(d) * d;
    return frameOf(origin, d, x);
  };
  const Frame axes =
      axesAt(fit.placement, anyPerpendicular(fit.placement.linear() * round.direction));
  const SmallMatrix motions = axisMotions(fit, freedom, axes, sphere, cloud.reach);
  const auto e = eigenpairs(motions * motions.transpose());
  Eigen::Index first = 0; // of the changes of the axis that the freedom holds
  while (first < e.values.size() && e.values[first] < 1e-10)
    ++first;
  if (first == e.values.size()) return fit.placement;
  SmallMatrix changes = SmallMatrix::Zero(motions.rows() + 1, e.values.size() - first); // no size
  changes.topRows(motions.rows()) = e.vectors.rightCols(changes.cols());
  if (!sphere) changes.middleRows(2, 2) /= cloud.reach;
  FitConstraints within;
  within.changes = changes;
  Estimate start;
  start.frame = axes;
  start.frame.translation() -= cloud.centre;
  std::vector<double> d;
  distances(round.shape, cloud, start, d);
  for (const double v : d)
    start.radius += v / static_cast<double>(d.size());
  Estimate by_squares = start;
  by_squares.frame = axesAt(middle, axes.linear().col(0));
  by_squares.frame.translation() -= cloud.centre;
  const Sides sides = round.hole ? Sides::Lower : Sides::Upper;
  const Chebyshev local = solveChebyshev(round.shape, cloud, start, within, sides, false);
  Frame target =
      extremeSize(round.shape, cloud, local, by_squares, within, sides).best.estimate.frame;
  // Its origin may lie anywhere along the axis; where it passes the points is what is compared.
  if (const Vec3 t = target.translation(), along = target.linear().col(2); !sphere)
    target.translation() = t - t.dot(along) * along;
  // The motion that brings the axis there: along the freedom to first order, so in some steps.
  Frame now = fit.placement;
  for (int step = 0; step < 5; ++step) {
    const Frame at = axesAt(now, axes.linear().col(0));
    const Vec3 shift =
        axes.linear().transpose() * (target.translation() + cloud.centre - at.translation());
    SmallVector wanted(motions.rows());
    if (sphere) {
      wanted = shift;
    } else {
      const Vec3 tilt = axes.linear().transpose() * (target.linear().col(2) - at.linear().col(2));
      wanted << shift.x(), shift.y(), tilt.x() * cloud.reach, tilt.y() * cloud.reach;
    }
    const SmallVector y = motionFor(motions, wanted);
    now = fit.moved(now, freedom * y);
    if (y.norm() < 1e-12) break;
  }
  return now;
}

} // namespace alder
