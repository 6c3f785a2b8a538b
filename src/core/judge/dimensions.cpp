#include "judge/dimensions.h"

#include "base/units.h"
#include "judge/datum_system.h"
#include "judge/local_sizes.h"
#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

FeatureResult against(const Requirement& r, FeatureId feature, double actual) {
  FeatureResult f;
  f.feature = feature;
  f.actual = actual;
  f.allowed = r.upper - r.lower;
  f.share = shareOfLimits(r, actual);
  return f;
}

struct Sized {
  FeatureResult result;
  std::string by;
};

// The default of the standards: every local size within the limits (ISO 14405-1), and for ASME
// (Rule #1) the envelope within the limit of most material. The worse of these is the result.
Sized byStandard(const Plan& plan, const Requirement& r, FeatureId id, const MeasuredFeature& m,
                 const Actual& ls) {
  const NominalFeature& f = plan.nominal(id);
  const double factor = r.radius ? 0.5 : 1;
  Sized worst{against(r, id, *ls.size * factor), "global size by least squares (GG)"};
  const auto locals = localSizes(f, m, ls);
  if (!locals.empty()) {
    const auto [low, high] =
        std::minmax_element(locals.begin(), locals.end(),
                            [](const LocalSize& a, const LocalSize& b) { return a.size < b.size; });
    const auto smallest = against(r, id, low->size * factor),
               largest = against(r, id, high->size * factor);
    worst = {smallest.share > largest.share ? smallest : largest,
             smallest.share > largest.share ? "smallest two-point size (LP)"
                                            : "largest two-point size (LP)"};
    worst.by += " of " + std::to_string(locals.size()) + ", range " +
                figure((high->size - low->size) * factor, 4);
  } else {
    worst.by += ", as no two points face each other";
  }
  const bool rule_one = plan.spec.standardOf(r) != ToleranceStandard::Iso;
  if (rule_one || r.envelope)
    if (auto envelope = actualOf(f, m, matingEnvelope(f)); envelope && envelope->size) {
      auto result = against(r, id, *envelope->size * factor);
      const bool beyond = f.ideal.hole ? result.actual < r.lower : result.actual > r.upper;
      if (beyond || result.share > worst.result.share)
        worst = {std::move(result),
                 std::string(f.ideal.hole ? "largest inscribed" : "smallest circumscribed") +
                     (rule_one ? ", Rule #1" : ", envelope requirement (E)") +
                     std::string(proofWords(*envelope))};
    }
  return worst;
}

// Rank-order sizes of ISO 14405-1 table 3.
std::pair<double, std::string> rankOf(const std::vector<LocalSize>& locals, AssociateBy by) {
  double mean = 0;
  std::vector<double> sizes;
  for (const LocalSize& l : locals) {
    sizes.push_back(l.size);
    mean += l.size / static_cast<double>(locals.size());
  }
  std::sort(sizes.begin(), sizes.end());
  const double least = sizes.front(), most = sizes.back();
  const std::size_t half = sizes.size() / 2;
  switch (by) {
  case AssociateBy::TwoPointMedian:
    return {sizes.size() % 2 ? sizes[half] : (sizes[half - 1] + sizes[half]) / 2,
            "median of the two-point sizes (LP SM)"};
  case AssociateBy::TwoPointMidRange:
    return {(least + most) / 2, "mid-range of the two-point sizes (LP SD)"};
  case AssociateBy::TwoPointMin:
    return {least, "smallest two-point size (LP SN)"};
  case AssociateBy::TwoPointMax:
    return {most, "largest two-point size (LP SX)"};
  case AssociateBy::TwoPointMean:
    return {mean, "mean of the two-point sizes (LP SA)"};
  default:
    return {most - least, "range of the two-point sizes (LP SR)"};
  }
}

// Calculated sizes of ISO 14405-1 (CC, CA): each section has one, and each must be within the
// limits.
Result<Sized> calculated(const Requirement& r, const NominalFeature& f, const MeasuredFeature& m,
                         const Actual& ls) {
  const bool area = r.association == AssociateBy::Area;
  const auto sizes =
      calculatedSizes(f, m, ls, area ? CalculatedSize::Area : CalculatedSize::Circumference);
  if (!sizes) return pass(sizes.error());
  const double factor = r.radius ? 0.5 : 1;
  Sized worst;
  for (const double size : *sizes)
    if (auto result = against(r, f.id, size * factor);
        worst.by.empty() || result.share > worst.result.share)
      worst = {std::move(result), area ? "area diameter (CA)" : "circumference diameter (CC)"};
  worst.by += ", the worst of " + std::to_string(sizes->size()) + " sections";
  return worst;
}

