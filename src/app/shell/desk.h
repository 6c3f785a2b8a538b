// The five desks: they change what the stage shows and which actions are offered, not where things
// are.
#pragma once

#include <QString>
#include <array>

namespace alder::app {

enum class Desk { Part, Bench, Routine, Rehearsal, Verdict };
inline constexpr std::array<const char*, 5> kDeskNames{"Part", "Bench", "Routine", "Rehearsal",
                                                       "Verdict"};

} // namespace alder::app
