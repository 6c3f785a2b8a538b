#include "plan/touches/touch_planner.h"

#include "base/units.h"
#include "fit/small_linear.h"
#include "plan/touches/contour.h"
#include "requirement/datum_targets.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

constexpr int kCandidates = 500;

class Planner {
 public:
  Planner(const PartModel& part, const NominalFeature& f, const Recipe& recipe, double ball_radius,
          const Usable& usable)
      : part_(part)
      , ideal_(f.ideal)
      , faces_(f.faces)
      , recipe_(recipe)
      , region_(part, f.faces)
      , edge_(ball_radius + recipe.edge_margin)
      , usable_(usable) {}

  std::vector<Touch> plan() {
    if (isContour(recipe_.stroke)) return contour();
    switch (ideal_.type) {
    case SurfaceType::Plane:
      return recipe_.stroke == Stroke::Touches ? spread(region_, recipe_.per_row, 0)
                                               : scannedLines();
    case SurfaceType::Slot:
      return slot();
    case SurfaceType::Cylinder:
    case SurfaceType::Cone:
      return rings();
    case SurfaceType::Sphere:
      return cap();
    default:
      return parameterGrid();
    }
  }

 private:
  // Nearer to edges than recipes keep: where it goes is told by a person.
  std::vector<Touch> contour() const {
    const auto places = recipe_.stroke == Stroke::Edge
                            ? edgePlaces(region_, recipe_.contour, recipe_.pitch)
                            : sectionPlaces(region_, recipe_.contour, recipe_.pitch);
    std::vector<Touch> result;
    for (const SurfacePoint& s : places)
      if (region_.edgeDistance(s.point) >= edge_ - recipe_.edge_margin && (!usable_ || usable_(s)))
        result.push_back(touch(s, 0));
    return result;
  }

  bool good(const FaceRegion& region, const SurfacePoint& s) const {
    return region.edgeDistance(s.point) >= edge_ && (!usable_ || usable_(s));
  }

  std::vector<SurfacePoint> candidates(const FaceRegion& region) const {
    const auto among = [&](int count) {
      auto all = region.grid(count);
      const std::size_t before = all.size();
      std::erase_if(all, [&](const SurfacePoint& s) { return !good(region, s); });
      return std::pair(std::move(all), before);
    };
    auto [all, before] = among(kCandidates);
    // On a strip the ball leaves a few columns of the grid; the outermost places lie between them.
    if (ideal_.type == SurfaceType::Plane && 3 * all.size() < before)
      return among(16 * kCandidates).first;
    return std::move(all);
  }

  static Touch touch(const SurfacePoint& s, int row) { return {s.point, s.normal, s.face, row}; }

  // Farthest-point choice (Gonzalez 1985): each next point lies as far as possible from all before.
  static std::vector<SurfacePoint> farthest(const std::vector<SurfacePoint>& from, int count) {
    std::vector<SurfacePoint> chosen;
    if (from.empty()) return chosen;
    Vec3 middle = Vec3::Zero();
    for (const auto& s : from)
      middle += s.point;
    middle /= static_cast<double>(from.size());
    std::vector<double> distance(from.size());
    for (std::size_t i = 0; i < from.size(); ++i)
      distance[i] = (from[i].point - middle).norm();
    for (int k = 0; k < count; ++k) {
      const auto next = static_cast<std::size_t>(
          std::max_element(distance.begin(), distance.end()) - distance.begin());
      if (k > 0 && distance[next] < 0.2) break;
      chosen.push_back(from[next]);
      for (std::size_t i = 0; i < from.size(); ++i) {
        const double d = (from[i].point - from[next].point).norm();
        distance[i] = k == 0 ? d : std::min(distance[i], d);
      }
    }
    return chosen;
  }

  // A short round trip: nearest neighbour, then 2-opt.
  static std::vector<SurfacePoint> shortOrder(std::vector<SurfacePoint> p) {
    for (std::size_t i = 1; i + 1 < p.size(); ++i) {
      std::size_t best = i;
      for (std::size_t j = i; j < p.size(); ++j)
        if ((p[j].point - p[i - 1].point).norm() < (p[best].point - p[i - 1].point).norm())
          best = j;
      std::swap(p[i], p[best]);
    }
    const auto d = [&](std::size_t a, std::size_t b) { return (p[a].point - p[b].point).norm(); };
    for (bool better = true; better;) {
      better = false;
      for (std::size_t i = 1; i + 1 < p.size(); ++i)
        for (std::size_t j = i + 1; j < p.size(); ++j) {
          const double now = d(i - 1, i) + (j + 1 < p.size() ? d(j, j + 1) : 0);
          const double then = d(i - 1, j) + (j + 1 < p.size() ? d(i, j + 1) : 0);
          if (then < now - 1e-9) {
            std::reverse(p.begin() + static_cast<std::ptrdiff_t>(i),
                         p.begin() + static_cast<std::ptrdiff_t>(j) + 1);
            better = true;
          }
        }
    }
    return p;
  }

