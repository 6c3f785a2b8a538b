#include "drawing/drawn_view.h"

#include "part/vectors.h"
#include <BRepAdaptor_Curve.hxx>
#include <BRep_Tool.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Circ.hxx>
#include <map>
#include <set>

namespace alder {
namespace {

constexpr double kBin = 0.5;    // mm on the sheet, of the places that are voted for
constexpr double kMeets = 0.25; // mm on the sheet
constexpr int kLeastFound = 8;
constexpr double kLeastShare = 0.2;  // of the model's corners and circles; the rest is hidden
constexpr double kLeastExtent = 0.6; // of the part's extent that is met
constexpr std::size_t kMostViews = 12, kMostModelPoints = 600, kMostSheetPoints = 6000;
constexpr std::size_t kBestCells = 12; // that are looked at closely, of each way to look

struct EdgeCircle {
  Vec3 centre, axis;
  double radius;
};

// What of the model's edges can be met on a sheet.
struct KeyGeometry {
  Points corners;
  std::vector<EdgeCircle> circles;
};

KeyGeometry keysOf(const PartModel& part) {
  KeyGeometry keys;
  std::set<std::array<long, 3>> seen;
  const auto corner = [&](const Vec3& p) {
    const std::array<long, 3> key{std::lround(p.x() * 100), std::lround(p.y() * 100),
                                  std::lround(p.z() * 100)};
    if (seen.insert(key).second) keys.corners.push_back(p);
  };
  std::set<std::array<long, 7>> seen_circles;
  const TopoDS_Shape shape = shapeTaken(part);
  for (TopExp_Explorer e(shape, TopAbs_EDGE); e.More(); e.Next()) {
    const TopoDS_Edge edge = TopoDS::Edge(e.Current());
    if (BRep_Tool::Degenerated(edge)) continue;
    const BRepAdaptor_Curve curve(edge);
    const gp_Pnt a = curve.Value(curve.FirstParameter()), b = curve.Value(curve.LastParameter());
    const bool closed = a.Distance(b) < 1e-6;
    if (!closed) corner(vec(a)), corner(vec(b));
    if (curve.GetType() != GeomAbs_Circle) continue;
    const gp_Circ c = curve.Circle();
    const EdgeCircle circle{vec(c.Location()), vec(c.Axis().Direction()), c.Radius()};
    const auto round = [](double v) { return std::lround(v * 100); };
    const bool flip = circle.axis.sum() < 0;
    const Vec3 axis = flip ? Vec3(-circle.axis) : circle.axis;
    if (seen_circles
            .insert({round(circle.centre.x()), round(circle.centre.y()), round(circle.centre.z()),
                     round(axis.x()), round(axis.y()), round(axis.z()), round(circle.radius)})
            .second)
      keys.circles.push_back(circle);
  }
  return keys;
}

struct FlatCircle {
  Vec2 centre;
  double radius;
};

struct FlatKeys {
  std::vector<Vec2> points; // without repeats
  std::vector<FlatCircle> circles;
  Box2 extent;
};

FlatKeys flat(const KeyGeometry& keys, const DrawnView& view) {
  FlatKeys f;
  std::set<std::pair<long, long>> seen;
  const auto add = [&](const Vec2& p) {
    f.extent.extend(p);
    if (f.points.size() < kMostModelPoints &&
        seen.insert({std::lround(p.x() * 20), std::lround(p.y() * 20)}).second)
      f.points.push_back(p);
  };
  for (const Vec3& p : keys.corners)
    add(view.project(p));
  std::set<std::array<long, 3>> circles;
  for (const EdgeCircle& c : keys.circles) {
    const double along = std::abs(c.axis.dot(view.toward()));
    const Vec2 centre = view.project(c.centre);
    if (along > 1 - 1e-6) {
      f.extent.extend(centre - Vec2(c.radius, c.radius));
      f.extent.extend(centre + Vec2(c.radius, c.radius));
      if (circles
              .insert({std::lround(centre.x() * 20), std::lround(centre.y() * 20),
                       std::lround(c.radius * 20)})
              .second)
        f.circles.push_back({centre, c.radius});
    } else if (along < 1e-6) {
      // seen from the side: a line between the ends of its diameter
      const Vec2 d = view.project(c.axis.cross(view.toward()).normalized()) * c.radius;
      add(centre + d), add(centre - d);
    }
  }
  return f;
}

struct SheetKeys {
  std::vector<Vec2> points;
  std::vector<FlatCircle> circles;
};

// The pen of outlines where the sheet has several; frames of the sheet are none.
double outlinePen(const std::vector<StraightStroke>& all, const SheetSize& size) {
  std::map<long, double> lengths;
  double total = 0;
  for (const StraightStroke& s : all) {
    if (s.dashed || s.length() > 0.6 * std::min(size.width, size.height)) continue;
    lengths[std::lround(s.width * 50)] += s.length();
    total += s.length();
  }
  for (auto l = lengths.rbegin(); l != lengths.rend(); ++l)
    if (l->second > 0.04 * total) return static_cast<double>(l->first) / 50;
  return 0;
}

SheetKeys keysOf(const Strokes& strokes, double least_width) {
  SheetKeys keys;
  std::set<std::pair<long, long>> seen;
  const auto add = [&](const Vec2& p) {
    if (keys.points.size() < kMostSheetPoints &&
        seen.insert({std::lround(p.x() * 10), std::lround(p.y() * 10)}).second)
      keys.points.push_back(p);
  };
  for (const StraightStroke& s : strokes.segments)
    if (!s.dashed && s.width >= least_width) add(s.a), add(s.b);
  for (const RoundLine& r : strokes.rounds) {
    if (r.dashed) continue;
    if (!r.whole) add(r.from), add(r.to);
    keys.circles.push_back({r.centre, r.radius});
  }
  return keys;
}

// Points by cells, for whether one lies at a place.
class Places {
 public:
  explicit Places(const std::vector<Vec2>& points) {
    for (const Vec2& p : points)
      cells_[{std::lround(p.x()), std::lround(p.y())}].push_back(p);
  }
  bool has(const Vec2& at, double within) const {
    const long x = std::lround(at.x()), y = std::lround(at.y());
    for (long i = x - 1; i <= x + 1; ++i)
      for (long k = y - 1; k <= y + 1; ++k)
        if (const auto c = cells_.find({i, k}); c != cells_.end())
          for (const Vec2& p : c->second)
            if ((p - at).norm() < within) return true;
    return false;
  }

