#include "sheet/strokes.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace alder {
namespace {

constexpr double kSame = 0.02;     // points that are one, mm
constexpr double kOffRound = 0.02; // of the radius; eight straight pieces are 0.02 within
constexpr double kLargestTip = 8;  // mm
constexpr double kSharpest = 1.15; // rad, of an equilateral triangle and a little more
constexpr std::size_t kMostTipCorners = 7, kRoundPoints = 8;
constexpr double kLargestStep = 1.1; // rad between points of a circle

std::vector<Vec2> withoutRepeats(const std::vector<Vec2>& points) {
  std::vector<Vec2> clean;
  for (const Vec2& p : points)
    if (clean.empty() || (p - clean.back()).norm() > kSame) clean.push_back(p);
  if (clean.size() > 2 && (clean.front() - clean.back()).norm() <= kSame) clean.pop_back();
  return clean;
}

// Kåsa's fit, which is exact for points of a circle.
std::optional<RoundLine> asRound(const std::vector<Vec2>& points, bool closed) {
  if (points.size() < kRoundPoints) return {};
  Eigen::MatrixXd m(static_cast<Eigen::Index>(points.size()), 3);
  Eigen::VectorXd y(m.rows());
  for (Eigen::Index i = 0; i < m.rows(); ++i) {
    const Vec2& p = points[static_cast<std::size_t>(i)];
    m.row(i) << p.x(), p.y(), 1;
    y(i) = p.squaredNorm();
  }
  const Eigen::Vector3d s = m.colPivHouseholderQr().solve(y);
  RoundLine round;
  round.centre = {s(0) / 2, s(1) / 2};
  const double square = s(2) + round.centre.squaredNorm();
  if (!(square > 0)) return {};
  round.radius = std::sqrt(square);
  for (const Vec2& p : points)
    if (std::abs((p - round.centre).norm() - round.radius) > kOffRound * round.radius + kSame)
      return {};
  // Flat arcs are lines for all that is looked for here.
  if (round.radius > 2000) return {};
  round.from = points.front(), round.to = points.back(), round.middle = points[points.size() / 2];
  double turned = 0;
  for (std::size_t i = 1; i < points.size(); ++i) {
    const Vec2 p = points[i - 1] - round.centre, q = points[i] - round.centre;
    const double step = std::atan2(p.x() * q.y() - p.y() * q.x(), p.dot(q));
    if (std::abs(step) > kLargestStep) return {}; // a chord
    turned += step;
  }
  const bool ends_meet = (round.from - round.to).norm() < 0.8 * round.radius;
  round.whole = ends_meet && (closed || std::abs(turned) > 5.9);
  return round;
}

// A small filled shape with one sharp corner: triangles, and those whose back is notched.
std::optional<FilledTip> asTip(const std::vector<Vec2>& points) {
  const std::size_t n = points.size();
  if (n < 3 || n > kMostTipCorners) return {};
  std::optional<std::size_t> sharpest;
  double longest = 0; // both sides of the corner
  Box2 box;
  for (std::size_t i = 0; i < n; ++i) {
    box.extend(points[i]);
    const Vec2 a = points[(i + n - 1) % n] - points[i], b = points[(i + 1) % n] - points[i];
    const double angle = std::acos(std::clamp(a.normalized().dot(b.normalized()), -1., 1.));
    if (angle > kSharpest || a.norm() + b.norm() <= longest + kSame) continue;
    longest = a.norm() + b.norm(), sharpest = i;
  }
  if (!sharpest || box.sizes().maxCoeff() > kLargestTip) return {};
  FilledTip tip;
  tip.tip = points[*sharpest];
  const Vec2 one = points[(*sharpest + n - 1) % n], other = points[(*sharpest + 1) % n];
  tip.back = (one + other) / 2;
  tip.width = (one - other).norm();
  if (tip.width < kSame) return {};
  return tip;
}

class Sorter {
 public:
  Strokes sort(const DrawingSheet& sheet) {
    for (const SheetPath& path : joined(sheet.paths))
      take(path);
    return std::move(strokes_);
  }

 private:
  // Lines that begin where the one before has ended are one: many writers draw piece by piece.
  static std::vector<SheetPath> joined(const std::vector<SheetPath>& paths) {
    std::vector<SheetPath> all;
    for (const SheetPath& p : paths) {
      if (p.points.size() < 2) continue;
      const bool goes_on = !all.empty() && !p.filled && !all.back().filled && !p.closed &&
                           !p.curved && !all.back().curved && !all.back().closed &&
                           p.dashed == all.back().dashed &&
                           std::abs(p.width - all.back().width) < 1e-6 &&
                           (all.back().points.back() - p.points.front()).norm() <= kSame;
      if (goes_on) {
        all.back().points.insert(all.back().points.end(), p.points.begin() + 1, p.points.end());
        all.back().curved |= p.curved;
      } else {
        all.push_back(p);
      }
    }
    return all;
  }

  void take(const SheetPath& path) {
    const bool closed = path.closed || (path.points.front() - path.points.back()).norm() <= kSame;
    const auto points = withoutRepeats(path.points);
    if (path.filled) {
      if (const auto tip = asTip(points)) strokes_.tips.push_back(*tip);
      if (const auto bar = asBar(points)) strokes_.segments.push_back(*bar);
      return;
    }
    if (auto round = asRound(points, closed)) {
      round->dashed = path.dashed;
      strokes_.rounds.push_back(*round);
      if (closed && !round->whole) pieces({round->to, round->from}, false, path);
      return;
    }
    if (path.curved) {
      mixed(path);
      return;
    }
    pieces(points, closed, path);
  }

