#include "drawing/pointers.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

constexpr double kJoined = 0.3; // mm between lines that go on in each other
constexpr int kMostPieces = 8;  // of a leader with its shelf
constexpr double kParallel = 0.97;

double distanceTo(const StraightStroke& s, const Vec2& p) {
  const Vec2 d = s.b - s.a;
  const double t = d.squaredNorm() > 0 ? std::clamp((p - s.a).dot(d) / d.squaredNorm(), 0., 1.) : 0;
  return (s.a + t * d - p).norm();
}

class PointerFinder {
 public:
  PointerFinder(const std::vector<Written>& written, const Strokes& strokes)
      : written_(written)
      , strokes_(strokes)
      , index_(strokes.segments) {}

  std::vector<std::vector<Pointer>> find() {
    result_.resize(written_.size());
    for (std::size_t i = 0; i < strokes_.tips.size(); ++i)
      if (!used_.count(i)) follow(i);
    arcs();
    share();
    return std::move(result_);
  }

 private:
  // The line that ends in this tip, and which of its ends does.
  struct Shaft {
    std::size_t segment;
    Vec2 far;
  };
  std::optional<Shaft> shaftOf(const FilledTip& t) const {
    const Vec2 axis = (t.tip - t.back).normalized();
    const Box2 area(t.tip.cwiseMin(t.back) - Vec2(0.4, 0.4),
                    t.tip.cwiseMax(t.back) + Vec2(0.4, 0.4));
    std::optional<Shaft> best;
    double longest = 0;
    for (const std::size_t i : index_.near(area)) {
      const StraightStroke& s = strokes_.segments[i];
      if (s.length() < 0.8 || std::abs(s.direction().dot(axis)) < kParallel) continue;
      const bool a_near = (s.a - t.tip).norm() < (s.b - t.tip).norm();
      const Vec2 end = a_near ? s.a : s.b, far = a_near ? s.b : s.a;
      const StraightStroke body{t.tip, t.back};
      if (distanceTo(body, end) > 0.4 || s.length() <= longest) continue;
      longest = s.length();
      best = Shaft{i, far};
    }
    return best;
  }

  std::optional<std::size_t> tipAt(const Vec2& end, std::size_t but) const {
    for (std::size_t i = 0; i < strokes_.tips.size(); ++i) {
      const StraightStroke body{strokes_.tips[i].tip, strokes_.tips[i].back};
      if (i != but && distanceTo(body, end) < 0.4) return i;
    }
    return {};
  }

  // The arrows of a runout's symbol point at nothing.
  bool ofSymbol(const FilledTip& t) const {
    return std::any_of(written_.begin(), written_.end(), [&](const Written& w) {
      if (w.as != WrittenAs::Indicator) return false;
      const Vec2 p = w.box.local(t.tip);
      return p.x() > 0 && p.x() < w.box.length && p.y() > -w.box.below && p.y() < w.box.above;
    });
  }

  // From the tip along its line to what is written at the other end.
  void follow(std::size_t index) {
    const FilledTip& t = strokes_.tips[index];
    if (ofSymbol(t)) return;
    const auto shaft = shaftOf(t);
    if (!shaft) return;
    const StraightStroke& line = strokes_.segments[shaft->segment];
    const auto partner = tipAt(shaft->far, index);
    std::vector<std::size_t> chain{shaft->segment};
    grow(chain, shaft->far, line);
    Pointer p;
    p.tip = t.tip;
    if (partner) {
      p.kind = PointerKind::DimensionLine;
      p.other = strokes_.tips[*partner].tip;
      used_.insert(*partner);
    }
    // The triangle of a datum is as wide as it is high.
    const bool datum = t.width > 0.7 * (t.tip - t.back).norm();
    if (datum) {
      p.kind = PointerKind::DatumFoot;
      p.tip = t.back;
    }
    const auto to = reached(chain, p);
    if (to) result_[*to].push_back(p);
  }

  void grow(std::vector<std::size_t>& chain, const Vec2& from, const StraightStroke& like) const {
    std::vector<Vec2> ends{from};
    // A dimension line may be drawn in two pieces with the text between, and go on in a shelf.
    for (std::size_t at = 0; at < ends.size() && chain.size() < kMostPieces; ++at) {
      const Vec2 end = ends[at];
      for (const std::size_t i :
           index_.near(Box2(end - Vec2(kJoined, kJoined), end + Vec2(kJoined, kJoined)))) {
        const StraightStroke& s = strokes_.segments[i];
        if (std::find(chain.begin(), chain.end(), i) != chain.end()) continue;
        if (std::abs(s.width - like.width) > 0.2 * std::max(0.1, like.width)) continue;
        const bool a = (s.a - end).norm() < kJoined, b = (s.b - end).norm() < kJoined;
        if (!a && !b) continue;
        chain.push_back(i);
        ends.push_back(a ? s.b : s.a);
        if (chain.size() >= kMostPieces) break;
      }
    }
  }

