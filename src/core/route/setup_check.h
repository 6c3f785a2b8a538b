// Is the bench as it is set up possible at all? Found at once, before any way is sought.
#pragma once

#include "plan/plan.h"
#include <string>
#include <vector>

namespace alder {

struct SetupFinding {
  bool clash = false; // else a doubt
  std::string body;   // which it concerns: the part, a fixture body, a stylus
  std::string text;   // one sentence
};

// Part and fixture in each other, in the table, in what stands on the bench, or beyond the
// machine's travel; bodies that are not closed; styli that the probe cannot carry. Faces that rest
// on each other are no clash: bodies may reach into each other by `kRestSlack`.
std::vector<SetupFinding> checkSetup(const Plan& plan);
inline constexpr double kRestSlack = 0.1; // mm; meshes lie up to 0.02 mm off the true surface

} // namespace alder
