// How the part is looked at in a picture of a report.
#pragma once

#include "plan/plan.h"
#include "report/picture.h"

namespace alder {

struct PartView {
  Vec3 toward = Vec3(0.55, -0.95, 0.85); // from the part to the eye, CAD frame
  Vec3 up = Vec3::UnitZ();               // in the picture
  std::optional<PictureWindow> window;   // none: the whole part
  std::optional<CutPlane> section;       // what lies between it and the eye is left out
};

// The whole part as it stands on the machine.
PartView wholeView(const Plan& plan);

// A view that the routine keeps, in a picture of these proportions.
PartView viewOf(const KeptView& kept, double width, double height);

// Finds for each requirement the side from which most of its touches are seen.
class ViewFinder {
 public:
  explicit ViewFinder(const Plan& plan);
  PartView viewOf(const Requirement& requirement);

 private:
  struct Side {
    PartView view;
    std::unique_ptr<PartPicture> picture; // small, made when first needed
  };
  const Plan& plan_;
  std::vector<Side> sides_;
};

// Where a requirement is pointed at: a touch of its features that is seen, of `first` before
// others, else the middle of a face, which may be hidden. Nothing where it has no features.
struct Anchor {
  Vec3 place = Vec3::Zero();
  bool seen = false;
};
std::optional<Anchor> anchorOf(const Plan& plan, const Requirement& requirement,
                               const PartPicture& picture, FeatureId first = {});

} // namespace alder
