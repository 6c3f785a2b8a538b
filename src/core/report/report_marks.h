// Small drawings that reports share: marks of verdicts, tolerance indicators, in the product's
// palette on white paper.
#pragma once

#include "judge/verdict.h"
#include "paper/text_setter.h"
#include "report/deviation_plot.h"

namespace alder {

namespace inks {
inline constexpr Ink kInk = ink(0x1F262C), kSecond = ink(0x5A646D), kLine = ink(0xD9D5CB),
                     kTrack = ink(0xE6E2D8), kPaper = ink(0xF5F3EE), kWhite = ink(0xFFFFFF),
                     kAccent = ink(0x2B5FB3), kWithin = ink(0x0B7A75), kNear = ink(0xB97800),
                     kOutside = ink(0xC8401A), kNone = ink(0x8A9096), kLow = ink(0x2B4C9B),
                     kMiddle = ink(0xEDEAE3);
} // namespace inks
PlotInks paperInks();

Ink inkOf(Verdict verdict);
// Told apart by shape as well as by colour.
std::vector<Mark> verdictMark(const Vec2& centre, double radius, Verdict verdict);

// The callout as a drawing has it: geometrical tolerances as a tolerance indicator (ISO 1101,
// clause 8), dimensions as text. Left edge at `area.x`, in the middle of its height; `size` of the
// letters. By the requirement's own standard, ISO where it has none.
struct DrawnCallout {
  std::vector<Mark> marks;
  double width = 0, height = 0;
};
DrawnCallout drawCallout(const Requirement& requirement, const Vec2& upper_left, double size,
                         const TextSetter& setter);

std::optional<Symbol> symbolOf(Characteristic kind);

} // namespace alder