  std::vector<Touch> spread(const FaceRegion& region, int count, int row) const {
    std::vector<Touch> result;
    for (const auto& s : shortOrder(farthest(candidates(region), count)))
      result.push_back(touch(s, row));
    return result;
  }

  std::vector<Touch> slot() const {
    std::vector<Touch> result;
    for (int side = 0; side < 2; ++side) {
      std::vector<FaceId> faces;
      for (FaceId f : faces_)
        if ((part_.face(f).ideal.direction.dot(ideal_.direction) < 0) == (side == 1))
          faces.push_back(f);
      const auto one = spread(FaceRegion(part_, faces), recipe_.per_row, side);
      result.insert(result.end(), one.begin(), one.end());
    }
    return result;
  }

  std::optional<SurfacePoint> onRing(double depth, double angle) const {
    const Frame frame = frameOf(ideal_.point, ideal_.direction);
    const double radius = ideal_.diameter / 2 + depth * std::tan(ideal_.half_angle);
    const Vec3 place = frame * Vec3(radius * std::cos(angle), radius * std::sin(angle), depth);
    auto s = region_.at(place);
    if (s && !good(region_, *s)) s.reset();
    return s;
  }

  // Each touch with its place in the ring.
  std::vector<std::pair<int, Touch>> ring(double depth, int row) const {
    std::vector<std::pair<int, Touch>> result;
    const double pitch = turnStep(recipe_.per_row);
    for (int k = 0; k < recipe_.per_row; ++k) {
      // Serpentine: each ring starts where the last one ended.
      const int place = row % 2 == 0 ? k : recipe_.per_row - 1 - k;
      for (double off : {0.0, 0.12, -0.12, 0.25, -0.25, 0.38, -0.38}) {
        const auto s = onRing(depth, recipe_.start_angle + (place + off) * pitch);
        if (!s) continue;
        result.emplace_back(place, touch(*s, row));
        break;
      }
    }
    return result;
  }

  // Signed angle between the places of a ring: a full turn closes, a part of one has both its ends.
  double turnStep(int count) const {
    const bool full = recipe_.coverage > 2 * kPi - 1e-6;
    const double step = recipe_.coverage / std::max(1, full ? count : count - 1);
    return recipe_.clockwise ? -step : step;
  }

  // Round and round with the ball on the surface, a turn a row, or in one helix.
  std::vector<Touch> scannedRings() const {
    const auto [low, high] = depthRange();
    std::vector<Touch> result;
    const double radius = std::max(0.1, ideal_.diameter / 2);
    const int count = std::max(
        recipe_.per_row, static_cast<int>(std::ceil(recipe_.coverage * radius / scanStep(radius))));
    const int rows = std::max(1, recipe_.rows);
    const bool helix = recipe_.stroke == Stroke::Helix;
    const double step = turnStep(count);
    const bool full = recipe_.coverage > 2 * kPi - 1e-6;
    for (int row = 0; row < rows && high >= low; ++row)
      for (int k = 0; k < count + (full && !helix ? 1 : 0); ++k) { // a ring ends where it began
        const double done = helix ? row + static_cast<double>(k) / count : row;
        const double share = helix      ? done / rows
                             : rows > 1 ? static_cast<double>(row) / (rows - 1)
                                        : 0.5;
        if (const auto s = onRing(low + share * (high - low), recipe_.start_angle + k * step))
          result.push_back(touch(*s, helix ? 0 : row));
      }
    return result;
  }

  // Straight moves between the points of a scan must not cut into what bulges towards the ball.
  double scanStep(double radius) const {
    constexpr double kSagitta = 0.03;
    return std::min(recipe_.pitch, std::sqrt(8 * kSagitta * std::max(radius, 0.2)));
  }

