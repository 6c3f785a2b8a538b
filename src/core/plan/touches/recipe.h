// How a kind of feature is touched, depending on its size and its tightest tolerance. Lengths mm,
// angles radians.
#pragma once

#include "base/error.h"
#include "base/units.h"
#include "requirement/specification.h"
#include <string>
#include <vector>

namespace alder {

// Touch by touch, or the ball kept on the surface from point to point of a row: rings of cylinders
// and cones, one helix through all rings, or lines over planes. A contour leads over any surface
// from a place to another, in the plane through both that stands on the surface; or, along an edge,
// stays so far below it. All else goes touch by touch.
enum class Stroke { Touches, Rows, Helix, Contour, Edge };
std::string_view name(Stroke stroke); // "touches", "rows", "helix", "contour", "edge"
constexpr bool isContour(Stroke stroke) {
  return stroke == Stroke::Contour || stroke == Stroke::Edge;
}

// Of a contour, CAD frame. Along an edge the scan runs from beside `from` to beside `to`, the short
// way round or the other; the whole edge where both are the same place.
struct ContourEnds {
  Vec3 from = Vec3::Zero(), to = Vec3::Zero();
  double below = 1; // the edge, to the ball's contact
  bool long_way = false;
  friend bool operator==(const ContourEnds&, const ContourEnds&) = default;
};

struct Recipe {
  std::string name;
  int rows = 2;    // rings of round shapes, rows of a freeform grid; planes and slots ignore it
  int per_row = 4; // touches of a ring or row; all touches of a plane, of each side of a slot
  double start_angle = 0;
  double first_depth = 0; // of the first ring from the start of the surface, 0: as near as allowed
  double last_depth = 0;  // of the last ring, 0: as deep as allowed
  double edge_margin = 0.5;  // between the ball and an edge, beside the ball radius
  double approach = 2;       // clear distance between ball and surface before and after a touch
  double retract = 0;        // after a touch, 0: as the approach
  double search = 2;         // how far beyond the nominal surface it is sought
  double speed = 0;          // of a touch or along a scan, mm/s; 0: the machine's
  double coverage = 2 * kPi; // of a ring, from the start angle on
  bool from_end = false;     // depths count from the far end of the axis
  bool clockwise = false;    // rings run clockwise, seen against the axis
  Stroke stroke = Stroke::Touches;
  double pitch = 1; // between the points of a scan
  ContourEnds contour;
  friend bool operator==(const Recipe&, const Recipe&) = default;
};

Recipe recipeFor(const NominalFeature& feature, const Specification& spec);
// Smallest tolerance on a feature; very large where there is none.
double tightestTolerance(FeatureId feature, const Specification& spec);
Done validate(const Recipe& recipe);
// What differs, by the words of the card: "rows", "edge margin".
std::vector<std::string> differences(const Recipe& a, const Recipe& b);
// Touches that the recipe asks for.
int touchCount(const Recipe& recipe, SurfaceType type);
// Fewest touches with which the feature can be judged.
int leastTouches(SurfaceType type);

} // namespace alder
