// Balloon numbers. Formulas name requirements by them and are written anew with other numbers.
#pragma once

#include "plan/plan.h"

namespace alder {

enum class Numbering {
  AsMeasured, // in the order in which the last of its features is touched
  OnDrawing,  // page by page, clockwise from the left about the middle of its balloons
};

// Anew, from 1 without gaps. What has no place in that order keeps its order behind the others.
Specification numbered(const Plan& plan, Numbering by);

// In the order of their numbers.
std::vector<RequirementId> inOrder(const Specification& spec);
// Those named stand before `before` in the order, or last of all where it is not valid; the numbers
// that were there are given anew along the order, so that gaps stay.
Specification movedBefore(const Specification& spec, const std::vector<RequirementId>& moved,
                          RequirementId before);
// One place up or down (-1, 1), as far as there is room.
Specification shifted(const Specification& spec, const std::vector<RequirementId>& moved, int by);

} // namespace alder
