// Dimensions, tolerance indicators and datums as a drawing by ISO 129-1, 1101 and 5459 has them.
#pragma once

#include "drafting/paper.h"
#include <optional>

namespace alder::demo {

constexpr double kLetter = 3.5;            // height of capitals, mm
constexpr double kFont = kLetter / 0.727;  // Inter's capitals are 0.727 of its size high
constexpr double kRow = 7;                 // height of an indicator

struct DimensionText {
  std::string main;         // "6x ø11", "ø32 H7", "40 ±0.1"
  std::string upper, lower; // deviations that stand one above the other
  bool basic = false;       // in a frame
};

// One row: "ø0.25 (M)", "UZ+0.02"; a letter in parentheses is drawn in a circle. The symbol of the
// characteristic by its name in files.
struct IndicatorText {
  std::string kind;
  std::string zone;
  std::vector<std::string> datums;
  bool lower_segment = false; // shares the symbol of the row above
};

// A dimension with what stands below it.
struct CalloutText {
  std::optional<DimensionText> dimension;
  std::vector<IndicatorText> indicators;
  std::string datum; // letter, hangs below
};

class Annotation {
 public:
  explicit Annotation(Paper& paper)
      : paper_(paper) {}

  // Width of the text; drawn with its base line from `at`, turned by `angle`.
  double width(const DimensionText& text);
  void draw(const DimensionText& text, const Vec2& at, double angle = 0);
  double width(const CalloutText& text);
  // Upper left corner of its first row; returns where the lowest row ends.
  double draw(const CalloutText& text, const Vec2& at);

  // The dimension between a and b, measured along `angle`, with its line through `through`; the
  // text in the middle above it, or of a callout from `shelf` on to the right.
  void distance(const Vec2& a, const Vec2& b, double angle, const Vec2& through,
                const DimensionText& text);
  void distance(const Vec2& a, const Vec2& b, double angle, const Vec2& through,
                const CalloutText& text, double shelf);
  void angle(const Vec2& apex, double radius, double from, double to, const DimensionText& text);
  // A leader from its tip to the callout, whose first row stands at `at`, its left end; or its
  // right end where that is nearer to the tip.
  void leader(const Vec2& tip, const Vec2& at, const CalloutText& text);
  // The triangle of a datum on a line at `on`, with its letter in a frame, off along `angle`.
  void datum(const Vec2& on, double angle, double length, const std::string& letter);

 private:
  void arrow(const Vec2& tip, const Vec2& from);
  void frame(const Vec2& low, const Vec2& high);
  void symbol(const std::string& kind, const Vec2& middle);
  double zoneWidth(const std::string& zone);
  void zoneText(const std::string& zone, Vec2 at);
  void extensions(const Vec2& a, const Vec2& b, double angle, const Vec2& through, Vec2& on_a,
                  Vec2& on_b);
  Paper& paper_;
};

} // namespace alder::demo
