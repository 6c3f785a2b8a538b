// Views of the part that a person keeps in the routine: how it is looked at, where it is cut, and
// which requirements are called out in it. Stage and reports show them.
#pragma once

#include "geometry/cut_plane.h"
#include "requirement/specification.h"

namespace alder {

struct KeptCallout {
  RequirementId requirement;
  // Where a person put its label: its middle from the middle of the view, mm of the part, to the
  // right and up. None: it is laid out.
  std::optional<Vec2> label;
  friend bool operator==(const KeptCallout&, const KeptCallout&) = default;
};

// CAD frame, mm. All that is `width` and `height` about the centre is in the picture.
struct KeptView {
  std::string name;
  Vec3 centre = Vec3::Zero(), towards = Vec3::UnitZ(), up = Vec3::UnitY(); // towards the eye
  double width = 100, height = 100;
  std::optional<CutPlane> section; // what lies between it and the eye is left out
  std::vector<KeptCallout> callouts;
  KeptCallout* find(RequirementId requirement);
  const KeptCallout* find(RequirementId requirement) const;
  friend bool operator==(const KeptView&, const KeptView&) = default;
};

// Named, once each; sizes above nothing; directions that stand square or can be made so; the normal
// of a section a unit; each requirement called out once.
Done validate(const std::vector<KeptView>& views);

// Null: there is none of that name.
const KeptView* viewNamed(const std::vector<KeptView>& views, std::string_view name);
// The first that calls the requirement out; null: none does.
const KeptView* viewWith(const std::vector<KeptView>& views, RequirementId requirement);
// "View 3", that is not taken.
std::string freeViewName(const std::vector<KeptView>& views, const std::string& wanted);

} // namespace alder
