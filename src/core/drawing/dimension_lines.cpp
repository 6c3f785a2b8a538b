#include "drawing/dimension_lines.h"

#include <algorithm>
#include <cmath>

namespace alder {

DimensionLines::DimensionLines(const Strokes& strokes, const SegmentIndex& index)
    : strokes_(strokes)
    , index_(index) {}

// A filled tip at the end, two short strokes that meet there, an oblique stroke through it, or a
// dot.
bool DimensionLines::hasArrow(const Vec2& end, const Vec2& from) const {
  const Vec2 d = (end - from).normalized();
  for (const FilledTip& t : strokes_.tips) {
    const Vec2 axis = t.tip - t.back;
    if (axis.norm() < 1e-9) continue;
    // The line may end at the tip or within what is filled, pointing either way.
    const double far = std::clamp((end - t.tip).dot(-axis) / axis.squaredNorm(), 0., 1.);
    const bool at = (t.tip - far * axis - end).norm() < 0.3;
    if (at && std::abs(axis.normalized().dot(d)) > 0.97) return true;
  }
  const double reach = 4;
  int strokes = 0;
  for (const std::size_t i : index_.near(Box2(end - Vec2(0.2, 0.2), end + Vec2(0.2, 0.2)))) {
    const StraightStroke& s = strokes_.segments[i];
    if (s.length() > reach || s.length() < 0.8) continue;
    const double across = std::abs(s.direction().x() * d.y() - s.direction().y() * d.x());
    const bool meets = (s.a - end).norm() < 0.2 || (s.b - end).norm() < 0.2;
    const bool through = ((s.a + s.b) / 2 - end).norm() < 0.25;
    if (through && across > 0.5 && across < 0.9) return true;
    if (meets && across > 0.1 && across < 0.6) ++strokes;
  }
  return strokes >= 2;
}

// A line square to the text, which stands beside it or in a gap of it (ISO 129-1, horizontal
// texts).
bool DimensionLines::crosses(const TextBox& text, const Vec2& a, const Vec2& b) {
  if (std::abs(a.x() - b.x()) > 0.03 * (b - a).norm()) return false;
  const double u = (a.x() + b.x()) / 2, low = std::min(a.y(), b.y()), high = std::max(a.y(), b.y());
  const bool beside = u > -1.2 * text.size && u < text.length + 1.2 * text.size;
  const bool within = u > 0.2 * text.length && u < 0.8 * text.length;
  const bool passes = low < text.above && high > -text.below;
  const bool ends =
      std::abs(low - text.above) < text.size || std::abs(high + text.below) < text.size;
  return (beside && !within && passes) || (within && ends);
}

bool DimensionLines::runsAlong(const TextBox& text) const {
  Box2 area = text.bounds();
  const double room = 1.2 * text.size;
  area = Box2(area.min() - Vec2(room, room), area.max() + Vec2(room, room));
  for (const std::size_t i : index_.near(area)) {
    const StraightStroke& s = strokes_.segments[i];
    const Vec2 a = text.local(s.a), b = text.local(s.b);
    if (crosses(text, a, b) && (hasArrow(s.a, s.b) || hasArrow(s.b, s.a))) return true;
    if (std::abs(a.y() - b.y()) > 0.03 * (b - a).norm()) continue;
    const double v = (a.y() + b.y()) / 2;
    const double low = std::min(a.x(), b.x()), high = std::max(a.x(), b.x());
    const bool below = v < 0.05 * text.size && v > -text.below - 0.8 * text.size &&
                       low < 0.7 * text.length && high > 0.3 * text.length;
    const bool beside = v > -0.1 * text.size && v < text.above + 0.1 * text.size &&
                        (std::abs(high) < room || std::abs(low - text.length) < room);
    if (!below && !beside) continue;
    if (hasArrow(s.a, s.b) || hasArrow(s.b, s.a)) return true;
  }
  // The arc of an angle, or of a radius.
  return std::any_of(strokes_.rounds.begin(), strokes_.rounds.end(), [&](const RoundLine& r) {
    if (r.whole) return false;
    const double off = std::abs((text.middle() - r.centre).norm() - r.radius);
    if (off > 1.6 * text.size + text.above) return false;
    const auto tangent = [&](const Vec2& p) -> Vec2 {
      const Vec2 d = p - r.centre;
      return p + Vec2(-d.y(), d.x()).normalized();
    };
    return hasArrow(r.from, tangent(r.from)) || hasArrow(r.to, tangent(r.to));
  });
}

} // namespace alder
