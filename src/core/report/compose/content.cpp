#include "report/compose/content.h"

#include "base/units.h"
#include "paper/picture_file.h"
#include "report/layout/fields.h"
#include "report/layout/pick.h"
#include <algorithm>
#include <utility>

namespace alder {
namespace {

using namespace inks;

constexpr double kFieldUpTo = 22; // mm: a longer value gets the whole width
constexpr double kWholeUpTo = 45; // mm: a taller paragraph may be parted by pages

struct Filler {
  const LayoutItem& item;
  ComposeContext& c;

  Content operator()(const TextItem& text) const {
    Content content;
    content.data = false;
    const TextStyle style = styleOf(text.look, text.align);
    const Role role = text.look == TextLook::Title     ? Role::Heading
                      : text.look == TextLook::Heading ? Role::Subheading
                                                       : Role::Paragraph;
    content.rows = paragraph(filled(text.text, c.model), style, 0, item.area.w, c.setter, role);
    return content;
  }

  Content operator()(const FieldsItem& fields) const {
    std::vector<std::pair<std::string, std::string>> shown;
    for (const std::string& f : fields.fields_shown)
      if (const std::string value = valueOf(f, c.model); !value.empty() || fields.empty_too)
        shown.emplace_back(captionOf(f), value);
    Content content;
    content.data = false;
    const TextStyle caption{Typeface::Text, 2.7, kSecond, Align::Left};
    const TextStyle value{Typeface::Text, 2.7, kInk, Align::Left};
    const auto columns = static_cast<std::size_t>(std::clamp(fields.columns, 1, 6));
    const double wide = item.area.w / static_cast<double>(columns);
    double label = 0;
    for (const auto& [what, which] : shown)
      label = std::max(label, c.setter.width(what, caption));
    label = std::min(label + 2, 0.5 * wide);
    ContentRow row;
    std::size_t column = 0;
    const auto end_row = [&] {
      if (column > 0) content.rows.push_back(std::exchange(row, {}));
      column = 0;
    };
    for (const auto& [what, which] : shown) {
      const double room = wide - label - 3;
      const TextExtent e = c.setter.measure(which, value, room);
      if (e.height > kFieldUpTo) { // over the whole width, in as many rows as it takes
        end_row();
        for (ContentRow& r : paragraph(what + ":  " + which, value, 0, item.area.w, c.setter))
          content.rows.push_back(std::move(r));
        content.rows.back().height += 1.1;
        continue;
      }
      const double x = wide * static_cast<double>(column);
      const TextExtent k = c.setter.measure(what, caption, label - 1);
      row.marks.push_back(OpenTag{Role::Paragraph});
      row.marks.push_back(TextMark{{x, 0, label - 1, k.height}, what, caption});
      row.marks.push_back(TextMark{{x + label, 0, room, e.height}, which, value});
      row.marks.push_back(CloseTag{});
      row.height = std::max({row.height, e.height + 1.1, k.height + 1.1});
      if (++column == columns) end_row();
    }
    end_row();
    return content;
  }

  Content operator()(const CountsItem& counts) const {
    std::array<int, kVerdictCount> count{};
    for (const ReportRow* row : picked(c.model, counts.filter))
      ++count[static_cast<std::size_t>(row->verdict)];
    const TextStyle style{Typeface::Text, 3.3, kInk, Align::Left};
    Content content;
    ContentRow row;
    double x = 1.2;
    row.marks.push_back(OpenTag{Role::Paragraph});
    for (int i = 0; i < kVerdictCount; ++i) {
      const auto verdict = static_cast<Verdict>(i);
      const int n = count[static_cast<std::size_t>(i)];
      if (verdict == Verdict::NotProved && n == 0) continue; // only where uncertainties decide
      const std::string text = fmt::format("{} {}", n, words(verdict));
      const TextExtent e = c.setter.measure(text, style);
      if (x + 2.6 + e.width > item.area.w && x > 2) { // another line
        row.marks.push_back(CloseTag{});
        content.rows.push_back(std::move(row));
        row = {};
        row.marks.push_back(OpenTag{Role::Paragraph});
        x = 1.2;
      }
      for (Mark& m : verdictMark({x, e.height / 2}, 1.2, verdict))
        row.marks.push_back(std::move(m));
      row.marks.push_back(TextMark{{x + 2.6, 0, 0, e.height}, text, style});
      row.height = std::max(row.height, e.height);
      x += 2.6 + e.width + 7;
    }
    row.marks.push_back(CloseTag{});
    content.rows.push_back(std::move(row));
    return content;
  }

