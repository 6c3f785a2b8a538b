#include "judge/local_sizes.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

// A ring seen along the axis: centre and diameter of its least-squares circle, polar coordinates.
struct Ring {
  Vec3 centre; // in the axis frame
  std::vector<std::size_t> points;
  std::vector<double> radius, angle;
};

std::vector<Ring> ringsOf(const MeasuredFeature& m, const Frame& inverse) {
  std::vector<Ring> rings;
  for (const auto& [row, members] : m.byRow()) {
    if (members.size() < 3) continue;
    Points flat;
    double height = 0;
    for (const std::size_t i : members) {
      const Vec3 q = inverse * m.points[i];
      flat.emplace_back(q.x(), q.y(), 0);
      height += q.z() / static_cast<double>(members.size());
    }
    const auto circle = fitLeastSquares(Shape::Circle, flat);
    if (!circle) continue;
    Ring ring{{circle->point.x(), circle->point.y(), height}, members, {}, {}};
    for (const Vec3& q : flat) {
      ring.radius.push_back(std::hypot(q.x() - ring.centre.x(), q.y() - ring.centre.y()));
      ring.angle.push_back(std::atan2(q.y() - ring.centre.y(), q.x() - ring.centre.x()));
    }
    rings.push_back(std::move(ring));
  }
  return rings;
}

void addDiameters(const Ring& ring, std::vector<LocalSize>& out) {
  std::vector<std::pair<double, std::size_t>> sorted;
  for (std::size_t i = 0; i < ring.angle.size(); ++i)
    sorted.emplace_back(ring.angle[i], i);
  std::sort(sorted.begin(), sorted.end());
  const auto apart = [](double a, double b) { return std::abs(std::remainder(a - b, 2 * kPi)); };
  std::set<std::pair<std::size_t, std::size_t>> seen; // partners often choose each other
  for (const auto& [angle, i] : sorted) {
    const double wanted = angle > 0 ? angle - kPi : angle + kPi;
    const auto after =
        std::lower_bound(sorted.begin(), sorted.end(), std::pair{wanted, std::size_t{0}});
    std::size_t best = i;
    double nearest = radians(3);
    const auto consider = [&](const std::pair<double, std::size_t>& p) {
      if (const double d = apart(p.first, wanted); d < nearest) nearest = d, best = p.second;
    };
    if (after != sorted.end()) consider(*after);
    if (after != sorted.begin()) consider(*(after - 1));
    consider(sorted.front()), consider(sorted.back());
    if (best != i && seen.insert(std::minmax(i, best)).second)
      out.push_back({ring.radius[i] + ring.radius[best], ring.points[i], ring.points[best]});
  }
}

std::vector<LocalSize> widths(const MeasuredFeature& m, const Actual& ls) {
  const Vec3& n = ls.derived.direction;
  std::vector<std::size_t> low, high;
  for (std::size_t i = 0; i < m.points.size(); ++i)
    ((m.points[i] - ls.derived.point).dot(n) < 0 ? low : high).push_back(i);
  std::vector<LocalSize> out;
  const double reach = 0.1 * ls.size.value_or(0);
  for (const std::size_t i : low) {
    double nearest = reach;
    std::size_t best = i;
    for (const std::size_t j : high) {
      const Vec3 r = m.points[j] - m.points[i];
      if (const double across = (r - r.dot(n) * n).norm(); across < nearest)
        nearest = across, best = j;
    }
    if (best != i) out.push_back({(m.points[best] - m.points[i]).dot(n), i, best});
  }
  return out;
}

} // namespace

std::vector<LocalSize> localSizes(const NominalFeature& f, const MeasuredFeature& m,
                                  const Actual& ls) {
  std::vector<LocalSize> out;
  if (f.ideal.type == SurfaceType::Slot) return widths(m, ls);
  if (f.ideal.type == SurfaceType::Sphere) { // diameters through the centre
    for (std::size_t i = 0; i < m.points.size(); ++i)
      for (std::size_t j = i + 1; j < m.points.size(); ++j) {
        const Vec3 a = m.points[i] - ls.derived.point, b = m.points[j] - ls.derived.point;
        if (a.dot(b) < -std::cos(radians(3)) * a.norm() * b.norm())
          out.push_back({a.norm() + b.norm(), i, j});
      }
    return out;
  }
  if (f.ideal.type != SurfaceType::Cylinder) return out;
  const Frame inverse = frameOf(ls.derived.point, ls.derived.direction).inverse();
  for (const Ring& ring : ringsOf(m, inverse))
    addDiameters(ring, out);
  return out;
}

Points medianPoints(const NominalFeature& f, const MeasuredFeature& m, const Actual& ls) {
  Points out;
  if (f.ideal.type == SurfaceType::Slot) {
    for (const LocalSize& s : widths(m, ls))
      out.push_back((m.points[s.first] + m.points[s.second]) / 2);
    return out;
  }
  const Frame frame = frameOf(ls.derived.point, ls.derived.direction);
  for (const Ring& ring : ringsOf(m, frame.inverse()))
    out.push_back(frame * ring.centre);
  return out;
}

} // namespace alder
