// Orientation plane and intersection plane indicators (ISO 1101:2017, clauses 13 and 14): between
// which planes a flat zone of an axis lies, and in which planes lines of a surface are looked at.
#pragma once

#include "requirement/specification.h"

namespace alder {

// "parallel A", "perpendicular A", "including A"; empty text: none.
std::string text(const std::optional<PlaneIndicator>& indicator);
// Error: what is wrong with it, and how it is written.
Result<std::optional<PlaneIndicator>> planeIndicatorFrom(std::string_view text);
// As in an indicator: "// A", "⟂ A", "= A".
std::string symbol(const PlaneIndicator& indicator);

// The planes that are meant, by the nominal datum, in the CAD frame.
struct IndicatedPlanes {
  Vec3 direction = Vec3::UnitZ();
  bool square = false; // to `direction`, else they hold it
};
// Error where the datum is not there or such planes do not exist for it.
Result<IndicatedPlanes> planesOf(const Specification& spec, const PlaneIndicator& indicator);

// Square to the planes between which an axis of this direction lies; nothing where they cannot hold
// the axis.
std::optional<Vec3> zoneNormal(const IndicatedPlanes& planes, const Vec3& axis);
// Whether a line on a surface of this normal lies in such a plane, to 5 degrees.
bool holdLine(const IndicatedPlanes& planes, const Vec3& line, const Vec3& normal);
// Whether a section lies in such a plane: by its own normal.
bool holdSection(const IndicatedPlanes& planes, const Vec3& section_normal);

// Those of a requirement, by their names in files.
struct NamedIndicator {
  const char* field;
  const char* words;        // "orientation plane"
  bool orientation = false; // drawn with points at both ends; an intersection plane with one
  PlaneIndicator planes;
};
std::vector<NamedIndicator> planeIndicators(const Requirement& r);
// Without them.
Requirement withoutIndicators(Requirement r);
// With the datums that the indicators name beside those of the requirement itself: they hold its
// turn, not its place.
Requirement withIndicatedDatums(const Requirement& requirement);
// The features of all these datums, in order; one that several hold stands there as often.
std::vector<FeatureId> datumFeatures(const Specification& spec, const Requirement& requirement);

} // namespace alder
