#include "drawing/balloon_layout.h"

#include "drawing/callout.h"
#include "requirement/member_numbers.h"
#include "sheet/strokes.h"
#include <algorithm>
#include <cmath>
#include <numbers>

namespace alder {
namespace {

constexpr double kRoom = 0.8; // mm between a balloon and anything else
constexpr int kDirections = 24;
constexpr double kCrossesText = 60, kCrossesLeader = 80, kOnBalloon = 200, kOnText = 120;
constexpr double kOnStroke = 3, kLeaderOnStroke = 1.2; // each, in millimetres of leader

bool crosses(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  const auto side = [](const Vec2& p, const Vec2& q, const Vec2& r) {
    return (q.x() - p.x()) * (r.y() - p.y()) - (q.y() - p.y()) * (r.x() - p.x());
  };
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

bool crosses(const Vec2& a, const Vec2& b, const Box2& box) {
  if (box.contains(a) || box.contains(b)) return true;
  const Vec2 p = box.min(), q(box.max().x(), box.min().y()), r = box.max(),
             s(box.min().x(), box.max().y());
  return crosses(a, b, p, r) || crosses(a, b, q, s);
}

// What is on one page, and the balloons that have their place.
class PageLayout {
 public:
  explicit PageLayout(const DrawingSheet& sheet)
      : sheet_(sheet)
      , strokes_(strokesOf(sheet))
      , index_(strokes_.segments) {
    for (const Written& w : writtenOn(sheet))
      texts_.push_back(w.box.bounds());
  }

  Box2 textOf(double x, double y) const {
    Box2 best(Vec2(x - 2, y - 2), Vec2(x + 2, y + 2));
    double least = 1; // mm
    for (const Box2& b : texts_)
      if (const double off = (b.center() - Vec2(x, y)).norm(); off < least) least = off, best = b;
    return best;
  }

  void taken(const Vec2& balloon, const Box2& text) {
    balloons_.push_back(balloon);
    leaders_.push_back(leaderOf(balloon, text));
  }

  Vec2 place(const Box2& text) {
    Vec2 best = text.center();
    double least = 1e12;
    const double reach = std::max(text.sizes().x(), text.sizes().y()) / 2;
    for (const double away : {1., 3.5, 7., 12., 18., 26., 36.})
      for (int k = 0; k < kDirections; ++k) {
        const double angle = std::numbers::pi * (1 - 2. * k / kDirections); // from the left on
        const Vec2 d(std::cos(angle), std::sin(angle));
        // out of the box along this direction
        const double tx = d.x() != 0 ? text.sizes().x() / 2 / std::abs(d.x()) : 1e9,
                     ty = d.y() != 0 ? text.sizes().y() / 2 / std::abs(d.y()) : 1e9;
        const Vec2 at = text.center() + (std::min({tx, ty, reach}) + kBalloonRadius + away) * d;
        if (!onSheet(at)) continue;
        const double cost = costOf(at, text);
        if (cost < least) least = cost, best = at;
      }
    taken(best, text);
    return best;
  }

 private:
  bool onSheet(const Vec2& p) const {
    const double room = kBalloonRadius + 1;
    return p.x() > room && p.y() > room && p.x() < sheet_.size.width - room &&
           p.y() < sheet_.size.height - room;
  }

  double costOf(const Vec2& at, const Box2& text) const {
    const BalloonLeader leader = leaderOf(at, text);
    double cost = (leader.to - leader.from).norm();
    const double radius = kBalloonRadius + kRoom;
    for (const Vec2& b : balloons_)
      if ((b - at).norm() < 2 * kBalloonRadius + kRoom) cost += kOnBalloon;
    for (const Box2& b : texts_) {
      if (std::sqrt(b.squaredExteriorDistance(at)) < radius) cost += kOnText;
      const bool own = (b.center() - text.center()).norm() < 0.1;
      if (!own && crosses(leader.from, leader.to, b)) cost += kCrossesText;
    }
    for (std::size_t i = 0; i < leaders_.size(); ++i) {
      if (crosses(leader.from, leader.to, leaders_[i].from, leaders_[i].to)) cost += kCrossesLeader;
      // neither through another balloon
      const Box2 other(balloons_[i] - Vec2(radius, radius), balloons_[i] + Vec2(radius, radius));
      if (crosses(leader.from, leader.to, other)) cost += kCrossesLeader;
    }
    const Box2 about(at - Vec2(radius, radius), at + Vec2(radius, radius));
    for (const std::size_t i : index_.near(about)) {
      const StraightStroke& s = strokes_.segments[i];
      const Vec2 d = s.b - s.a;
      const double t =
          d.squaredNorm() > 0 ? std::clamp((at - s.a).dot(d) / d.squaredNorm(), 0., 1.) : 0;
      if ((s.a + t * d - at).norm() < radius) cost += kOnStroke;
    }
    for (const RoundLine& r : strokes_.rounds)
      if (std::abs((r.centre - at).norm() - r.radius) < radius) cost += kOnStroke;
    Box2 along(leader.from);
    along.extend(leader.to);
    for (const std::size_t i : index_.near(along)) {
      const StraightStroke& s = strokes_.segments[i];
      if (crosses(leader.from, leader.to, s.a, s.b)) cost += kLeaderOnStroke;
    }
    return cost;
  }

  const DrawingSheet& sheet_;
  Strokes strokes_;
  SegmentIndex index_;
  std::vector<Box2> texts_;
  std::vector<Vec2> balloons_;
  std::vector<BalloonLeader> leaders_;
};

} // namespace

BalloonLeader leaderOf(const Vec2& balloon, const Box2& text) {
  BalloonLeader leader;
  leader.to = balloon.cwiseMax(text.min()).cwiseMin(text.max());
  const Vec2 d = leader.to - balloon;
  leader.from = d.norm() > 1e-9 ? Vec2(balloon + kBalloonRadius * d.normalized()) : balloon;
  if (d.norm() < kBalloonRadius) leader.from = leader.to;
  return leader;
}

std::vector<BalloonMark> marksOf(const Specification& spec, const std::string& drawing,
                                 const std::vector<DrawingSheet>& sheets) {
  std::vector<BalloonMark> marks;
  for (std::size_t page = 1; page <= sheets.size(); ++page) {
    std::optional<PageLayout> layout;
    for (const Requirement& r : spec.requirements) {
      if (!r.spot || r.spot->drawing != drawing || r.spot->page != static_cast<int>(page) ||
          !r.spot->balloon)
        continue;
      if (!layout) layout.emplace(sheets[page - 1]);
      BalloonMark m;
      m.page = static_cast<int>(page);
      m.text = std::to_string(r.balloon);
      m.centre = {r.spot->balloon->x, r.spot->balloon->y};
      m.radius = kBalloonRadius;
      m.key = !r.key.empty();
      m.members = static_cast<int>(memberNumbers(r).size());
      const BalloonLeader leader = leaderOf(m.centre, layout->textOf(r.spot->x, r.spot->y));
      m.leader_from = leader.from, m.leader_to = leader.to;
      marks.push_back(std::move(m));
    }
  }
  return marks;
}

Specification withBalloons(const Specification& spec, const std::string& drawing,
                           const std::vector<DrawingSheet>& sheets) {
  Specification with = spec;
  for (std::size_t page = 1; page <= sheets.size(); ++page) {
    std::vector<Requirement*> open;
    std::vector<const Requirement*> placed;
    for (Requirement& r : with.requirements) {
      if (!r.spot || r.spot->drawing != drawing || r.spot->page != static_cast<int>(page)) continue;
      if (r.spot->balloon)
        placed.push_back(&r);
      else
        open.push_back(&r);
    }
    if (open.empty()) continue;
    PageLayout layout(sheets[page - 1]);
    for (const Requirement* r : placed)
      layout.taken({r->spot->balloon->x, r->spot->balloon->y},
                   layout.textOf(r->spot->x, r->spot->y));
    std::sort(open.begin(), open.end(),
              [](const Requirement* a, const Requirement* b) { return a->balloon < b->balloon; });
    for (Requirement* r : open) {
      // Others at this spot, of a chamfer, have a place already.
      for (const Requirement& other : with.requirements)
        if (&other != r && other.spot && other.spot->balloon && other.spot->drawing == drawing &&
            other.spot->page == r->spot->page && other.spot->x == r->spot->x &&
            other.spot->y == r->spot->y)
          r->spot->balloon = other.spot->balloon;
      if (r->spot->balloon) continue;
      const Vec2 at = layout.place(layout.textOf(r->spot->x, r->spot->y));
      r->spot->balloon = DrawingSpot::Balloon{at.x(), at.y(), false};
    }
  }
  return with;
}

} // namespace alder
