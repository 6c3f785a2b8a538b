// Set-ups changed, added, removed, or another one worked on.
#pragma once

#include "plan/edit.h"

namespace alder {

// Returns what takes it back; the plan is unchanged on error. See plan/edit.h.
Result<SetSetups> setSetups(Plan& plan, const SetSetups& edit);

} // namespace alder
