// How the part can stand on the table of a bench that names no place for it: which way up, on what,
// turned how, where. A standing here is a proposal; what of it is reached is found by planning.
#pragma once

#include "plan/plan.h"

namespace alder {

struct Standing {
  Vec3 up = Vec3::UnitZ(); // direction of the part that points up, CAD frame
  Frame placement = Frame::Identity();
  Supports supports;
  double held = 0;     // of the centre of mass within the polygon of the supports, mm
  double estimate = 0; // features that are open to the sides or upwards, guessed
};

// Those in which the part rests safely, the one first in which most features are open. None where
// there is no flat face that it can stand on.
std::vector<Standing> standingsOf(const PartModel& part, const Specification& spec,
                                  const Bench& bench);
// As the model has it, above the middle of the table, on nothing; where no standing was found.
Standing inTheAir(const PartModel& part, const Specification& spec, const Bench& bench);

// Places the part so, with the supports under it.
void stand(Plan& plan, const Standing& standing);

} // namespace alder
