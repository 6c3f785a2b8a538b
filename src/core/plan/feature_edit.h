// Features taken into the routine and out of it.
#pragma once

#include "plan/edit.h"

namespace alder {

// Each returns what takes it back; the plan is unchanged on error. See plan/edit.h.
Result<RemoveFeature> addFeature(Plan& plan, const AddFeature& edit);
Result<AddFeature> removeFeature(Plan& plan, const RemoveFeature& edit);

} // namespace alder
