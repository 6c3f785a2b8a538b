// Exchange of styli at the rack: in from the front, off, up, over with the bare probe, down, and
// out again, all at A0 B0.
#pragma once

#include "route/way.h"

namespace alder {

struct SwapMove {
  StepKind step = StepKind::Hop;
  std::string text; // of a step that begins with this move; else empty
  MoveKind kind = MoveKind::Hop;
  Access access; // what hangs at the head, or would
  Vec3 pivot = Vec3::Zero();
  bool bare = false;
};

// The head stands with its pivot at `pivot` and holds `held` at A0 B0; `height` is a height of the
// pivot at which nothing that hangs there meets anything. Ends beside the port at that height or
// above. Empty where the rack has no ports for both.
std::vector<SwapMove> swapAtRack(const Bench& bench, const Access& held, const Access& wanted,
                                 const Vec3& pivot, double height);

// The same tip with the head straight down.
Access straightDown(const Access& access);

} // namespace alder