  Content operator()(const TableItem& table) const { return tableContent(table, item.area.w, c); }
  Content operator()(const DetailItem& detail) const {
    return detailContent(detail, item.area.w, c);
  }
  Content operator()(const ViewItem& view) const { return viewContent(view, item.area, c); }
  Content operator()(const HistoryItem& history) const {
    return historyContent(history, item.area, c);
  }
  Content operator()(const CapabilityItem& capability) const {
    return capabilityContent(capability, item.area.w, c);
  }

  Content operator()(const PlotItem& plot) const {
    Content content;
    const ReportRow* row = rowFor(plot.number, c);
    if (!row || !row->plot) return content;
    ContentRow one;
    one.height = item.area.h;
    one.marks.push_back(OpenTag{Role::Figure, "Deviations of requirement " + row->number + ": " +
                                                  captionOf(*row->plot)});
    for (Mark& m : drawPlot(*row->plot, {0, 0, item.area.w, item.area.h}, paperInks(), c.setter))
      one.marks.push_back(std::move(m));
    one.marks.push_back(CloseTag{});
    content.rows.push_back(std::move(one));
    return content;
  }

  Content operator()(const HowItem& how) const {
    Content content;
    constexpr double kIndent = 10;
    const TextStyle number{Typeface::Figures, 2.7, kInk, Align::Right};
    const TextStyle strong{Typeface::Strong, 2.7, kInk, Align::Left};
    const TextStyle second{Typeface::Text, 2.7, kSecond, Align::Left};
    for (const ReportRow* row : picked(c.model, how.filter)) {
      auto rows = paragraph(row->text, strong, kIndent, item.area.w - kIndent, c.setter);
      if (rows.empty()) continue;
      rows.front().marks.push_back(TextMark{{0, 0, kIndent - 2, 4}, row->number, number});
      rows.back().with_next = true;
      for (ContentRow& r : rows)
        content.rows.push_back(std::move(r));
      for (ContentRow& r : paragraph(row->how, second, kIndent, item.area.w - kIndent, c.setter))
        content.rows.push_back(std::move(r));
      content.rows.back().height += 1.6;
    }
    return content;
  }

  Content operator()(const ListItem& list) const {
    Content content;
    const std::vector<std::string> lines = linesOfList(list.what, c.model);
    if (lines.empty()) return content;
    if (list.heading) {
      content.rows = paragraph(std::string(words(list.what)), styleOf(TextLook::Heading), 0,
                               item.area.w, c.setter, Role::Subheading);
      content.rows.back().height += 1.2;
      for (ContentRow& r : content.rows)
        r.with_next = true;
    }
    const TextStyle style{Typeface::Text, 2.7, kSecond, Align::Left};
    for (const std::string& line : lines)
      for (ContentRow& r : paragraph(line, style, 0, item.area.w, c.setter))
        content.rows.push_back(std::move(r));
    return content;
  }

  Content operator()(const PictureItem& picture) const {
    Content content;
    content.data = false;
    if (!picture.bytes) return content;
    const auto raster = rasterFromPicture(*picture.bytes);
    if (!raster) {
      c.told.push_back(picture.name + ": " + raster.error().message);
      return content;
    }
    const double scale = std::min(item.area.w / raster->width, item.area.h / raster->height);
    ContentRow row;
    row.height = item.area.h;
    row.marks = {OpenTag{Role::Figure, picture.name},
                 PictureMark{{0, 0, scale * raster->width, scale * raster->height},
                             std::make_shared<const Raster>(std::move(*raster))},
                 CloseTag{}};
    content.rows.push_back(std::move(row));
    return content;
  }

