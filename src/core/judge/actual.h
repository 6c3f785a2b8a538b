// Actual features: ideal geometry associated with the measured points.
#pragma once

#include "fit/association.h"
#include "judge/measurement.h"

namespace alder {

// The derived feature that location, orientation and distance speak of: an axis, a plane or mid
// plane, or a centre.
struct Derived {
  enum class Kind { Point, Axis, Plane } kind = Kind::Point;
  Vec3 point = Vec3::Zero();
  Vec3 direction = Vec3::UnitZ();
  double from = 0, to = 0; // extent of an axis along `direction` from `point`
};

struct Actual {
  Derived derived;
  std::optional<double> size;       // diameter or width
  std::optional<double> half_angle; // cone
  double form = 0;                  // range of deviations from the associated feature
  std::vector<double> deviations;   // per point, outward from the material positive
  std::vector<Contact> contacts;
  bool proved = true; // see Association
};
// For what is told of a figure: empty where it is proved.
std::string_view proofWords(const Actual& actual);

// Error when the points do not fix the feature.
Result<Actual> actualOf(const NominalFeature& nominal, const MeasuredFeature& measured,
                        Criterion criterion = Criterion::LeastSquares);
// The fit behind it: the shape of the nominal with the criterion asked for.
Result<Association> associationOf(const NominalFeature& nominal, const MeasuredFeature& measured,
                                  Criterion criterion);
// Largest inscribed in a hole, smallest round a shaft: the unrelated mating envelope (ASME
// Y14.5.1), or its opposite, the minimum material envelope.
Criterion matingEnvelope(const NominalFeature& nominal);
Criterion materialEnvelope(const NominalFeature& nominal);
// What is fitted to a feature of this nominal; a plane to what has no shape of its own.
Shape shapeOf(const Ideal& ideal);
// A cylinder of no length is a circle, one of no diameter a line, a sphere of none a point.
bool isCircle(const Ideal& ideal);
bool isLine(const Ideal& ideal);
bool isPoint(const Ideal& ideal);
Derived nominalDerived(const NominalFeature& nominal);
std::optional<Criterion> criterionOf(AssociateBy by); // nothing for what is no criterion of a fit

} // namespace alder
