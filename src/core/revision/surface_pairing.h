// Which surface of the newer model an older one became: the steps of compareModels, in order of how
// sure they are.
#pragma once

#include "revision/model_comparison.h"
#include <optional>
#include <set>

namespace alder {

// A recognised surface with what pairing looks at.
struct PairedSurface {
  Ideal ideal;
  double tube = 0; // smaller radius of a torus
  double area = 0;
  Box3 box;
  std::set<int> neighbours; // other surfaces that share an edge with it
  std::vector<FaceId> faces;
};
std::vector<PairedSurface> pairedSurfaces(const PartModel& part);

// The same surface however far it reaches; never of freeform ones.
bool sameUntrimmed(const PairedSurface& a, const PairedSurface& b);
// And as large, with edges in the same places.
bool sameExtent(const PairedSurface& a, const PairedSurface& b);

class SurfacePairs {
 public:
  SurfacePairs(const PartModel& before, const PartModel& now);
  ModelComparison compare();

 private:
  void pairUnchanged();
  void pairTrimmed();
  void pairResized();
  bool pairByNeighbours(bool other_size);
  void pairFreeform();
  void settleMoves();
  std::optional<Vec3> commonMove(const std::vector<int>& surfaces) const; // none: there is none
  bool unchangedFreeform(int b, int n) const;
  // Of the neighbours whose counterpart is known the share that lies next to the other too.
  double likeness(int b, int n) const;
  void pair(int b, int n, SurfaceFate fate, const Frame& move = Frame::Identity());
  bool open(int b) const { return result_.before[b].now.empty(); }

  const PartModel &before_part_, &now_part_;
  std::vector<PairedSurface> before_, now_;
  std::vector<std::vector<int>> of_now_; // the older ones that each newer one comes from
  std::vector<Vec3> own_moves_;          // by what each surface alone tells
  ModelComparison result_;
};

} // namespace alder
