#include "report/layout/pick.h"

#include "base/units.h"
#include <algorithm>
#include <array>

namespace alder {
namespace {

constexpr std::array<std::string_view, 8> kGroups{
    "Sizes",   "Distances and angles", "Values",  "Form",
    "Profile", "Orientation",          "Run-out", "Location"};

// The worst first.
int badness(Verdict v) {
  return v == Verdict::Outside      ? 0
         : v == Verdict::NotProved  ? 1
         : v == Verdict::Unmeasured ? 2
         : v == Verdict::Near       ? 3
                                    : 4;
}

} // namespace

Done validate(const RequirementFilter& filter) {
  if (auto numbers = numbersFrom(filter.numbers); !numbers) return pass(numbers.error());
  for (const std::string& group : commaWords(filter.groups))
    if (std::find(kGroups.begin(), kGroups.end(), group) == kGroups.end())
      return fail("there is no group \"{}\" of requirements (Sizes, Distances and angles, Values, "
                  "Form, Profile, Orientation, Run-out, Location)",
                  group);
  return {};
}

bool passes(const ReportRow& row, const RequirementFilter& filter) {
  if (!filter.verdicts.empty() && !filter.verdicts.contains(row.verdict)) return false;
  if (filter.key_only && row.key.empty()) return false;
  if (!filter.groups.empty()) {
    const auto groups = commaWords(filter.groups);
    if (std::find(groups.begin(), groups.end(), row.group) == groups.end()) return false;
  }
  if (filter.numbers.empty()) return true;
  const auto numbers = numbersFrom(filter.numbers);
  return numbers && std::any_of(numbers->begin(), numbers->end(), [&](const auto& range) {
           return row.balloon >= range.first && row.balloon <= range.second;
         });
}

std::vector<const ReportRow*> picked(const ReportModel& model, const RequirementFilter& filter,
                                     OrderBy order) {
  std::vector<const ReportRow*> rows;
  for (const ReportRow& row : model.rows)
    if (passes(row, filter)) rows.push_back(&row);
  std::stable_sort(rows.begin(), rows.end(),
                   [](auto* a, auto* b) { return a->balloon < b->balloon; });
  if (order == OrderBy::Worst)
    std::stable_sort(rows.begin(), rows.end(), [](auto* a, auto* b) {
      return std::pair(badness(a->verdict), -a->share.value_or(0)) <
             std::pair(badness(b->verdict), -b->share.value_or(0));
    });
  if (order == OrderBy::Feature)
    std::stable_sort(rows.begin(), rows.end(),
                     [](auto* a, auto* b) { return a->features < b->features; });
  return rows;
}

std::vector<RowGroup> grouped(const std::vector<const ReportRow*>& rows, GroupBy by) {
  if (by == GroupBy::Nothing) return {{"", rows}};
  std::vector<RowGroup> groups;
  for (const ReportRow* row : rows) {
    std::string heading = by == GroupBy::Kind      ? row->group
                          : by == GroupBy::Verdict ? std::string(words(row->verdict))
                          : by == GroupBy::Feature ? row->features
                                                   : row->zone;
    if (heading.empty())
      heading = by == GroupBy::SheetZone ? "Without a zone" : "Without a feature";
    if (by == GroupBy::Verdict && !heading.empty())
      heading[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(heading[0])));
    const auto found = std::find_if(groups.begin(), groups.end(),
                                    [&](const RowGroup& g) { return g.heading == heading; });
    if (found == groups.end())
      groups.push_back({heading, {row}});
    else
      found->rows.push_back(row);
  }
  if (by == GroupBy::Verdict)
    std::stable_sort(groups.begin(), groups.end(), [](const RowGroup& a, const RowGroup& b) {
      return badness(a.rows.front()->verdict) < badness(b.rows.front()->verdict);
    });
  return groups;
}

std::vector<TableLine> linesOf(const TableItem& table, const ReportModel& model) {
  std::vector<TableLine> lines;
  for (const RowGroup& group : grouped(picked(model, table.filter, table.order), table.group)) {
    if (group.rows.empty()) continue;
    if (!group.heading.empty()) lines.push_back({group.heading, nullptr, false});
    for (const ReportRow* row : group.rows) {
      lines.push_back({"", row, false});
      if (table.members)
        for (const ReportRow& member : row->members)
          lines.push_back({"", &member, true});
    }
  }
  return lines;
}

const ReportFigure* figureIn(const ReportRow& row, Column column) {
  switch (column) {
  case Column::Nominal:
    return &row.nominal;
  case Column::Lower:
    return &row.lower;
  case Column::Upper:
    return &row.upper;
  case Column::Actual:
    return &row.actual;
  case Column::Deviation:
    return &row.deviation;
  default:
    return nullptr;
  }
}

std::string textOf(const ReportRow& row, Column column, bool member) {
  if (const ReportFigure* figure = figureIn(row, column)) return figure->text;
  switch (column) {
  case Column::Number:
    return row.number;
  case Column::Requirement:
    return member ? "" : row.text;
  case Column::Feature:
    return row.features;
  case Column::SheetZone:
    return row.zone;
  case Column::Key:
    return row.key;
  case Column::Uncertainty:
    return row.uncertainty ? shortFigure(*row.uncertainty) : "";
  case Column::Share:
    return row.actual.empty() || !row.share ? "" : figure(100 * *row.share, 0) + " %";
  case Column::Verdict:
    return std::string(words(row.verdict));
  default:
    return {};
  }
}

} // namespace alder
