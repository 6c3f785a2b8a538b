// What the part stands on where the bench names no place for it: rests, or one pedestal, from the
// table up to where they bear the part. They follow the part when it is moved. Lengths mm.
#pragma once

#include "bench/bench.h"
#include "part/model.h"

namespace alder {

struct Support {
  Vec3 at = Vec3::Zero(); // middle of its top, CAD frame of the part
  double length = 10;     // along machine X; of a round one its diameter
  double width = 0;       // along machine Y; 0: it is round
  bool round() const { return width == 0; }
  friend bool operator==(const Support&, const Support&) = default;
};
using Supports = std::vector<Support>;

// Puts these supports under the part in place of those that stood there.
void standOn(Bench& bench, const Frame& placement, const Supports& supports);

// A block narrower than the part, up to its lowest point: what files of the first versions stand
// on.
Supports blockUnder(const PartModel& part, const Frame& placement);

// Sizes above 0.
Done validate(const Supports& supports);

} // namespace alder
