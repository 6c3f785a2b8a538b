#include "plan/article/first_article.h"

#include "base/number_list.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

struct ArticleWords {
  std::string_view name, words;
};
constexpr std::array<ArticleWords, kArticleFields> kWords{{
    {"identifier", "FAIR identifier"},
    {"drawing_number", "Drawing number"},
    {"drawing_revision", "Drawing revision level"},
    {"changes", "Additional changes"},
    {"process_reference", "Manufacturing process reference"},
    {"organization", "Organization name"},
    {"supplier_code", "Supplier code"},
    {"purchase_order", "Purchase order number"},
    {"reason", "Reason for full or partial FAI"},
    {"verified_by", "FAIR verified by"},
    {"verified_on", "Date verified"},
    {"reviewed_by", "FAIR reviewed and approved by"},
    {"reviewed_on", "Date reviewed"},
    {"customer_approval", "Customer approval"},
    {"customer_approved_on", "Date of customer approval"},
    {"comments", "Comments"},
}};

} // namespace

std::string_view name(ArticleField field) {
  return kWords[static_cast<std::size_t>(field)].name;
}

std::string_view words(ArticleField field) {
  return kWords[static_cast<std::size_t>(field)].words;
}

std::string_view name(ArticleScope scope) {
  return scope == ArticleScope::Full      ? "full"
         : scope == ArticleScope::Partial ? "partial"
                                          : "delta";
}

const ArticleCharacteristic* FirstArticle::find(RequirementId id) const {
  const auto found = std::find_if(characteristics.begin(), characteristics.end(),
                                  [&](const auto& c) { return c.requirement == id; });
  return found == characteristics.end() ? nullptr : &*found;
}

void FirstArticle::set(const ArticleCharacteristic& characteristic) {
  std::erase_if(characteristics,
                [&](const auto& c) { return c.requirement == characteristic.requirement; });
  if (characteristic.empty()) return;
  characteristics.push_back(characteristic);
  std::sort(characteristics.begin(), characteristics.end(),
            [](const auto& a, const auto& b) { return a.requirement < b.requirement; });
}

Done validate(const FirstArticle& article) {
  if (const auto numbers = numbersFrom(article.chosen); !numbers) return pass(numbers.error());
  std::set<RequirementId> seen;
  for (const ArticleCharacteristic& c : article.characteristics)
    if (!seen.insert(c.requirement).second)
      return fail("The first article says something of one characteristic twice.");
  return {};
}

} // namespace alder
