#include "fit/association.h"

#include "fit/chebyshev.h"
#include "fit/extreme_size.h"
#include "fit/least_squares.h"
#include <algorithm>
#include <array>

namespace alder {
namespace {

struct NamedShape {
  Shape shape;
  std::string_view name;
  std::size_t least_points;
};
constexpr std::array<NamedShape, 8> kShapes{{{Shape::Line, "line", 2},
                                             {Shape::Plane, "plane", 3},
                                             {Shape::Circle, "circle", 3},
                                             {Shape::Cylinder, "cylinder", 5},
                                             {Shape::Cone, "cone", 6},
                                             {Shape::Sphere, "sphere", 4},
                                             {Shape::Slot, "slot", 4},
                                             {Shape::Torus, "torus", 7}}};

struct NamedCriterion {
  Criterion criterion;
  std::string_view name, words;
};
constexpr std::array<NamedCriterion, 5> kCriteria{
    {{Criterion::LeastSquares, "ls", "least squares"},
     {Criterion::MinimumZone, "mz", "minimum zone"},
     {Criterion::MaximumInscribed, "mi", "maximum inscribed"},
     {Criterion::MinimumCircumscribed, "mc", "minimum circumscribed"},
     {Criterion::Tangent, "tangent", "tangent outside the material"}}};

const NamedShape& entry(Shape shape) {
  return kShapes[static_cast<std::size_t>(shape)];
}

// Principal directions of the cloud, smallest spread first, and the spreads (rms).
struct Spread {
  SmallMatrix axes;
  Vec3 rms;
};
Spread spreadOf(const Cloud& cloud) {
  double s[6]{};
  for (std::size_t i = 0; i < cloud.size(); ++i) {
    const Vec3 q = cloud.at(i);
    s[0] += q.x() * q.x(), s[1] += q.x() * q.y(), s[2] += q.x() * q.z();
    s[3] += q.y() * q.y(), s[4] += q.y() * q.z(), s[5] += q.z() * q.z();
  }
  SmallMatrix m(3, 3);
  m << s[0], s[1], s[2], s[1], s[3], s[4], s[2], s[4], s[5];
  const auto e = eigenpairs(m / static_cast<double>(cloud.size()));
  return {e.vectors, e.values.cwiseMax(0).cwiseSqrt()};
}

bool isFlat(const Cloud& cloud) {
  constexpr double kFlat = 2e-3;
  const Spread spread = spreadOf(cloud);
  return spread.rms[0] < kFlat * spread.rms[1];
}

// Which points lie on the far side of a slot: those beyond the widest gap along its direction.
double splitSides(Cloud& cloud, const Vec3& direction) {
  std::vector<double> along(cloud.size());
  for (std::size_t i = 0; i < cloud.size(); ++i)
    along[i] = direction.dot(cloud.at(i));
  std::vector<double> sorted = along;
  std::sort(sorted.begin(), sorted.end());
  double widest = 0, middle = 0;
  for (std::size_t i = 1; i < sorted.size(); ++i)
    if (sorted[i] - sorted[i - 1] > widest) {
      widest = sorted[i] - sorted[i - 1];
      middle = (sorted[i] + sorted[i - 1]) / 2;
    }
  cloud.side.resize(cloud.size());
  for (std::size_t i = 0; i < cloud.size(); ++i)
    cloud.side[i] = along[i] > middle ? 1 : -1;
  return widest;
}

Estimate slotAlong(Cloud& cloud, const Vec3& direction) {
  splitSides(cloud, direction);
  double low = 0, high = 0, lows = 0, highs = 0;
  for (std::size_t i = 0; i < cloud.size(); ++i) {
    const double a = direction.dot(cloud.at(i));
    if (cloud.side[i] > 0)
      high += a, ++highs;
    else
      low += a, ++lows;
  }
  low /= std::max(lows, 1.0), high /= std::max(highs, 1.0);
  Estimate e;
  e.frame = frameOf(direction * (low + high) / 2, direction);
  e.radius = (high - low) / 2;
  return e;
}

std::optional<Estimate> slotStart(Cloud& cloud, const FitSettings& settings) {
  if (settings.start) return slotAlong(cloud, settings.start->direction.normalized());
  if (settings.constraints.direction)
    return slotAlong(cloud, settings.constraints.direction->normalized());
  Solved best;
  const Cloud few = thinned(cloud, 400);
  const auto spread = spreadOf(few);
  Points tries{spread.axes.col(0), spread.axes.col(1), spread.axes.col(2)};
  constexpr int count = 120;
  for (int i = 0; i < count; ++i) {
    const double z = (i + 0.5) / count, r = std::sqrt(1 - z * z), a = 2.399963229728653 * i;
    tries.emplace_back(r * std::cos(a), r * std::sin(a), z);
  }
  for (const Vec3& d : tries) {
    Cloud sided = few;
    const Estimate e = slotAlong(sided, d);
    Solved s = solveLeastSquares(Shape::Slot, sided, e, settings.constraints, 20);
    if (s.estimate.radius > 0 && s.least_fixed > 1e-12 && s.sum < best.sum) best = std::move(s);
  }
  if (best.sum >= 1e300) return {};
  splitSides(cloud, best.estimate.frame.linear().col(2));
  return best.estimate;
}

// What more the programmer must touch, from the change that the points do not see.
Error degenerate(Shape shape, const SmallVector& loosest, double reach) {
  const auto& parameters = parametersOf(shape);
  double tilt = 0, shift = 0, size = 0, angle = 0;
  for (std::size_t i = 0; i < parameters.size(); ++i) {
    const double v = std::abs(loosest[static_cast<Eigen::Index>(i)]);
    switch (parameters[i]) {
    case Parameter::TiltX:
    case Parameter::TiltY:
      tilt = std::max(tilt, v * reach);
      break;
    case Parameter::Angle:
      angle = std::max(angle, v * reach);
      break;
    case Parameter::Size:
    case Parameter::Minor:
      size = std::max(size, v);
      break;
    default:
      shift = std::max(shift, v);
    }
  }
  const auto n = entry(shape).name;
  if (shape == Shape::Plane || shape == Shape::Slot)
    return {fmt::format("{}: the points lie on one line; touch beside it too.", n)};
  if (shape == Shape::Line)
    return {fmt::format("{}: the points lie too close together; touch at least two places.", n)};
  if (angle > 0.3 && angle >= tilt)
    return {
        fmt::format("{}: the points lie at one height; the angle is not fixed by them. Touch at "
                    "several heights.",
                    n)};
  if (tilt > 0.5)
    return {fmt::format("{}: the points lie at one height; the direction of the axis is not fixed "
                        "by them. Touch at several heights.",
                        n)};
  if (size > 0 || shift > 0)
    return {fmt::format("{}: the arc that the points cover is too short to fix centre and size; "
                        "spread them more.",
                        n)};
  return {fmt::format("{}: the points do not fix it; spread them more.", n)};
}

Association associationOf(Shape shape, const Estimate& e, const Cloud& cloud) {
  Association a{.shape = shape,
                .point = e.frame.translation() + cloud.centre,
                .direction = e.frame.linear().col(2)};
  a.diameter = shape == Shape::Plane || shape == Shape::Line ? 0 : 2 * e.radius;
  a.half_angle = e.half_angle;
  a.tube = 2 * e.minor;
  if (a.half_angle < 0) {
    a.half_angle = -a.half_angle;
    a.direction = -a.direction;
  }
  if (shape == Shape::Cylinder || shape == Shape::Cone || shape == Shape::Line) {
    const double along = (cloud.centre - a.point).dot(a.direction);
    a.point += along * a.direction;
    a.diameter += 2 * along * std::tan(a.half_angle);
  } else if (shape == Shape::Plane || shape == Shape::Slot) {
    const Vec3 r = cloud.centre - a.point;
    a.point += r - r.dot(a.direction) * a.direction;
  }
  return a;
}

void finish(Association& a, const Cloud& cloud, const Estimate& e) {
  distances(a.shape, cloud, e, a.deviations);
  double low = 1e300, high = -1e300, sum = 0;
  for (const double d : a.deviations) {
    low = std::min(low, d);
    high = std::max(high, d);
    sum += d * d;
  }
  a.form = a.shape == Shape::Line ? 2 * high : high - low;
  a.rms = std::sqrt(sum / static_cast<double>(a.deviations.size()));
}

// Starts beside the least-squares one, for points whose form is not small against their extent.
std::vector<Estimate> moreStarts(Shape shape, const Cloud& cloud, const Estimate& e,
                                 const FitConstraints& k) {
  std::vector<Estimate> out;
  const SmallMatrix free = freeDirections(shape, e, k, cloud.centre, cloud.reach);
  for (Eigen::Index i = 0; i < free.cols(); ++i)
    for (const double s : {-0.3, 0.3}) {
      const SmallVector step = free.col(i) * (s * cloud.reach);
      out.push_back(constrained(shape, moved(shape, e, step.data()), k, cloud.centre));
    }
  if ((shape == Shape::Plane || shape == Shape::Line) && !k.direction)
    for (int i = 0; i < 60; ++i) {
      const double z = (i + 0.5) / 60, r = std::sqrt(1 - z * z), a = 2.399963229728653 * i;
      Estimate other = e;
      other.frame = frameOf(e.frame.translation(), Vec3(r * std::cos(a), r * std::sin(a), z));
      out.push_back(constrained(shape, other, k, cloud.centre));
    }
  return out;
}

Result<Association> chebyshev(Shape shape, const Cloud& cloud, const Solved& ls,
                              const FitSettings& settings) {
  const auto n = entry(shape).name;
  Criterion criterion = settings.criterion;
  const bool sized = shape == Shape::Circle || shape == Shape::Cylinder || shape == Shape::Sphere ||
                     shape == Shape::Slot;
  if (criterion == Criterion::Tangent && sized)
    criterion = settings.hole ? Criterion::MaximumInscribed : Criterion::MinimumCircumscribed;
  if (!sized &&
      (criterion == Criterion::MaximumInscribed || criterion == Criterion::MinimumCircumscribed)) {
    if (shape == Shape::Line) return fail("line: only \"ls\" and \"mz\" apply to it.");
    if (shape == Shape::Plane)
      return fail("plane: \"{}\" does not apply to it; use \"ls\", \"mz\" or \"tangent\".",
                  name(criterion));
  }
  if (shape == Shape::Line && criterion == Criterion::Tangent)
    return fail("line: only \"ls\" and \"mz\" apply to it.");
  const bool one_sided = sized && criterion != Criterion::MinimumZone;
  const Sides sides = shape == Shape::Line                       ? Sides::Upper
                      : !one_sided                               ? Sides::Both
                      : criterion == Criterion::MaximumInscribed ? Sides::Lower
                                                                 : Sides::Upper;
  const bool size_free = !one_sided;
  Chebyshev best =
      solveChebyshev(shape, cloud, ls.estimate, settings.constraints, sides, size_free);
  const double rms = std::sqrt(ls.sum / static_cast<double>(cloud.size()));
  if (rms > 0.02 * cloud.reach)
    for (const Estimate& e : moreStarts(shape, cloud, ls.estimate, settings.constraints)) {
      Chebyshev other = solveChebyshev(shape, cloud, e, settings.constraints, sides, size_free);
      const double growth =
          other.estimate.radius > 0 ? other.estimate.frame.translation().norm() : 1e300;
      if (other.worst < best.worst - 1e-12 && growth < 1e3 * cloud.reach) best = std::move(other);
    }
  const bool of_all = one_sided && shape != Shape::Slot && std::isfinite(best.worst);
  double place_within = 0;
  bool proved = true;
  if (of_all) {
    ExtremeSize extreme = extremeSize(shape, cloud, best, ls.estimate, settings.constraints, sides);
    best = std::move(extreme.best);
    place_within = extreme.place_within;
    proved = extreme.proved;
  }
  Estimate e = best.estimate;
  if (!std::isfinite(best.worst) ||
      e.frame.translation().norm() > 100 * cloud.reach + 1e3 * e.radius)
    return fail(
        "{}: the points lie on one side of it; no {} one is fixed by them. Touch all round.", n,
        words(criterion));
  if (one_sided && !settings.constraints.diameter)
    e.radius += sides == Sides::Upper ? best.worst : -best.worst;
  std::vector<double> d;
  const bool push =
      criterion == Criterion::Tangent || (!sized && (criterion == Criterion::MaximumInscribed ||
                                                     criterion == Criterion::MinimumCircumscribed));
  if (push) { // the zone's border on the free side
    const bool inner = criterion == Criterion::MaximumInscribed ||
                       (criterion == Criterion::Tangent && settings.hole);
    distances(shape, cloud, e, d);
    const auto [low, high] = std::minmax_element(d.begin(), d.end());
    const double shift = inner ? *low : *high;
    if (shape == Shape::Plane)
      e.frame.translation() += e.frame.linear().col(2) * shift;
    else if (shape == Shape::Torus)
      e.minor += shift;
    else
      e.radius += shift / std::cos(e.half_angle);
  }
  if (e.radius <= 0 && shape != Shape::Plane && shape != Shape::Line && shape != Shape::Cone)
    return fail("{}: the points leave no room for a {} one; touch all round.", n, words(criterion));
  Association a = associationOf(shape, e, cloud);
  a.criterion = settings.criterion;
  a.contacts = std::move(best.contacts);
  a.place_within = place_within;
  a.proved = proved;
  finish(a, cloud, e);
  return a;
}

Result<Association> run(Shape shape, const Points& points, const FitSettings& settings) {
  const auto& s = entry(shape);
  Cloud cloud = cloudOf(points);
  if (cloud.reach <= 0) return fail("{}: all points coincide; touch at several places.", s.name);
  std::optional<Estimate> start;
  if (shape == Shape::Plane || shape == Shape::Line) {
    const Spread spread = spreadOf(cloud);
    const int axis = shape == Shape::Plane ? 0 : 2;
    if (shape == Shape::Line && spread.rms[1] > 0.999 * spread.rms[2])
      return fail("line: the points spread equally in two directions; no line is fixed by them.");
    if (shape == Shape::Plane && spread.rms[1] < 1e-7 * spread.rms[2])
      return fail("plane: the points lie on one line; touch beside it too.");
    if (shape == Shape::Plane && spread.rms[0] > 0.999 * spread.rms[1])
      return fail(
          "plane: the points fill space alike in two directions; no plane is fixed by them.");
    start.emplace();
    Vec3 direction = spread.axes.col(axis);
    const std::optional<Vec3> wanted =
        settings.start ? settings.start->direction : settings.constraints.direction;
    if (wanted && direction.dot(*wanted) < 0) direction = -direction;
    if (!wanted) { // a tangent needs to know its side from the first
      Eigen::Index largest = 0;
      direction.cwiseAbs().maxCoeff(&largest);
      if (direction[largest] < 0) direction = -direction;
    }
    start->frame = frameOf(Vec3::Zero(), direction);
  } else if (shape == Shape::Slot) {
    start = slotStart(cloud, settings);
  } else if ((shape == Shape::Cylinder || shape == Shape::Cone) &&
             !settings.constraints.direction && isFlat(cloud)) {
    // Errors of form would pass for the ellipse that a plane cuts out of a leaning cylinder.
    return fail("{}: the points lie at one height, in one plane; the direction of the axis is not "
                "fixed by them. Touch at several heights.",
                s.name);
  } else {
    start = startOf(shape, cloud, settings.start, settings.constraints);
  }
  if (!start) return fail("{}: the points do not fix it; spread them more.", s.name);
  // Few points bring it near, so that all are needed only for the last steps.
  if (cloud.size() > 8000)
    start = solveLeastSquares(shape, thinned(cloud, 2000), *start, settings.constraints).estimate;
  const Solved ls = solveLeastSquares(shape, cloud, *start, settings.constraints);
  const double count = static_cast<double>(points.size());
  const double free_count = std::max(1.0, count - static_cast<double>(parametersOf(shape).size()));
  const double sigma = std::sqrt(ls.sum / free_count);
  const double loose = sigma / std::sqrt(std::max(count * ls.least_fixed, 1e-300));
  if (!std::isfinite(ls.sum) || ls.least_fixed < 1e-14 || loose > 0.5 * cloud.reach)
    return tl::unexpected<Error>(degenerate(
        shape, ls.loosest.size() ? ls.loosest : SmallVector::Zero(kMostParameters), cloud.reach));
  const bool round = shape != Shape::Plane && shape != Shape::Line;
  if (round && ls.estimate.radius <= 0 && shape != Shape::Cone)
    return fail("{}: the points do not fix it; spread them more.", s.name);
  if (shape == Shape::Cone && std::abs(std::sin(2 * ls.estimate.half_angle)) < 1e-9)
    return fail("cone: the points show no taper; fit a cylinder or a plane.");
  if (settings.criterion != Criterion::LeastSquares) return chebyshev(shape, cloud, ls, settings);
  Association a = associationOf(shape, ls.estimate, cloud);
  finish(a, cloud, ls.estimate);
  if (points.size() > parametersOf(shape).size() && !settings.constraints.any())
    a.covariance = sigma * sigma * inversePositive(ls.normal);
  return a;
}

// A circle lies in the least-squares plane of its points.
Result<Association> runCircle(const Points& points, FitSettings settings) {
  FitSettings plane_settings;
  plane_settings.start = settings.start;
  plane_settings.constraints.direction = settings.constraints.direction;
  auto plane = run(Shape::Plane, points, plane_settings);
  if (!plane) return fail("circle: the points lie on one line; touch more of the arc.");
  if (settings.start && plane->direction.dot(settings.start->direction) < 0)
    plane->direction = -plane->direction;
  const Frame frame = frameOf(plane->point, plane->direction);
  const Frame inverse = frame.inverse();
  Points flat;
  flat.reserve(points.size());
  for (const Vec3& p : points) {
    Vec3 q = inverse * p;
    q.z() = 0;
    flat.push_back(q);
  }
  settings.start.reset();
  settings.constraints.direction.reset();
  settings.constraints.perpendicular.reset();
  if (settings.constraints.through)
    settings.constraints.through = inverse * *settings.constraints.through;
  auto circle = run(Shape::Circle, flat, settings);
  if (!circle) return circle;
  circle->point = frame * circle->point;
  circle->direction = plane->direction;
  return circle;
}

} // namespace

std::string_view name(Shape shape) {
  return entry(shape).name;
}

Result<Shape> shapeNamed(std::string_view wanted) {
  for (const auto& e : kShapes)
    if (e.name == wanted) return e.shape;
  return fail("shape \"{}\" is not known; use line, plane, circle, cylinder, cone, sphere, slot or "
              "torus.",
              wanted);
}

std::string_view name(Criterion criterion) {
  return kCriteria[static_cast<std::size_t>(criterion)].name;
}

std::string_view words(Criterion criterion) {
  return kCriteria[static_cast<std::size_t>(criterion)].words;
}

Result<Criterion> criterionNamed(std::string_view wanted) {
  for (const auto& e : kCriteria)
    if (e.name == wanted) return e.criterion;
  return fail("criterion \"{}\" is not known; use ls, mz, mi, mc or tangent.", wanted);
}

double deviation(const Association& a, const Vec3& p) {
  const Vec3 r = p - a.point;
  const double along = r.dot(a.direction);
  const double rho = (r - along * a.direction).norm();
  switch (a.shape) {
  case Shape::Plane:
    return along;
  case Shape::Line:
    return rho;
  case Shape::Sphere:
    return r.norm() - a.diameter / 2;
  case Shape::Circle:
  case Shape::Cylinder:
    return rho - a.diameter / 2;
  case Shape::Cone:
    return (rho - a.diameter / 2) * std::cos(a.half_angle) - along * std::sin(a.half_angle);
  case Shape::Slot:
    return std::abs(along) - a.diameter / 2;
  case Shape::Torus:
    return std::hypot(rho - a.diameter / 2, along) - a.tube / 2;
  }
  return 0;
}

Vec3 normalAt(const Association& a, const Vec3& p) {
  const Vec3 r = p - a.point;
  if (a.shape == Shape::Plane) return a.direction;
  if (a.shape == Shape::Slot) return r.dot(a.direction) < 0 ? Vec3(-a.direction) : a.direction;
  if (a.shape == Shape::Sphere) return r.norm() > 0 ? Vec3(r.normalized()) : a.direction;
  const Vec3 radial = r - r.dot(a.direction) * a.direction;
  const Vec3 out = radial.norm() > 0 ? Vec3(radial.normalized()) : anyPerpendicular(a.direction);
  if (a.shape == Shape::Torus) {
    const Vec3 across = r - out * (a.diameter / 2);
    return across.norm() > 0 ? Vec3(across.normalized()) : out;
  }
  if (a.shape != Shape::Cone) return out;
  return out * std::cos(a.half_angle) - a.direction * std::sin(a.half_angle);
}

Result<Association> associate(Shape shape, const Points& points, const FitSettings& settings) {
  const auto& e = entry(shape);
  for (std::size_t i = 0; i < points.size(); ++i)
    if (!points[i].allFinite()) return fail("{}: point {} is not a finite number.", e.name, i + 1);
  if (points.size() < e.least_points)
    return fail("{}: {} points given, at least {} are needed.", e.name, points.size(),
                e.least_points);
  const FitConstraints& k = settings.constraints;
  if ((k.direction && k.direction->norm() < 1e-12) ||
      (k.perpendicular && k.perpendicular->norm() < 1e-12) ||
      (settings.start && settings.start->direction.norm() < 1e-12))
    return fail("{}: a direction of length zero was given.", e.name);
  auto result = shape == Shape::Circle ? runCircle(points, settings) : run(shape, points, settings);
  if (!result) return result;
  Association& a = *result;
  if (a.shape == Shape::Cone || a.shape == Shape::Circle || a.shape == Shape::Sphere) return result;
  if (settings.start) {
    if (a.direction.dot(settings.start->direction) >= 0) return result;
  } else if (k.direction) {
    if (a.direction.dot(*k.direction) >= 0) return result;
  } else {
    Eigen::Index largest = 0;
    a.direction.cwiseAbs().maxCoeff(&largest);
    if (a.direction[largest] > 0) return result;
  }
  a.direction = -a.direction;
  if (a.shape == Shape::Plane) {
    for (double& d : a.deviations)
      d = -d;
    for (Contact& c : a.contacts)
      c.side = -c.side;
  }
  return result;
}

Result<Association> fitLeastSquares(Shape shape, const Points& points,
                                    const std::optional<FitStart>& start) {
  FitSettings settings;
  settings.start = start;
  return associate(shape, points, settings);
}

CertificateCheck checkCertificate(const Association& a, const Points& points,
                                  const FitConstraints& k) {
  Cloud cloud = cloudOf(points);
  Estimate e;
  e.frame = frameOf(a.point - cloud.centre, a.direction);
  e.radius = a.diameter / 2;
  e.half_angle = a.half_angle;
  e.minor = a.tube / 2;
  if (a.shape == Shape::Slot) {
    cloud.side.resize(cloud.size());
    for (std::size_t i = 0; i < cloud.size(); ++i)
      cloud.side[i] = (points[i] - a.point).dot(a.direction) > 0 ? 1 : -1;
  }
  const bool size_free = std::any_of(a.contacts.begin(), a.contacts.end(), [&](const Contact& c) {
    return c.side != a.contacts[0].side;
  });
  const SmallMatrix free = freeDirections(a.shape, e, k, cloud.centre, cloud.reach, size_free);
  SmallVector sum = SmallVector::Zero(free.rows()), g(free.rows());
  double weight = 0, upper = -1e300, lower = 1e300;
  CertificateCheck check;
  for (const Contact& c : a.contacts) {
    const double d = distanceAt(a.shape, cloud, e, c.point, g.data());
    sum += c.weight * c.side * g;
    weight += c.weight;
    if (c.weight < 0) check.stationarity = 1;
    if (c.side > 0)
      upper = std::max(upper, d);
    else
      lower = std::min(lower, d);
  }
  if (a.contacts.empty()) return {1, 1e300};
  check.stationarity =
      std::max(check.stationarity, (free.transpose() * sum).norm() + std::abs(weight - 1));
  std::vector<double> d;
  distances(a.shape, cloud, e, d);
  for (const double v : d) {
    if (upper > -1e300) check.beyond = std::max(check.beyond, v - upper);
    if (lower < 1e300) check.beyond = std::max(check.beyond, lower - v);
  }
  return check;
}

} // namespace alder
