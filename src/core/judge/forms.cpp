#include "judge/forms.h"

#include "base/units.h"
#include "judge/actual.h"
#include "judge/datum_system.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

double range(const std::vector<double>& v) {
  const auto [low, high] = std::minmax_element(v.begin(), v.end());
  return v.empty() ? 0 : *high - *low;
}

std::map<int, std::vector<std::size_t>> byRow(const MeasuredFeature& m) {
  std::map<int, std::vector<std::size_t>> rows;
  for (std::size_t i = 0; i < m.points.size(); ++i)
    rows[i < m.rows.size() ? m.rows[i] : 0].push_back(i);
  return rows;
}

// Range of one ring about its own least-squares circle, seen along the feature's axis.
Result<double> roundness(const NominalFeature& f, const MeasuredFeature& m) {
  Vec3 axis = f.ideal.direction;
  if (f.ideal.type != SurfaceType::Sphere) {
    auto actual = actualOf(f, m);
    if (!actual) return pass(actual.error());
    axis = actual->derived.direction;
  } else {
    return actualOf(f, m).map([](const Actual& a) { return a.form; });
  }
  double worst = -1;
  for (const auto& [row, points] : byRow(m)) {
    if (points.size() < 4) continue;
    Points flat;
    const Frame inverse = frameOf(f.ideal.point, axis).inverse();
    for (std::size_t i : points) {
      const Vec3 q = inverse * m.points[i];
      flat.emplace_back(q.x(), q.y(), 0);
    }
    if (auto circle = fitLeastSquares(Shape::Circle, flat)) worst = std::max(worst, circle->form);
  }
  if (worst < 0) return fail("{}: roundness needs a ring of at least four points.", f.name);
  return worst;
}

// Range along each generating line: the points of one direction about their own line.
Result<double> straightness(const NominalFeature& f, const MeasuredFeature& m) {
  auto actual = actualOf(f, m);
  if (!actual) return pass(actual.error());
  if (f.ideal.type == SurfaceType::Plane) return actual->form;
  const Frame inverse = frameOf(f.ideal.point, f.ideal.direction).inverse();
  std::map<long, std::vector<std::pair<double, double>>> lines; // by direction: along, radial
  for (std::size_t i = 0; i < m.points.size(); ++i) {
    const Vec3 q = inverse * (i < m.nominals.size() ? m.nominals[i] : m.points[i]);
    const long direction = std::lround(degrees(std::atan2(q.y(), q.x())) + 360) % 360;
    lines[direction].emplace_back((m.points[i] - f.ideal.point).dot(f.ideal.direction),
                                  actual->deviations[i]);
  }
  double worst = -1;
  for (const auto& [direction, line] : lines) {
    if (line.size() < 3) continue;
    double s = 0, sx = 0, sxx = 0, sy = 0, sxy = 0;
    for (const auto& [x, y] : line)
      s += 1, sx += x, sxx += x * x, sy += y, sxy += x * y;
    const double slope = (s * sxy - sx * sy) / (s * sxx - sx * sx);
    std::vector<double> rest;
    for (const auto& [x, y] : line)
      rest.push_back(y - (sy - slope * sx) / s - slope * x);
    worst = std::max(worst, range(rest));
  }
  if (worst < 0) return fail("{}: straightness needs three touches in one line.", f.name);
  return worst;
}

} // namespace

Result<Evaluation> judgeForm(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  for (FeatureId id : r.features) {
    const NominalFeature& f = plan.nominal(id);
    const MeasuredFeature& points = m.at(id);
    Result<double> value = 0.0;
    auto actual = actualOf(f, points);
    if (!actual) return pass(actual.error());
    if (r.kind == Characteristic::Roundness)
      value = roundness(f, points);
    else if (r.kind == Characteristic::Straightness)
      value = straightness(f, points);
    else
      value = actual->form;
    if (!value) return pass(value.error());
    e.features.push_back(
        {id, *value, r.tolerance, *value / r.tolerance, Vec3::Zero(), actual->deviations});
  }
  e.how = "ISO 1101, range of the deviations from the least-squares ";
  e.how += r.kind == Characteristic::Roundness      ? "circle of each ring, the worst ring"
           : r.kind == Characteristic::Straightness ? "line of each generator, the worst line"
                                                    : "feature";
  e.how += "; no filter.";
  return e;
}

Result<Evaluation> judgeRunout(const Plan& plan, const Requirement& r, const Measurements& m) {
  auto system = datumSystemOf(plan, r, m);
  if (!system) return pass(system.error());
  const Frame inverse = system->fit.placement.inverse();
  Evaluation e;
  for (FeatureId id : r.features) {
    const MeasuredFeature& points = m.at(id);
    const NominalSurface surface(plan.part, plan.nominal(id));
    std::vector<double> all;
    for (std::size_t i = 0; i < points.points.size(); ++i) {
      const FaceId face =
          i < points.faces.size() ? points.faces[i] : plan.nominal(id).faces.front();
      all.push_back(surface.distance(face, inverse * points.points[i]));
    }
    double value = range(all);
    if (r.kind == Characteristic::CircularRunout &&
        plan.nominal(id).ideal.type != SurfaceType::Plane) {
      value = 0;
      for (const auto& [row, members] : byRow(points)) {
        std::vector<double> ring;
        for (std::size_t i : members)
          ring.push_back(all[i]);
        value = std::max(value, range(ring));
      }
    }
    e.features.push_back({id, value, r.tolerance, value / r.tolerance, Vec3::Zero(), all});
  }
  e.how = "ISO 1101, range square to the surface about the axis of " + system->how;
  e.how += r.kind == Characteristic::CircularRunout ? ", the worst ring." : ", over all rings.";
  return e;
}

} // namespace alder
