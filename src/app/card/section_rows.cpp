// The section through the part: which way, and where.
#include "card/card.h"
#include "card/words.h"

namespace alder::app {

// Where one is shown, and where it is likely to be wanted: of the whole part, and beside the ruler.
void Card::sectionRows() {
  const auto& section = document_.section();
  const auto& selection = document_.selection();
  const bool features = !selection.features.empty() || !selection.faces.empty();
  const bool wanted = desk_ == Desk::Part      ? !selection.requirement
                      : desk_ == Desk::Verdict ? true
                                               : !features && !selection.requirement;
  if (!section && !wanted) return;
  head("Section");
  QStringList ways{"none",     "across X",           "across Y",
                   "across Z", "across the feature", "along the feature"};
  int now = section && section->way ? 1 + static_cast<int>(*section->way) : 0;
  if (section && !section->way) ways << "as in the view", now = 6;
  choice("section", "section", ways, now, [this](int which) {
    if (which > 5) return;
    document_.setSection(which > 0 ? std::optional(static_cast<SectionWay>(which - 1))
                                   : std::nullopt);
  });
  if (section)
    quantity("at", "sectionAt", Quantity::Length, 3, section->plane.at,
             [this](double at) { document_.sectionAt(at); });
}

} // namespace alder::app
