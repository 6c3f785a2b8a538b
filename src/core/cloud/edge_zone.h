// The strips along the edges of faces, in which a scanner sees what is no surface: points there are
// left out. CAD frame, mm.
#pragma once

#include "part/model.h"
#include <unordered_map>

namespace alder {

class EdgeZone {
 public:
  // `width` on either side of an edge; of a narrow face no more than a share of it, so that
  // something is left. Edges between faces of one surface are none.
  EdgeZone(const PartModel& part, double width);

  // Does a place on this face lie in the strip?
  bool holds(FaceId face, const Vec3& place) const;
  double widthOf(FaceId face) const { return widths_[static_cast<std::size_t>(face.value)]; }

 private:
  struct Piece {
    int surface;
    Segment segment;
  };
  using Cell = std::array<int, 3>;
  Cell cellOf(const Vec3& p) const;
  static std::uint64_t key(const Cell& cell);
  void insert(int surface, const Segment& segment, double width);

  double cell_ = 1;
  std::vector<double> widths_; // by face
  std::vector<int> surfaces_;  // by face
  std::unordered_map<std::uint64_t, std::vector<Piece>> cells_;
};

} // namespace alder
