// Results joined to a routine by what the file says of itself: values by the identity of their
// characteristic, points by the identity of their feature, else by its name and place.
#pragma once

#include "exchange/results/result_file.h"
#include "exchange/routine/project.h"

namespace alder {

// Values get their requirement; points become the text of a run, and are judged. What is no feature
// of the routine is told in the file's remarks. Files without identities and points stay as they
// are.
void joinToRoutine(const Plan& plan, const KeptQif& kept, ResultFile& file);

} // namespace alder