  // Parallel lines over a plane, there and back.
  std::vector<Touch> scannedLines() const {
    const auto all = candidates(region_);
    if (all.empty()) return {};
    const Frame frame = frameOf(ideal_.point, ideal_.direction);
    const Frame turned =
        frame * Frame(Eigen::AngleAxisd(recipe_.start_angle, Vec3::UnitZ()).toRotationMatrix());
    const Frame inverse = turned.inverse();
    Box3 box;
    for (const auto& s : all)
      box.extend(inverse * s.point);
    std::vector<Touch> result;
    const int rows = std::max(1, recipe_.rows);
    const int count =
        std::max(recipe_.per_row, static_cast<int>(std::ceil(box.sizes().x() / recipe_.pitch)) + 1);
    for (int row = 0; row < rows; ++row) {
      const double across = rows > 1 ? static_cast<double>(row) / (rows - 1) : 0.5;
      for (int k = 0; k < count; ++k) {
        const double along = static_cast<double>(row % 2 == 0 ? k : count - 1 - k) / (count - 1);
        Vec3 place = box.min() + Vec3(along * box.sizes().x(), across * box.sizes().y(), 0);
        place.z() = 0;
        if (const auto s = region_.at(turned * place); s && good(region_, *s))
          result.push_back(touch(*s, row));
      }
    }
    return result;
  }

  std::vector<Touch> rings() const {
    if (recipe_.stroke != Stroke::Touches) return scannedRings();
    const auto [low, high] = depthRange();
    std::vector<std::pair<int, Touch>> placed;
    for (int row = 0; row < recipe_.rows && high >= low; ++row) {
      const double share = recipe_.rows > 1 ? static_cast<double>(row) / (recipe_.rows - 1) : 0.5;
      const auto one = ring(low + share * (high - low), row);
      placed.insert(placed.end(), one.begin(), one.end());
    }
    // Inside a hole any two touches are joined straight; round a boss only those along its axis, so
    // there one goes up at one place, down at the next.
    if (!ideal_.hole)
      std::stable_sort(placed.begin(), placed.end(), [](const auto& a, const auto& b) {
        const bool down = a.first % 2 == 1;
        return a.first != b.first ? a.first < b.first
               : down             ? a.second.row > b.second.row
                                  : a.second.row < b.second.row;
      });
    std::vector<Touch> result;
    for (const auto& [place, t] : placed)
      result.push_back(t);
    if (static_cast<int>(result.size()) * 2 >= recipe_.rows * recipe_.per_row &&
        touchesSuffice(ideal_, result))
      return result;
    // Little material on the rings: take what there is, as far apart as possible.
    std::vector<Touch> anywhere;
    for (const auto& s : shortOrder(farthest(candidates(region_), recipe_.rows * recipe_.per_row)))
      anywhere.push_back(touch(s, 0));
    return anywhere;
  }

  // Depths of the first and last ring: as asked for, else where rings first and last find room.
  std::pair<double, double> depthRange() const {
    const double slope = std::cos(ideal_.half_angle);
    double low = edge_ * slope, high = ideal_.length - edge_ * slope;
    constexpr int steps = 24;
    double first = 1e300, last = -1e300;
    for (int i = 0; i <= steps; ++i) {
      const double depth = low + (high - low) * i / steps;
      int found = 0;
      for (int k = 0; k < 8; ++k)
        found += onRing(depth, recipe_.start_angle + k * kPi / 4).has_value();
      if (found < 5) continue;
      first = std::min(first, depth);
      last = std::max(last, depth);
    }
    if (first <= last) low = first, high = last;
    if (recipe_.from_end) {
      if (recipe_.first_depth > 0) high = ideal_.length - recipe_.first_depth;
      if (recipe_.last_depth > 0) low = ideal_.length - recipe_.last_depth;
    } else {
      if (recipe_.first_depth > 0) low = recipe_.first_depth;
      if (recipe_.last_depth > 0) high = recipe_.last_depth;
    }
    return {low, high};
  }

