#include "sheet/text_line.h"

#include "sheet/strokes.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace alder {
namespace {

constexpr double kCapital = 0.72, kDescent = 0.2;                    // of the size of a font
constexpr double kSameAngle = 0.02;                                  // rad
constexpr double kSameBase = 0.22, kWordGap = 0.28, kLineGap = 1.05; // of the size
constexpr double kMostRing = 20;                                     // mm
constexpr double kBack = -0.45;    // how far a character may stand before the end of the last
constexpr double kSizeRatio = 1.3; // of characters of one line

bool isBlank(const std::string& text) {
  return std::all_of(text.begin(), text.end(), [](char c) { return c == ' ' || c == '\t'; }) ||
         text == "\u00a0";
}

struct Placed {
  const Character* c = nullptr;
  double u = 0, v = 0, end = 0; // along and across, in the frame of its angle
};

// Characters of one angle, in the order of lines.
class LineMaker {
 public:
  LineMaker(const Strokes& strokes, const SegmentIndex& index)
      : strokes_(strokes)
      , index_(index) {
    for (const RoundLine& r : strokes.rounds)
      if (r.whole && r.radius < kMostRing) rings_.push_back(r);
    std::sort(rings_.begin(), rings_.end(),
              [](const RoundLine& a, const RoundLine& b) { return a.centre.x() < b.centre.x(); });
  }

  void make(std::vector<Placed> placed, double angle, std::vector<TextLine>& lines) {
    std::sort(placed.begin(), placed.end(),
              [](const Placed& a, const Placed& b) { return a.u != b.u ? a.u < b.u : a.v < b.v; });
    // Each character goes to the line whose end it follows.
    struct Open {
      std::vector<Placed> all;
    };
    std::vector<Open> open;
    std::map<long, std::vector<std::size_t>> by_base; // lines by their base, a millimetre each
    for (const Placed& p : placed) {
      const auto row = static_cast<long>(std::floor(p.v));
      const long reach = static_cast<long>(std::ceil(p.c->size * kSameBase)) + 1;
      std::size_t best = open.size();
      double best_gap = 1e9;
      for (long r = row - reach; r <= row + reach; ++r) {
        const auto at = by_base.find(r);
        if (at == by_base.end()) continue;
        for (const std::size_t i : at->second) {
          const Placed& last = open[i].all.back();
          const double size = std::max(p.c->size, last.c->size);
          if (size > kSizeRatio * std::min(p.c->size, last.c->size)) continue;
          if (std::abs(p.v - last.v) > kSameBase * size) continue;
          const double gap = p.u - last.end;
          if (gap < kBack * size || gap > kLineGap * size || std::abs(gap) >= best_gap) continue;
          if (gap > kWordGap / 2 * size && ruledBetween(last, p, angle)) continue;
          best = i, best_gap = std::abs(gap);
        }
      }
      if (best == open.size()) {
        open.push_back({{p}});
        by_base[row].push_back(best);
      } else {
        open[best].all.push_back(p);
      }
    }
    for (const Open& o : open)
      lines.push_back(lineOf(o.all, angle));
  }

 private:
  // A line that is drawn between the two from top to bottom parts them.
  bool ruledBetween(const Placed& a, const Placed& b, double angle) const {
    TextBox box{a.c->at, angle, 0, a.c->size};
    const double from = a.end - a.u, to = box.local(b.c->at).x(), high = kCapital * a.c->size;
    const double slack = 0.1 * a.c->size;
    Box2 area(box.point(from - slack, 0));
    area.extend(box.point(to + slack, high));
    area.extend(box.point(from - slack, high));
    area.extend(box.point(to + slack, 0));
    for (const std::size_t i : index_.near(area)) {
      const StraightStroke& s = strokes_.segments[i];
      const Vec2 p = box.local(s.a), q = box.local(s.b);
      if (std::abs(p.x() - q.x()) > slack) continue;
      const double u = (p.x() + q.x()) / 2;
      if (u < from - slack || u > to + slack) continue;
      if (std::min(p.y(), q.y()) <= slack && std::max(p.y(), q.y()) >= high - slack) return true;
    }
    return false;
  }

