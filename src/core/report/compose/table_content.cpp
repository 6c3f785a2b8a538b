#include "report/compose/content.h"

#include "base/units.h"
#include "report/layout/pick.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

using namespace inks;

constexpr double kPad = 1.1;      // mm at both sides of a cell
constexpr double kAbove = 0.9;    // and above and below its text
constexpr double kTallest = 60;   // of a row; a taller one is parted
constexpr double kLeastText = 16; // of a column that wraps
const TextStyle kHeadStyle{Typeface::Strong, 2.5, kSecond, Align::Left};
constexpr double kBar = 11, kBarHigh = 1.4;

double naturalWidth(const TableCell& cell, const TextSetter& setter) {
  if (!cell.drawn.empty()) return cell.drawn_width;
  return setter.width(cell.text, cell.style);
}

// Those that do not wrap as wide as their widest cell; the rest is shared.
std::vector<double> widthsOf(const std::vector<TableColumn>& columns,
                             const std::vector<TableRow>& rows, double width,
                             const TextSetter& setter) {
  const std::size_t n = columns.size();
  std::vector<double> likes(n, 0), least(n, 0);
  for (std::size_t c = 0; c < n; ++c) {
    TextStyle head = kHeadStyle;
    const double title = setter.width(columns[c].title, head);
    likes[c] = title;
    double drawn = 0; // cannot wrap
    std::string longest;
    for (const TableRow& row : rows) {
      if (c >= row.cells.size()) continue;
      const TableCell& cell = row.cells[c];
      if (!cell.drawn.empty())
        drawn = std::max(drawn, cell.drawn_width);
      else if (cell.text.size() > longest.size() || columns[c].wraps)
        likes[c] = std::max(likes[c], naturalWidth(cell, setter)), longest = cell.text;
    }
    likes[c] = std::max(likes[c], drawn) + 2 * kPad;
    least[c] =
        columns[c].wraps ? std::min(likes[c], std::max(kLeastText, drawn + 2 * kPad)) : likes[c];
  }
  const double fixed = std::accumulate(least.begin(), least.end(), 0.0);
  std::vector<double> widths = least;
  if (fixed > width) { // too many columns: all give way
    for (double& w : widths)
      w *= width / fixed;
    return widths;
  }
  double room = width - fixed, wanted = 0;
  for (std::size_t c = 0; c < n; ++c)
    wanted += likes[c] - least[c];
  const double share = wanted > room ? room / std::max(wanted, 1e-9) : 1;
  for (std::size_t c = 0; c < n; ++c)
    widths[c] += share * (likes[c] - least[c]);
  // What is left goes to those that wrap, or to all.
  room = width - std::accumulate(widths.begin(), widths.end(), 0.0);
  const auto wrapping = static_cast<double>(
      std::count_if(columns.begin(), columns.end(), [](const TableColumn& c) { return c.wraps; }));
  for (std::size_t c = 0; c < n; ++c)
    if (wrapping == 0 || columns[c].wraps)
      widths[c] += room / (wrapping == 0 ? static_cast<double>(n) : wrapping);
  return widths;
}

class TableSetting {
 public:
  TableSetting(std::vector<double> widths, double width, const TextSetter& setter)
      : widths_(std::move(widths))
      , width_(width)
      , setter_(setter) {}

  ContentRow head(const std::vector<TableColumn>& columns, const std::vector<TableRow>& rows) {
    TableRow titles;
    for (std::size_t c = 0; c < columns.size(); ++c) {
      TextStyle style = kHeadStyle;
      if (!rows.empty())
        for (const TableRow& row : rows)
          if (c < row.cells.size()) {
            style.align = row.cells[c].style.align;
            break;
          }
      titles.cells.push_back({columns[c].title, style, {}, 0, 0});
    }
    ContentRow row = whole(titles, Role::HeadCell);
    row.marks.push_back(LineMark{{{0, row.height}, {width_, row.height}}, 0.25, kInk, {}});
    row.height += 0.2;
    return row;
  }

