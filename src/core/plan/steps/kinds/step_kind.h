// What each kind of step says of itself. A kind is a struct of its own in this folder, with
//   kTraits            as below
//   fields(self, f)    each of its fields, by name, given to f: what files hold, what it speaks of
//   words(plan, step)  "Measure Bore ø32"
//   validate(plan, step)
//   onCopy(on, step)   what a copy of a repeat does in its place; none where that is the same
// and stands in the variant in plan/steps/steps.h. A part that is missing does not compile. The way
// it takes is in route/router.cpp, its card in app/card/steps. See docs/adding.md.
//
// f is called with a name and a value: a string, flag, number (mm or seconds), integer, Vec3, id,
// list of ids, pattern or list of copies. f.needed(name, value) must be there in files, others are
// at their default where they are not; f.angle(name, value) holds radians; f.named(name, value,
// count) one of the first `count` values of an enumeration that has a name(), with a fourth
// argument that gives the value where a file says none.
#pragma once

#include "base/boxed.h"
#include "base/error.h"
#include "base/id.h"
#include "geometry/vec.h"
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

struct Plan;
struct OnCopy;

struct StepTraits {
  std::string_view kind;  // in files: "wait"
  std::string_view title; // for people: "Wait for the operator"
  // What may stand within it; "between touches": what says so of itself.
  enum class Holds { Nothing, BetweenTouches, All, AllButItsKind } holds = Holds::Nothing;
  bool between_touches = false; // may stand between the touches of a feature
  // Means the same in another routine, where it speaks of no feature and no requirement; a kind of
  // which only some do has a function inTemplates().
  bool in_templates = false;
  bool in_programs =
      false; // DMIS has a statement for it; else it goes as a comment that is read back
  bool with_next = false; // stays before what follows it when the order is made anew
  bool of_way = false; // moves the machine and no more: not done again when a run goes on elsewhere
};

} // namespace alder
