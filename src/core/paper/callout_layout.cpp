#include "paper/callout_layout.h"

#include "paper/assignment.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

enum class Side { Left, Right, Top, Bottom };

struct Place {
  Side side = Side::Left;
  Vec2 port = Vec2::Zero(); // where the leader meets the label
};

Area labelAt(const Place& place, double w, double h) {
  const Vec2& p = place.port;
  switch (place.side) {
  case Side::Left:
    return {p.x() - w, p.y() - h / 2, w, h};
  case Side::Right:
    return {p.x(), p.y() - h / 2, w, h};
  case Side::Top:
    return {p.x() - w / 2, p.y() - h, w, h};
  case Side::Bottom:
    return {p.x() - w / 2, p.y(), w, h};
  }
  return {};
}

// The nearest point of its rim.
Vec2 rimToward(const Area& label, const Vec2& anchor) {
  return {std::clamp(anchor.x(), label.x, label.right()),
          std::clamp(anchor.y(), label.y, label.bottom())};
}

class Layout {
 public:
  Layout(const std::vector<CalloutAsked>& asked, const CalloutSpace& space)
      : asked_(asked)
      , space_(space)
      , placed_(asked.size()) {}

  std::vector<std::optional<CalloutPlaced>> solve() {
    for (std::size_t i = 0; i < asked_.size(); ++i) {
      const CalloutAsked& a = asked_[i];
      if (a.pinned) {
        const Area label{a.pinned->x(), a.pinned->y(), a.width, a.height};
        placed_[i] = CalloutPlaced{label, rimToward(label, a.anchor), a.anchor};
        pinned_.push_back(i);
      } else if (space_.middle.holds(a.anchor)) {
        free_.push_back(i);
        width_ = std::max(width_, a.width), height_ = std::max(height_, a.height);
      }
    }
    if (free_.empty()) return placed_;
    makePlaces();
    if (places_.empty()) return placed_;
    assign();
    evenOut(Side::Left);
    evenOut(Side::Right);
    return placed_;
  }

 private:
  void tryPlace(Side side, double x, double y) {
    const Place place{side, {x, y}};
    const Area label = labelAt(place, width_, height_);
    if (!space_.all.holds(label)) return;
    if (covered(label)) return;
    places_.push_back(place);
  }

  bool covered(const Area& label) const {
    const auto meets = [&](const Area& other) { return label.overlaps(other, -space_.gap / 2); };
    if (std::any_of(space_.taken.begin(), space_.taken.end(), meets)) return true;
    return std::any_of(pinned_.begin(), pinned_.end(),
                       [&](std::size_t i) { return meets(placed_[i]->label); });
  }

  // Ports stand on a rectangle just outside the middle, corners left free, so that leaders stay in
  // it: columns beside it as wide as the widest label, rows above and below.
  void makePlaces() {
    const Area& m = space_.middle;
    const double gap = space_.gap;
    const auto along = [](double length, double step, const auto& put) {
      const int count = static_cast<int>(std::floor(length / step + 1e-9)) + 1;
      const double first = (length - (count - 1) * step) / 2;
      for (int k = 0; k < count; ++k)
        put(first + k * step);
    };
    along(m.h, height_ + gap, [&](double at) {
      tryPlace(Side::Left, m.x - gap, m.y + at);
      tryPlace(Side::Right, m.right() + gap, m.y + at);
    });
    if (m.w < width_) return;
    along(m.w - width_, width_ + gap, [&](double at) {
      tryPlace(Side::Top, m.x + width_ / 2 + at, m.y - gap);
      tryPlace(Side::Bottom, m.x + width_ / 2 + at, m.bottom() + gap);
    });
  }

  double costOf(std::size_t callout, const Place& place) const {
    const Vec2& anchor = asked_[callout].anchor;
    double cost = (place.port - anchor).norm();
    const double far = space_.all.w + space_.all.h;
    for (const std::size_t i : pinned_) {
      if (crossesArea(place.port, anchor, placed_[i]->label)) cost += far;
      if (segmentsCross(place.port, anchor, placed_[i]->from, placed_[i]->to)) cost += far;
    }
    return cost;
  }

