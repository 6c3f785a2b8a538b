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

// A closed profile by ascending angle.
struct Polar {
  std::vector<double> angle, radius, slope; // slope: of the radius by the angle

  explicit Polar(const Ring& ring) {
    std::vector<std::pair<double, double>> sorted;
    for (std::size_t i = 0; i < ring.angle.size(); ++i)
      sorted.emplace_back(ring.angle[i], ring.radius[i]);
    std::sort(sorted.begin(), sorted.end());
    for (const auto& [a, r] : sorted)
      if (angle.empty() || a - angle.back() > 1e-9) angle.push_back(a), radius.push_back(r);
    const std::size_t n = angle.size();
    for (std::size_t i = 0; i < n; ++i) {
      const std::size_t before = (i + n - 1) % n, after = (i + 1) % n;
      const double h = width(before), k = width(i);
      slope.push_back(((radius[i] - radius[before]) / h * k + (radius[after] - radius[i]) / k * h) /
                      (h + k));
    }
  }
  double width(std::size_t i) const { // to the next one
    return i + 1 < angle.size() ? angle[i + 1] - angle[i] : angle.front() + 2 * kPi - angle[i];
  }
  double widestGap() const {
    double widest = 0;
    for (std::size_t i = 0; i < angle.size(); ++i)
      widest = std::max(widest, width(i));
    return widest;
  }
  // Sum over the whole turn of what is asked of radius and slope, by five places of Gauss each.
  template <typename Of> double integral(Of of) const {
    constexpr std::pair<double, double> kGauss[]{{0, 0.5688888888888889},
                                                 {-0.5384693101056831, 0.4786286704993665},
                                                 {0.5384693101056831, 0.4786286704993665},
                                                 {-0.9061798459386640, 0.2369268850561891},
                                                 {0.9061798459386640, 0.2369268850561891}};
    double sum = 0;
    for (std::size_t i = 0; i < angle.size(); ++i) {
      const std::size_t next = (i + 1) % angle.size();
      const double h = width(i), rise = (radius[next] - radius[i]) / h;
      const double c = (3 * rise - 2 * slope[i] - slope[next]) / h,
                   d = (slope[i] + slope[next] - 2 * rise) / (h * h);
      for (const auto& [place, weight] : kGauss) {
        const double x = h * (1 + place) / 2;
        sum += h / 2 * weight *
               of(radius[i] + x * (slope[i] + x * (c + x * d)), slope[i] + x * (2 * c + 3 * x * d));
      }
    }
    return sum;
  }
};

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

Result<std::vector<double>> calculatedSizes(const NominalFeature& f, const MeasuredFeature& m,
                                            const Actual& ls, CalculatedSize what) {
  if (f.ideal.type != SurfaceType::Cylinder)
    return fail("{}: only a cylinder has a circumference or an area.", f.name);
  const Frame axis = frameOf(ls.derived.point, ls.derived.direction);
  std::vector<double> sizes;
  for (const Ring& ring : ringsOf(m, axis.inverse())) {
    const Polar profile(ring);
    if (profile.angle.size() < 8 || profile.widestGap() > kPi / 4 + 1e-6)
      return fail("{}: a circumference or an area needs rings without a gap of over 45 degrees.",
                  f.name);
    if (what == CalculatedSize::Area)
      sizes.push_back(
          2 * std::sqrt(profile.integral([](double r, double) { return r * r / 2; }) / kPi));
    else
      sizes.push_back(profile.integral([](double r, double s) { return std::hypot(r, s); }) / kPi);
  }
  if (sizes.empty()) return fail("{}: a circumference or an area needs rings of touches.", f.name);
  return sizes;
}

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
