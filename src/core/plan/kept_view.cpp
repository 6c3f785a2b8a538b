#include "plan/kept_view.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace alder {

KeptCallout* KeptView::find(RequirementId requirement) {
  return const_cast<KeptCallout*>(std::as_const(*this).find(requirement));
}

const KeptCallout* KeptView::find(RequirementId requirement) const {
  const auto found = std::find_if(callouts.begin(), callouts.end(), [&](const KeptCallout& c) {
    return c.requirement == requirement;
  });
  return found == callouts.end() ? nullptr : &*found;
}

Done validate(const std::vector<KeptView>& views) {
  std::set<std::string> names;
  for (const KeptView& v : views) {
    if (v.name.find_first_not_of(' ') == std::string::npos) return fail("A view needs a name.");
    if (!names.insert(v.name).second)
      return fail("There is a view {} already; give this one another name.", v.name);
    const bool sized = std::isfinite(v.width) && std::isfinite(v.height) && v.width > 0 &&
                       v.height > 0 && v.centre.allFinite();
    const bool directed = v.towards.allFinite() && v.up.allFinite() &&
                          v.towards.cross(v.up).norm() > 1e-6 * v.towards.norm() * v.up.norm();
    if (!sized || !directed) return fail("The view {} has no size or no direction.", v.name);
    if (v.section &&
        !(std::abs(v.section->normal.norm() - 1) < 1e-9 && std::isfinite(v.section->at)))
      return fail("The section plane of the view {} has no direction.", v.name);
    std::set<RequirementId> called;
    for (const KeptCallout& c : v.callouts)
      if (!called.insert(c.requirement).second)
        return fail("The view {} calls a requirement out twice.", v.name);
  }
  return {};
}

const KeptView* viewNamed(const std::vector<KeptView>& views, std::string_view name) {
  const auto found =
      std::find_if(views.begin(), views.end(), [&](const KeptView& v) { return v.name == name; });
  return found == views.end() ? nullptr : &*found;
}

const KeptView* viewWith(const std::vector<KeptView>& views, RequirementId requirement) {
  const auto found = std::find_if(views.begin(), views.end(), [&](const KeptView& v) {
    return v.find(requirement) != nullptr;
  });
  return found == views.end() ? nullptr : &*found;
}

std::string freeViewName(const std::vector<KeptView>& views, const std::string& wanted) {
  if (!wanted.empty() && !viewNamed(views, wanted)) return wanted;
  const std::string base = wanted.empty() ? "View" : wanted;
  for (int k = wanted.empty() ? 1 : 2;; ++k)
    if (std::string name = base + " " + std::to_string(k); !viewNamed(views, name)) return name;
}

} // namespace alder
