// What an item of a layout holds, set to its width: rows that go on pages one below the other.
#pragma once

#include "report/layout/layout.h"
#include "report/part_view.h"
#include "report/report_marks.h"
#include "report/report_model.h"

namespace alder {

// Marks count from the upper left corner of the row.
struct ContentRow {
  double height = 0; // mm
  std::vector<Mark> marks;
  bool with_next = false; // not the last one on a page
};

struct Content {
  std::vector<ContentRow> head; // again on each page that it goes on to
  std::vector<ContentRow> rows;
  bool table = false;
  bool data =
      true; // filled from the report, not laid out by hand: a page of empty data is left out
  bool empty() const { return rows.empty(); }
};

struct ComposeContext {
  const ReportModel& model;
  const Plan& plan;
  const TextSetter& setter;
  ViewFinder& views;
  const ReportRow* row = nullptr; // of the page, where it repeats for each requirement
  std::vector<std::string>& told; // what has no room, or no sign in any font
};

Content contentOf(const LayoutItem& item, ComposeContext& context);

// The parts of it, by kind.
Content tableContent(const TableItem& item, double width, ComposeContext& context);
Content viewContent(const ViewItem& item, const Area& area, ComposeContext& context);
Content detailContent(const DetailItem& item, double width, ComposeContext& context);
Content formContent(const FormItem& item, double width, ComposeContext& context);
Content historyContent(const HistoryItem& item, const Area& area, ComposeContext& context);
// What the process comes to for a requirement, over the parts of the report; figures as shown.
struct CapabilityLine {
  const ReportRow* row = nullptr;
  std::size_t parts = 0, outside = 0;
  ReportFigure mean, spread, lowest, highest;
  std::optional<double> cp, cpk, pp, ppk;
};
std::vector<CapabilityLine> capabilityLines(const CapabilityItem& item, const ReportModel& model,
                                            const Plan& plan);
std::vector<std::string> linesOfList(Listed what, const ReportModel& model);
Content capabilityContent(const CapabilityItem& item, double width, ComposeContext& context);

// Rows of a table with these columns; the widths are found from what the cells hold.
struct TableCell {
  std::string text;
  TextStyle style;
  std::vector<Mark> drawn; // instead of text, from the upper left corner of the cell
  double drawn_width = 0, drawn_height = 0;
};
struct TableColumn {
  std::string title;
  bool wraps = false; // gets what the others leave, in proportion to what it would like
};
struct TableRow {
  std::vector<TableCell> cells;
  std::string heading; // of a group, across all columns
};
// The callout of a requirement, drawn where the room is wide enough for it, else as text.
TableCell calloutCell(const ReportRow& row, double room, const TextStyle& text,
                      const ComposeContext& context);
Content tableOf(const std::vector<TableColumn>& columns, const std::vector<TableRow>& rows,
                double width, const TextSetter& setter);

// The row that an item speaks of: by its number, or the page's.
const ReportRow* rowFor(int number, const ComposeContext& context);

// Marks moved on the page.
std::vector<Mark> moved(std::vector<Mark> marks, const Vec2& by);

// A paragraph as rows; long ones in several, so that they can go on on another page.
std::vector<ContentRow> paragraph(const std::string& text, const TextStyle& style, double left,
                                  double width, const TextSetter& setter,
                                  Role role = Role::Paragraph);

TextStyle styleOf(TextLook look, Align align = Align::Left);

} // namespace alder
