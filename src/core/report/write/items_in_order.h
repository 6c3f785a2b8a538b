// A layout as a run of items, for forms that have no pages: tables of a workbook, a web page.
#pragma once

#include "report/layout/layout.h"
#include "report/report_model.h"

namespace alder {

struct OrderedItem {
  const LayoutItem* item = nullptr;
  const ReportRow* row = nullptr; // of the page, where it repeats for each requirement
};
// Of one page of the layout from the top down, feet left out; for each requirement of it anew.
std::vector<OrderedItem> itemsInOrder(const LayoutPage& page, const ReportModel& model);

} // namespace alder
