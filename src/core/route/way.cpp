#include "route/way.h"

#include <array>

namespace alder {

std::string_view name(MoveKind kind) {
  static constexpr std::array<std::string_view, 8> kNames{"hop",  "approach", "touch",  "retract",
                                                          "turn", "swap",     "manual", "qualify"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::string_view name(StepKind kind) {
  static constexpr std::array<std::string_view, 17> kNames{
      "by hand", "use frame", "hop",      "turn",   "swap",  "measure",
      "qualify", "go to",     "wait",     "ask",    "note",  "group",
      "repeat",  "construct", "evaluate", "branch", "output"};
  return kNames[static_cast<std::size_t>(kind)];
}

} // namespace alder
