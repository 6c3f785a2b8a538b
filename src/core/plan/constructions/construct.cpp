#include "plan/constructions/construct.h"

#include "base/units.h"
#include "fit/association.h"
#include "fit/small_linear.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

const double kParallel = std::sin(radians(1));

bool roundIdeal(const Ideal& i) {
  return i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone;
}
bool circleIdeal(const Ideal& i) {
  return i.type == SurfaceType::Cylinder && i.length <= 0 && i.diameter > 0;
}
bool axisIdeal(const Ideal& i) {
  return roundIdeal(i) && !circleIdeal(i);
}
bool planeIdeal(const Ideal& i) {
  return i.type == SurfaceType::Plane || i.type == SurfaceType::Slot;
}

Vec3 ontoPlane(const Ideal& plane, const Vec3& p) {
  return p - (p - plane.point).dot(plane.direction) * plane.direction;
}
Vec3 ontoAxis(const Ideal& axis, const Vec3& p) {
  return axis.point + (p - axis.point).dot(axis.direction) * axis.direction;
}

Result<Vec3> centreOf(const Shaped& s) {
  const Ideal& i = s.ideal;
  if (i.type == SurfaceType::Sphere || i.type == SurfaceType::Torus || circleIdeal(i))
    return i.point;
  if (axisIdeal(i)) return Vec3(i.point + i.length / 2 * i.direction);
  if (i.type == SurfaceType::Slot)
    return s.points.empty() ? i.point : ontoPlane(i, centroid(s.points));
  return fail("a {} has no centre", name(i.type));
}

// ---- what comes out

Shaped pointAt(const Vec3& p) {
  Ideal i;
  i.type = SurfaceType::Sphere;
  i.point = p;
  return {i, {p}, {}};
}

Shaped lineAlong(const Vec3& from, const Vec3& to) {
  Ideal i;
  i.type = SurfaceType::Cylinder;
  i.point = from;
  i.direction = (to - from).normalized();
  i.length = (to - from).norm();
  Shaped s{i, {}, {}};
  for (int k = 0; k <= 4; ++k)
    s.points.push_back(from + k / 4.0 * (to - from));
  return s;
}

Shaped circleAt(const Vec3& centre, const Vec3& normal, double diameter) {
  Ideal i;
  i.type = SurfaceType::Cylinder;
  i.point = centre;
  i.direction = normal;
  i.diameter = diameter;
  Shaped s{i, {}, {}};
  const Frame frame = frameOf(centre, normal);
  for (int k = 0; k < 12; ++k)
    s.points.push_back(frame * Vec3(diameter / 2 * std::cos(k * kPi / 6),
                                    diameter / 2 * std::sin(k * kPi / 6), 0));
  return s;
}

// Over the area of `points`, where they spread at all.
Shaped planeAt(const Vec3& point, const Vec3& normal, const Points& points) {
  Ideal i;
  i.type = SurfaceType::Plane;
  i.point = point;
  i.direction = normal;
  Shaped s{i, {}, {}};
  for (const Vec3& p : points)
    s.points.push_back(ontoPlane(i, p));
  if (s.points.size() >= 3 && fitLeastSquares(Shape::Plane, s.points)) return s;
  const Frame frame = frameOf(point, normal);
  s.points.clear();
  for (int x = -1; x <= 1; ++x)
    for (int y = -1; y <= 1; ++y)
      s.points.push_back(frame * Vec3(10 * x, 10 * y, 0));
  return s;
}

Points joined(const std::vector<Shaped>& parents) {
  Points all;
  for (const Shaped& s : parents)
    all.insert(all.end(), s.points.begin(), s.points.end());
  return all;
}

// ---- constructions

Result<Shaped> throughCentres(ConstructionKind kind, const std::vector<Shaped>& parents) {
  Points centres;
  for (const Shaped& s : parents) {
    auto centre = centreOf(s);
    if (!centre) return pass(centre.error());
    centres.push_back(*centre);
  }
  const std::size_t least = kind == ConstructionKind::LineThrough ? 2 : 3;
  if (centres.size() < least) return fail("at least {} features are needed", least);
  if (centres.size() == 2) {
    if ((centres[1] - centres[0]).norm() < 1e-6) return fail("the two centres are the same");
    return lineAlong(centres[0], centres[1]);
  }
  const Shape shape = kind == ConstructionKind::CircleThrough  ? Shape::Circle
                      : kind == ConstructionKind::PlaneThrough ? Shape::Plane
                                                               : Shape::Line;
  auto fit = fitLeastSquares(shape, centres);
  if (!fit) return pass(fit.error());
  const Vec3 like = kind == ConstructionKind::LineThrough ? Vec3(centres.back() - centres.front())
                                                          : parents.front().ideal.direction;
  const Vec3 direction = fit->direction.dot(like) < 0 ? Vec3(-fit->direction) : fit->direction;
  Shaped s;
  if (shape == Shape::Circle)
    s = circleAt(fit->point, direction, fit->diameter);
  else if (shape == Shape::Plane)
    s = planeAt(fit->point, direction, centres);
  else {
    double low = 1e300, high = -1e300;
    for (const Vec3& c : centres) {
      const double t = (c - fit->point).dot(direction);
      low = std::min(low, t), high = std::max(high, t);
    }
    s = lineAlong(fit->point + low * direction, fit->point + high * direction);
  }
  s.points = centres; // their scatter is the form of the result
  return s;
}

