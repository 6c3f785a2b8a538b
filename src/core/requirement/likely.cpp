#include "requirement/likely.h"

#include "base/units.h"

namespace alder {
namespace {

constexpr double kTolerance = 0.1; // to begin with; a person puts the drawing's in its place

Zone zoneOf(const Ideal& i) {
  return i.type == SurfaceType::Sphere                            ? Zone::Spherical
         : i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone ? Zone::Diametral
                                                                          : Zone::Planar;
}

LikelyRequirement indicator(Characteristic kind, const char* words) {
  Requirement r;
  r.kind = kind;
  r.tolerance = r.upper = kTolerance;
  return {fmt::format("{} {}", words, shortFigure(kTolerance)), r};
}

LikelyRequirement sizeOf(const Ideal& i) {
  Requirement r;
  r.kind = Characteristic::Size;
  r.zone = zoneOf(i);
  r.nominal = i.diameter;
  r.lower = i.diameter - kTolerance, r.upper = i.diameter + kTolerance;
  r.tolerance = 2 * kTolerance;
  const bool width = i.type == SurfaceType::Slot;
  return {fmt::format("{}{} ±{}", width ? "Width " : "Size ø", shortFigure(i.diameter),
                      shortFigure(kTolerance)),
          r};
}

} // namespace

std::vector<LikelyRequirement> likelyRequirements(const Ideal& ideal,
                                                  const std::vector<Datum>& datums) {
  std::vector<LikelyRequirement> all;
  const SurfaceType type = ideal.type;
  const bool odd = type == SurfaceType::Freeform || type == SurfaceType::Torus;
  if (ideal.diameter > 0 && type != SurfaceType::Cone && !odd) all.push_back(sizeOf(ideal));
  if (type == SurfaceType::Plane) all.push_back(indicator(Characteristic::Flatness, "Flatness"));
  if (type == SurfaceType::Cylinder)
    all.push_back(indicator(Characteristic::Cylindricity, "Cylindricity"));
  if (type == SurfaceType::Cone) all.push_back(indicator(Characteristic::Roundness, "Roundness"));
  if (!odd && !datums.empty()) {
    all.push_back(indicator(Characteristic::Position, "Position"));
    all.back().words += ", in all datums";
    all.back().requirement.zone = zoneOf(ideal);
    for (const Datum& d : datums)
      all.back().requirement.datums.push_back({{d.letter}});
  }
  all.push_back(indicator(Characteristic::SurfaceProfile, "Surface profile"));
  return all;
}

std::string freeDatumLetter(const Specification& spec) {
  for (const char c : std::string_view("ABCDEFGHJKLMNPRSTUVWXYZ"))
    if (!spec.datum(std::string(1, c))) return std::string(1, c);
  return "AA";
}

} // namespace alder