  Content operator()(const SignatureItem& signature) const {
    Content content;
    content.data = false;
    const TextStyle style{Typeface::Text, 2.7, kSecond, Align::Left};
    const std::string caption = filled(signature.caption, c.model);
    const TextExtent e = c.setter.measure(caption, style, item.area.w);
    const double line = std::max(item.area.h - e.height - 0.6, 6.0);
    ContentRow row;
    row.height = line + 0.6 + e.height;
    row.marks = {LineMark{{{0, line}, {item.area.w, line}}, 0.25, kInk, {}},
                 OpenTag{Role::Paragraph},
                 TextMark{{0, line + 0.6, item.area.w, e.height}, caption, style}, CloseTag{}};
    content.rows.push_back(std::move(row));
    return content;
  }

  Content operator()(const FormItem& form) const { return formContent(form, item.area.w, c); }

  Content operator()(const RuleItem&) const {
    Content content;
    content.data = false;
    ContentRow row;
    row.height = 0.3;
    row.marks = {LineMark{{{0, 0.15}, {item.area.w, 0.15}}, 0.3, kInk, {}}};
    content.rows.push_back(std::move(row));
    return content;
  }
};

} // namespace

std::vector<std::string> linesOfList(Listed what, const ReportModel& model) {
  switch (what) {
  case Listed::Tips:
    return model.tips;
  case Listed::RoutineSteps:
    return model.steps;
  case Listed::Frames:
    return model.frames;
  case Listed::Again:
    return model.again;
  case Listed::Documents:
    return model.documents;
  }
  return {};
}

TextStyle styleOf(TextLook look, Align align) {
  switch (look) {
  case TextLook::Title:
    return {Typeface::Strong, 6.2, kInk, align};
  case TextLook::Heading:
    return {Typeface::Strong, 4.0, kInk, align};
  case TextLook::Body:
    return {Typeface::Text, 3.2, kInk, align};
  case TextLook::Small:
    return {Typeface::Text, 2.6, kSecond, align};
  case TextLook::Figures:
    return {Typeface::Figures, 2.8, kInk, align};
  }
  return {};
}

std::vector<Mark> moved(std::vector<Mark> marks, const Vec2& by) {
  struct Mover {
    const Vec2& by;
    void operator()(TextMark& m) const { shift(m.area); }
    void operator()(LineMark& m) const {
      for (Vec2& p : m.points)
        p += by;
    }
    void operator()(RoundMark& m) const { m.centre += by; }
    void operator()(SymbolMark& m) const { m.centre += by; }
    void operator()(PictureMark& m) const { shift(m.area); }
    void operator()(OpenTag&) const {}
    void operator()(CloseTag&) const {}
    void shift(Area& a) const { a.x += by.x(), a.y += by.y(); }
  };
  for (Mark& m : marks)
    std::visit(Mover{by}, m);
  return marks;
}

std::vector<ContentRow> paragraph(const std::string& text, const TextStyle& style, double left,
                                  double width, const TextSetter& setter, Role role) {
  if (text.empty()) return {};
  const auto row = [&](const std::string& words) {
    const TextExtent e = setter.measure(words, style, width);
    ContentRow r;
    r.height = e.height;
    r.marks = {OpenTag{role}, TextMark{{left, 0, width, e.height}, words, style}, CloseTag{}};
    return r;
  };
  ContentRow whole = row(text);
  if (whole.height <= kWholeUpTo) return {std::move(whole)};
  std::vector<ContentRow> rows;
  for (const std::string& line : setter.lines(text, style, width))
    rows.push_back(row(line.empty() ? " " : line));
  return rows;
}

const ReportRow* rowFor(int number, const ComposeContext& c) {
  if (number == 0) return c.row;
  const auto found = std::find_if(c.model.rows.begin(), c.model.rows.end(),
                                  [&](const ReportRow& r) { return r.balloon == number; });
  return found == c.model.rows.end() ? nullptr : &*found;
}

Content contentOf(const LayoutItem& item, ComposeContext& context) {
  return std::visit(Filler{item, context}, item.body);
}

} // namespace alder
