#include "report/compose/content.h"

#include "base/units.h"
#include "report/layout/pick.h"
#include "requirement/limits.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

using namespace inks;

struct PartFigure {
  const JudgedPart* part;
  BriefVerdict verdict;
};

std::vector<PartFigure> figuresOf(const ReportModel& model, RequirementId requirement) {
  std::vector<PartFigure> all;
  for (const JudgedPart& part : model.parts)
    if (const auto v = part.verdicts.find(requirement);
        v != part.verdicts.end() && v->second.actual)
      all.push_back({&part, v->second});
  return all;
}

PartHistory historyIn(const Requirement& r, const std::vector<PartFigure>& figures) {
  std::vector<double> values;
  for (const PartFigure& f : figures)
    values.push_back(*f.verdict.actual);
  return historyOf(r, values);
}

bool isAngle(const Requirement& r) {
  return r.kind == Characteristic::Angle || r.unit == "deg";
}

std::string shownFigure(const Requirement& r, double v, int more = 0) {
  return figure(isAngle(r) ? degrees(v) : v, r.decimals + more);
}

// A figure a part, from left to right, between the limits.
class HistoryDrawing {
 public:
  HistoryDrawing(const Requirement& r, const std::vector<PartFigure>& figures, const Area& area,
                 const TextSetter& setter)
      : r_(r)
      , figures_(figures)
      , setter_(setter) {
    const std::string title =
        fmt::format("{}  {}", r.balloon, describe(r)) + fmt::format(", {} parts", figures.size());
    const TextStyle strong{Typeface::Strong, 2.8, kInk, Align::Left};
    const TextExtent e = setter.measure(title, strong, area.w);
    marks_ = {OpenTag{Role::Figure, "History of requirement " + title},
              TextMark{{0, 0, area.w, e.height}, title, strong}};
    plot_ = {1, e.height + 2.5, area.w - 24, area.h - e.height - 8};
    range();
    limits();
    line();
    names();
    marks_.push_back(CloseTag{});
  }
  std::vector<Mark> take() { return std::move(marks_); }

 private:
  void range() {
    low_ = high_ = *figures_.front().verdict.actual;
    for (const PartFigure& f : figures_)
      low_ = std::min(low_, *f.verdict.actual), high_ = std::max(high_, *f.verdict.actual);
    if (isDimension(r_.kind)) {
      if (hasLower(r_)) low_ = std::min(low_, r_.lower), high_ = std::max(high_, r_.lower);
      if (hasUpper(r_)) low_ = std::min(low_, r_.upper), high_ = std::max(high_, r_.upper);
    } else {
      low_ = std::min(low_, 0.0), high_ = std::max(high_, r_.tolerance);
    }
    const double room = std::max(0.08 * (high_ - low_), 1e-6);
    low_ -= room, high_ += room;
  }

  double y(double v) const { return plot_.bottom() - plot_.h * (v - low_) / (high_ - low_); }
  double x(std::size_t i) const {
    return figures_.size() < 2 ? plot_.middle().x()
                               : plot_.x + 2 +
                                     (plot_.w - 4) * static_cast<double>(i) /
                                         static_cast<double>(figures_.size() - 1);
  }

  void level(double v, const Ink& color, bool dashed, const std::string& words) {
    marks_.push_back(
        LineMark{{{plot_.x, y(v)}, {plot_.right(), y(v)}}, 0.2, color, {}, false, dashed});
    const TextStyle style{Typeface::Figures, 2.2, color, Align::Left};
    double at = y(v) - 1.4;
    for (const double other : labels_) // one above the other where they are near
      if (std::abs(other - at) < 2.7) at = other + 2.7;
    labels_.push_back(at);
    marks_.push_back(TextMark{{plot_.right() + 1, at, 0, 2.8}, words, style});
  }

  void limits() {
    marks_.push_back(LineMark{{{plot_.x, plot_.y},
                               {plot_.right(), plot_.y},
                               {plot_.right(), plot_.bottom()},
                               {plot_.x, plot_.bottom()}},
                              0.15,
                              kLine,
                              {},
                              true});
    if (isDimension(r_.kind)) {
      if (hasUpper(r_)) level(r_.upper, kOutside, true, shownFigure(r_, r_.upper));
      if (hasLower(r_)) level(r_.lower, kOutside, true, shownFigure(r_, r_.lower));
    } else {
      level(r_.tolerance, kOutside, true, shownFigure(r_, r_.tolerance));
    }
    const PartHistory h = historyIn(r_, figures_);
    if (h.count > 1) level(h.mean, kSecond, false, "mean " + shownFigure(r_, h.mean));
  }

