#include "judge/dimensions.h"

#include "base/units.h"
#include "judge/datum_system.h"
#include "judge/local_sizes.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

FeatureResult against(const Requirement& r, FeatureId feature, double actual) {
  FeatureResult f{feature, actual, r.upper - r.lower, 0, Vec3::Zero(), Vec3::Zero(), {}, {}};
  const double half = (r.upper - r.lower) / 2, off = std::abs(actual - (r.upper + r.lower) / 2);
  f.share = half > 0 ? off / half : (off > 0 ? 2 : 1);
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
                     (rule_one ? ", Rule #1" : ", envelope requirement (E)")};
    }
  return worst;
}

// Rank-order sizes of ISO 14405-1 table 3.
std::pair<double, std::string> rankOf(const std::vector<LocalSize>& locals, AssociateBy by) {
  double least = locals.front().size, most = least, mean = 0;
  for (const LocalSize& l : locals) {
    least = std::min(least, l.size), most = std::max(most, l.size);
    mean += l.size / static_cast<double>(locals.size());
  }
  switch (by) {
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

Result<Sized> sizeOf(const Plan& plan, const Requirement& r, FeatureId id,
                     const MeasuredFeature& m) {
  const NominalFeature& f = plan.nominal(id);
  auto ls = actualOf(f, m);
  if (!ls) return pass(ls.error());
  if (!ls->size)
    return fail("{} has no size; a {} needs another requirement.", f.name, name(f.ideal.type));
  const double factor = r.radius ? 0.5 : 1;
  Sized sized;
  if (r.association >= AssociateBy::TwoPointMin) {
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
                 std::string(kModifiers[static_cast<std::size_t>(*criterion)]) + ")"};
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

Result<Evaluation> judgeSize(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  double worst = -1;
  for (FeatureId id : r.features) {
    auto sized = sizeOf(plan, r, id, m.at(id));
    if (!sized) return pass(sized.error());
    if (sized->result.share > worst) {
      worst = sized->result.share;
      e.how = cited(plan.spec.standardOf(r), "ISO 14405-1") + ", " + sized->by;
    }
    e.features.push_back(std::move(sized->result));
  }
  if (r.features.size() > 1) e.how += "; the worst of " + std::to_string(r.features.size());
  e.how += ".";
  return e;
}

namespace {

// The axis along which a requirement counts, of its datum system or of the part, where the points
// are. Nothing when it counts directly.
Result<std::optional<Vec3>> axisOf(const Plan& plan, const Requirement& r, const Measurements& m) {
  if (r.along == Along::Direct) return std::nullopt;
  const Vec3 axis = Vec3::Unit(static_cast<int>(r.along) - 1);
  if (r.datums.empty()) return axis;
  auto system = datumSystemOf(plan, r, m);
  if (!system) return pass(system.error());
  return turn(system->fit.placement, axis);
}

std::string alongText(const Requirement& r) {
  if (r.along == Along::Direct) return {};
  return std::string(" along ") + static_cast<char>('W' + static_cast<int>(r.along)) + " of " +
         (r.datums.empty() ? "the part" : "the datum system " + describe(r.datums));
}

// Where along its extent a feature counts.
Vec3 middleOf(const Derived& d) {
  return d.point + (d.kind == Derived::Kind::Axis ? (d.from + d.to) / 2 : 0) * d.direction;
}

double pointDistance(const Derived& from, const Vec3& p, const std::optional<Vec3>& along) {
  if (along) return std::abs((p - middleOf(from)).dot(*along));
  Derived point;
  point.point = p;
  return distanceBetween(from, point);
}

} // namespace

Result<Evaluation> judgeDistance(const Plan& plan, const Requirement& r, const Measurements& m) {
  if (r.features.size() < 2) return fail("A distance needs two features.");
  std::vector<Derived> derived;
  for (FeatureId id : r.features) {
    auto actual = actualOf(plan.nominal(id), m.at(id));
    if (!actual) return pass(actual.error());
    derived.push_back(actual->derived);
  }
  auto along = axisOf(plan, r, m);
  if (!along) return pass(along.error());
  Evaluation e;
  const std::string &first = plan.nominal(r.features[0]).name,
                    &second = plan.nominal(r.features[1]).name;
  double value = *along ? std::abs((middleOf(derived[1]) - middleOf(derived[0])).dot(**along))
                        : distanceBetween(derived[0], derived[1]);
  e.how = "ISO 14405-2, from " + first + " to ";
  if (r.extreme == Extreme::Between) {
    e.how += "the middle of " + second + ", both by least squares";
  } else {
    const Points& points = m.at(r.features[1]).points;
    value = pointDistance(derived[0], points.front(), *along);
    for (const Vec3& p : points) {
      const double d = pointDistance(derived[0], p, *along);
      value = r.extreme == Extreme::Smallest ? std::min(value, d) : std::max(value, d);
    }
    e.how += (r.extreme == Extreme::Smallest ? "the nearest point of " : "the farthest point of ") +
             second + ", the first by least squares";
  }
  e.how += alongText(r) + ".";
  e.features.push_back(against(r, r.features[1], value));
  return e;
}

Result<Evaluation> judgeAngle(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  std::vector<Actual> actuals;
  for (FeatureId id : r.features) {
    auto actual = actualOf(plan.nominal(id), m.at(id));
    if (!actual) return pass(actual.error());
    actuals.push_back(std::move(*actual));
  }
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
  auto along = axisOf(plan, r, m);
  if (!along) return pass(along.error());
  if (*along)
    for (Derived* d : {&a, &b}) { // seen along the axis, planes as the lines they are there
      Vec3 flat = d->direction - d->direction.dot(**along) * **along;
      if (flat.norm() < 0.02)
        return fail("Seen along this axis, {} has no direction.",
                    plan.nominal(r.features[d == &a ? 0 : 1]).name);
      if (d->kind == Derived::Kind::Plane && a.kind != b.kind) flat = (*along)->cross(flat);
      d->direction = flat.normalized();
    }
  if (*along) a.kind = b.kind;
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
