// Rigid placement of nominal geometry in measured points, datum by datum.
//
// A datum system is a placement T (nominal frame -> frame of the points). Each datum in order takes
// the freedom that is left to it by those before and fixes what its geometry can (ISO 5459, 3-2-1
// with constraint). What remains free is returned as a basis, so that an evaluation may use it.
//
// A small motion is the six-vector (rotation about `centre`, translation); rotations count in
// radians times `scale`, so that all six have the dimension mm.
#pragma once

#include "fit/association.h"
#include <functional>
#include <string>

namespace alder {

using Vec6 = Eigen::Matrix<double, 6, 1>;
using Freedom = Eigen::Matrix<double, 6, Eigen::Dynamic>; // orthonormal columns

// A cylinder or sphere in the nominal frame.
struct RoundSurface {
  Shape shape = Shape::Cylinder;
  Vec3 point = Vec3::Zero(), direction = Vec3::UnitZ();
  bool hole = false;
};

// Points that belong to one nominal surface.
struct SurfacePoints {
  // signed distance to the nominal surface, positive outside the material, and the outward normal,
  // both at a place given in the nominal frame
  std::function<double(const Vec3&)> distance;
  std::function<Vec3(const Vec3&)> normal;
  Points points;
  double offset = 0;      // expected distance of the points, e.g. a ball radius
  bool free_size = false; // the surface may grow or shrink: diameter, width
  double weight = 1;      // of its deviations in least squares
  // Where it is one: a datum of it is then the largest inscribed or smallest circumscribed of all,
  // not only of those near.
  std::optional<RoundSurface> round;
};

enum class DatumAssociation {
  LeastSquares,
  // Outside the material, largest gap as small as possible; one feature of size: maximum inscribed
  // or minimum circumscribed (ISO 5459 annex A)
  Tangent,
};

// One datum: one surface, or several that act together.
struct DatumStage {
  std::string name;
  std::vector<SurfacePoints> surfaces;
  DatumAssociation association = DatumAssociation::LeastSquares;
  // Of "xyzuvw", along and about the axes of the nominal frame, what this datum may fix; empty:
  // all.
  std::string locks;
};

struct RigidFit {
  Frame placement = Frame::Identity(); // nominal -> measured
  Freedom freedom;                     // motions of the measured frame that remain free
  Vec3 centre = Vec3::Zero();          // of the rotations, in the measured frame
  double scale = 1;                    // mm per radian
  std::vector<int> taken;              // degrees of freedom that each stage fixed

  Freedom withTranslations() const; // the freedom that orientation tolerances have
  Freedom allFreedom() const;
  Freedom
  withinPlane(const Vec3& normal) const; // of its freedom, what moves nothing out of the plane
  Frame moved(const Frame& from, const Vec6& motion) const;
};

// `start` must be within a few degrees and millimetres. Error when a stage has no points.
Result<RigidFit> fitInOrder(const std::vector<DatumStage>& stages, const Frame& start);

// Vectors of mm that a placement leaves: `at(T)` gives a function from index to vector.
struct Residuals {
  std::size_t count = 0;
  std::function<std::function<Vec3(std::size_t)>(const Frame&)> at;
  std::vector<double> less; // taken from each length, where given
  // These count by their first entry with its sign, not by their length.
  std::function<bool(std::size_t)> is_signed;
};

// Moves `placement` within `freedom` so that the largest |residual| (less what is taken from it)
// becomes as small as possible (local optimum; see fit/exchange_solver.h). Deterministic.
struct LeastWorst {
  Frame placement;
  double worst = 0;
};
LeastWorst minimiseWorst(const RigidFit& fit, const Freedom& freedom, const Residuals& residuals);

} // namespace alder