Result<Shaped> planesMeet(const Shaped& a, const Shaped& b) {
  const Vec3 across = a.ideal.direction.cross(b.ideal.direction);
  if (across.norm() < kParallel) return fail("the planes are parallel");
  const Vec3 direction = across.normalized();
  // The point of both planes nearest to the points' middle.
  const Vec3 middle = centroid(joined({a, b}));
  Mat3 m;
  m << a.ideal.direction.transpose(), b.ideal.direction.transpose(), direction.transpose();
  const Vec3 point =
      solveSquare(m, Vec3(a.ideal.direction.dot(a.ideal.point),
                          b.ideal.direction.dot(b.ideal.point), direction.dot(middle)));
  std::array<double, 2> low{1e300, 1e300}, high{-1e300, -1e300};
  for (const std::size_t k : {0u, 1u})
    for (const Vec3& p : (k ? b : a).points) {
      const double t = (p - point).dot(direction);
      low[k] = std::min(low[k], t), high[k] = std::max(high[k], t);
    }
  // Where both are, or over both where they lie apart.
  double from = std::max(low[0], low[1]), to = std::min(high[0], high[1]);
  if (to - from < 1e-3) from = std::min(low[0], low[1]), to = std::max(high[0], high[1]);
  if (to - from < 1e-3) from = -10, to = 10;
  return lineAlong(point + from * direction, point + to * direction);
}

Result<Vec3> piercePoint(const Ideal& axis, const Ideal& plane) {
  const double slope = axis.direction.dot(plane.direction);
  if (std::abs(slope) < kParallel) return fail("the axis is parallel to the plane");
  return Vec3(axis.point +
              (plane.point - axis.point).dot(plane.direction) / slope * axis.direction);
}

double diameterAt(const Ideal& i, const Vec3& on_axis) {
  return i.diameter + 2 * (on_axis - i.point).dot(i.direction) * std::tan(i.half_angle);
}

// The points of two lines that are nearest to each other.
Result<std::pair<Vec3, Vec3>> nearestPoints(const Ideal& a, const Ideal& b) {
  const double c = a.direction.dot(b.direction), determinant = 1 - c * c;
  if (determinant < kParallel * kParallel) return fail("the axes are parallel");
  const Vec3 r = b.point - a.point;
  const double s = (r.dot(a.direction) - c * r.dot(b.direction)) / determinant;
  const double t = (c * r.dot(a.direction) - r.dot(b.direction)) / determinant;
  return std::pair{Vec3(a.point + s * a.direction), Vec3(b.point + t * b.direction)};
}

Result<Shaped> roundMeetsPlane(const Ideal& round, const Ideal& plane) {
  if (round.type == SurfaceType::Sphere) {
    const Vec3 centre = ontoPlane(plane, round.point);
    const double height = (centre - round.point).norm(), radius = round.diameter / 2;
    if (height >= radius) return fail("the plane does not reach the sphere");
    return circleAt(centre, plane.direction, 2 * std::sqrt((radius - height) * (radius + height)));
  }
  if (std::abs(round.direction.dot(plane.direction)) < std::cos(radians(10)))
    return fail("the plane must lie square to the axis within 10 degrees; else they meet in an "
                "ellipse");
  auto at = piercePoint(round, plane);
  if (!at) return pass(at.error());
  const double diameter = diameterAt(round, *at);
  if (diameter <= 0) return fail("the cone ends before the plane");
  return circleAt(*at, round.direction, diameter);
}

