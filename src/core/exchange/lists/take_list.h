// A list of requirements taken into a routine.
#pragma once

#include "drawing/open_requirement.h"
#include "exchange/lists/requirement_list.h"

namespace alder {

struct TakenList {
  Specification spec; // with new features behind those that were there
  std::vector<RequirementId> taken;
  std::size_t tied = 0;           // to the one place that fits; the others wait for features
  std::vector<std::string> notes; // a line each: what was not understood, or contradicts the part
};

// Balloons are the numbers of the list where these are whole, free and not given twice; else they
// go on behind the last. What asks the same of the same features as a requirement that is there
// already is left out, and told.
TakenList takeList(const PartModel& part, const Specification& spec, const RequirementList& list,
                   const std::string& label);

} // namespace alder