  std::vector<Touch> cap() const {
    const auto all = candidates(region_);
    if (all.empty()) return {};
    Vec3 pole = Vec3::Zero();
    for (const auto& s : all)
      pole += s.point - ideal_.point;
    if (pole.norm() < 1e-9) pole = ideal_.direction;
    const Frame frame = frameOf(ideal_.point, pole);
    double widest = 0;
    for (const auto& s : all)
      widest = std::max(
          widest, std::acos(std::clamp((s.point - ideal_.point).normalized().dot(pole.normalized()),
                                       -1.0, 1.0)));
    std::vector<Touch> result;
    const auto add = [&](double polar, double angle, int row) {
      const double r = ideal_.diameter / 2;
      const Vec3 p = frame * Vec3(r * std::sin(polar) * std::cos(angle),
                                  r * std::sin(polar) * std::sin(angle), r * std::cos(polar));
      if (const auto s = region_.at(p); s && good(region_, *s)) result.push_back(touch(*s, row));
    };
    add(0, 0, 0);
    for (int row = 1; row < recipe_.rows; ++row)
      for (int k = 0; k < recipe_.per_row; ++k)
        add(0.97 * widest * row / (recipe_.rows - 1),
            recipe_.start_angle + (k + 0.5 * (row % 2)) * 2 * kPi / recipe_.per_row, row);
    if (touchesSuffice(ideal_, result)) return result;
    result.clear();
    for (const auto& s : shortOrder(farthest(all, touchCount(recipe_, SurfaceType::Sphere))))
      result.push_back(touch(s, 0));
    return result;
  }

  std::vector<Touch> parameterGrid() const {
    auto all = candidates(region_);
    std::vector<Touch> result;
    for (FaceId face : faces_) {
      std::vector<SurfacePoint> own;
      std::copy_if(all.begin(), all.end(), std::back_inserter(own),
                   [&](const SurfacePoint& s) { return s.face == face; });
      appendGrid(own, result);
    }
    return result;
  }

  void appendGrid(const std::vector<SurfacePoint>& own, std::vector<Touch>& result) const {
    if (own.empty()) return;
    double u0 = 1e300, u1 = -1e300, v0 = 1e300, v1 = -1e300;
    for (const auto& s : own) {
      u0 = std::min(u0, s.u), u1 = std::max(u1, s.u);
      v0 = std::min(v0, s.v), v1 = std::max(v1, s.v);
    }
    const double du = std::max(u1 - u0, 1e-9), dv = std::max(v1 - v0, 1e-9);
    std::vector<bool> used(own.size(), false);
    for (int row = 0; row < recipe_.rows; ++row)
      for (int k = 0; k < recipe_.per_row; ++k) {
        const int place = row % 2 == 0 ? k : recipe_.per_row - 1 - k;
        const double u =
            recipe_.per_row > 1 ? static_cast<double>(place) / (recipe_.per_row - 1) : 0.5;
        const double v = recipe_.rows > 1 ? static_cast<double>(row) / (recipe_.rows - 1) : 0.5;
        std::size_t best = own.size();
        double nearest = 0.3;
        for (std::size_t i = 0; i < own.size(); ++i) {
          const double d = std::hypot((own[i].u - u0) / du - u, (own[i].v - v0) / dv - v);
          if (!used[i] && d < nearest) nearest = d, best = i;
        }
        if (best == own.size()) continue;
        used[best] = true;
        result.push_back(touch(own[best], row));
      }
  }

  const PartModel& part_;
  const Ideal& ideal_;
  const std::vector<FaceId>& faces_;
  const Recipe& recipe_;
  FaceRegion region_;
  double edge_;
  const Usable& usable_;
};

// Largest part of a turn without a touch, seen along the axis.
double widestGap(const Ideal& ideal, const std::vector<Touch>& touches) {
  const Frame inverse = frameOf(ideal.point, ideal.direction).inverse();
  std::vector<double> angles;
  for (const Touch& t : touches) {
    const Vec3 q = inverse * t.point;
    angles.push_back(std::atan2(q.y(), q.x()));
  }
  std::sort(angles.begin(), angles.end());
  double gap = 2 * kPi - (angles.back() - angles.front());
  for (std::size_t i = 1; i < angles.size(); ++i)
    gap = std::max(gap, angles[i] - angles[i - 1]);
  return gap;
}

double extentAlong(const Vec3& direction, const std::vector<Touch>& touches) {
  double low = 1e300, high = -1e300;
  for (const Touch& t : touches) {
    low = std::min(low, t.point.dot(direction));
    high = std::max(high, t.point.dot(direction));
  }
  return high - low;
}

