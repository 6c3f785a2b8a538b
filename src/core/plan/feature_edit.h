// Features taken into the routine and out of it.
#pragma once

#include "plan/edit.h"

namespace alder {

// Each returns what takes it back; the plan is unchanged on error. See plan/edit.h.
// A name that no other feature has: "Bore ø6 · 2" where there is one of that kind.
std::string freeFeatureName(const Specification& spec, std::string wanted);

Result<RemoveFeature> addFeature(Plan& plan, const AddFeature& edit);
Result<AddFeature> removeFeature(Plan& plan, const RemoveFeature& edit);

} // namespace alder