  ContentRow heading(const std::string& words) const {
    const TextStyle style{Typeface::Strong, 3.0, kInk, Align::Left};
    const TextExtent e = setter_.measure(words, style, width_);
    ContentRow row;
    row.height = e.height + 2.6;
    row.marks = {OpenTag{Role::Row}, OpenTag{Role::HeadCell},
                 TextMark{{0, 1.8, width_, e.height}, words, style}, CloseTag{}, CloseTag{}};
    row.with_next = true;
    return row;
  }

  void add(const TableRow& row, std::vector<ContentRow>& out) {
    ContentRow one = whole(row, Role::Cell);
    if (one.height <= kTallest) {
      rule(one);
      return out.push_back(std::move(one));
    }
    // A cell with very much text: some lines of it at a time.
    constexpr std::size_t kLines = 12;
    std::vector<std::vector<std::string>> lines;
    std::size_t most = 0;
    for (std::size_t c = 0; c < row.cells.size(); ++c) {
      const TableCell& cell = row.cells[c];
      lines.push_back(cell.drawn.empty() ? setter_.lines(cell.text, cell.style, room(c))
                                         : std::vector<std::string>{});
      most = std::max(most, lines.back().size());
    }
    for (std::size_t from = 0; from < most; from += kLines) {
      TableRow piece;
      for (std::size_t c = 0; c < row.cells.size(); ++c) {
        TableCell cell = row.cells[c];
        if (cell.drawn.empty() || from > 0) {
          cell.drawn.clear();
          cell.text.clear();
          for (std::size_t k = from; k < std::min(from + kLines, lines[c].size()); ++k)
            cell.text += (k > from ? "\n" : "") + lines[c][k];
        }
        piece.cells.push_back(std::move(cell));
      }
      out.push_back(whole(piece, Role::Cell));
    }
    rule(out.back());
  }

 private:
  double room(std::size_t column) const { return widths_[column] - 2 * kPad; }

  void rule(ContentRow& row) const {
    row.marks.push_back(LineMark{{{0, row.height}, {width_, row.height}}, 0.1, kLine, {}});
  }

  ContentRow whole(const TableRow& row, Role role) const {
    ContentRow out;
    std::vector<double> heights;
    for (std::size_t c = 0; c < row.cells.size() && c < widths_.size(); ++c) {
      const TableCell& cell = row.cells[c];
      const double h = !cell.drawn.empty() ? cell.drawn_height
                                           : setter_.measure(cell.text, cell.style, room(c)).height;
      heights.push_back(h);
      out.height = std::max(out.height, h);
    }
    out.height = std::max(out.height, 3.2) + 2 * kAbove;
    out.marks.push_back(OpenTag{Role::Row});
    double x = 0;
    for (std::size_t c = 0; c < heights.size(); ++c) {
      const TableCell& cell = row.cells[c];
      const double y = (out.height - heights[c]) / 2;
      out.marks.push_back(OpenTag{role});
      if (!cell.drawn.empty())
        for (Mark& m : moved(cell.drawn, {x + kPad, (out.height - heights[c]) / 2}))
          out.marks.push_back(std::move(m));
      else if (!cell.text.empty())
        out.marks.push_back(TextMark{{x + kPad, y, room(c), heights[c]}, cell.text, cell.style});
      out.marks.push_back(CloseTag{});
      x += widths_[c];
    }
    out.marks.push_back(CloseTag{});
    return out;
  }

  std::vector<double> widths_;
  double width_;
  const TextSetter& setter_;
};

constexpr double kTextSize = 2.7, kFigureSize = 2.5;

class RowCells {
 public:
  RowCells(ComposeContext& context, double callout_room)
      : c_(context)
      , callout_room_(callout_room) {}

  TableCell cell(const ReportRow& row, Column column, bool member) const {
    const TextStyle text{Typeface::Text, kTextSize, kInk, Align::Left};
    const TextStyle second{Typeface::Text, kTextSize, kSecond, Align::Left};
    TextStyle figures{Typeface::Figures, kFigureSize, kInk, Align::Right};
    switch (column) {
    case Column::Requirement:
      return member ? TableCell{"", text, {}, 0, 0} : calloutCell(row, callout_room_, text, c_);
    case Column::Share:
      return share(row);
    case Column::Verdict:
      return verdict(row);
    case Column::Feature:
    case Column::SheetZone:
      return {textOf(row, column, member), second, {}, 0, 0};
    case Column::Key:
      return {row.key, text, {}, 0, 0};
    case Column::Actual:
      figures.ink = inkOf(row.verdict);
      return {row.actual.text, figures, {}, 0, 0};
    default:
      return {textOf(row, column, member), figures, {}, 0, 0};
    }
  }