// Sums of squares of the touches about the middle of their row, along the plane square to `normal`:
// the smaller and the larger one of their two main directions.
Vec2 spreadAlong(const std::vector<Touch>& touches, const Vec3& normal, bool by_row) {
  const Frame inverse = frameOf(touches.front().point, normal).inverse();
  std::map<int, std::pair<Vec3, int>> sums;
  const auto rowOf = [&](const Touch& t) { return by_row ? t.row : 0; };
  for (const Touch& t : touches) {
    auto& [sum, count] = sums.try_emplace(rowOf(t), Vec3::Zero(), 0).first->second;
    sum += inverse * t.point;
    ++count;
  }
  Mat3 squares = Mat3::Zero();
  for (const Touch& t : touches) {
    const auto& [sum, count] = sums.at(rowOf(t));
    const Vec3 q = inverse * t.point - sum / count;
    squares += q * q.transpose();
  }
  return eigenpairs(squares.topLeftCorner<2, 2>()).values;
}

// Not on one line: a strip may be narrow, but not a scratch. The sides of a slot fix its directions
// each by its own touches.
bool planeSpread(const std::vector<Touch>& touches, const Vec3& normal, bool by_row = false) {
  const Vec2 squares = spreadAlong(touches, normal, by_row);
  return squares[0] > 0.002 * 0.002 * squares[1] && squares[0] > 0.01;
}

std::string faultOf(const FaceRegion& region, const Touch& touch, double ball_radius) {
  constexpr double kOn = 0.05; // as near as touches are computed, and then some
  const auto s = region.at(touch.point, kOn);
  if (!s) {
    const auto next = region.at(touch.point, 5);
    return next
               ? fmt::format("{} mm off the surface", figure((next->point - touch.point).norm(), 2))
               : "off the material, or in a hole";
  }
  if (s->normal.dot(touch.normal) < 0.7) return "on a face that looks elsewhere";
  if (const double edge = region.edgeDistance(s->point); edge < ball_radius - 1e-6)
    return fmt::format("{} mm from an edge; the ball needs {}", figure(edge, 2),
                       figure(ball_radius, 2));
  return {};
}

} // namespace

std::vector<Touch> planTouches(const PartModel& part, const NominalFeature& feature,
                               const Recipe& recipe, double ball_radius, const Usable& usable,
                               const std::vector<DatumTarget>& targets) {
  if (feature.faces.empty()) return {};
  auto touches =
      withTargets(part, feature, Planner(part, feature, recipe, ball_radius, usable).plan(),
                  ball_radius, {}, targets);
  if (usable)
    std::erase_if(touches, [&](const Touch& t) { return !usable({t.point, t.normal, t.face}); });
  return touches;
}

std::vector<Touch> withTargets(const PartModel& part, const NominalFeature& feature,
                               std::vector<Touch> touches, double ball_radius,
                               const std::vector<DatumTarget>& before,
                               const std::vector<DatumTarget>& after) {
  for (const DatumTarget& target : before)
    for (const Touch& old : touchesAt(part, feature, target, ball_radius, 0))
      std::erase_if(touches, [&](const Touch& t) { return (t.point - old.point).norm() < 1e-6; });
  int row = 0;
  for (const Touch& t : touches)
    row = std::max(row, t.row);
  for (const DatumTarget& target : after)
    for (const Touch& t : touchesAt(part, feature, target, ball_radius, ++row))
      touches.push_back(t);
  return touches;
}

Result<Touch> touchAtPlace(const PartModel& part, const NominalFeature& feature,
                           const std::vector<Touch>& others, const Vec3& place,
                           double ball_radius) {
  constexpr double kOff = 0.5; // triangles of a coarse picture lie so far off the surface
  if (feature.faces.empty()) return fail("{} has no surface to touch.", feature.name);
  const FaceRegion region(part, feature.faces);
  const auto s = region.at(place, kOff);
  if (!s) return fail("This place lies off the material of {}.", feature.name);
  if (const double edge = region.edgeDistance(s->point); edge < ball_radius)
    return fail("This place is {} mm from an edge; the ball needs {}.", figure(edge, 2),
                figure(ball_radius, 2));
  // It joins the row of the touch next to it; the sides of a slot are rows of their own.
  Touch touch{s->point, s->normal, s->face, 0};
  double nearest = 1e300;
  for (const Touch& t : others) {
    const double d = (t.point - s->point).norm();
    if (d < 0.2) return fail("There is a touch here already.");
    if (d < nearest && t.normal.dot(s->normal) > -0.5) nearest = d, touch.row = t.row;
  }
  return touch;
}

