#include "requirement/plane_indicator.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

struct Words {
  PlaneRelation relation;
  std::string_view word, symbol;
};
constexpr std::array kRelations{Words{PlaneRelation::Parallel, "parallel", "//"},
                                Words{PlaneRelation::Perpendicular, "perpendicular", "⟂"},
                                Words{PlaneRelation::Including, "including", "="}};

const Words& wordsOf(PlaneRelation relation) {
  return *std::find_if(kRelations.begin(), kRelations.end(),
                       [&](const Words& w) { return w.relation == relation; });
}

constexpr double kAskew = 0.0872; // sine of 5 degrees
constexpr double kLost = 0.1;     // what is left of a direction that says no more where it goes

} // namespace

std::string text(const std::optional<PlaneIndicator>& indicator) {
  if (!indicator) return "";
  return std::string(wordsOf(indicator->relation).word) + " " + indicator->datum;
}

Result<std::optional<PlaneIndicator>> planeIndicatorFrom(std::string_view text) {
  if (text.empty()) return std::nullopt;
  const auto space = text.find(' ');
  for (const Words& w : kRelations)
    if (space != std::string_view::npos && text.substr(0, space) == w.word &&
        space + 1 < text.size())
      return PlaneIndicator{w.relation, std::string(text.substr(space + 1))};
  return fail("\"{}\" is no plane; write \"parallel\", \"perpendicular\" or \"including\" and the "
              "letter of a datum.",
              text);
}

std::string symbol(const PlaneIndicator& indicator) {
  return std::string(wordsOf(indicator.relation).symbol) + " " + indicator.datum;
}

Result<IndicatedPlanes> planesOf(const Specification& spec, const PlaneIndicator& indicator) {
  const Datum* datum = spec.datum(indicator.datum);
  if (!datum || datum->features.empty())
    return fail("the plane indicator names datum {}, which has no feature", indicator.datum);
  const Ideal& ideal = spec.feature(datum->features.front()).ideal;
  const bool plane = ideal.type == SurfaceType::Plane || ideal.type == SurfaceType::Slot;
  const bool axis = ideal.type == SurfaceType::Cylinder || ideal.type == SurfaceType::Cone;
  if (!plane && !axis)
    return fail("the plane indicator names datum {}, which has no direction", indicator.datum);
  if (plane && indicator.relation == PlaneRelation::Including)
    return fail("the plane indicator includes datum {}, which is no axis", indicator.datum);
  return IndicatedPlanes{ideal.direction,
                         indicator.relation ==
                             (plane ? PlaneRelation::Parallel : PlaneRelation::Perpendicular)};
}

std::optional<Vec3> zoneNormal(const IndicatedPlanes& planes, const Vec3& axis) {
  const Vec3& d = planes.direction;
  if (planes.square && std::abs(d.dot(axis)) > kAskew) return {};
  const Vec3 across = planes.square ? Vec3(d - d.dot(axis) * axis) : Vec3(axis.cross(d));
  if (across.norm() < kLost) return {};
  return across.normalized();
}

bool holdLine(const IndicatedPlanes& planes, const Vec3& line, const Vec3& normal) {
  if (planes.square) return std::abs(line.dot(planes.direction)) < kAskew;
  const Vec3 within = planes.direction - planes.direction.dot(normal) * normal;
  return within.norm() < kLost || line.cross(within.normalized()).norm() < kAskew;
}

bool holdSection(const IndicatedPlanes& planes, const Vec3& section_normal) {
  return planes.square ? section_normal.cross(planes.direction).norm() < kAskew
                       : std::abs(section_normal.dot(planes.direction)) < kAskew;
}

namespace {

struct Planes { // of the fields
  std::vector<NamedIndicator> all;
  void operator()(const char* key, const std::optional<PlaneIndicator>& v) {
    if (!v) return;
    const bool orientation = std::string_view(key) == "zone_plane";
    all.push_back({key, orientation ? "orientation plane" : "intersection plane", orientation, *v});
  }
  void operator()(const char*, const auto&) {}
  void notNegative(const char*, const auto&) {}
  void uncertainty(const char*, const auto&, Characteristic) {}
};

} // namespace

std::vector<NamedIndicator> planeIndicators(const Requirement& r) {
  Planes planes;
  Requirement::judging(r, planes);
  return std::move(planes.all);
}

Requirement withoutIndicators(Requirement r) {
  r.zone_plane.reset();
  r.section_plane.reset();
  return r;
}

Requirement withIndicatedDatums(const Requirement& r) {
  Requirement out = r;
  for (const NamedIndicator& named : planeIndicators(r)) {
    const std::string& letter = named.planes.datum;
    const bool there =
        std::any_of(out.datums.begin(), out.datums.end(), [&](const DatumReference& d) {
          return std::find(d.letters.begin(), d.letters.end(), letter) != d.letters.end();
        });
    if (there) continue;
    DatumReference turn;
    turn.letters = {letter};
    turn.may_fix = "uvw";
    out.datums.push_back(std::move(turn));
  }
  return out;
}

std::vector<FeatureId> datumFeatures(const Specification& spec, const Requirement& requirement) {
  std::vector<FeatureId> features;
  for (const DatumReference& d : withIndicatedDatums(requirement).datums)
    for (const auto& letter : d.letters)
      if (const Datum* datum = spec.datum(letter))
        features.insert(features.end(), datum->features.begin(), datum->features.end());
  return features;
}

} // namespace alder
