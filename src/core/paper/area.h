// A place on a page: millimetres from its upper left corner, downward.
#pragma once

#include "geometry/vec.h"

namespace alder {

struct Area {
  double x = 0, y = 0, w = 0, h = 0;

  double right() const { return x + w; }
  double bottom() const { return y + h; }
  Vec2 middle() const { return {x + w / 2, y + h / 2}; }
  bool overlaps(const Area& o, double by = 0) const {
    return x < o.right() - by && o.x < right() - by && y < o.bottom() - by && o.y < bottom() - by;
  }
  bool holds(const Area& o, double within = 1e-6) const {
    return o.x >= x - within && o.y >= y - within && o.right() <= right() + within &&
           o.bottom() <= bottom() + within;
  }
  bool holds(const Vec2& p) const {
    return p.x() >= x && p.x() <= right() && p.y() >= y && p.y() <= bottom();
  }
  // Smaller by that on each side.
  Area inner(double by) const { return {x + by, y + by, w - 2 * by, h - 2 * by}; }
  friend bool operator==(const Area&, const Area&) = default;
};

} // namespace alder
