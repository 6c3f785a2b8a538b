#include "judge/forms.h"

#include "base/units.h"
#include "judge/datum_system.h"
#include "judge/local_sizes.h"
#include "judge/material.h"
#include "judge/straight_strip.h"
#include "requirement/plane_indicator.h"
#include <algorithm>
#include <cmath>
#include <limits>

namespace alder {
namespace {

double range(const std::vector<double>& v) {
  const auto [low, high] = std::minmax_element(v.begin(), v.end());
  return v.empty() ? 0 : *high - *low;
}

// Rings of few points have no zone of their own.
constexpr std::size_t kLeastRing = 4;

struct Rings {
  double worst = -1;
  std::vector<double> deviations; // of each point from the circle of its ring; NaN without one
  std::vector<Contact> contacts;  // of the worst ring
  bool levelled = false;          // touches of a ring lay at several heights of a cone
};

// On a cone touches at different heights lie on no circle: what each is off the cone that fits them
// all, square to the axis, round the mean circle. Nothing where they lie in one section. A touch
// along the normal meets a surface that lies off by e in its section e sin a cos a higher or lower
// and e cos² a farther out, so that seen along the axis alone a ring of touches shows too little.
std::optional<Points> levelled(const NominalFeature& f, const Actual& cone,
                               const MeasuredFeature& m, const std::vector<std::size_t>& members) {
  constexpr double kOneSection = 1e-4; // mm
  if (f.ideal.type != SurfaceType::Cone || cone.deviations.size() != m.points.size()) return {};
  const Derived& d = cone.derived;
  const Frame frame = frameOf(d.point, d.direction), inverse = frame.inverse();
  Points ring;
  double low = 1e300, high = -1e300, mean = 0;
  for (const std::size_t i : members) {
    ring.push_back(inverse * m.points[i]);
    low = std::min(low, ring.back().z()), high = std::max(high, ring.back().z());
    mean += ring.back().head<2>().norm() / static_cast<double>(members.size());
  }
  if (high - low < kOneSection) return {};
  const double across =
      (f.ideal.hole ? -1 : 1) / std::cos(cone.half_angle.value_or(f.ideal.half_angle));
  for (std::size_t k = 0; k < ring.size(); ++k) {
    const double radius = mean + across * cone.deviations[members[k]];
    const Vec2 out = radius * ring[k].head<2>().normalized();
    ring[k] = frame * Vec3(out.x(), out.y(), 0);
  }
  return ring;
}

// Each ring about its own circle, seen along the feature's axis; rings of a sphere in their own
// planes.
Result<Rings> roundness(const NominalFeature& f, const MeasuredFeature& m, Criterion criterion) {
  const bool sphere = f.ideal.type == SurfaceType::Sphere;
  if (sphere && !m.sectioned)
    return actualOf(f, m, criterion).map([](const Actual& a) {
      return Rings{a.form, a.deviations, a.contacts};
    });
  Vec3 axis = f.ideal.direction;
  std::optional<Actual> actual;
  if (!sphere && f.ideal.length > 0) {
    auto fitted = actualOf(f, m);
    if (!fitted && !m.sectioned) return pass(fitted.error());
    if (fitted) axis = fitted->derived.direction, actual = std::move(*fitted);
  }
  FitSettings settings;
  settings.criterion = criterion;
  Rings rings;
  rings.deviations.assign(m.points.size(), std::numeric_limits<double>::quiet_NaN());
  const int outward = f.ideal.hole ? -1 : 1;
  for (const auto& [row, members] : m.byRow()) {
    if (members.size() < kLeastRing) continue;
    Points ring;
    for (const std::size_t i : members)
      ring.push_back(m.points[i]);
    if (actual)
      if (auto level = levelled(f, *actual, m, members))
        ring = std::move(*level), rings.levelled = true;
    Vec3 normal = axis;
    if (sphere) {
      auto plane = fitLeastSquares(Shape::Plane, ring);
      if (!plane) continue;
      normal = plane->direction;
    }
    const Frame inverse = frameOf(ring.front(), normal).inverse();
    for (Vec3& p : ring) {
      p = inverse * p;
      p.z() = 0;
    }
    auto circle = associate(Shape::Circle, ring, settings);
    if (!circle) return fail("{}: {}", f.name, circle.error().message);
    for (std::size_t k = 0; k < members.size(); ++k)
      rings.deviations[members[k]] = outward * circle->deviations[k];
    if (circle->form <= rings.worst) continue;
    rings.worst = circle->form;
    rings.contacts = std::move(circle->contacts);
    for (Contact& c : rings.contacts)
      c.point = members[c.point], c.side *= outward;
  }
  if (rings.worst < 0)
    return fail("{}: roundness needs a ring of at least {} points.", f.name, kLeastRing);
  return rings;
}

using Strip = std::vector<std::pair<double, double>>; // along, beside

// Lines on the surface: the sections of a plane, the generators of a round feature.
// Those alone that lie in such planes, where some are indicated.
std::vector<Strip> linesOf(const NominalFeature& f, const MeasuredFeature& m, const Actual& actual,
                           const std::optional<IndicatedPlanes>& planes) {
  std::vector<Strip> lines;
  const Vec3& axis = actual.derived.direction;
  if (f.ideal.type == SurfaceType::Plane) {
    for (const auto& [row, members] : m.byRow()) {
      if (members.size() < 3) continue;
      const Vec3 from = m.points[members.front()];
      Vec3 along = Vec3::Zero();
      for (const std::size_t i : members)
        if ((m.points[i] - from).norm() > along.norm()) along = m.points[i] - from;
      if (along.norm() <= 0) continue;
      along.normalize();
      if (planes && !holdLine(*planes, along, axis)) continue;
      Strip strip;
      for (const std::size_t i : members)
        strip.emplace_back((m.points[i] - from).dot(along), (m.points[i] - from).dot(axis));
      lines.push_back(std::move(strip));
    }
    return lines;
  }
  if (planes && !holdLine(*planes, axis, Vec3::Zero())) return lines;
  const Frame inverse = frameOf(actual.derived.point, axis).inverse();
  const auto polar = [&](std::size_t i) {
    const Vec3 q = inverse * m.points[i];
    return std::pair{q.z(), std::hypot(q.x(), q.y())};
  };
  for (const auto& [row, members] : m.byRow()) { // sections that run along the axis
    double low = 1e300, high = -1e300, across = 0;
    for (const std::size_t i : members) {
      const Vec3 q = inverse * m.points[i], first = inverse * m.points[members.front()];
      low = std::min(low, q.z()), high = std::max(high, q.z());
      across = std::max(across, std::hypot(q.x() - first.x(), q.y() - first.y()));
    }
    if (!m.sectioned || members.size() < 3 || high - low < 2 * across) continue;
    Strip strip;
    for (const std::size_t i : members)
      strip.push_back(polar(i));
    lines.push_back(std::move(strip));
  }
  if (!lines.empty()) return lines;
  std::map<long, Strip> by_direction; // touches of one direction, ring by ring
  const Frame nominal = frameOf(f.ideal.point, f.ideal.direction).inverse();
  for (std::size_t i = 0; i < m.points.size(); ++i) {
    const Vec3 q = nominal * (i < m.nominals.size() ? m.nominals[i] : m.points[i]);
    const long direction = std::lround(degrees(std::atan2(q.y(), q.x())) + 360) % 360;
    by_direction[direction].push_back(polar(i));
  }
  for (auto& [direction, strip] : by_direction)
    if (strip.size() >= 3) lines.push_back(std::move(strip));
  return lines;
}

// The worst stretch of the given length; all of the line when it is shorter or none is given.
double worstStretch(Strip line, double length, Criterion criterion) {
  const auto width = [&](const Strip& strip) {
    return criterion == Criterion::LeastSquares ? leastSquaresStrip(strip) : narrowestStrip(strip);
  };
  if (length <= 0) return width(line);
  std::sort(line.begin(), line.end());
  double worst = 0;
  std::size_t end = 0;
  for (std::size_t start = 0; start < line.size(); ++start) {
    const std::size_t before = end;
    while (end < line.size() && line[end].first <= line[start].first + length + 1e-9)
      ++end;
    // A stretch inside the one before cannot be worse.
    if (end - start < 3 || (start > 0 && end == before)) continue;
    worst = std::max(worst, width(Strip(line.begin() + static_cast<long>(start),
                                        line.begin() + static_cast<long>(end))));
  }
  return worst;
}

// In so many directions squares are tried: fewer where there are many points, to be done in time.
int squareDirections(std::size_t points) {
  return static_cast<int>(std::clamp<std::size_t>(1000 / std::max<std::size_t>(points, 1), 1, 18));
}

// Flatness over the worst square of the given side, the squares turned in even steps over a right
// angle and ending at points.
Result<double> worstSquare(const NominalFeature& f, const MeasuredFeature& m, double side,
                           Criterion criterion) {
  auto plane = actualOf(f, m);
  if (!plane) return pass(plane.error());
  const Frame inverse = frameOf(plane->derived.point, f.ideal.direction).inverse();
  // What the points in a square range over about the plane of all bounds its flatness from above.
  struct Square {
    double bound = 0;
    std::vector<std::size_t> members;
  };
  std::vector<Square> squares;
  const std::size_t n = m.points.size(), step = std::max<std::size_t>(1, n / 2000);
  const int directions = squareDirections(n);
  for (int turned = 0; turned < directions; ++turned) {
    const Frame turn(
        Eigen::AngleAxisd(-kPi / 2 * turned / directions, Vec3::UnitZ()).toRotationMatrix());
    Points flat;
    for (const Vec3& p : m.points)
      flat.push_back(turn * (inverse * p));
    for (std::size_t k = 0; k < n; k += step)
      for (const double up : {0.0, 1.0}) {
        Square square;
        const double x = flat[k].x(), y = flat[k].y() - up * side;
        double low = 1e300, high = -1e300;
        for (std::size_t i = 0; i < n; ++i)
          if (flat[i].x() >= x - 1e-9 && flat[i].x() <= x + side + 1e-9 &&
              flat[i].y() >= y - 1e-9 && flat[i].y() <= y + side + 1e-9) {
            square.members.push_back(i);
            low = std::min(low, flat[i].z()), high = std::max(high, flat[i].z());
          }
        square.bound = high - low;
        if (square.members.size() >= 4) squares.push_back(std::move(square));
      }
  }
  std::stable_sort(squares.begin(), squares.end(),
                   [](const Square& a, const Square& b) { return a.bound > b.bound; });
  double worst = 0;
  for (const Square& square : squares) {
    if (criterion != Criterion::LeastSquares && square.bound <= worst) break;
    MeasuredFeature part;
    for (const std::size_t i : square.members)
      part.points.push_back(m.points[i]);
    // Points in one line fix no plane; they say nothing here.
    if (auto fit = actualOf(f, part, criterion)) worst = std::max(worst, fit->form);
  }
  return worst;
}

Result<double> straightness(const Plan& plan, const Requirement& r, const NominalFeature& f,
                            const MeasuredFeature& m, Criterion criterion) {
  auto actual = actualOf(f, m);
  if (!actual) return pass(actual.error());
  std::optional<IndicatedPlanes> planes;
  if (r.section_plane) {
    auto found = planesOf(plan.spec, *r.section_plane);
    if (!found) return pass(found.error());
    planes = *found;
  } else if (f.ideal.type == SurfaceType::Plane && !m.sectioned) {
    return actualOf(f, m, criterion).map([](const Actual& a) { return a.form; });
  }
  double worst = -1;
  if (f.ideal.type != SurfaceType::Plane || m.sectioned)
    for (const Strip& line : linesOf(f, m, *actual, planes))
      worst = std::max(worst, worstStretch(line, r.unit_length, criterion));
  if (worst < 0 && planes)
    return fail("{}: no line of at least three touches lies in the intersection plane {}; touch it "
                "along such lines.",
                f.name, symbol(*r.section_plane));
  if (worst < 0) return fail("{}: straightness needs three touches in one line.", f.name);
  return worst;
}

Result<double> medianStraightness(const NominalFeature& f, const MeasuredFeature& m,
                                  Criterion criterion) {
  Points middle = m.points;
  if (f.ideal.diameter > 0) {
    auto actual = actualOf(f, m);
    if (!actual) return pass(actual.error());
    middle = medianPoints(f, m, *actual);
  }
  if (middle.size() < 3)
    return fail("{}: the straightness of its axis needs at least three rings.", f.name);
  FitSettings settings;
  settings.criterion = criterion;
  const Shape shape = f.ideal.type == SurfaceType::Slot ? Shape::Plane : Shape::Line;
  auto fit = associate(shape, middle, settings);
  if (!fit) return fail("{}: {}", f.name, fit.error().message);
  return fit->form;
}

// What the size adds to the straightness of a median line at M or L. The surface may not violate
// the boundary of virtual size, which lies anywhere (ISO 2692 4.2; ASME Y14.5 straightness of a
// derived median line): its envelope holds the bend already, so that the size beside it is the
// envelope's less the bend.
Result<double> roomForBend(const Plan& plan, const Requirement& r, FeatureId id,
                           const MeasuredFeature& measured, double bend) {
  const NominalFeature& f = plan.nominal(id);
  const bool maximum = r.material == MaterialModifier::Maximum;
  const auto limits = materialLimitsOf(plan, id, r.material);
  if (!limits) return pass(limits.error());
  auto envelope = actualOf(f, measured, maximum ? matingEnvelope(f) : materialEnvelope(f));
  if (!envelope) return pass(envelope.error());
  if (!envelope->size) return fail("{}: a material modifier needs a feature of size.", f.name);
  const bool from_lower = f.ideal.hole == maximum;
  const double room = from_lower ? *envelope->size + bend - limits->lower
                                 : limits->upper - (*envelope->size - bend);
  return std::min(room, limits->upper - limits->lower);
}

} // namespace

Result<Evaluation> judgeForm(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  const Criterion criterion = criterionOf(r.association).value_or(Criterion::MinimumZone);
  const bool straight = r.kind == Characteristic::Straightness;
  bool of_median = false, from_cone = false;
  for (FeatureId id : r.features) {
    const NominalFeature& f = plan.nominal(id);
    const MeasuredFeature& points = m.at(id);
    const bool round = f.ideal.type != SurfaceType::Plane;
    of_median = straight && round &&
                (r.of == Extracted::MedianLine || r.of == Extracted::Axis ||
                 r.association == AssociateBy::MedianLine || f.ideal.diameter <= 0 ||
                 r.material != MaterialModifier::None ||
                 (r.of == Extracted::Standard && r.zone == Zone::Diametral));
    if (of_median && r.section_plane)
      return fail("{}: an intersection plane is for lines of its surface, not for its axis",
                  f.name);
    FeatureResult result;
    result.feature = id;
    result.allowed = r.tolerance;
    Result<double> value = 0.0;
    auto actual = actualOf(f, points, criterion);
    if (of_median) {
      value = medianStraightness(f, points, criterion);
    } else if (r.kind == Characteristic::Roundness) {
      auto rings = roundness(f, points, criterion);
      if (!rings) return pass(rings.error());
      value = rings->worst;
      from_cone = from_cone || rings->levelled;
      result.deviations = std::move(rings->deviations);
      result.contacts = std::move(rings->contacts);
    } else if (straight) {
      value = straightness(plan, r, f, points, criterion);
    } else if (r.kind == Characteristic::Flatness && r.unit_length > 0) {
      value = worstSquare(f, points, r.unit_length, criterion);
    } else {
      if (!actual) return pass(actual.error());
      value = actual->form;
    }
    if (!value) return pass(value.error());
    if (of_median && r.material != MaterialModifier::None) {
      auto room = roomForBend(plan, r, id, points, *value);
      if (!room) return pass(room.error());
      result.allowed += *room;
    }
    if (actual && r.kind != Characteristic::Roundness) {
      result.deviations = actual->deviations;
      if (!straight) result.contacts = actual->contacts;
    }
    result.actual = *value;
    result.share = result.allowed > 0 ? *value / result.allowed : (*value > 0 ? 2 : 0);
    e.features.push_back(std::move(result));
  }
  const std::string by(words(criterion));
  e.how = cited(plan.spec.standardOf(r), "ISO 1101") + ", ";
  e.how += of_median                             ? by + " of the extracted median line"
           : r.kind == Characteristic::Roundness ? by + " circles, the worst ring"
           : straight                            ? by + " lines, the worst line"
                                                 : by + " of the feature";
  if (from_cone) e.how += ", radially off the least-squares cone";
  if (r.unit_length > 0 && !of_median)
    e.how += ", over the worst " + shortFigure(r.unit_length) + " mm";
  if (r.unit_length > 0 && r.kind == Characteristic::Flatness)
    e.how += fmt::format(" square, turned in {} directions",
                         squareDirections(m.at(r.features.front()).points.size()));
  if (of_median && r.material != MaterialModifier::None) e.how += ", with bonus from the size";
  if (r.section_plane) e.how += ", intersection plane " + symbol(*r.section_plane);
  e.how += ".";
  return e;
}

namespace {

// Runout turns the part about the axis of its datums, so the feature must lie about it, or a plane
// square to it (ISO 1101, 17.15; ASME Y14.5, 12.2); beside it there is no figure.
Done liesAbout(const RigidFit& fit, const NominalFeature& f, const std::string& datums) {
  for (Eigen::Index c = 0; c < fit.freedom.cols(); ++c) {
    const Vec3 turn = fit.freedom.col(c).head<3>() / fit.scale;
    if (turn.norm() * fit.scale < 0.5) continue;
    const Vec3 axis = turn.normalized();
    const Vec3 shift = fit.freedom.col(c).tail<3>();
    const Vec3 point = fit.centre + turn.cross(shift) / turn.squaredNorm();
    const Vec3 direction = fit.placement.linear() * f.ideal.direction;
    const bool has_direction = f.ideal.type != SurfaceType::Sphere;
    constexpr double kAskew = 1e-3, kBeside = 0.01; // nominal geometry, as a file rounds it
    if (has_direction && direction.cross(axis).norm() > kAskew)
      return fail("{} is not parallel to the axis of {}{}; runout has no meaning for it", f.name,
                  datums, f.ideal.type == SurfaceType::Plane ? " by its normal" : "");
    const Vec3 across = fit.placement * f.ideal.point - point;
    const double beside = (across - across.dot(axis) * axis).norm();
    if (f.ideal.type != SurfaceType::Plane && beside > kBeside)
      return fail("{} lies {} mm beside the axis of {}; runout has no meaning for it", f.name,
                  shortFigure(beside), datums);
    return {};
  }
  return {};
}

} // namespace

Result<Evaluation> judgeRunout(const Plan& plan, const Requirement& r, const Measurements& m) {
  auto system = datumSystemOf(plan, r, m);
  if (!system) return pass(system.error());
  const Frame inverse = system->fit.placement.inverse();
  Evaluation e;
  bool all_rings = true;
  for (FeatureId id : r.features) {
    const MeasuredFeature& points = m.at(id);
    const NominalFeature& f = plan.nominal(id);
    if (auto lies = liesAbout(system->fit, f, system->how); !lies) return pass(lies.error());
    const NominalSurface surface(plan.part, f);
    std::vector<double> all;
    for (std::size_t i = 0; i < points.points.size(); ++i) {
      const FaceId face = i < points.faces.size() ? points.faces[i]
                          : f.faces.empty()       ? FaceId{}
                                                  : f.faces.front();
      all.push_back(surface.distance(face, inverse * points.points[i]));
    }
    double value = range(all);
    // Touches on a face lie in no ring of one radius unless they were meant to.
    const bool rings = f.ideal.type != SurfaceType::Plane || points.sectioned;
    if (r.kind == Characteristic::CircularRunout && rings) {
      value = 0;
      for (const auto& [row, members] : points.byRow()) {
        std::vector<double> ring;
        for (const std::size_t i : members)
          ring.push_back(all[i]);
        value = std::max(value, range(ring));
      }
    } else {
      all_rings = false;
    }
    FeatureResult result;
    result.feature = id;
    result.actual = value;
    result.allowed = r.tolerance;
    result.share = value / r.tolerance;
    result.deviations = std::move(all);
    e.features.push_back(std::move(result));
  }
  e.how = cited(plan.spec.standardOf(r), "ISO 1101") +
          ", range square to the surface about the axis of " + system->how;
  e.how += all_rings ? ", the worst ring." : ", over all points.";
  return e;
}

} // namespace alder