Result<Shaped> intersection(const Shaped& a, const Shaped& b) {
  if (planeIdeal(a.ideal) && planeIdeal(b.ideal)) return planesMeet(a, b);
  if (planeIdeal(a.ideal)) return intersection(b, a);
  const bool line = axisIdeal(a.ideal) && a.ideal.diameter <= 0;
  if (planeIdeal(b.ideal) && line)
    return piercePoint(a.ideal, b.ideal).map([](const Vec3& p) { return pointAt(p); });
  if (planeIdeal(b.ideal) && (axisIdeal(a.ideal) || a.ideal.type == SurfaceType::Sphere))
    return roundMeetsPlane(a.ideal, b.ideal);
  if (axisIdeal(a.ideal) && axisIdeal(b.ideal))
    return nearestPoints(a.ideal, b.ideal).map([](const auto& two) {
      return pointAt((two.first + two.second) / 2);
    });
  return fail("a {} and a {} have no intersection that is known here", name(a.ideal.type),
              name(b.ideal.type));
}

Result<Shaped> middle(const Shaped& a, const Shaped& b) {
  if (planeIdeal(a.ideal) && planeIdeal(b.ideal)) {
    const double turn = a.ideal.direction.dot(b.ideal.direction);
    if (std::abs(turn) < 0.2)
      return fail("the planes are too near to a right angle to lie between");
    const Vec3 other = turn < 0 ? Vec3(-b.ideal.direction) : b.ideal.direction;
    // The bisecting plane: as far before the one as behind the other.
    const Vec3 sum = a.ideal.direction + other, normal = sum.normalized();
    const double offset =
        (a.ideal.direction.dot(a.ideal.point) + other.dot(b.ideal.point)) / sum.norm();
    const Points all = joined({a, b});
    const Vec3 near = all.empty() ? Vec3((a.ideal.point + b.ideal.point) / 2) : centroid(all);
    return planeAt(near + (offset - near.dot(normal)) * normal, normal, all);
  }
  if (axisIdeal(a.ideal) && axisIdeal(b.ideal)) {
    const double turn = a.ideal.direction.dot(b.ideal.direction);
    if (std::abs(turn) < 0.2) return fail("the axes are too near to a right angle to lie between");
    const Vec3 other = turn < 0 ? Vec3(-b.ideal.direction) : b.ideal.direction;
    const Vec3 direction = (a.ideal.direction + other).normalized();
    const Vec3 point = (*centreOf(a) + *centreOf(b)) / 2;
    const double half = std::max({a.ideal.length, b.ideal.length, 1.0}) / 2;
    return lineAlong(point - half * direction, point + half * direction);
  }
  auto first = centreOf(a), second = centreOf(b);
  if (!first) return pass(first.error());
  if (!second) return pass(second.error());
  return pointAt((*first + *second) / 2);
}

Result<Shaped> projection(const Shaped& a, const Shaped& plane) {
  if (!planeIdeal(plane.ideal)) return fail("the second feature must be a plane");
  if (axisIdeal(a.ideal)) {
    const Vec3 from = ontoPlane(plane.ideal, a.ideal.point);
    const Vec3 to =
        ontoPlane(plane.ideal, a.ideal.point + std::max(a.ideal.length, 1.0) * a.ideal.direction);
    if ((to - from).norm() < kParallel * std::max(a.ideal.length, 1.0))
      return fail("the axis is square to the plane; take the pierce point");
    return lineAlong(from, to);
  }
  return centreOf(a).map([&](const Vec3& c) { return pointAt(ontoPlane(plane.ideal, c)); });
}

Result<Shaped> nearest(const Shaped& a, const Shaped& b) {
  if (axisIdeal(a.ideal) && axisIdeal(b.ideal))
    return nearestPoints(a.ideal, b.ideal).map([](const auto& two) { return pointAt(two.first); });
  auto centre = centreOf(b);
  if (!centre) return pass(centre.error());
  if (axisIdeal(a.ideal)) return pointAt(ontoAxis(a.ideal, *centre));
  if (planeIdeal(a.ideal)) return pointAt(ontoPlane(a.ideal, *centre));
  if (a.ideal.type != SurfaceType::Sphere || a.ideal.diameter <= 0)
    return fail("a {} has no nearest point", name(a.ideal.type));
  const Vec3 away = *centre - a.ideal.point;
  if (away.norm() < 1e-9) return fail("the centres are the same");
  return pointAt(a.ideal.point + a.ideal.diameter / 2 * away.normalized());
}

Result<Shaped> copied(const Construction& c, Shaped s) {
  if (s.ideal.type == SurfaceType::Freeform) return fail("a freeform patch cannot be copied");
  Frame motion = Frame::Identity();
  if (c.turn.norm() > 0)
    motion.linear() = Eigen::AngleAxisd(c.turn.norm(), c.turn.normalized()).toRotationMatrix();
  motion.translation() = s.ideal.point - motion.linear() * s.ideal.point + c.offset;
  s.ideal.point = motion * s.ideal.point;
  s.ideal.direction = turn(motion, s.ideal.direction);
  for (Vec3& p : s.points)
    p = motion * p;
  return s;
}

