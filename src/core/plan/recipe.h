// How a kind of feature is touched, depending on its size and its tightest tolerance. Lengths mm,
// angles radians.
#pragma once

#include "requirement/specification.h"
#include <string>

namespace alder {

struct Recipe {
  std::string name;
  int rows = 2;    // rings of round shapes, rows of a freeform grid; planes and slots ignore it
  int per_row = 4; // touches of a ring or row; all touches of a plane, of each side of a slot
  double start_angle = 0;
  double first_depth = 0; // of the first ring from the start of the surface, 0: as near as allowed
  double last_depth = 0;  // of the last ring, 0: as deep as allowed
  double edge_margin = 0.5; // between the ball and an edge, beside the ball radius
  double approach = 2;      // clear distance between ball and surface before and after a touch
  friend bool operator==(const Recipe&, const Recipe&) = default;
};

Recipe recipeFor(const NominalFeature& feature, const Specification& spec);
// Touches that the recipe asks for.
int touchCount(const Recipe& recipe, SurfaceType type);
// Fewest touches with which the feature can be judged.
int leastTouches(SurfaceType type);

} // namespace alder