std::vector<std::string> faultsOf(const PartModel& part, const NominalFeature& feature,
                                  const std::vector<Touch>& touches, double ball_radius) {
  std::vector<std::string> faults(touches.size());
  if (feature.faces.empty()) return faults;
  const FaceRegion region(part, feature.faces);
  std::transform(touches.begin(), touches.end(), faults.begin(),
                 [&](const Touch& t) { return faultOf(region, t, ball_radius); });
  return faults;
}

std::vector<Touch> touchesAt(const PartModel& part, const NominalFeature& feature,
                             const DatumTarget& target, double ball_radius, int row) {
  constexpr double kOff = 1e-2; // written to fewer decimals than the model has
  std::vector<Touch> touches;
  if (feature.faces.empty()) return touches;
  const FaceRegion region(part, feature.faces);
  for (const Vec3& place : placesOf(target)) {
    const double reach = target.diameter > 0 ? target.diameter / 2 : kOff;
    const auto s = region.at(place, reach);
    if (!s || region.edgeDistance(s->point) < ball_radius) continue;
    if (target.diameter > 0 && (s->point - target.point).norm() > target.diameter / 2) continue;
    const bool again = std::any_of(touches.begin(), touches.end(), [&](const Touch& t) {
      return (t.point - s->point).norm() < 0.1;
    });
    if (!again) touches.push_back({s->point, s->normal, s->face, row});
  }
  return touches;
}

bool touchesSuffice(const Ideal& ideal, const std::vector<Touch>& touches, Stroke stroke) {
  if (isContour(stroke)) return touches.size() >= 3;
  if (static_cast<int>(touches.size()) < leastTouches(ideal.type)) return false;
  switch (ideal.type) {
  case SurfaceType::Plane:
    return planeSpread(touches, ideal.direction);
  case SurfaceType::Slot: {
    const auto first =
        std::count_if(touches.begin(), touches.end(), [](const Touch& t) { return t.row == 0; });
    return first >= 2 && static_cast<std::ptrdiff_t>(touches.size()) - first >= 2 &&
           planeSpread(touches, ideal.direction, true);
  }
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
    return widestGap(ideal, touches) < radians(215) && extentAlong(ideal.direction, touches) > 0.5;
  case SurfaceType::Sphere: {
    // not all on one ring: their plane must not hold them all
    Points p;
    for (const Touch& t : touches)
      p.push_back(t.point);
    const Vec3 c = centroid(p);
    Mat3 sum = Mat3::Zero();
    for (const Vec3& q : p)
      sum += (q - c) * (q - c).transpose();
    const SmallVector squares = eigenpairs(sum).values;
    return squares[0] > 1e-3 * squares[2];
  }
  default:
    return true;
  }
}

double spreadOf(const Ideal& ideal, const std::vector<Touch>& touches) {
  if (touches.empty()) return 0;
  if (ideal.type == SurfaceType::Cylinder || ideal.type == SurfaceType::Cone)
    return extentAlong(ideal.direction, touches);
  if (ideal.type != SurfaceType::Plane && ideal.type != SurfaceType::Slot) return 0;
  const Vec2 squares = spreadAlong(touches, ideal.direction, ideal.type == SurfaceType::Slot);
  return std::sqrt(std::max(0.0, squares[1]) / static_cast<double>(touches.size()));
}

double widthOf(const Ideal& ideal, const std::vector<Touch>& touches) {
  if (touches.empty() || ideal.type != SurfaceType::Plane) return 0;
  const double squares = spreadAlong(touches, ideal.direction, false)[0];
  return std::sqrt(std::max(0.0, squares) / static_cast<double>(touches.size()));
}

bool touchesAllRound(const Ideal& ideal, const std::vector<Touch>& touches) {
  if (ideal.type != SurfaceType::Cylinder && ideal.type != SurfaceType::Cone) return true;
  if (touches.empty()) return false;
  const auto along = [&](const Touch& t) { return t.point.dot(ideal.direction); };
  const auto [low, high] =
      std::minmax_element(touches.begin(), touches.end(),
                          [&](const Touch& a, const Touch& b) { return along(a) < along(b); });
  const double middle = (along(*low) + along(*high)) / 2;
  for (const double side : {-1., 1.}) {
    constexpr double kOnMiddle = 1e-3; // mm
    std::vector<Touch> half;
    std::copy_if(touches.begin(), touches.end(), std::back_inserter(half),
                 [&](const Touch& t) { return side * (along(t) - middle) > -kOnMiddle; });
    if (widestGap(ideal, half) >= radians(170)) return false;
  }
  return true;
}

} // namespace alder