Result<Shaped> bestFit(const std::vector<Shaped>& parents) {
  Shaped all{parents.front().ideal, {}, {}};
  int row = 0;
  for (const Shaped& s : parents) {
    if (s.ideal.type != all.ideal.type || circleIdeal(s.ideal) != circleIdeal(all.ideal))
      return fail("the features must be of one kind");
    int most = 0;
    for (std::size_t i = 0; i < s.points.size(); ++i) {
      all.points.push_back(s.points[i]);
      const int own = i < s.rows.size() ? s.rows[i] : 0;
      all.rows.push_back(row + own);
      most = std::max(most, own);
    }
    row += most + 1;
  }
  if (all.ideal.type == SurfaceType::Freeform) return fail("freeform patches have no best fit");
  // Over the whole length of them together.
  if (axisIdeal(all.ideal)) {
    double low = 0, high = all.ideal.length;
    for (const Shaped& s : parents)
      for (const double t : {0.0, s.ideal.length}) {
        const double along =
            (s.ideal.point + t * s.ideal.direction - all.ideal.point).dot(all.ideal.direction);
        low = std::min(low, along), high = std::max(high, along);
      }
    all.ideal.diameter += 2 * low * std::tan(all.ideal.half_angle);
    all.ideal.point += low * all.ideal.direction;
    all.ideal.length = high - low;
  }
  return all;
}

Result<Shaped> gaugeCircle(const Construction& c, const Ideal& cone) {
  if (cone.type != SurfaceType::Cone) return fail("only a cone has a gauge circle");
  if (c.diameter <= 0) return fail("a gauge circle needs a diameter");
  const double along = (c.diameter - cone.diameter) / (2 * std::tan(cone.half_angle));
  return circleAt(cone.point + along * cone.direction, cone.direction, c.diameter);
}

Result<Shaped> section(const Construction& c, const Shaped& s) {
  if (!roundIdeal(s.ideal)) return fail("only a cylinder or a cone has circular sections");
  Points ring;
  for (std::size_t i = 0; i < s.points.size(); ++i)
    if ((i < s.rows.size() ? s.rows[i] : 0) == c.row) ring.push_back(s.points[i]);
  if (ring.size() < 3) return fail("ring {} has fewer than three touches", c.row + 1);
  const Vec3 centre = ontoAxis(s.ideal, centroid(ring));
  Shaped out = circleAt(centre, s.ideal.direction, diameterAt(s.ideal, centre));
  out.ideal.hole = s.ideal.hole;
  out.points = std::move(ring);
  return out;
}

} // namespace

Result<Shaped> construct(const Construction& c, const std::vector<Shaped>& of) {
  using K = ConstructionKind;
  const bool one = c.kind == K::Copy || c.kind == K::GaugeCircle || c.kind == K::Section;
  const bool many = c.kind == K::CircleThrough || c.kind == K::PlaneThrough ||
                    c.kind == K::LineThrough || c.kind == K::BestFit;
  if (one && of.size() != 1) return fail("exactly one feature is needed");
  if (!one && of.size() < 2) return fail("at least two features are needed");
  if (!one && !many && of.size() != 2) return fail("exactly two features are needed");
  switch (c.kind) {
  case K::CircleThrough:
  case K::PlaneThrough:
  case K::LineThrough:
    return throughCentres(c.kind, of);
  case K::Intersection:
    return intersection(of[0], of[1]);
  case K::Pierce: {
    const bool first = planeIdeal(of[1].ideal);
    const Ideal &axis = of[first ? 0 : 1].ideal, &plane = of[first ? 1 : 0].ideal;
    if (!axisIdeal(axis) || !planeIdeal(plane)) return fail("an axis and a plane are needed");
    return piercePoint(axis, plane).map([](const Vec3& p) { return pointAt(p); });
  }
  case K::Middle:
    return middle(of[0], of[1]);
  case K::Projection:
    return projection(of[0], of[1]);
  case K::Nearest:
    return nearest(of[0], of[1]);
  case K::Copy:
    return copied(c, of[0]);
  case K::BestFit:
    return bestFit(of);
  case K::GaugeCircle:
    return gaugeCircle(c, of[0].ideal);
  case K::Section:
    return section(c, of[0]);
  }
  return fail("the construction is not known");
}

} // namespace alder
