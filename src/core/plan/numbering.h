// Balloon numbers anew, from 1 without gaps.
#pragma once

#include "plan/plan.h"

namespace alder {

enum class Numbering {
  AsMeasured, // in the order in which the last of its features is touched
  OnDrawing,  // page by page, clockwise from the left about the middle of its balloons
};

// What has no place in that order keeps its order behind the others.
Specification numbered(const Plan& plan, Numbering by);

} // namespace alder
