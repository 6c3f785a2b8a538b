// Association of ideal geometry with measured points (ISO 17450-3, ISO 5459 annex A, ISO 14405-1).
// Lengths mm, angles radians. Signed deviations are positive outside the ideal surface: beyond the
// radius for round shapes, on the side of `direction` for planes.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include <optional>
#include <string_view>

namespace alder {

enum class Shape { Line, Plane, Circle, Cylinder, Cone, Sphere, Slot, Torus };

std::string_view name(Shape shape);
Result<Shape> shapeNamed(std::string_view name);

// Which of all ideal surfaces is taken.
enum class Criterion {
  LeastSquares,         // smallest sum of squared orthogonal distances (Gauss; GG, G)
  MinimumZone,          // smallest largest distance, both sides (Chebyshev; C). A line: the axis of
                        // the smallest cylinder that holds the points
  MaximumInscribed,     // largest round shape or slot that no point enters (GX, X)
  MinimumCircumscribed, // smallest that no point leaves (GN, N)
  Tangent,              // outside the material, largest gap as small as possible
};
std::string_view name(Criterion criterion);  // "ls", "mz", "mi", "mc", "tangent"
std::string_view words(Criterion criterion); // "least squares", "minimum zone", ...
Result<Criterion> criterionNamed(std::string_view name);

// A point that holds the surface. The contacts with their weights are the certificate of an
// optimum: weights are positive and the weighted sum of `side` times the change of the deviation is
// zero for every small change of the surface, so that no change lowers all of them together
// (Karush, Kuhn and Tucker; for circles: Rivlin 1979; for planes: the hull criterion).
struct Contact {
  std::size_t point = 0;
  int side = 1; // deviation at the upper (+1) or lower (-1) end of the zone
  double weight = 0;
};

struct Association {
  Shape shape = Shape::Plane;
  Criterion criterion = Criterion::LeastSquares;
  Vec3 point = Vec3::Zero();      // on the axis or plane, nearest the points' centroid; centre
  Vec3 direction = Vec3::UnitZ(); // axis or normal; a cone's axis points to the wide side
  double diameter = 0;   // at `point` for a cone; slot: the width; torus: of the centre line
  double half_angle = 0; // cone: half the apex angle
  double tube = 0;       // torus: diameter of the tube
  std::vector<double> deviations; // one per point, in the order given
  double form = 0;                // largest minus smallest deviation; line: 2 * largest distance
  double rms = 0;
  std::vector<Contact> contacts; // all criteria but least squares
  // Of a largest inscribed or smallest circumscribed circle, cylinder or sphere: how far the place
  // may move, mm at the points' reach, and lose less than 0.0001 mm of radius, to first order.
  // Large where few contacts hold it.
  double place_within = 0;
  // Of those: none better lies near. False where the search was broken off before it knew.
  bool proved = true;
  // Of least squares: covariance of the parameters (see fit/shape_model.h for their order), from
  // the residuals; empty where no point is redundant.
  Eigen::MatrixXd covariance;
};

// What is known beforehand. The start decides which of several local optima is taken and how the
// direction is signed; without one the whole sphere of directions is searched.
struct FitStart {
  Vec3 point = Vec3::Zero();
  Vec3 direction = Vec3::UnitZ();
  double diameter = 0;
  double half_angle = 0;
  double tube = 0;
};

struct FitConstraints {
  std::optional<Vec3> direction;     // axis or normal parallel to this
  std::optional<Vec3> perpendicular; // axis or normal square to this
  std::optional<Vec3> through;       // the axis or plane holds this point; the centre is this point
  std::optional<double> diameter;
  std::optional<double> half_angle;
  // Only these small changes, mm at the points' reach: columns of the parameters of
  // fit/shape_model.h, in the frame of the start.
  std::optional<Eigen::MatrixXd> changes;
  bool any() const {
    return direction || perpendicular || through || diameter || half_angle || changes;
  }
};

struct FitSettings {
  Criterion criterion = Criterion::LeastSquares;
  std::optional<FitStart> start;
  FitConstraints constraints;
  // Tangent: the material lies inside the surface (shafts; below a plane's normal), or beyond it.
  bool hole = false;
};

// Error when the points are too few, not finite, or so placed that they do not fix the shape, and
// when the shape has no such criterion; the message says what is missing.
Result<Association> associate(Shape shape, const Points& points, const FitSettings& settings);
Result<Association> fitLeastSquares(Shape shape, const Points& points,
                                    const std::optional<FitStart>& start = {});

// Signed distance of a point to the associated surface, and the outward unit normal there.
double deviation(const Association& association, const Vec3& point);
Vec3 normalAt(const Association& association, const Vec3& point);

// Whether the contacts prove that the result cannot be improved by a small change: how far the
// weighted sum is from zero (unit gradients, tilts counted at the points' reach) and how far a
// point lies beyond the zone of the contacts, mm. Both are about 1e-9 or less for an optimum.
struct CertificateCheck {
  double stationarity = 0;
  double beyond = 0;
  bool holds() const { return stationarity < 1e-6 && beyond < 1e-7; }
};
CertificateCheck checkCertificate(const Association& association, const Points& points,
                                  const FitConstraints& constraints = {});

} // namespace alder
