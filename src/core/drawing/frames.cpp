#include "drawing/frames.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {
constexpr double kSlant = 0.02;   // of a line's length, to be along or across
constexpr double kOneLine = 0.12; // mm between lines that are one
constexpr double kBroken = 0.4;   // mm between pieces of one line
constexpr double kShort = 0.4;    // mm that a line may end before what it covers
constexpr double kWidestCell = 200, kHighestCell = 8; // mm; of the size of the text
} // namespace

Ruling::Ruling(const Strokes& strokes, double angle)
    : u_(std::cos(angle), std::sin(angle))
    , v_(-u_.y(), u_.x()) {
  for (const StraightStroke& s : strokes.segments) {
    if (s.dashed) continue;
    const Vec2 a = local(s.a), b = local(s.b), d = (b - a).cwiseAbs();
    if (d.y() <= kSlant * d.x())
      along_.push_back({(a.y() + b.y()) / 2, std::min(a.x(), b.x()), std::max(a.x(), b.x())});
    else if (d.x() <= kSlant * d.y())
      across_.push_back({(a.x() + b.x()) / 2, std::min(a.y(), b.y()), std::max(a.y(), b.y())});
  }
  along_ = joined(std::move(along_));
  across_ = joined(std::move(across_));
}

Ruling::Lines Ruling::joined(Lines lines) {
  std::sort(lines.begin(), lines.end(), [](const Line& a, const Line& b) { return a.at < b.at; });
  Lines all;
  for (std::size_t i = 0; i < lines.size();) {
    std::size_t end = i;
    while (end < lines.size() && lines[end].at - lines[i].at <= kOneLine)
      ++end;
    std::sort(lines.begin() + static_cast<std::ptrdiff_t>(i),
              lines.begin() + static_cast<std::ptrdiff_t>(end),
              [](const Line& a, const Line& b) { return a.low < b.low; });
    Line now = lines[i];
    for (std::size_t k = i + 1; k < end; ++k) {
      if (lines[k].low <= now.high + kBroken) {
        now.high = std::max(now.high, lines[k].high);
      } else {
        all.push_back(now);
        now = lines[k];
      }
    }
    all.push_back(now);
    i = end;
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const Line& a, const Line& b) { return a.at < b.at; });
  return all;
}

std::optional<double> Ruling::nearest(const Lines& lines, double at, int side, double reach,
                                      double low, double high) {
  const auto covers = [&](const Line& l) {
    return l.low <= low + kShort && l.high >= high - kShort;
  };
  const auto from = std::lower_bound(lines.begin(), lines.end(), at,
                                     [](const Line& l, double v) { return l.at < v; });
  if (side > 0) {
    for (auto l = from; l != lines.end() && l->at <= at + reach; ++l)
      if (covers(*l)) return l->at;
    return {};
  }
  for (auto l = from; l != lines.begin();) {
    --l;
    if (l->at < at - reach) return {};
    if (covers(*l)) return l->at;
  }
  return {};
}

std::optional<double> Ruling::along(double at, int side, double reach, double low,
                                    double high) const {
  return nearest(along_, at, side, reach, low, high);
}

std::optional<double> Ruling::across(double at, int side, double reach, double low,
                                     double high) const {
  return nearest(across_, at, side, reach, low, high);
}

std::optional<RuledCell> Ruling::cellOf(const TextBox& text) const {
  const Vec2 from = local(text.at);
  const double slack = 0.12 * text.size;
  const double u0 = from.x() + slack, u1 = from.x() + text.length - slack;
  const double base = from.y() + slack, cap = from.y() + text.above - slack;
  const double reach = kHighestCell * text.size;
  // A line under the text that is no side of a cell is passed over.
  double below = base;
  for (int tries = 0; tries < 3; ++tries) {
    const auto bottom = along(below, -1, reach, u0, u1);
    if (!bottom) return {};
    double above = cap;
    for (int again = 0; again < 3; ++again) {
      const auto top = along(above, 1, reach, u0, u1);
      if (!top) break;
      const auto left = across(u0, -1, kWidestCell, *bottom, *top),
                 right = across(u1, 1, kWidestCell, *bottom, *top);
      if (left && right && along(*bottom - kOneLine, 1, 2 * kOneLine, *left, *right) &&
          along(*top - kOneLine, 1, 2 * kOneLine, *left, *right))
        return RuledCell{*left, *right, *bottom, *top};
      above = *top + kOneLine;
    }
    below = *bottom - kOneLine;
  }
  return {};
}

} // namespace alder
