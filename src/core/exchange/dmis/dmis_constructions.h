// Constructed features of a program (ISO 22093 CONST) as those of a plan.
#pragma once

#include "exchange/dmis/dmis_statement.h"
#include "plan/plan.h"
#include <functional>

namespace alder::dmis {

// The feature that CONST/ constructs, of the features that its labels mean. One that the plan has
// already is that one. Error says why it is not constructed here, in words for a remark.
Result<FeatureId>
constructedBy(Plan& plan, const Statement& s, const std::string& name,
              const std::function<std::optional<FeatureId>(const std::string&)>& labelled);

} // namespace alder::dmis