  void assign() {
    const std::size_t n = free_.size(), m = places_.size();
    Eigen::MatrixXd cost(static_cast<Eigen::Index>(n), static_cast<Eigen::Index>(m));
    for (std::size_t i = 0; i < n; ++i)
      for (std::size_t k = 0; k < m; ++k)
        cost(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k)) =
            costOf(free_[i], places_[k]);
    place_of_.assign(asked_.size(), std::nullopt);
    if (n <= m) {
      const auto column = leastAssignment(cost);
      for (std::size_t i = 0; i < n; ++i)
        place_of_[free_[i]] = column[i];
    } else {
      const auto row = leastAssignment(cost.transpose());
      for (std::size_t k = 0; k < m; ++k)
        place_of_[free_[row[k]]] = k;
    }
    for (const std::size_t i : free_)
      if (place_of_[i]) put(i, places_[*place_of_[i]]);
  }

  void put(std::size_t i, const Place& place) {
    placed_[i] = CalloutPlaced{labelAt(place, asked_[i].width, asked_[i].height), place.port,
                               asked_[i].anchor};
  }

  // Labels of a column moved towards the height of their anchors, in their order and apart by a
  // step, by least squares (pool adjacent violators); kept where it is as free as before.
  void evenOut(Side side) {
    std::vector<std::size_t> column;
    for (const std::size_t i : free_)
      if (place_of_[i] && places_[*place_of_[i]].side == side) column.push_back(i);
    if (column.empty()) return;
    std::sort(column.begin(), column.end(), [&](std::size_t a, std::size_t b) {
      return placed_[a]->from.y() < placed_[b]->from.y();
    });
    const double step = height_ + space_.gap;
    const double low = std::max(space_.middle.y, space_.all.y + height_ / 2),
                 high = std::min(space_.middle.bottom(), space_.all.bottom() - height_ / 2);
    struct Block {
      double sum;
      std::size_t count;
    };
    std::vector<Block> blocks;
    for (std::size_t k = 0; k < column.size(); ++k) {
      blocks.push_back({asked_[column[k]].anchor.y() - static_cast<double>(k) * step, 1});
      while (blocks.size() > 1) {
        const Block& last = blocks.back();
        const Block& prior = blocks[blocks.size() - 2];
        if (prior.sum / static_cast<double>(prior.count) <=
            last.sum / static_cast<double>(last.count))
          break;
        const Block joined{prior.sum + last.sum, prior.count + last.count};
        blocks.pop_back();
        blocks.back() = joined;
      }
    }
    const double most = high - static_cast<double>(column.size() - 1) * step;
    const auto before = placed_;
    std::size_t k = 0;
    for (const Block& b : blocks)
      for (std::size_t j = 0; j < b.count; ++j, ++k) {
        const double base =
            std::clamp(b.sum / static_cast<double>(b.count), low, std::max(low, most));
        Place place = places_[*place_of_[column[k]]];
        place.port.y() = base + static_cast<double>(k) * step;
        put(column[k], place);
      }
    if (!allClear(column)) placed_ = before;
  }

  bool allClear(const std::vector<std::size_t>& moved) const {
    for (const std::size_t i : moved) {
      const CalloutPlaced& a = *placed_[i];
      if (!space_.all.holds(a.label) || covered(a.label)) return false;
      for (std::size_t k = 0; k < placed_.size(); ++k) {
        if (k == i || !placed_[k]) continue;
        const CalloutPlaced& b = *placed_[k];
        if (a.label.overlaps(b.label) || segmentsCross(a.from, a.to, b.from, b.to) ||
            crossesArea(a.from, a.to, b.label) || crossesArea(b.from, b.to, a.label))
          return false;
      }
    }
    return true;
  }

  const std::vector<CalloutAsked>& asked_;
  const CalloutSpace& space_;
  std::vector<std::optional<CalloutPlaced>> placed_;
  std::vector<std::size_t> free_, pinned_;
  std::vector<Place> places_;
  std::vector<std::optional<std::size_t>> place_of_;
  double width_ = 0, height_ = 0;
};

double side(const Vec2& p, const Vec2& q, const Vec2& r) {
  return (q.x() - p.x()) * (r.y() - p.y()) - (q.y() - p.y()) * (r.x() - p.x());
}

} // namespace

bool segmentsCross(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

bool crossesArea(const Vec2& a, const Vec2& b, const Area& area) {
  // Clipped to it (Liang and Barsky 1984): what is left must have a length.
  constexpr double kTouch = 1e-9;
  double from = 0, to = 1;
  const Vec2 d = b - a;
  const auto clip = [&](double p, double q) { // p t <= q
    if (std::abs(p) < 1e-12) return q > kTouch;
    const double t = q / p;
    if (p < 0)
      from = std::max(from, t);
    else
      to = std::min(to, t);
    return from < to - kTouch;
  };
  return clip(-d.x(), a.x() - area.x) && clip(d.x(), area.right() - a.x()) &&
         clip(-d.y(), a.y() - area.y) && clip(d.y(), area.bottom() - a.y());
}

std::vector<std::optional<CalloutPlaced>> placeCallouts(const std::vector<CalloutAsked>& asked,
                                                        const CalloutSpace& space) {
  return Layout(asked, space).solve();
}

} // namespace alder
