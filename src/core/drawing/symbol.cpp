#include "drawing/symbol.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

using K = Characteristic;

struct Found {
  int circles = 0, arcs = 0, tips = 0;
  int level = 0, upright = 0, slanted = 0; // straight lines
};

// Open arrowheads are two short lines at the end of a longer one.
bool endsAt(const StraightStroke& s, const Vec2& p) {
  return (s.a - p).norm() < 0.15 || (s.b - p).norm() < 0.15;
}

// Strokes drawn twice, or in pieces on one line, are one.
std::vector<StraightStroke> merged(std::vector<StraightStroke> all) {
  for (bool again = true; again;) {
    again = false;
    for (std::size_t i = 0; i < all.size() && !again; ++i)
      for (std::size_t k = i + 1; k < all.size() && !again; ++k) {
        const Vec2 d = all[i].direction();
        const auto off = [&](const Vec2& p) {
          return std::abs(d.x() * (p - all[i].a).y() - d.y() * (p - all[i].a).x());
        };
        if (off(all[k].a) > 0.06 || off(all[k].b) > 0.06) continue;
        const double from = d.dot(all[k].a - all[i].a), to = d.dot(all[k].b - all[i].a);
        const double low = std::min(from, to), high = std::max(from, to);
        if (low > all[i].length() + 0.1 || high < -0.1) continue;
        const Vec2 a = all[i].a + std::min(0., low) * d,
                   b = all[i].a + std::max(all[i].length(), high) * d;
        all[i].a = a, all[i].b = b;
        all.erase(all.begin() + static_cast<std::ptrdiff_t>(k));
        again = true;
      }
  }
  return all;
}

// An arrowhead of two short lines from where a long one ends: taken out, its place kept.
bool takeOpenTip(std::vector<StraightStroke>& lines, std::vector<Vec2>& tips) {
  double longest = 0;
  for (const StraightStroke& s : lines)
    longest = std::max(longest, s.length());
  for (std::size_t i = 0; i < lines.size(); ++i) {
    const StraightStroke shaft = lines[i];
    if (shaft.length() < 0.6 * longest) continue;
    for (const Vec2& end : {shaft.a, shaft.b}) {
      const auto barb = [&](const StraightStroke& s) {
        return s.length() < 0.6 * shaft.length() && endsAt(s, end);
      };
      if (std::count_if(lines.begin(), lines.end(), barb) != 2) continue;
      std::erase_if(lines, barb);
      tips.push_back(end);
      return true;
    }
  }
  return false;
}

std::optional<K> named(const Found& f) {
  const int straight = f.level + f.upright + f.slanted;
  if (f.circles == 1 && f.level == 1 && f.upright == 1 && f.slanted == 0) return K::Position;
  if (f.circles == 2 && straight == 0) return K::Coaxiality;
  if (f.circles == 1 && f.slanted == 2 && f.level + f.upright == 0) return K::Cylindricity;
  if (f.circles == 1 && straight == 0 && f.arcs == 0) return K::Roundness;
  if (f.circles > 0) return {};
  if (f.arcs == 1 && straight == 0) return K::LineProfile;
  if (f.arcs == 1 && f.level == 1 && straight == 1) return K::SurfaceProfile;
  if (f.arcs > 0) return {};
  if (f.tips == 1 && f.slanted == 1 && f.level + f.upright == 0) return K::CircularRunout;
  if (f.tips == 2 && f.slanted == 2 && f.level <= 1 && f.upright == 0) return K::TotalRunout;
  if (f.tips > 0) return {};
  if (f.level == 1 && straight == 1) return K::Straightness;
  if (f.level == 3 && straight == 3) return K::Symmetry;
  if (f.slanted == 2 && straight == 2) return K::Parallelism;
  if (f.level == 2 && f.slanted == 2 && straight == 4) return K::Flatness;
  if (f.level == 1 && f.upright == 1 && straight == 2) return K::Perpendicularity;
  if (f.level == 1 && f.slanted == 1 && straight == 2) return K::Angularity;
  return {};
}

} // namespace

std::optional<Characteristic> drawnSymbol(const Strokes& strokes, const SegmentIndex& index,
                                          const Vec2& low, const Vec2& high, double angle) {
  const Vec2 u(std::cos(angle), std::sin(angle)), v(-u.y(), u.x());
  const auto local = [&](const Vec2& p) -> Vec2 { return {p.dot(u), p.dot(v)}; };
  const auto inside = [&](const Vec2& p) {
    constexpr double kBorder = 0.15; // of the frame's own lines
    const Vec2 q = local(p);
    return q.x() > low.x() + kBorder && q.x() < high.x() - kBorder && q.y() > low.y() + kBorder &&
           q.y() < high.y() - kBorder;
  };
  Found found;
  for (const RoundLine& r : strokes.rounds) {
    if (!inside(r.centre) && !inside(r.middle)) continue;
    if (!inside(r.from) || !inside(r.middle) || !inside(r.to)) continue;
    if (r.whole)
      ++found.circles;
    else
      ++found.arcs;
  }
  std::vector<Vec2> tips;
  for (const FilledTip& t : strokes.tips)
    if (inside(t.tip) && inside(t.back)) tips.push_back(t.tip);
  Box2 box;
  for (const Vec2& corner : {low, high, Vec2(low.x(), high.y()), Vec2(high.x(), low.y())})
    box.extend(corner.x() * u + corner.y() * v);
  std::vector<StraightStroke> lines;
  for (const std::size_t i : index.near(box)) {
    const StraightStroke& s = strokes.segments[i];
    if (inside(s.a) && inside(s.b)) lines.push_back(s);
  }
  lines = merged(std::move(lines));
  while (takeOpenTip(lines, tips)) {
  }
  for (const StraightStroke& s : lines) {
    const Vec2 d = (local(s.b) - local(s.a)).cwiseAbs();
    if (d.y() < 0.1 * d.x())
      ++found.level;
    else if (d.x() < 0.1 * d.y())
      ++found.upright;
    else
      ++found.slanted;
  }
  found.tips = static_cast<int>(tips.size());
  return named(found);
}

} // namespace alder
