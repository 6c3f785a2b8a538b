#include "judge/forms.h"

#include "base/units.h"
#include "judge/datum_system.h"
#include "judge/local_sizes.h"
#include "judge/material.h"
#include "judge/straight_strip.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

double range(const std::vector<double>& v) {
  const auto [low, high] = std::minmax_element(v.begin(), v.end());
  return v.empty() ? 0 : *high - *low;
}

// Rings of few points have no zone of their own.
constexpr std::size_t kLeastRing = 4;

// The worst ring about its own circle, seen along the feature's axis; rings of a sphere in their
// own planes.
Result<double> roundness(const NominalFeature& f, const MeasuredFeature& m, Criterion criterion) {
  const bool sphere = f.ideal.type == SurfaceType::Sphere;
  if (sphere && !m.sectioned)
    return actualOf(f, m, criterion).map([](const Actual& a) { return a.form; });
  Vec3 axis = f.ideal.direction;
  if (!sphere && f.ideal.length > 0) {
    auto actual = actualOf(f, m);
    if (!actual && !m.sectioned) return pass(actual.error());
    if (actual) axis = actual->derived.direction;
  }
  FitSettings settings;
  settings.criterion = criterion;
  double worst = -1;
  for (const auto& [row, members] : m.byRow()) {
    if (members.size() < kLeastRing) continue;
    Points ring;
    for (const std::size_t i : members)
      ring.push_back(m.points[i]);
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
    worst = std::max(worst, circle->form);
  }
  if (worst < 0)
    return fail("{}: roundness needs a ring of at least {} points.", f.name, kLeastRing);
  return worst;
}

using Strip = std::vector<std::pair<double, double>>; // along, beside

// Lines on the surface: the sections of a plane, the generators of a round feature.
std::vector<Strip> linesOf(const NominalFeature& f, const MeasuredFeature& m,
                           const Actual& actual) {
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
      Strip strip;
      for (const std::size_t i : members)
        strip.emplace_back((m.points[i] - from).dot(along), (m.points[i] - from).dot(axis));
      lines.push_back(std::move(strip));
    }
    return lines;
  }
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

Result<double> straightness(const NominalFeature& f, const MeasuredFeature& m,
                            Criterion criterion) {
  auto actual = actualOf(f, m);
  if (!actual) return pass(actual.error());
  if (f.ideal.type == SurfaceType::Plane && !m.sectioned)
    return actualOf(f, m, criterion).map([](const Actual& a) { return a.form; });
  double worst = -1;
  for (const Strip& line : linesOf(f, m, *actual))
    worst = std::max(worst, criterion == Criterion::LeastSquares ? leastSquaresStrip(line)
                                                                 : narrowestStrip(line));
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

} // namespace

Result<Evaluation> judgeForm(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  const Criterion criterion = criterionOf(r.association).value_or(Criterion::MinimumZone);
  const bool straight = r.kind == Characteristic::Straightness;
  bool of_median = false;
  for (FeatureId id : r.features) {
    const NominalFeature& f = plan.nominal(id);
    const MeasuredFeature& points = m.at(id);
    const bool round = f.ideal.type != SurfaceType::Plane;
    of_median = straight && round &&
                (r.of == Extracted::MedianLine || r.of == Extracted::Axis ||
                 r.association == AssociateBy::MedianLine || f.ideal.diameter <= 0 ||
                 r.material != MaterialModifier::None ||
                 (r.of == Extracted::Standard && r.zone == Zone::Diametral));
    FeatureResult result{id, 0, r.tolerance, 0, Vec3::Zero(), {}, {}};
    Result<double> value = 0.0;
    auto actual = actualOf(f, points, criterion);
    if (of_median) {
      value = medianStraightness(f, points, criterion);
    } else if (r.kind == Characteristic::Roundness) {
      value = roundness(f, points, criterion);
    } else if (straight) {
      value = straightness(f, points, criterion);
    } else {
      if (!actual) return pass(actual.error());
      value = actual->form;
    }
    if (!value) return pass(value.error());
    if (of_median) {
      auto extra = bonusOf(plan, r, id, points);
      if (!extra) return pass(extra.error());
      result.allowed += *extra;
    }
    if (actual) {
      result.deviations = actual->deviations;
      if (!straight && r.kind != Characteristic::Roundness) result.contacts = actual->contacts;
    }
    result.actual = *value;
    result.share = result.allowed > 0 ? *value / result.allowed : (*value > 0 ? 2 : 0);
    e.features.push_back(std::move(result));
  }
  const std::string by(words(criterion));
  e.how =
      std::string(plan.spec.standardOf(r) == ToleranceStandard::Iso ? "ISO 1101" : "ASME Y14.5") +
      ", ";
  e.how += of_median                             ? by + " of the extracted median line"
           : r.kind == Characteristic::Roundness ? by + " circles, the worst ring"
           : straight                            ? by + " lines, the worst line"
                                                 : by + " of the feature";
  if (of_median && r.material != MaterialModifier::None) e.how += ", with bonus from the size";
  e.how += "; no filter.";
  return e;
}

Result<Evaluation> judgeRunout(const Plan& plan, const Requirement& r, const Measurements& m) {
  auto system = datumSystemOf(plan, r, m);
  if (!system) return pass(system.error());
  const Frame inverse = system->fit.placement.inverse();
  Evaluation e;
  bool all_rings = true;
  for (FeatureId id : r.features) {
    const MeasuredFeature& points = m.at(id);
    const NominalFeature& f = plan.nominal(id);
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
    e.features.push_back(
        {id, value, r.tolerance, value / r.tolerance, Vec3::Zero(), std::move(all), {}});
  }
  e.how =
      std::string(plan.spec.standardOf(r) == ToleranceStandard::Iso ? "ISO 1101" : "ASME Y14.5") +
      ", range square to the surface about the axis of " + system->how;
  e.how += all_rings ? ", the worst ring." : ", over all points.";
  return e;
}

} // namespace alder
