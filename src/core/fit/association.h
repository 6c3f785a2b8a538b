// Association of ideal geometry with measured points by least squares of orthogonal distances
// (ISO 17450-3, total least squares; ISO 14405-1 modifier GG for sizes).
// Lengths mm, angles radians. Signed deviations are positive outside the ideal surface: beyond the
// radius for round shapes, on the side of `direction` for planes.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include <optional>
#include <string_view>

namespace alder {

enum class Shape { Line, Plane, Circle, Cylinder, Cone, Sphere };

std::string_view name(Shape shape);
Result<Shape> shapeNamed(std::string_view name);

struct Association {
  Shape shape = Shape::Plane;
  Vec3 point = Vec3::Zero();      // on the axis or plane, nearest the points' centroid; centre
  Vec3 direction = Vec3::UnitZ(); // axis or normal; a cone's axis points to the wide side
  double diameter = 0;            // at `point` for a cone
  double half_angle = 0;          // cone: half the apex angle
  std::vector<double> deviations; // one per point, in the order given
  double form = 0;                // largest minus smallest deviation; line: 2 * largest distance
  double rms = 0;
};

// What is known beforehand. The start decides which of several local optima is taken and how the
// direction is signed; without one the whole sphere of directions is searched.
struct FitStart {
  Vec3 point = Vec3::Zero();
  Vec3 direction = Vec3::UnitZ();
  double diameter = 0;
  double half_angle = 0;
};

// Error when the points are too few, not finite, or so placed that they do not fix the shape; the
// message says what is missing.
Result<Association> fitLeastSquares(Shape shape, const Points& points,
                                    const std::optional<FitStart>& start = {});

// Signed distance of a point to the associated surface, and the outward unit normal there.
double deviation(const Association& association, const Vec3& point);
Vec3 normalAt(const Association& association, const Vec3& point);

} // namespace alder