  // A line drawn as a filled strip.
  static std::optional<StraightStroke> asBar(const std::vector<Vec2>& points) {
    if (points.size() != 4) return {};
    const double one = (points[1] - points[0]).norm(), other = (points[2] - points[1]).norm();
    if (std::min(one, other) > 0.8 || std::max(one, other) < 4 * std::min(one, other)) return {};
    StraightStroke s;
    if (one < other)
      s.a = (points[0] + points[1]) / 2, s.b = (points[2] + points[3]) / 2, s.width = one;
    else
      s.a = (points[1] + points[2]) / 2, s.b = (points[3] + points[0]) / 2, s.width = other;
    return s;
  }

  // Straight parts and curves in one path: its long pieces are straight.
  void mixed(const SheetPath& path) {
    std::vector<Vec2> curve;
    constexpr double kLong = 1.5;
    const auto end = [&] {
      if (auto round = asRound(withoutRepeats(curve), false)) {
        round->dashed = path.dashed;
        strokes_.rounds.push_back(*round);
      }
      curve.clear();
    };
    for (std::size_t i = 1; i < path.points.size(); ++i) {
      if ((path.points[i] - path.points[i - 1]).norm() > kLong) {
        end();
        pieces({path.points[i - 1], path.points[i]}, false, path);
        continue;
      }
      if (curve.empty()) curve.push_back(path.points[i - 1]);
      curve.push_back(path.points[i]);
    }
    end();
  }

  void pieces(const std::vector<Vec2>& points, bool closed, const SheetPath& path) {
    std::vector<StraightStroke> made;
    const auto add = [&](const Vec2& a, const Vec2& b) {
      if ((b - a).norm() <= kSame) return;
      const StraightStroke s{a, b, path.width, path.dashed};
      // Points within a straight line are no ends.
      if (!made.empty() && (made.back().b - a).norm() <= kSame &&
          made.back().direction().dot(s.direction()) > 1 - 1e-6)
        made.back().b = b;
      else
        made.push_back(s);
    };
    for (std::size_t i = 1; i < points.size(); ++i)
      add(points[i - 1], points[i]);
    if (closed && points.size() > 2) add(points.back(), points.front());
    strokes_.segments.insert(strokes_.segments.end(), made.begin(), made.end());
  }

  Strokes strokes_;
};

} // namespace

Strokes strokesOf(const DrawingSheet& sheet) {
  return Sorter().sort(sheet);
}

SegmentIndex::SegmentIndex(const std::vector<StraightStroke>& segments)
    : segments_(segments) {
  Box2 all;
  for (const StraightStroke& s : segments)
    all.extend(s.a), all.extend(s.b);
  if (all.isEmpty()) return;
  constexpr double kMostCells = 400; // along a side
  cell_ = std::max(cell_, all.sizes().maxCoeff() / kMostCells);
  low_ = all.min();
  columns_ = static_cast<int>(all.sizes().x() / cell_) + 1;
  rows_ = static_cast<int>(all.sizes().y() / cell_) + 1;
  cells_.resize(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
  for (std::uint32_t i = 0; i < segments.size(); ++i) {
    Box2 box(segments[i].a);
    box.extend(segments[i].b);
    int x0 = 0, x1 = 0, y0 = 0, y1 = 0;
    range(box, x0, x1, y0, y1);
    for (int y = y0; y <= y1; ++y)
      for (int x = x0; x <= x1; ++x) {
        // of slanted lines only the cells that they cross
        const Vec2 middle = low_ + cell_ * Vec2(x + 0.5, y + 0.5);
        const Vec2 d = segments[i].b - segments[i].a;
        const double length = d.norm();
        const Vec2 off = middle - segments[i].a;
        if (length > 0 && std::abs(d.x() * off.y() - d.y() * off.x()) / length > cell_) continue;
        cells_[static_cast<std::size_t>(y) * static_cast<std::size_t>(columns_) +
               static_cast<std::size_t>(x)]
            .push_back(i);
      }
  }
}

void SegmentIndex::range(const Box2& box, int& x0, int& x1, int& y0, int& y1) const {
  const auto cell = [&](double value, double low, int count) {
    return static_cast<int>(std::clamp((value - low) / cell_, 0., count - 1.));
  };
  x0 = cell(box.min().x(), low_.x(), columns_), x1 = cell(box.max().x(), low_.x(), columns_);
  y0 = cell(box.min().y(), low_.y(), rows_), y1 = cell(box.max().y(), low_.y(), rows_);
}

std::vector<std::size_t> SegmentIndex::near(const Box2& box) const {
  std::vector<std::size_t> found;
  if (cells_.empty()) return found;
  int x0 = 0, x1 = 0, y0 = 0, y1 = 0;
  range(box, x0, x1, y0, y1);
  for (int y = y0; y <= y1; ++y)
    for (int x = x0; x <= x1; ++x)
      for (const std::uint32_t i :
           cells_[static_cast<std::size_t>(y) * static_cast<std::size_t>(columns_) +
                  static_cast<std::size_t>(x)]) {
        Box2 own(segments_[i].a);
        own.extend(segments_[i].b);
        if (own.intersects(box)) found.push_back(i);
      }
  std::sort(found.begin(), found.end());
  found.erase(std::unique(found.begin(), found.end()), found.end());
  return found;
}

} // namespace alder
