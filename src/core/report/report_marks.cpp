#include "report/report_marks.h"

#include "base/units.h"
#include "requirement/modifiers.h"
#include "requirement/plane_indicator.h"
#include <cmath>
#include <numbers>

namespace alder {
namespace {

using namespace inks;

class IndicatorDrawing {
 public:
  IndicatorDrawing(const Vec2& at, double size, const TextSetter& setter)
      : setter_(setter)
      , style_{Typeface::Figures, size, kInk, Align::Left}
      , x_(at.x())
      , left_(at.x())
      , top_(at.y())
      , high_(1.75 * size) {}

  DrawnCallout draw(const Requirement& r) {
    const double wide = 1.3 * high_;
    box(wide);
    if (const auto symbol = symbolOf(r.kind))
      drawn_.marks.push_back(SymbolMark{{x_ + wide / 2, middle()}, 0.72 * high_, *symbol, kInk});
    x_ += wide;
    cell(figureOf(r), circledSigns(r));
    for (const DatumReference& d : r.datums) {
      std::string letters;
      for (const auto& l : d.letters)
        letters += (letters.empty() ? "" : "-") + l;
      cell(letters, d.material == MaterialModifier::Maximum ? "M"
                    : d.material == MaterialModifier::Least ? "L"
                                                            : "");
    }
    const auto indicated = planeIndicators(r);
    for (const bool orientation : {false, true})
      for (const NamedIndicator& named : indicated)
        if (named.orientation == orientation) planes(named.planes, orientation);
    drawn_.width = x_ - left_, drawn_.height = high_;
    return std::move(drawn_);
  }

 private:
  static std::string figureOf(const Requirement& r) {
    std::string text = r.zone == Zone::Diametral ? "ø" : r.zone == Zone::Spherical ? "Sø" : "";
    text += shortFigure(r.tolerance);
    for (const ModifierSign& sign :
         signsBehindValue(r, r.standard.value_or(ToleranceStandard::Iso)))
      text += " " + sign.drawn;
    return text;
  }

  double middle() const { return top_ + high_ / 2; }

  void box(double wide) {
    drawn_.marks.push_back(
        LineMark{{{x_, top_}, {x_ + wide, top_}, {x_ + wide, top_ + high_}, {x_, top_ + high_}},
                 0.18,
                 kInk,
                 {},
                 true});
  }

  // Text, and letters in circles behind it.
  void cell(const std::string& text, const std::string& circled) {
    const TextExtent e = setter_.measure(text, style_);
    const double ring = 0.37 * high_;
    const double wide = e.width + 0.5 * high_ + static_cast<double>(circled.size()) * 2.25 * ring;
    box(wide);
    drawn_.marks.push_back(
        TextMark{{x_ + 0.25 * high_, middle() - e.height / 2, 0, e.height}, text, style_});
    double at = x_ + 0.25 * high_ + e.width + (text.empty() ? 0 : 0.15 * high_) + ring;
    for (const char letter : circled) {
      drawn_.marks.push_back(RoundMark{{at, middle()}, ring, 0.16, kInk, {}});
      const TextStyle small{Typeface::Figures, 0.72 * style_.size, kInk, Align::Middle};
      const TextExtent l = setter_.measure(std::string(1, letter), small);
      drawn_.marks.push_back(TextMark{
          {at - l.width / 2, middle() - l.height / 2, 0, l.height}, std::string(1, letter), small});
      at += 2.25 * ring;
    }
    x_ += wide;
  }

  // Pointed at the left: an intersection plane; at both ends: an orientation plane.
  void planes(const PlaneIndicator& indicator, bool both) {
    const auto tip = [&](double out) {
      drawn_.marks.push_back(
          LineMark{{{x_, top_}, {x_ + out, middle()}, {x_, top_ + high_}}, 0.18, kInk, {}, false});
    };
    x_ += 0.75 * high_;
    tip(-0.5 * high_);
    cell(symbol(indicator), "");
    if (!both) return;
    tip(0.5 * high_);
    x_ += 0.5 * high_;
  }

  const TextSetter& setter_;
  TextStyle style_;
  double x_, left_, top_, high_;
  DrawnCallout drawn_;
};

} // namespace

PlotInks paperInks() {
  return {kInk, kSecond, kLine, kWhite, kWithin, kLow, kMiddle, kOutside};
}

Ink inkOf(Verdict v) {
  return v == Verdict::Within                            ? kWithin
         : v == Verdict::Near || v == Verdict::NotProved ? kNear
         : v == Verdict::Outside                         ? kOutside
                                                         : kNone;
}

std::vector<Mark> verdictMark(const Vec2& c, double r, Verdict verdict) {
  const Ink color = inkOf(verdict);
  constexpr double kPen = 0.28;
  const double d = 1.25 * r;
  const std::vector<Vec2> diamond{
      {c.x(), c.y() - d}, {c.x() + d, c.y()}, {c.x(), c.y() + d}, {c.x() - d, c.y()}};
  switch (verdict) {
  case Verdict::Within:
    return {RoundMark{c, r, 0, color, color}};
  case Verdict::Near: {
    std::vector<Vec2> half;
    for (int i = 0; i <= 16; ++i) {
      const double t = std::numbers::pi * (1 + i / 16.0);
      half.push_back(c + r * Vec2(std::cos(t), std::sin(t)));
    }
    return {RoundMark{c, r - kPen / 2, kPen, color, {}}, LineMark{half, 0, color, color, true}};
  }
  case Verdict::NotProved:
    return {LineMark{diamond, kPen, color, {}, true}};
  case Verdict::Outside:
    return {LineMark{diamond, 0, color, color, true}};
  case Verdict::Unmeasured:
    return {RoundMark{c, r - kPen / 2, kPen, color, {}}};
  }
  return {};
}

std::optional<Symbol> symbolOf(Characteristic kind) {
  static_assert(static_cast<int>(Symbol::TotalRunout) ==
                    static_cast<int>(Characteristic::TotalRunout) &&
                static_cast<int>(Symbol::Position) == static_cast<int>(Characteristic::Position));
  const auto place = static_cast<int>(kind);
  if (place >= kSymbolCount) return {};
  return static_cast<Symbol>(place); // both in the order of ISO 1101, table 1
}

DrawnCallout drawCallout(const Requirement& r, const Vec2& at, double size,
                         const TextSetter& setter) {
  if (!isDimension(r.kind)) return IndicatorDrawing(at, size, setter).draw(r);
  const TextStyle style{Typeface::Figures, size, kInk, Align::Left};
  const std::string text = describe(r);
  const TextExtent e = setter.measure(text, style);
  DrawnCallout drawn;
  drawn.width = e.width, drawn.height = std::max(e.height, 1.75 * size);
  drawn.marks.push_back(
      TextMark{{at.x(), at.y() + (drawn.height - e.height) / 2, 0, e.height}, text, style});
  return drawn;
}

} // namespace alder
