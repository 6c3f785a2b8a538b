// Placing the part by setting faces and axes of it against seats of the fixture. Lengths mm.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include <string>
#include <vector>

namespace alder {

// A face against a face (normals opposed, one plane), or an axis on an axis (one line).
struct Mate {
  bool axis = false;
  Vec3 part_point, part_direction; // CAD frame of the part; of a face its outward normal
  Vec3 seat_point, seat_direction; // machine frame; of a face its outward normal
  std::string text;                // "Plane · 1 on rest 1, top"
};

// The placement that satisfies all of them by the least motion from `from` (Gauss-Newton over the
// six freedoms with the pseudo-inverse, so that what no mate asks for stays). The newest may turn
// the part over. Error when they contradict each other, with what is left.
Result<Frame> mated(const Frame& from, const std::vector<Mate>& mates);

} // namespace alder
