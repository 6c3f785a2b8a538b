#include "plan/kept_layout.h"

#include <set>

namespace alder {

Done validate(const std::vector<KeptLayout>& layouts) {
  std::set<std::string> names;
  for (const KeptLayout& layout : layouts) {
    if (layout.name.find_first_not_of(' ') == std::string::npos)
      return fail("A report layout needs a name.");
    if (layout.text.empty()) return fail("{}: the report layout is empty.", layout.name);
    if (!names.insert(layout.name).second)
      return fail("There is a report layout {} already; give this one another name.", layout.name);
  }
  return {};
}

} // namespace alder