 private:
  std::map<std::pair<long, long>, std::vector<Vec2>> cells_;
};

// Votes for where the origin lies, of each pair of a model's corner and a sheet's.
class Votes {
 public:
  explicit Votes(const SheetSize& size)
      : columns_(static_cast<long>(2 * size.width / kBin) + 1)
      , rows_(static_cast<long>(2 * size.height / kBin) + 1)
      , low_(-size.width / 2, -size.height / 2)
      , count_(static_cast<std::size_t>(columns_ * rows_)) {}

  void clear() { std::fill(count_.begin(), count_.end(), 0); }
  void add(const Vec2& origin, int weight) {
    const long x = std::lround((origin.x() - low_.x()) / kBin),
               y = std::lround((origin.y() - low_.y()) / kBin);
    if (x < 1 || y < 1 || x + 1 >= columns_ || y + 1 >= rows_) return;
    auto& c = count_[static_cast<std::size_t>(y * columns_ + x)];
    c = static_cast<std::uint16_t>(std::min(60000, c + weight));
  }
  // Cells with the most votes, with those beside them.
  std::vector<Vec2> best(std::size_t most) const {
    std::vector<std::pair<int, long>> all;
    int least = 4;
    for (long y = 1; y + 1 < rows_; ++y)
      for (long x = 1; x + 1 < columns_; ++x) {
        const long at = y * columns_ + x;
        if (count_[static_cast<std::size_t>(at)] < 2) continue;
        int sum = 0;
        for (long i = -1; i <= 1; ++i)
          for (long k = -1; k <= 1; ++k)
            sum += count_[static_cast<std::size_t>(at + i * columns_ + k)];
        if (sum < least) continue;
        all.emplace_back(sum, at);
        if (all.size() > 50 * most) {
          std::nth_element(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(5 * most),
                           all.end(), std::greater<>());
          all.resize(5 * most);
          least = std::min_element(all.begin(), all.end())->first;
        }
      }
    std::sort(all.begin(), all.end(), std::greater<>());
    if (all.size() > most) all.resize(most);
    std::vector<Vec2> places;
    for (const auto& [sum, at] : all)
      places.emplace_back(low_.x() + kBin * static_cast<double>(at % columns_),
                          low_.y() + kBin * static_cast<double>(at / columns_));
    return places;
  }

 private:
  long columns_, rows_;
  Vec2 low_;
  std::vector<std::uint16_t> count_;
};

std::vector<DrawnView> waysToLook() {
  std::vector<DrawnView> ways;
  // Upright ones first: of several that fit equally the usual one counts.
  const std::array<Vec3, 6> axes{Vec3::UnitX(),  Vec3::UnitZ(),  Vec3::UnitY(),
                                 -Vec3::UnitX(), -Vec3::UnitZ(), -Vec3::UnitY()};
  for (const Vec3& up : {axes[1], axes[2], axes[0], axes[4], axes[5], axes[3]})
    for (const Vec3& right : axes) {
      if (std::abs(right.dot(up)) > 0.5) continue;
      DrawnView v;
      v.right = right, v.up = up;
      ways.push_back(v);
    }
  return ways;
}

class ViewFinder {
 public:
  ViewFinder(const SheetSize& size, const PartModel& part)
      : keys_(keysOf(part))
      , votes_(size)
      , ways_(waysToLook()) {}