  // How far the line is from the box of what is written; nothing where it is not beside it.
  static std::optional<double> apart(const TextBox& box, const StraightStroke& s) {
    const Vec2 a = box.local(s.a), b = box.local(s.b);
    const double size = box.size;
    const Box2 area(Vec2(-1.1 * size, -box.below - 0.9 * size),
                    Vec2(box.length + 1.1 * size, box.above + 0.6 * size));
    // where it is nearest to the middle
    const Vec2 middle(box.length / 2, (box.above - box.below) / 2);
    const bool ends = area.contains(a) || area.contains(b);
    const bool along = std::abs(a.y() - b.y()) < 0.05 * (b - a).norm() &&
                       std::min(a.x(), b.x()) < 0.6 * box.length &&
                       std::max(a.x(), b.x()) > 0.4 * box.length && a.y() > area.min().y() &&
                       a.y() < area.max().y();
    const bool across =
        std::abs(a.x() - b.x()) < 0.05 * (b - a).norm() && std::min(a.y(), b.y()) < middle.y() &&
        std::max(a.y(), b.y()) > middle.y() && a.x() > area.min().x() && a.x() < area.max().x();
    if (!ends && !along && !across) return {};
    Vec2 inside = middle;
    const double t = (b - a).squaredNorm() > 0
                         ? std::clamp((middle - a).dot(b - a) / (b - a).squaredNorm(), 0., 1.)
                         : 0;
    inside = a + t * (b - a);
    const Vec2 outside = (inside - Vec2(0, -box.below)).cwiseMin(0.) +
                         (inside - Vec2(box.length, box.above)).cwiseMax(0.);
    return outside.norm() + 0.01 * (inside - middle).norm();
  }

  std::optional<std::size_t> reached(const std::vector<std::size_t>& chain,
                                     const Pointer& p) const {
    std::optional<std::size_t> best;
    double least = 1e9;
    for (std::size_t w = 0; w < written_.size(); ++w) {
      if (written_[w].as == WrittenAs::Cell) continue;
      if (p.kind == PointerKind::DatumFoot && written_[w].as != WrittenAs::Framed) continue;
      for (const std::size_t i : chain) {
        const auto d = apart(written_[w].box, strokes_.segments[i]);
        if (d && *d < least) least = *d, best = w;
      }
    }
    return best;
  }

  // Arcs with a tip at an end: what is written nearest to their middle.
  void arcs() {
    for (const RoundLine& r : strokes_.rounds) {
      if (r.whole) continue;
      const auto near = [&](const Vec2& end) {
        for (const FilledTip& t : strokes_.tips)
          if ((t.tip - end).norm() < 0.4 || (t.back - end).norm() < 0.6) return true;
        return false;
      };
      if (!near(r.from) && !near(r.to)) continue;
      std::optional<std::size_t> best;
      double least = 1e9;
      for (std::size_t w = 0; w < written_.size(); ++w) {
        const Written& text = written_[w];
        if (text.as == WrittenAs::Cell || text.as == WrittenAs::Indicator) continue;
        const Vec2 middle = text.box.middle();
        const double reach = text.box.length / 2 + 2 * text.box.size;
        const double off = std::abs((middle - r.centre).norm() - r.radius);
        if (off > reach) continue;
        const double d = (middle - r.middle).norm();
        if (text.text.find("°") == std::string::npos && d > reach) continue;
        if (d < least && d < reach + r.radius) least = d, best = w;
      }
      if (!best) continue;
      Pointer p;
      p.kind = PointerKind::Arc;
      p.tip = r.from, p.other = r.to, p.centre = r.centre;
      result_[*best].push_back(p);
    }
  }

  // One callout points with all its leaders; the foot of a datum's own triangle stays its own.
  void share() {
    auto all = result_;
    for (std::size_t i = 0; i < written_.size(); ++i)
      for (std::size_t k = 0; k < written_.size(); ++k) {
        if (i == k || written_[i].callout == 0 || written_[i].callout != written_[k].callout)
          continue;
        for (const Pointer& p : result_[k])
          if (p.kind != PointerKind::DatumFoot) all[i].push_back(p);
      }
    result_ = std::move(all);
  }

  const std::vector<Written>& written_;
  const Strokes& strokes_;
  SegmentIndex index_;
  std::set<std::size_t> used_;
  std::vector<std::vector<Pointer>> result_;
};

} // namespace

std::vector<std::vector<Pointer>> pointersOf(const std::vector<Written>& written,
                                             const Strokes& strokes) {
  return PointerFinder(written, strokes).find();
}

} // namespace alder
