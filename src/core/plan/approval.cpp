#include "plan/approval.h"

#include <algorithm>
#include <set>

namespace alder {

Done validate(const std::vector<Approval>& approvals) {
  std::set<std::string> parts;
  for (const Approval& a : approvals) {
    if (a.by.find_first_not_of(' ') == std::string::npos)
      return fail("An approval needs the name of who approves.");
    if (!parts.insert(a.part).second) return fail("{}: is approved twice.", a.part);
  }
  return {};
}

const Approval* approvalOf(const std::vector<Approval>& approvals, const std::string& part) {
  const auto found = std::find_if(approvals.begin(), approvals.end(),
                                  [&](const Approval& a) { return a.part == part; });
  return found == approvals.end() ? nullptr : &*found;
}

} // namespace alder