Result<Sized> sizeOf(const Plan& plan, const Requirement& r, FeatureId id,
                     const MeasuredFeature& m) {
  const NominalFeature& f = plan.nominal(id);
  auto ls = actualOf(f, m);
  if (!ls) return pass(ls.error());
  if (!ls->size)
    return fail("{} has no size; a {} needs another requirement.", f.name, name(f.ideal.type));
  const double factor = r.radius ? 0.5 : 1;
  Sized sized;
  if (r.association == AssociateBy::Circumference || r.association == AssociateBy::Area) {
    auto worst = calculated(r, f, m, *ls);
    if (!worst) return pass(worst.error());
    sized = std::move(*worst);
  } else if (r.association >= AssociateBy::TwoPointMin) {
    const auto locals = localSizes(f, m, *ls);
    if (locals.empty())
      return fail("{}: no two points face each other, so it has no two-point size.", f.name);
    const auto [value, by] = rankOf(locals, r.association);
    sized = {against(r, id, value * factor), by};
  } else if (const auto criterion = criterionOf(r.association)) {
    auto actual = actualOf(f, m, *criterion);
    if (!actual) return pass(actual.error());
    static constexpr std::array<std::string_view, 5> kModifiers{"GG", "GC", "GX", "GN", "tangent"};
    sized = {against(r, id, *actual->size * factor),
             "global size, " + std::string(words(*criterion)) + " (" +
                 std::string(kModifiers[static_cast<std::size_t>(*criterion)]) + ")" +
                 std::string(proofWords(*actual))};
  } else {
    sized = byStandard(plan, r, id, m, *ls);
  }
  sized.result.deviations = ls->deviations;
  return sized;
}

// Shortest distance of two endless lines; for parallel ones their constant distance.
double betweenAxes(const Derived& a, const Derived& b) {
  const Vec3 cross = a.direction.cross(b.direction), r = b.point - a.point;
  if (cross.norm() < 0.02) {
    // Nominally parallel: taken at the middle of the second, square to the first.
    const Vec3 middle = b.point + (b.from + b.to) / 2 * b.direction;
    const Vec3 d = middle - a.point;
    return (d - d.dot(a.direction) * a.direction).norm();
  }
  return std::abs(r.dot(cross)) / cross.norm();
}

double distanceBetween(const Derived& a, const Derived& b) {
  using Kind = Derived::Kind;
  if (b.kind == Kind::Plane && a.kind != Kind::Plane) return distanceBetween(b, a);
  const Vec3 middle = b.point + (b.kind == Kind::Axis ? (b.from + b.to) / 2 : 0) * b.direction;
  if (a.kind == Kind::Plane) return std::abs((middle - a.point).dot(a.direction));
  if (a.kind == Kind::Axis && b.kind == Kind::Axis) return betweenAxes(a, b);
  const Derived& axis = a.kind == Kind::Axis ? a : b;
  const Vec3 point = a.kind == Kind::Axis ? b.point : a.point;
  const Vec3 d = point - axis.point;
  if (axis.kind == Kind::Axis) return (d - d.dot(axis.direction) * axis.direction).norm();
  return (b.point - a.point).norm();
}

} // namespace

Result<Evaluation> judgeSize(const Plan& plan, const Requirement& r, const Measurements& m,
                             const SizeRooms& rooms) {
  Evaluation e;
  double worst = -1;
  for (FeatureId id : r.features) {
    Requirement widened = r;
    const auto room = rooms.find(id);
    const double factor = r.radius ? 0.5 : 1;
    if (room != rooms.end()) {
      widened.lower -= factor * room->second.below;
      widened.upper += factor * room->second.above;
    }
    auto sized = sizeOf(plan, widened, id, m.at(id));
    if (!sized) return pass(sized.error());
    if (sized->result.share > worst) {
      worst = sized->result.share;
      e.lower = widened.lower, e.upper = widened.upper;
      e.how = cited(plan.spec.standardOf(r), "ISO 14405-1") + ", " + sized->by;
      if (room != rooms.end())
        e.how += fmt::format("; limits widened by {} that geometry leaves (ISO 2692 R)",
                             figure(factor * (room->second.below + room->second.above), 4));
    }
    e.features.push_back(std::move(sized->result));
  }
  if (r.features.size() > 1) e.how += "; the worst of " + std::to_string(r.features.size());
  e.how += ".";
  return e;
}

