// What becomes of tips and their qualification when another bench comes under a routine.
#pragma once

#include "plan/edit.h"

namespace alder {

// Features keep their tips by name, at the nearest angles that the new head can take; one that was
// renamed in its place is the same. What is known of tips stays for those that are as before, as
// long as the reference sphere is.
SetBench::Following followingOf(const Plan& plan, const Bench& now);

} // namespace alder
