#include "report/compose/content.h"

#include "base/units.h"
#include "requirement/limits.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

using namespace inks;

const TextStyle kCaption{Typeface::Text, 2.6, kSecond, Align::Left};

// Callout and feature side by side, or one below the other.
ContentRow headline(const ReportRow& row, double width, ComposeContext& c) {
  ContentRow out;
  const Requirement r = c.plan.spec.withStandard(c.plan.spec.requirement(row.requirement));
  const double radius = 3.6;
  const TextStyle number{Typeface::Figures, 3.0, inkOf(row.verdict), Align::Middle};
  const TextExtent n = c.setter.measure(row.number, number);
  out.marks.push_back(RoundMark{{radius + 0.2, radius + 0.2}, radius, 0.3, inkOf(row.verdict), {}});
  out.marks.push_back(OpenTag{Role::Subheading});
  out.marks.push_back(
      TextMark{{0.2, radius + 0.2 - n.height / 2, 2 * radius, n.height}, row.number, number});
  const double left = 2 * radius + 4;
  DrawnCallout callout = drawCallout(r, {left, 1}, 3.6, c.setter);
  double x = left, y = std::max(callout.height + 2, 2 * radius + 1);
  if (left + callout.width <= width) {
    for (Mark& m : callout.marks)
      out.marks.push_back(std::move(m));
    x = left + callout.width + 5;
  } else { // its words instead
    const TextStyle words{Typeface::Strong, 3.4, kInk, Align::Left};
    const TextExtent e = c.setter.measure(row.text, words, width - left);
    out.marks.push_back(TextMark{{left, 1.6, width - left, e.height}, row.text, words});
    y = std::max(y, e.height + 3);
    x = width;
  }
  out.marks.push_back(CloseTag{});
  const TextStyle feature{Typeface::Text, 3.2, kSecond, Align::Left};
  if (!row.features.empty()) {
    const bool beside = x + c.setter.width(row.features, feature) <= width;
    const double at = beside ? x : left, room = width - at;
    const TextExtent e = c.setter.measure(row.features, feature, room);
    const double top = beside ? radius + 0.2 - e.height / 2 : y;
    out.marks.push_back(OpenTag{Role::Paragraph});
    out.marks.push_back(TextMark{{at, top, room, e.height}, row.features, feature});
    out.marks.push_back(CloseTag{});
    y = std::max(y, top + e.height + 0.6);
  }
  out.height = y + 1;
  return out;
}

std::string withUnit(const ReportFigure& figure, const std::string& unit) {
  if (figure.empty()) return {};
  return figure.text + (unit.empty() ? "" : unit == "°" ? unit : " " + unit);
}

// Figures with their captions above them, as many in a line as have room.
ContentRow figures(const ReportRow& row, double width, ComposeContext& c) {
  std::vector<std::pair<std::string, std::string>> all;
  const auto add = [&](const char* caption, const std::string& value) {
    if (!value.empty()) all.emplace_back(caption, value);
  };
  add("Nominal", withUnit(row.nominal, row.unit));
  add("Lower limit", withUnit(row.lower, row.unit));
  add(row.lower.empty() && row.nominal.empty() ? "Allowed" : "Upper limit",
      withUnit(row.upper, row.unit));
  add("Actual", row.actual.empty() ? "not measured" : withUnit(row.actual, row.unit));
  add("Deviation", withUnit(row.deviation, row.unit));
  if (row.share && !row.actual.empty()) add("Tolerance used", figure(100 * *row.share, 0) + " %");
  if (row.uncertainty)
    add("U (k = 2)", shortFigure(*row.uncertainty) + (row.unit == "°" ? "°" : " " + row.unit));
  add("Zone of the drawing", row.zone);
  add("Key", row.key);
  ContentRow out;
  const TextStyle style{Typeface::Figures, 3.4, kInk, Align::Left};
  double x = 0, y = 0, high = 0;
  for (const auto& [caption, value] : all) {
    TextStyle own = style;
    if (caption == "Actual") own.ink = inkOf(row.verdict);
    const TextExtent e = c.setter.measure(value, own, 0), k = c.setter.measure(caption, kCaption);
    const double wide = std::min(std::max(e.width, k.width), width);
    if (x > 0 && x + wide > width) x = 0, y += high + 1.6, high = 0;
    const TextExtent fitted = c.setter.measure(value, own, wide + 0.1);
    out.marks.push_back(OpenTag{Role::Paragraph});
    out.marks.push_back(TextMark{{x, y, 0, k.height}, caption, kCaption});
    out.marks.push_back(TextMark{{x, y + k.height + 0.3, wide + 0.1, fitted.height}, value, own});
    out.marks.push_back(CloseTag{});
    high = std::max(high, k.height + 0.3 + fitted.height);
    x += wide + 6;
  }
  const std::string verdict(words(row.verdict));
  const TextStyle strong{Typeface::Strong, 3.4, inkOf(row.verdict), Align::Left};
  const double wide = c.setter.width(verdict, strong) + 4.6;
  if (x + wide > width) x = 0, y += high + 1.6, high = 0;
  for (Mark& m : verdictMark({x + 1.6, y + 5.2}, 1.5, row.verdict))
    out.marks.push_back(std::move(m));
  out.marks.push_back(TextMark{{x + 4.6, y + 3.2, 0, 4.2}, verdict, strong});
  out.height = y + std::max(high, 7.6) + 1.6;
  return out;
}

Content members(const ReportRow& row, double width, ComposeContext& c) {
  const TextStyle text{Typeface::Text, 2.7, kSecond, Align::Left};
  const TextStyle figure_style{Typeface::Figures, 2.5, kInk, Align::Right};
  std::vector<TableRow> rows;
  for (const ReportRow& m : row.members) {
    TextStyle actual = figure_style;
    actual.ink = inkOf(m.verdict);
    rows.push_back(
        {{{m.number, figure_style, {}, 0, 0},
          {m.features, text, {}, 0, 0},
          {m.upper.text, figure_style, {}, 0, 0},
          {m.actual.text, actual, {}, 0, 0},
          {m.share && !m.actual.empty() ? figure(100 * *m.share, 0) + " %" : "",
           figure_style,
           {},
           0,
           0},
          {std::string(words(m.verdict)), {Typeface::Text, 2.7, inkOf(m.verdict)}, {}, 0, 0}},
         ""});
  }
  return tableOf({{"No.", false},
                  {"Feature", true},
                  {row.lower.empty() ? "Allowed" : "Upper", false},
                  {"Actual", false},
                  {"Tolerance used", false},
                  {"Verdict", false}},
                 rows, width, c.setter);
}

} // namespace

Content detailContent(const DetailItem& item, double width, ComposeContext& c) {
  Content content;
  const ReportRow* row = rowFor(item.number, c);
  if (!row) {
    if (item.number != 0)
      c.told.push_back(
          fmt::format("Requirement {} stands in the layout and not in the report.", item.number));
    return content;
  }
  content.rows.push_back(headline(*row, width, c));
  content.rows.back().with_next = true;
  content.rows.push_back(figures(*row, width, c));
  Content pattern = members(*row, width, c);
  if (!pattern.empty()) {
    for (ContentRow& r : pattern.head)
      r.with_next = true, content.rows.push_back(std::move(r));
    for (ContentRow& r : pattern.rows)
      content.rows.push_back(std::move(r));
    content.rows.back().height += 1.5;
  }
  if (item.how)
    for (ContentRow& r :
         paragraph(row->how, {Typeface::Text, 2.7, kSecond, Align::Left}, 0, width, c.setter))
      content.rows.push_back(std::move(r));
  return content;
}

} // namespace alder