namespace {

// The frame along whose axes a requirement counts, of its datum system or of the part, where the
// points are.
Result<Frame> axesOf(const Plan& plan, const Requirement& r, const Measurements& m) {
  if (r.along == Along::Direct || r.datums.empty()) return Frame::Identity();
  return datumSystemOf(plan, r, m).map([](const DatumSystem& s) { return s.fit.placement; });
}

std::string alongText(const Requirement& r) {
  if (r.along == Along::Direct) return {};
  return " " + words(r.along) + " of " +
         (r.datums.empty() ? "the part" : "the datum system " + describe(r.datums));
}

// Where along its extent a feature counts.
Vec3 middleOf(const Derived& d) {
  return d.point + (d.kind == Derived::Kind::Axis ? (d.from + d.to) / 2 : 0) * d.direction;
}

// The axis X, Y or Z along which, or about which, a requirement counts.
int axisOf(const Requirement& r) {
  return r.along == Along::Radial ? 2 : static_cast<int>(r.along) - 1;
}

// Along an axis, or the distance from Z.
double coordinate(const Requirement& r, const Frame& axes, const Vec3& p) {
  const Vec3 q = axes.inverse() * p;
  return r.along == Along::Radial ? std::hypot(q.x(), q.y()) : q[axisOf(r)];
}

double pointDistance(const Requirement& r, const Frame& axes, const Derived& from, const Vec3& p) {
  if (r.along != Along::Direct)
    return std::abs(coordinate(r, axes, p) - coordinate(r, axes, middleOf(from)));
  Derived point;
  point.point = p;
  return distanceBetween(from, point);
}

Result<std::vector<Actual>> actualsOf(const Plan& plan, const Requirement& r,
                                      const Measurements& m) {
  std::vector<Actual> all;
  for (FeatureId id : r.features) {
    auto actual = actualOf(plan.nominal(id), m.at(id));
    if (!actual) return pass(actual.error());
    all.push_back(std::move(*actual));
  }
  return all;
}

} // namespace

Result<Evaluation> judgeDistance(const Plan& plan, const Requirement& r, const Measurements& m) {
  const bool placed = r.along != Along::Direct;
  if (r.features.size() < (placed ? 1 : 2))
    return fail("A distance needs two features, or one and an axis along which it counts.");
  auto actuals = actualsOf(plan, r, m);
  if (!actuals) return pass(actuals.error());
  auto axes = axesOf(plan, r, m);
  if (!axes) return pass(axes.error());
  Evaluation e;
  const std::string& first = plan.nominal(r.features[0]).name;
  const Derived& a = (*actuals)[0].derived;
  if (r.features.size() == 1) {
    e.how = "ISO 14405-2, the middle of " + first + ", by least squares," + alongText(r) + ".";
    e.features.push_back(against(r, r.features[0], coordinate(r, *axes, middleOf(a))));
    return e;
  }
  const std::string& second = plan.nominal(r.features[1]).name;
  const Derived& b = (*actuals)[1].derived;
  double value = placed ? pointDistance(r, *axes, a, middleOf(b)) : distanceBetween(a, b);
  e.how = "ISO 14405-2, from " + first + " to ";
  if (r.extreme == Extreme::Between) {
    e.how += "the middle of " + second + ", both by least squares";
  } else {
    const Points& points = m.at(r.features[1]).points;
    value = pointDistance(r, *axes, a, points.front());
    for (const Vec3& p : points) {
      const double d = pointDistance(r, *axes, a, p);
      value = r.extreme == Extreme::Smallest ? std::min(value, d) : std::max(value, d);
    }
    e.how += (r.extreme == Extreme::Smallest ? "the nearest point of " : "the farthest point of ") +
             second + ", the first by least squares";
  }
  e.how += alongText(r) + ".";
  e.features.push_back(against(r, r.features[1], value));
  return e;
}