  void line() {
    std::vector<Vec2> points;
    for (std::size_t i = 0; i < figures_.size(); ++i)
      points.emplace_back(x(i), y(*figures_[i].verdict.actual));
    if (points.size() > 1) marks_.push_back(LineMark{points, 0.2, kSecond, {}});
    for (std::size_t i = 0; i < points.size(); ++i)
      for (Mark& m :
           verdictMark(points[i], points.size() > 60 ? 0.6 : 0.9, figures_[i].verdict.verdict))
        marks_.push_back(std::move(m));
  }

  void names() {
    const TextStyle style{Typeface::Text, 2.2, kSecond, Align::Left};
    const auto put = [&](std::size_t i, Align align) {
      TextStyle s = style;
      s.align = align;
      const double wide = plot_.w / 2 - 2;
      const double left = align == Align::Left ? plot_.x : plot_.right() - wide;
      marks_.push_back(TextMark{
          {left, plot_.bottom() + 0.8, wide, 3}, firstLine(figures_[i].part->name, s, wide), s});
    };
    put(0, Align::Left);
    if (figures_.size() > 1) put(figures_.size() - 1, Align::Right);
  }

  std::string firstLine(const std::string& text, const TextStyle& s, double wide) const {
    const auto lines = setter_.lines(text, s, wide);
    return lines.size() < 2 ? text : lines.front() + "…";
  }

  const Requirement& r_;
  const std::vector<PartFigure>& figures_;
  const TextSetter& setter_;
  Area plot_;
  double low_ = 0, high_ = 1;
  std::vector<double> labels_;
  std::vector<Mark> marks_;
};

std::string indexText(const std::optional<double>& index) {
  return index ? figure(*index, 2) : "";
}

std::optional<double> valueOf(const std::optional<Index>& index) {
  return index ? std::optional(index->value) : std::nullopt;
}

} // namespace

Content historyContent(const HistoryItem& item, const Area& area, ComposeContext& c) {
  Content content;
  const ReportRow* row = rowFor(item.number, c);
  if (!row) return content;
  const auto figures = figuresOf(c.model, row->requirement);
  if (figures.size() < 2) return content; // one part has no history
  ContentRow one;
  one.height = area.h;
  const Requirement r = c.plan.spec.withStandard(c.plan.spec.requirement(row->requirement));
  one.marks = HistoryDrawing(r, figures, area, c.setter).take();
  content.rows.push_back(std::move(one));
  return content;
}

std::vector<CapabilityLine> capabilityLines(const CapabilityItem& item, const ReportModel& model,
                                            const Plan& plan) {
  std::vector<CapabilityLine> lines;
  for (const ReportRow* row : picked(model, item.filter)) {
    const Requirement& r = plan.spec.requirement(row->requirement);
    const auto figures = figuresOf(model, r.id);
    if (figures.size() < 2) continue;
    const PartHistory h = historyIn(r, figures);
    const auto shown = [&](double v, int more = 0) {
      return ReportFigure{shownFigure(r, v, more), isAngle(r) ? degrees(v) : v, r.decimals + more};
    };
    lines.push_back({row, h.count, h.outside.size(), shown(h.mean), shown(h.spread, 1),
                     shown(h.lowest), shown(h.highest), valueOf(h.cp), valueOf(h.cpk),
                     valueOf(h.pp), valueOf(h.ppk)});
  }
  return lines;
}

Content capabilityContent(const CapabilityItem& item, double width, ComposeContext& c) {
  const TextStyle text{Typeface::Text, 2.7, kInk, Align::Left};
  const TextStyle number{Typeface::Figures, 2.5, kInk, Align::Right};
  std::vector<TableRow> rows;
  for (const CapabilityLine& line : capabilityLines(item, c.model, c.plan)) {
    const std::vector<std::string> cells{
        line.row->number,   line.row->text,      std::to_string(line.parts),
        line.mean.text,     line.spread.text,    line.lowest.text,
        line.highest.text,  indexText(line.cp),  indexText(line.cpk),
        indexText(line.pp), indexText(line.ppk), std::to_string(line.outside)};
    TableRow out;
    for (std::size_t k = 0; k < cells.size(); ++k)
      out.cells.push_back({cells[k], k == 1 ? text : number, {}, 0, 0});
    rows.push_back(std::move(out));
  }
  return tableOf({{"No.", false},
                  {"Requirement", true},
                  {"Parts", false},
                  {"Mean", false},
                  {"Std. dev.", false},
                  {"Lowest", false},
                  {"Highest", false},
                  {"Cp", false},
                  {"Cpk", false},
                  {"Pp", false},
                  {"Ppk", false},
                  {"Outside", false}},
                 rows, width, c.setter);
}

} // namespace alder
