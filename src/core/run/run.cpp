#include "run/run.h"

#include "fit/association.h"
#include "fit/rigid_pairs.h"
#include "fit/small_linear.h"
#include "plan/touches/nominal_surface.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

// Normal of the surface through the ball centres, so that a tilted or moved feature is compensated
// along its own normal; freeform along the nominal one.
std::optional<Association> centresOf(const Ideal& i, const Points& balls, double radius) {
  Shape shape = Shape::Plane;
  FitStart start{i.point, i.direction, i.diameter + (i.hole ? -2 : 2) * radius, i.half_angle};
  switch (i.type) {
  case SurfaceType::Plane:
    break;
  case SurfaceType::Cylinder:
    shape = Shape::Cylinder;
    break;
  case SurfaceType::Sphere:
    shape = Shape::Sphere;
    break;
  case SurfaceType::Cone:
    shape = Shape::Cone;
    start.diameter = i.diameter + (i.hole ? -2 : 2) * radius / std::cos(i.half_angle);
    break;
  default:
    return {};
  }
  auto fit = fitLeastSquares(shape, balls, start);
  return fit ? std::optional(*fit) : std::nullopt;
}

} // namespace

std::vector<FramePoint> framePoints(const Plan& plan, const std::vector<RawTouch>& touches) {
  std::vector<FramePoint> points;
  for (const RawTouch& t : touches)
    points.push_back({t.feature,
                      plan.feature(t.feature).touches[static_cast<std::size_t>(t.touch)].face,
                      t.ball, t.radius});
  return points;
}

Result<Frame> alignedFrame(const Plan& plan, const std::vector<RawTouch>& touches,
                           const Frame& start) {
  PartFrame frame;
  frame.name = "part frame";
  for (FeatureId id : plan.alignment)
    if (std::any_of(touches.begin(), touches.end(),
                    [&](const RawTouch& t) { return t.feature == id; }))
      frame.stages.push_back({{id}, ""});
  if (frame.stages.empty()) return start;
  auto found = findFrame(plan, frame, framePoints(plan, touches), start);
  if (!found) return pass(found.error());
  return found->placement;
}

std::optional<Frame> frameByPlaces(const Plan& plan, const std::vector<RawTouch>& touches) {
  if (touches.size() < 3) return {};
  Points planned, met;
  for (const RawTouch& t : touches) {
    const Touch& touch = plan.feature(t.feature).touches[static_cast<std::size_t>(t.touch)];
    planned.push_back(touch.point + t.radius * touch.normal);
    met.push_back(t.ball);
  }
  const Vec3 middle = centroid(planned);
  Mat3 squares = Mat3::Zero();
  for (const Vec3& p : planned)
    squares += (p - middle) * (p - middle).transpose();
  constexpr double kLine = 1; // mm
  if (eigenpairs(squares).values[1] < kLine * kLine) return {};
  return placedByPairs(planned, met);
}

Result<Frame> frameByHand(const Plan& plan, const std::vector<RawTouch>& touches,
                          const Frame& start) {
  constexpr double kPlaces = 0.05; // weight of the places
  DatumStage all;
  all.name = "part frame";
  for (FeatureId id : plan.alignment) {
    Points balls;
    std::vector<FaceId> faces;
    double radius = 0;
    for (const RawTouch& t : touches) {
      if (t.feature != id) continue;
      const Touch& touch = plan.feature(id).touches[static_cast<std::size_t>(t.touch)];
      balls.push_back(t.ball);
      faces.push_back(touch.face);
      radius = t.radius;
      const Vec3 place = touch.point + t.radius * touch.normal;
      for (const Vec3& axis : {Vec3(Vec3::UnitX()), Vec3(Vec3::UnitY()), Vec3(Vec3::UnitZ())}) {
        SurfacePoints pull;
        pull.distance = [axis, place](const Vec3& p) { return axis.dot(p - place); };
        pull.normal = [axis](const Vec3&) { return axis; };
        pull.points = {t.ball};
        pull.weight = kPlaces;
        all.surfaces.push_back(std::move(pull));
      }
    }
    if (balls.empty()) continue;
    const NominalSurface surface(plan.part, plan.nominal(id));
    for (SurfacePoints& group : surface.group(balls, faces, radius))
      all.surfaces.push_back(std::move(group));
  }
  if (all.surfaces.empty()) return start;
  const auto fit = fitInOrder({all}, start);
  if (!fit) return pass(fit.error());
  return fit->placement;
}

Run compensated(const Plan& plan, const std::vector<RawTouch>& touches, const Frame& frame) {
  Run run;
  run.part_frame = frame;
  const Frame inverse = frame.inverse();
  std::map<FeatureId, Points> balls;
  for (const RawTouch& t : touches)
    balls[t.feature].push_back(inverse * t.ball);
  std::map<FeatureId, std::optional<Association>> fits;
  for (const RawTouch& t : touches)
    if (!fits.count(t.feature))
      fits[t.feature] = centresOf(plan.nominal(t.feature).ideal, balls[t.feature], t.radius);
  for (const RawTouch& t : touches) {
    const Touch& touch = plan.feature(t.feature).touches[static_cast<std::size_t>(t.touch)];
    const Vec3 centre = inverse * t.ball;
    Vec3 normal = touch.normal;
    if (const auto& fit = fits[t.feature]) {
      normal = normalAt(*fit, centre);
      if (normal.dot(touch.normal) < 0) normal = -normal;
    }
    run.points.push_back({t.feature, t.touch, touch.row, touch.face, centre - t.radius * normal,
                          touch.point, touch.normal, t.ball, 2 * t.radius});
  }
  return run;
}

Measurements measurementsOf(const Run& run) {
  Measurements result;
  for (const MeasuredPoint& p : run.points) {
    MeasuredFeature& m = result[p.feature];
    m.points.push_back(p.surface);
    m.rows.push_back(p.row);
    m.faces.push_back(p.face);
    m.nominals.push_back(p.nominal);
  }
  return result;
}

} // namespace alder