  std::vector<DrawnView> find(SheetKeys sheet, const std::vector<double>& scales) {
    std::vector<DrawnView> views;
    while (views.size() < kMostViews) {
      std::optional<DrawnView> best;
      for (const double scale : scales)
        for (const DrawnView& way : ways_)
          if (const auto v = bestOf(way, scale, sheet); v && (!best || v->found > best->found))
            best = v;
      if (!best) break;
      views.push_back(*best);
      // What it explains counts for no other view.
      const Box2 area(best->area.min() - Vec2(1, 1), best->area.max() + Vec2(1, 1));
      std::erase_if(sheet.points, [&](const Vec2& p) { return area.contains(p); });
      std::erase_if(sheet.circles, [&](const FlatCircle& c) { return area.contains(c.centre); });
    }
    return views;
  }

 private:
  std::optional<DrawnView> bestOf(const DrawnView& way, double scale, const SheetKeys& sheet) {
    const FlatKeys keys = flat(keys_, way);
    votes_.clear();
    for (const Vec2& m : keys.points)
      for (const Vec2& s : sheet.points)
        votes_.add(s - scale * m, 1);
    for (const FlatCircle& m : keys.circles)
      for (const FlatCircle& s : sheet.circles)
        if (std::abs(s.radius - scale * m.radius) < kMeets)
          votes_.add(s.centre - scale * m.centre, 3);
    std::optional<DrawnView> best;
    const Places places(sheet.points);
    for (const Vec2& origin : votes_.best(kBestCells)) {
      DrawnView v = way;
      v.scale = scale;
      v.origin = settled(origin, scale, keys, sheet);
      if (!met(v, keys, sheet, places)) continue;
      if (!best || v.found > best->found) best = v;
    }
    return best;
  }

  // The mean of what votes for this place.
  static Vec2 settled(const Vec2& origin, double scale, const FlatKeys& keys,
                      const SheetKeys& sheet) {
    Vec2 sum = Vec2::Zero();
    double count = 0;
    const auto vote = [&](const Vec2& place) {
      if ((place - origin).cwiseAbs().maxCoeff() > kBin) return;
      sum += place - origin, count += 1;
    };
    for (const Vec2& m : keys.points)
      for (const Vec2& s : sheet.points)
        vote(s - scale * m);
    for (const FlatCircle& m : keys.circles)
      for (const FlatCircle& s : sheet.circles)
        if (std::abs(s.radius - scale * m.radius) < kMeets) vote(s.centre - scale * m.centre);
    return count > 0 ? Vec2(origin + sum / count) : origin;
  }

  static bool met(DrawnView& v, const FlatKeys& keys, const SheetKeys& sheet,
                  const Places& places) {
    Box2 found;
    v.found = 0;
    for (const Vec2& m : keys.points)
      if (places.has(v.origin + v.scale * m, kMeets)) found.extend(m), ++v.found;
    for (const FlatCircle& m : keys.circles)
      for (const FlatCircle& s : sheet.circles)
        if ((s.centre - v.origin - v.scale * m.centre).norm() < kMeets &&
            std::abs(s.radius - v.scale * m.radius) < kMeets) {
          found.extend(m.centre - Vec2(m.radius, m.radius));
          found.extend(m.centre + Vec2(m.radius, m.radius));
          v.found += 2;
          break;
        }
    v.asked = static_cast<int>(keys.points.size() + 2 * keys.circles.size());
    v.area = Box2(v.origin + v.scale * keys.extent.min(), v.origin + v.scale * keys.extent.max());
    if (v.found < kLeastFound || v.found < kLeastShare * v.asked || found.isEmpty()) return false;
    return (found.sizes().array() >= kLeastExtent * keys.extent.sizes().array()).all();
  }

  KeyGeometry keys_;
  Votes votes_;
  std::vector<DrawnView> ways_;
};

} // namespace

std::vector<DrawnView> viewsOn(const Strokes& strokes, const SheetSize& size, const PartModel& part,
                               const std::vector<double>& scales) {
  if (!(size.width > 0) || !(size.height > 0) || size.width * size.height > 4e6) return {};
  ViewFinder finder(size, part);
  const double pen = outlinePen(strokes.segments, size);
  auto views = finder.find(keysOf(strokes, 0.7 * pen), scales);
  if (views.empty()) views = finder.find(keysOf(strokes, 0), scales);
  return views;
}

} // namespace alder
