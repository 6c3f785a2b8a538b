#include "exchange/dmis/dmis_definitions.h"

#include "base/units.h"
#include "exchange/dmis/dmis_text.h"
#include "exchange/routine/feature_search.h"
#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <cmath>

namespace alder::dmis {
namespace {

std::string side(const Ideal& i) {
  return i.hole ? "INNER" : "OUTER";
}

std::string material(MaterialModifier m) {
  return m == MaterialModifier::Maximum ? "MMC" : m == MaterialModifier::Least ? "LMC" : "RFS";
}

// ",DAT(A),MMC,DAT(B),RFS": a datum with its own modifier behind it.
std::string datumList(const Requirement& r, bool with_material) {
  std::string text;
  for (const DatumReference& d : r.datums) {
    std::string letters;
    for (const std::string& l : d.letters)
      letters += (letters.empty() ? "" : "-") + l;
    text += ",DAT(" + letters + ")";
    if (with_material) text += "," + material(d.material);
  }
  return text;
}

std::string deviations(const Requirement& r, double scale) {
  return figure((r.lower - r.nominal) * scale) + "," + figure((r.upper - r.nominal) * scale);
}

std::string sizeWord(const Plan& plan, const Requirement& r) {
  if (r.radius) return "RAD";
  const auto type = plan.nominal(r.features.front()).ideal.type;
  return type == SurfaceType::Slot || type == SurfaceType::Plane ? "WIDTH" : "DIAM";
}

// Of parallel planes that an axis is normal to it is said along that: from point to point it would
// depend on where they are touched.
std::string distanceAlong(const Plan& plan, const Requirement& r) {
  constexpr const char* kAxes[]{"XAXIS", "YAXIS", "ZAXIS"};
  if (r.along == Along::X || r.along == Along::Y || r.along == Along::Z)
    return kAxes[r.along == Along::X ? 0 : r.along == Along::Y ? 1 : 2];
  if (r.along != Along::Direct || r.features.size() != 2) return "PT2PT";
  for (int k = 0; k < 3; ++k)
    if (std::all_of(r.features.begin(), r.features.end(), [&](FeatureId f) {
          const Ideal& i = plan.nominal(f).ideal;
          return i.type == SurfaceType::Plane && std::abs(i.direction[k]) > 1 - 1e-9;
        }))
      return kAxes[k];
  return "PT2PT";
}

// Between the toleranced feature and its primary datum, as an angularity takes it.
double nominalAngle(const Plan& plan, const Requirement& r) {
  const Datum* datum = r.datums.empty() || r.datums.front().letters.empty()
                           ? nullptr
                           : plan.spec.datum(r.datums.front().letters.front());
  if (r.features.empty() || !datum || datum->features.empty()) return 0;
  const Ideal &a = plan.nominal(r.features.front()).ideal,
              &b = plan.nominal(datum->features.front()).ideal;
  const auto isFlat = [](const Ideal& i) {
    return i.type == SurfaceType::Plane || i.type == SurfaceType::Slot;
  };
  const double between = std::acos(std::min(1.0, std::abs(a.direction.dot(b.direction))));
  return isFlat(a) == isFlat(b) ? between : kPi / 2 - between;
}

// The words behind TOL/, or nothing.
std::string tolerance(const Plan& plan, const Requirement& r) {
  const std::string t = figure(r.tolerance), datums = datumList(r, false);
  const std::string with_material = t + "," + material(r.material) + datumList(r, true);
  switch (r.kind) {
  case Characteristic::Straightness:
    return "STRGHT," + t;
  case Characteristic::Flatness:
    return "FLAT," + t;
  case Characteristic::Roundness:
    return "CIRLTY," + t;
  case Characteristic::Cylindricity:
    return "CYLCTY," + t;
  case Characteristic::LineProfile:
  case Characteristic::SurfaceProfile:
    return (r.kind == Characteristic::LineProfile ? "PROFL," : "PROFS,") +
           figure(zoneBand(r).lower) + "," + figure(zoneBand(r).upper) + datums;
  case Characteristic::Parallelism:
    return "PARLEL," + with_material;
  case Characteristic::Perpendicularity:
    return "PERP," + with_material;
  case Characteristic::Angularity:
    return "ANGLR," + figure(degrees(nominalAngle(plan, r))) + "," + with_material;
  case Characteristic::Position:
    return std::string("POS,") + (r.zone == Zone::Spherical ? "3D," : "2D,") + with_material;
  case Characteristic::Coaxiality:
    return "CONCEN," + t + datums;
  case Characteristic::Symmetry:
    return "SYM," + with_material;
  case Characteristic::CircularRunout:
    return "CRNOUT," + t + datums;
  case Characteristic::TotalRunout:
    return "TRNOUT," + t + datums;
  case Characteristic::Size:
    if (r.features.empty()) return "";
    return sizeWord(plan, r) + "," + deviations(r, 1);
  case Characteristic::Distance:
    return "DISTB,NOMINL," + figure(r.nominal) + "," + deviations(r, 1) + "," +
           distanceAlong(plan, r);
  case Characteristic::Angle:
    if (r.features.size() == 1) return "ANGL," + deviations(r, degrees(1)); // that a cone includes
    return "ANGLB," + figure(degrees(r.nominal)) + "," + deviations(r, degrees(1));
  case Characteristic::Value:
    return "";
  }
  return "";
}

} // namespace

std::string featureLabel(FeatureId id) {
  return "F" + std::to_string(id.value);
}

std::string toleranceLabel(const Requirement& r) {
  return "T" + std::to_string(r.balloon);
}

std::string featureWord(const Ideal& i) {
  switch (featureKindOf(i)) {
  case FeatureKind::Plane:
    return "PLANE";
  case FeatureKind::Cylinder:
    return "CYLNDR";
  case FeatureKind::Cone:
    return "CONE";
  case FeatureKind::Sphere:
    return "SPHERE";
  case FeatureKind::Torus:
    return "TORUS";
  case FeatureKind::Slot:
    return "PARPLN";
  case FeatureKind::Circle:
    return "CIRCLE";
  case FeatureKind::Line:
    return "LINE";
  case FeatureKind::Point:
    return "POINT";
  case FeatureKind::Freeform:
    break;
  }
  return "GSURF";
}

std::string featureDefinition(const Plan& plan, FeatureId id) {
  const Ideal& i = plan.nominal(id).ideal;
  const std::string word = featureWord(i), head = "F(" + featureLabel(id) + ")=FEAT/" + word,
                    place = ",CART," + figures(i.point), along = place + "," + cosines(i.direction);
  if (word == "POINT") return head + along;
  if (word == "LINE")
    return head + ",BND,CART," + figures(i.point) + "," +
           figures(i.point + std::max(i.length, 1.0) * i.direction) + "," +
           cosines(anyPerpendicular(i.direction));
  if (word == "CIRCLE") return head + "," + side(i) + along + "," + figure(i.diameter);
  switch (i.type) {
  case SurfaceType::Plane:
    return head + along;
  case SurfaceType::Cylinder:
    return head + "," + side(i) + along + "," + figure(i.diameter) + "," + figure(i.length);
  case SurfaceType::Cone: {
    // From its vertex, with the angle that it includes.
    const double to_vertex = i.diameter / 2 / std::tan(std::max(i.half_angle, 1e-9));
    return head + "," + side(i) + ",CART," + figures(i.point - to_vertex * i.direction) + "," +
           cosines(i.direction) + "," + fineFigure(degrees(2 * i.half_angle));
  }
  case SurfaceType::Sphere:
    return head + "," + side(i) + place + "," + figure(i.diameter);
  case SurfaceType::Torus:
    return head + "," + side(i) + along + "," + figure(i.diameter) + "," + figure(i.length);
  case SurfaceType::Slot:
    return head + "," + side(i) + ",MIDPL" + along + "," + figure(i.diameter);
  case SurfaceType::Freeform:
    return head;
  }
  return head;
}

std::optional<std::string> toleranceDefinition(const Plan& plan, const Requirement& r,
                                               std::string& why) {
  const std::string words = hasSingleLimit(r) ? std::string() : tolerance(plan, r);
  if (!words.empty()) return "T(" + toleranceLabel(r) + ")=TOL/" + words;
  why = r.kind == Characteristic::Value ? "a value by formula has no statement"
        : hasSingleLimit(r)             ? "a single limit has no statement"
                                        : "it names no feature";
  return {};
}

} // namespace alder::dmis