 private:
  TableCell share(const ReportRow& row) const {
    TableCell cell;
    cell.style = {Typeface::Figures, kFigureSize, kInk, Align::Left};
    if (row.actual.empty() || !row.share) return cell;
    const Ink color = inkOf(row.verdict);
    const auto bar = [](double wide, const Ink& ink) {
      const double y = 0.95;
      return LineMark{
          {{0, y}, {wide, y}, {wide, y + kBarHigh}, {0, y + kBarHigh}}, 0, ink, ink, true};
    };
    const std::string text = figure(100 * *row.share, 0) + " %";
    cell.drawn = {bar(kBar, kTrack), bar(kBar * std::clamp(*row.share, 0.0, 1.0), color),
                  TextMark{{kBar + 1.2, 0, 0, 3.2}, text, {Typeface::Figures, kFigureSize, color}}};
    cell.drawn_width = kBar + 1.2 + c_.setter.width(text, cell.style);
    cell.drawn_height = 3.2;
    return cell;
  }

  TableCell verdict(const ReportRow& row) const {
    TableCell cell;
    cell.style = {Typeface::Text, kTextSize, inkOf(row.verdict), Align::Left};
    cell.drawn = verdictMark({1.4, 1.6}, 1.15, row.verdict);
    const std::string text(words(row.verdict));
    cell.drawn.push_back(TextMark{{3.6, 0, 0, 3.3}, text, cell.style});
    cell.drawn_width = 3.6 + c_.setter.width(text, cell.style);
    cell.drawn_height = 3.3;
    return cell;
  }

  ComposeContext& c_;
  double callout_room_;
};

bool wrapsIn(Column column) {
  return column == Column::Requirement || column == Column::Feature ||
         column == Column::SheetZone || column == Column::Key;
}

} // namespace

TableCell calloutCell(const ReportRow& row, double room, const TextStyle& text,
                      const ComposeContext& c) {
  const Requirement r = c.plan.spec.withStandard(c.plan.spec.requirement(row.requirement));
  if (isDimension(r.kind)) return {row.text, text, {}, 0, 0};
  DrawnCallout drawn = drawCallout(r, Vec2::Zero(), 2.4, c.setter);
  if (drawn.width > room) return {row.text, text, {}, 0, 0};
  return {row.text, text, std::move(drawn.marks), drawn.width, drawn.height};
}

Content tableOf(const std::vector<TableColumn>& columns, const std::vector<TableRow>& rows,
                double width, const TextSetter& setter) {
  Content content;
  content.table = true;
  if (rows.empty()) return content;
  TableSetting setting(widthsOf(columns, rows, width, setter), width, setter);
  content.head.push_back(setting.head(columns, rows));
  for (const TableRow& row : rows) {
    if (!row.heading.empty())
      content.rows.push_back(setting.heading(row.heading));
    else
      setting.add(row, content.rows);
  }
  return content;
}

Content tableContent(const TableItem& item, double width, ComposeContext& c) {
  const RowCells cells(c, 0.42 * width);
  std::vector<TableColumn> columns;
  for (const Column column : item.columns)
    columns.push_back({std::string(words(column)), wrapsIn(column)});
  std::vector<TableRow> rows;
  const auto add = [&](const ReportRow& row, bool member) {
    TableRow out;
    for (const Column column : item.columns)
      out.cells.push_back(cells.cell(row, column, member));
    rows.push_back(std::move(out));
  };
  for (const TableLine& line : linesOf(item, c.model)) {
    if (line.row)
      add(*line.row, line.member);
    else
      rows.push_back({{}, line.heading});
  }
  return tableOf(columns, rows, width, c.setter);
}

} // namespace alder