namespace {

// Where a centre lies about the axis, from the next axis in order: about Z from X towards Y.
double polarAngle(const Frame& axes, int axis, const Vec3& p) {
  const Vec3 q = axes.inverse() * p;
  return std::atan2(q[(axis + 2) % 3], q[(axis + 1) % 3]);
}

// The same angle, turns added or taken away, nearest to the nominal one.
double nearestTurn(double angle, double nominal) {
  return angle + 2 * kPi * std::round((nominal - angle) / (2 * kPi));
}

// Features that have no direction across the axis are seen as points round it.
bool isPointSeenAlong(const Derived& d, const Vec3& axis) {
  return d.kind == Derived::Kind::Point ||
         (d.kind == Derived::Kind::Axis && d.direction.cross(axis).norm() < 0.02);
}

// The angle at the axis between the radii to two centres, or of one from the axis of the system.
Evaluation judgePolarAngle(const Plan& plan, const Requirement& r,
                           const std::vector<Actual>& actuals, const Frame& axes) {
  const int axis = axisOf(r);
  double angle = polarAngle(axes, axis, middleOf(actuals[0].derived));
  Evaluation e;
  e.how = "ISO 14405-3, the angle at which the middle of " + plan.nominal(r.features[0]).name +
          " lies, by least squares";
  if (actuals.size() > 1) {
    angle = std::abs(
        std::remainder(polarAngle(axes, axis, middleOf(actuals[1].derived)) - angle, 2 * kPi));
    if (std::abs(2 * kPi - angle - r.nominal) < std::abs(angle - r.nominal))
      angle = 2 * kPi - angle;
    e.how = "ISO 14405-3, angle between the middles of " + plan.nominal(r.features[0]).name +
            " and " + plan.nominal(r.features[1]).name + ", both by least squares";
  }
  e.how += ", about the axis " + std::string(1, static_cast<char>('X' + axis)) + " of " +
           (r.datums.empty() ? "the part" : "the datum system " + describe(r.datums)) + ".";
  e.features.push_back(against(r, r.features.back(), nearestTurn(angle, r.nominal)));
  return e;
}

} // namespace

Result<Evaluation> judgeAngle(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  auto all = actualsOf(plan, r, m);
  if (!all) return pass(all.error());
  const std::vector<Actual>& actuals = *all;
  auto axes = axesOf(plan, r, m);
  if (!axes) return pass(axes.error());
  const Vec3 along = r.along == Along::Direct ? Vec3::Zero() : Vec3(axes->linear().col(axisOf(r)));
  if (r.along != Along::Direct && !actuals[0].half_angle &&
      std::all_of(actuals.begin(), actuals.end(),
                  [&](const Actual& a) { return isPointSeenAlong(a.derived, along); }))
    return judgePolarAngle(plan, r, actuals, *axes);
  if (actuals.size() == 1) {
    if (!actuals[0].half_angle) return fail("An angle needs two features or a cone.");
    double angle = 2 * *actuals[0].half_angle;
    // The drawing may give half the apex angle.
    const double nominal = 2 * plan.nominal(r.features[0]).ideal.half_angle;
    if (std::abs(r.nominal - nominal / 2) < std::abs(r.nominal - nominal)) angle /= 2;
    e.features.push_back(against(r, r.features[0], angle));
    e.how = "ISO 14405-3, apex angle of the least-squares cone.";
    return e;
  }
  Derived a = actuals[0].derived, b = actuals[1].derived;
  if (r.along != Along::Direct)
    for (Derived* d : {&a, &b}) { // seen along the axis, planes as the lines they are there
      Vec3 flat = d->direction - d->direction.dot(along) * along;
      if (flat.norm() < 0.02)
        return fail("Seen along this axis, {} has no direction.",
                    plan.nominal(r.features[d == &a ? 0 : 1]).name);
      if (d->kind == Derived::Kind::Plane && a.kind != b.kind) flat = along.cross(flat);
      d->direction = flat.normalized();
    }
  if (r.along != Along::Direct) a.kind = b.kind;
  double angle = std::acos(std::clamp(std::abs(a.direction.dot(b.direction)), 0.0, 1.0));
  if (a.kind != b.kind) angle = kPi / 2 - angle; // axis against plane
  // Of the two angles between two lines the one that the drawing means.
  if (std::abs(kPi - angle - r.nominal) < std::abs(angle - r.nominal)) angle = kPi - angle;
  // Near a right angle the two cannot be told apart by size: the normals decide.
  if (a.kind == b.kind && std::abs(r.nominal - kPi / 2) < radians(1)) {
    const double turned = std::acos(std::clamp(a.direction.dot(b.direction), -1.0, 1.0));
    angle = kPi - turned; // inside the material for outward normals
  }
  e.features.push_back(against(r, r.features[1], angle));
  e.how = "ISO 14405-3, angle between " + plan.nominal(r.features[0]).name + " and " +
          plan.nominal(r.features[1]).name + ", both by least squares" +
          (r.along == Along::Direct ? "" : ", seen" + alongText(r)) + ".";
  return e;
}

} // namespace alder
