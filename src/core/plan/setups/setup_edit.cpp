#include "plan/setups/setup_edit.h"

#include "plan/references.h"
#include <algorithm>

namespace alder {

Result<SetSetups> setSetups(Plan& plan, const SetSetups& e) {
  if (auto valid = validate(e.setups); !valid) return pass(valid.error());
  const auto wanted = std::find_if(e.setups.begin(), e.setups.end(),
                                   [&](const Setup& s) { return s.id == e.setup; });
  if (wanted == e.setups.end()) return fail("There is no such set-up.");
  for (const Feature& f : plan.features)
    if (std::none_of(e.setups.begin(), e.setups.end(),
                     [&](const Setup& s) { return s.id == f.setup; }))
      return fail("{} is touched in a set-up that would be gone.", plan.nominal(f.id).name);
  SetSetups back{setupsOf(plan), plan.setup};
  Plan changed = plan;
  changed.setups = e.setups;
  if (isAlone(e.setups)) changed.setups.clear();
  if (auto done = workOn(changed, *wanted); !done) return pass(done.error());
  if (auto there = allThere(changed); !there) return pass(there.error());
  plan = std::move(changed);
  return back;
}

} // namespace alder
