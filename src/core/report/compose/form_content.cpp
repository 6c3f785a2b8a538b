// The forms of a first article: fields in ruled boxes with their numbers, tables between them.
#include "report/article/forms.h"
#include "report/compose/content.h"
#include <algorithm>

namespace alder {
namespace {

using namespace inks;

constexpr double kBoxPad = 1.2, kBoxCaption = 2.2, kValueSize = 3.0; // mm
constexpr double kSignedHeight = 8.5;
constexpr double kTallBox = 70; // a taller value is set below the boxes
constexpr double kFormGap = 3;
constexpr std::size_t kMostDrawn = 12; // results in one cell

class FormSetting {
 public:
  FormSetting(double width, ComposeContext& context)
      : width_(width)
      , c_(context) {}

  Content content(const FilledForm& form) {
    Content content;
    content.table = true;
    // A single table that ends the form goes on with the heading of the form.
    const bool goes_on = form.tables.size() == 1 && form.foot.empty();
    fields(form.head, goes_on ? content.head : content.rows);
    gap(goes_on ? content.head : content.rows);
    for (const FormTable& table : form.tables) {
      Content set = tableOf(columnsOf(table), rowsOf(table), width_, c_.setter);
      if (!table.title.empty()) title(table.title, content.rows);
      for (ContentRow& row : set.head) {
        row.with_next = true;
        (goes_on ? content.head : content.rows).push_back(std::move(row));
      }
      for (ContentRow& row : set.rows)
        content.rows.push_back(std::move(row));
      gap(content.rows);
    }
    fields(form.foot, content.rows);
    for (const std::string& note : form.notes)
      below(note, content.rows);
    return content;
  }

 private:
  static void gap(std::vector<ContentRow>& rows) {
    if (!rows.empty()) rows.back().height += kFormGap;
  }

  void title(const std::string& words, std::vector<ContentRow>& out) const {
    const TextStyle style{Typeface::Strong, 3.0, kInk, Align::Left};
    const TextExtent e = c_.setter.measure(words, style, width_);
    ContentRow row;
    row.height = e.height + 1;
    row.marks = {OpenTag{Role::Row}, OpenTag{Role::HeadCell},
                 TextMark{{0, 0, width_, e.height}, words, style}, CloseTag{}, CloseTag{}};
    row.with_next = true;
    out.push_back(std::move(row));
  }

  // In as many rows as it takes.
  void below(const std::string& words, std::vector<ContentRow>& out) const {
    const TextStyle style{Typeface::Text, 2.7, kInk, Align::Left};
    for (ContentRow& row : paragraph(words, style, 0, width_, c_.setter, Role::Cell)) {
      row.marks.insert(row.marks.begin(), OpenTag{Role::Row});
      row.marks.push_back(CloseTag{});
      out.push_back(std::move(row));
    }
  }

  void fields(const FormFields& all, std::vector<ContentRow>& out) const {
    for (const std::vector<FormField>& row : all)
      boxes(row, out);
  }

  void boxes(const std::vector<FormField>& fields, std::vector<ContentRow>& out) const {
    const TextStyle caption{Typeface::Text, kBoxCaption, kSecond, Align::Left};
    const TextStyle value{Typeface::Text, kValueSize, kInk, Align::Left};
    double shares = 0, tallest = 0, captions = 0;
    for (const FormField& f : fields)
      shares += f.share;
    const auto wide = [&](const FormField& f) { return width_ * f.share / shares; };
    std::vector<std::string> long_ones;
    std::vector<std::string> values;
    for (const FormField& f : fields) {
      const double room = wide(f) - 2 * kBoxPad;
      captions = std::max(captions, c_.setter.measure(f.head(), caption, room).height);
      double h = c_.setter.measure(f.value, value, room).height;
      values.push_back(f.value);
      if (h > kTallBox) {
        long_ones.push_back(f.head() + ": " + f.value);
        values.back() = "See below";
        h = c_.setter.measure(values.back(), value, room).height;
      }
      tallest = std::max({tallest, h, f.signed_here ? kSignedHeight : 0});
    }
    ContentRow row;
    row.height = kBoxPad + captions + 0.5 + std::max(tallest, 4.0) + kBoxPad;
    row.marks.push_back(OpenTag{Role::Row});
    double x = 0;
    for (std::size_t i = 0; i < fields.size(); ++i) {
      const double w = wide(fields[i]), room = w - 2 * kBoxPad;
      row.marks.push_back(LineMark{
          {{x, 0}, {x + w, 0}, {x + w, row.height}, {x, row.height}}, 0.15, kInk, {}, true});
      row.marks.push_back(OpenTag{Role::Cell});
      row.marks.push_back(
          TextMark{{x + kBoxPad, kBoxPad, room, captions}, fields[i].head(), caption});
      if (!values[i].empty())
        row.marks.push_back(TextMark{{x + kBoxPad, kBoxPad + captions + 0.5, room,
                                      row.height - captions - 2 * kBoxPad - 0.5},
                                     values[i],
                                     value});
      row.marks.push_back(CloseTag{});
      x += w;
    }
    row.marks.push_back(CloseTag{});
    out.push_back(std::move(row));
    for (const std::string& words : long_ones)
      below(words, out);
  }

  static std::vector<TableColumn> columnsOf(const FormTable& table) {
    std::vector<TableColumn> columns;
    for (const FormColumn& c : table.columns)
      columns.push_back({c.head(), c.wraps});
    return columns;
  }

  std::vector<TableRow> rowsOf(const FormTable& table) const {
    std::vector<TableRow> rows;
    for (const auto& cells : table.rows) {
      TableRow row;
      for (const FormCell& cell : cells) {
        TextStyle style{Typeface::Text, 2.7, kInk, Align::Left};
        if (!cell.results.empty())
          row.cells.push_back(resultCell(cell));
        else if (cell.callout)
          row.cells.push_back(calloutCell(*cell.callout, 0.28 * width_, style, c_));
        else
          row.cells.push_back({cell.text, style, {}, 0, 0});
      }
      rows.push_back(std::move(row));
    }
    return rows;
  }

  // Each in the colour of its verdict, with its mark where it is not within. Very many are a text,
  // which can go on on another page.
  TableCell resultCell(const FormCell& cell) const {
    TextStyle style{Typeface::Figures, 2.6, kInk, Align::Left};
    TableCell out{cell.text, style, {}, 0, 0};
    if (cell.results.size() > kMostDrawn) return out;
    for (const FormResult& result : cell.results) {
      style.ink = inkOf(result.verdict);
      const TextExtent e = c_.setter.measure(result.text, style);
      double x = 0;
      if (result.verdict != Verdict::Within) {
        for (Mark& m : verdictMark({1.1, out.drawn_height + e.height / 2}, 1.0, result.verdict))
          out.drawn.push_back(std::move(m));
        x = 2.8;
      }
      out.drawn.push_back(TextMark{{x, out.drawn_height, 0, e.height}, result.text, style});
      out.drawn_width = std::max(out.drawn_width, x + e.width);
      out.drawn_height += e.height;
    }
    return out;
  }

  double width_;
  ComposeContext& c_;
};

} // namespace

Content formContent(const FormItem& item, double width, ComposeContext& c) {
  const FilledForm form = formOf(item.form, c.plan, c.model);
  if (!form.missing.empty())
    c.told.push_back(fmt::format("Form {}: not known yet: {}.", static_cast<int>(item.form) + 1,
                                 fmt::join(form.missing, ", ")));
  return FormSetting(width, c).content(form);
}

} // namespace alder
