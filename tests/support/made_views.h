// Callouts and saved views written by entity as ISO 10303-46 and -242 allow, in forms drawn by a
// seed, each with what it has to be read as.
#pragma once

#include "part/pmi/pmi.h"

namespace alder::test {

struct MadeCallout {
  EntityNumber of = 0;
  Vec3 middle = Vec3::Zero(); // mm
  double reach = 0;           // half of the text's diagonal
};

struct MadeView {
  std::string name;
  Vec3 towards, up, middle; // of the window, mm
  double width = 0, height = 0;
  std::optional<Vec3> eye;
  bool cut = false, about_its_place = false; // the window is written about its place, not from it
  std::optional<std::pair<Vec3, Vec3>> section; // a place on its one plane, mm, and the normal
  std::vector<EntityNumber> shows;
};

struct MadeViews {
  std::string records;
  std::vector<MadeCallout> callouts; // one for each requirement
  std::vector<MadeView> views;       // in the order in which they are read
};

struct ViewsWanted {
  std::uint64_t seed = 1;
  std::vector<EntityNumber> requirements;
  int first_id = 2000; // numbers of the records begin here
  int context = 900;   // of the representations
  double mm_per_unit = 1;
  Vec3 part = Vec3::Zero(); // middle of the part, mm; windows are laid about it
  bool simple = false;      // only forms that the CAD library knows
};
MadeViews madeViews(const ViewsWanted& wanted);

} // namespace alder::test
