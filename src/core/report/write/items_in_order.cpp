#include "report/write/items_in_order.h"

#include "report/layout/pick.h"
#include <algorithm>

namespace alder {

std::vector<OrderedItem> itemsInOrder(const LayoutPage& page, const ReportModel& model) {
  std::vector<const LayoutItem*> items;
  for (const LayoutItem& item : page.items)
    if (!item.every_page) items.push_back(&item);
  std::stable_sort(items.begin(), items.end(), [](const LayoutItem* a, const LayoutItem* b) {
    return std::pair(a->area.y, a->area.x) < std::pair(b->area.y, b->area.x);
  });
  std::vector<OrderedItem> all;
  if (page.repeats == Repeats::Once) {
    for (const LayoutItem* item : items)
      all.push_back({item, nullptr});
    return all;
  }
  for (const ReportRow* row : picked(model, page.filter))
    for (const LayoutItem* item : items)
      all.push_back({item, row});
  return all;
}

} // namespace alder