  bool circled(const Placed& p, double angle) const {
    const TextBox box{p.c->at, angle, p.c->advance, p.c->size, 0, kCapital * p.c->size};
    const Vec2 middle = box.middle();
    const double off = 0.3 * p.c->size;
    auto r = std::lower_bound(rings_.begin(), rings_.end(), middle.x() - off,
                              [](const RoundLine& ring, double x) { return ring.centre.x() < x; });
    for (; r != rings_.end() && r->centre.x() < middle.x() + off; ++r)
      if ((r->centre - middle).norm() < off && r->radius > 0.4 * p.c->size &&
          r->radius < 0.95 * p.c->size)
        return true;
    return false;
  }

  TextLine lineOf(const std::vector<Placed>& all, double angle) const {
    TextLine line;
    double size = 0, v = 0;
    for (const Placed& p : all)
      size = std::max(size, p.c->size), v += p.v / static_cast<double>(all.size());
    const Placed* last = nullptr;
    for (const Placed& p : all) {
      if (last && p.u - last->end > kWordGap * size) line.text += ' ';
      const bool letter =
          p.c->text.size() == 1 && std::isalpha(static_cast<unsigned char>(p.c->text[0]));
      line.scanned |= p.c->scanned;
      if (p.c->text.empty()) {
        line.unknown = true;
        line.text += "\ufffd";
      } else if (letter && all.size() > 0 && circled(p, angle)) {
        if (last && !line.text.empty() && line.text.back() != ' ') line.text += ' ';
        line.text += "(" + p.c->text + ")";
      } else {
        line.text += p.c->text;
      }
      last = &p;
    }
    TextBox& box = line.box;
    box.angle = angle;
    box.size = size;
    box.at = Vec2(std::cos(angle), std::sin(angle)) * all.front().u +
             Vec2(-std::sin(angle), std::cos(angle)) * v;
    box.length = all.back().end - all.front().u;
    box.below = kDescent * size, box.above = kCapital * size;
    return line;
  }

  const Strokes& strokes_;
  const SegmentIndex& index_;
  std::vector<RoundLine> rings_; // that may stand round a letter, from the left
};

} // namespace

Box2 TextBox::bounds() const {
  Box2 box;
  for (const double u : {0., length})
    for (const double v : {-below, above})
      box.extend(point(u, v));
  return box;
}

std::vector<TextLine> textLines(const DrawingSheet& sheet) {
  const Strokes strokes = strokesOf(sheet);
  const SegmentIndex index(strokes.segments);
  std::map<long, std::vector<const Character*>> by_angle;
  for (const Character& c : sheet.characters) {
    if (isBlank(c.text) && !c.text.empty()) continue;
    double angle = c.angle;
    if (angle < -std::numbers::pi + kSameAngle) angle += 2 * std::numbers::pi;
    by_angle[std::lround(angle / kSameAngle)].push_back(&c);
  }
  std::vector<TextLine> lines;
  for (const auto& [key, characters] : by_angle) {
    const double angle = static_cast<double>(key) * kSameAngle;
    // the angle that they truly have, as the keys are coarse
    double sum = 0;
    for (const Character* c : characters)
      sum += std::remainder(c->angle - angle, 2 * std::numbers::pi);
    const double mean = angle + sum / static_cast<double>(characters.size());
    const Vec2 along(std::cos(mean), std::sin(mean)), across(-along.y(), along.x());
    std::vector<Placed> placed;
    for (const Character* c : characters) {
      const double u = along.dot(c->at);
      placed.push_back({c, u, across.dot(c->at), u + c->advance});
    }
    LineMaker(strokes, index).make(std::move(placed), mean, lines);
  }
  return lines;
}

} // namespace alder
