// A way of the ball between two places where nothing simple is free: two trees of places grow
// towards each other (RRT-Connect: Kuffner and LaValle 2000), each edge proved as a whole; what is
// found is shortened. Our own, since the random numbers must be the same each time, also when many
// ways are sought side by side.
#pragma once

#include "route/clearance.h"
#include <cstdint>

namespace alder {

struct DetourSettings {
  double margin = 0.25; // mm
  double stride = 25;   // longest new edge, mm
  int most = 2500;      // places tried
  std::uint64_t seed = 1;
};

// Places between `from` and `to`, neither included; all inside `within` and the machine's travel.
// Nothing when none was found, which is no proof that there is none.
std::optional<std::vector<Vec3>> detour(const Clearance& clearance, const Tool& tool,
                                        const Vec3& from, const Vec3& to, const Box3& within,
                                        const DetourSettings& settings = {});

} // namespace alder
