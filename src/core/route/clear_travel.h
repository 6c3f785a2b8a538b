// Ways outside the safe shell that meet nothing of the bench either: reference sphere, rack and
// parts of the machine stand outside of it. mm, machine frame.
#pragma once

#include "route/shell_travel.h"

namespace alder {

// As ShellTravel::travel. Where a move of that would meet something: up, across and down, as low as
// is free; with `search` also by a detour, which takes its time. Nothing where no such way is
// found.
std::optional<std::vector<Vec3>> clearTravel(const Clearance& clearance, const Tool& tool,
                                             const ShellTravel& travel, const Vec3& from,
                                             const Vec3& to, bool search);
// The same with a search; where none is found it is as it would be without the bench, and its
// rehearsal tells what it meets.
std::vector<Vec3> travelPastBench(const Clearance& clearance, const Tool& tool,
                                  const ShellTravel& travel, const Vec3& from, const Vec3& to);

} // namespace alder
