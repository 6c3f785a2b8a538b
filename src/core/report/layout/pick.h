// The rows of a report that an item asks for, in its order.
#pragma once

#include "base/number_list.h"
#include "report/layout/item.h"
#include "report/report_model.h"

namespace alder {

Done validate(const RequirementFilter& filter);

bool passes(const ReportRow& row, const RequirementFilter& filter);
std::vector<const ReportRow*> picked(const ReportModel& model, const RequirementFilter& filter,
                                     OrderBy order = OrderBy::Number);

// Rows of a table of requirements in the order in which it shows them.
struct TableLine {
  std::string heading; // of a group; then there is no row
  const ReportRow* row = nullptr;
  bool member = false; // a feature of the pattern above
};
std::vector<TableLine> linesOf(const TableItem& table, const ReportModel& model);
std::string textOf(const ReportRow& row, Column column, bool member);
// Of columns that hold figures.
const ReportFigure* figureIn(const ReportRow& row, Column column);

struct RowGroup {
  std::string heading; // empty: not grouped
  std::vector<const ReportRow*> rows;
};
// By heading in the order in which they come first; of verdicts the worst first.
std::vector<RowGroup> grouped(const std::vector<const ReportRow*>& rows, GroupBy by);

} // namespace alder
