#include "route/rest_places.h"

#include "geometry/mesh_check.h"
#include "geometry/outline.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace alder {
namespace {

constexpr double kLevel = 0.99996;    // cosine of half a degree: a face that looks straight down
constexpr double kSameHeight = 0.01;  // mm
constexpr double kLeastRoom = 0.4;    // of the middle of a rest from the edges of its face
constexpr double kThinRest = 2;       // radius, mm
constexpr double kPastHoles = 1;      // what a rest keeps from the edges of its face, if it can
constexpr std::size_t kMostFaces = 8; // levels that are tried, the largest first
constexpr std::size_t kMostSpots = 90;

// What lies on one level below: faces in one plane.
struct Level {
  double height = 0; // along up
  double area = 0;
  std::vector<FaceId> faces;
};

struct Spot {
  Vec3 at = Vec3::Zero(); // standing frame, Z up
  double room = 0;        // to the edges of what is flat there
  std::size_t level = 0;
};

double distanceInPlane(const Vec3& p, const Segment& s) {
  const Vec2 a = s.a.head<2>(), b = s.b.head<2>(), q = p.head<2>();
  const Vec2 along = b - a;
  const double t =
      along.squaredNorm() > 0 ? std::clamp((q - a).dot(along) / along.squaredNorm(), 0.0, 1.0) : 0;
  return (q - a - t * along).norm();
}

bool insideTriangle(const Vec3& p, const Triangle& t) {
  const auto side = [&](const Vec3& a, const Vec3& b) {
    return (b.x() - a.x()) * (p.y() - a.y()) - (b.y() - a.y()) * (p.x() - a.x());
  };
  const double s0 = side(t.a, t.b), s1 = side(t.b, t.c), s2 = side(t.c, t.a);
  return (s0 >= 0 && s1 >= 0 && s2 >= 0) || (s0 <= 0 && s1 <= 0 && s2 <= 0);
}

// One level as triangles in the standing frame, with the segments that bound it.
class Ground {
 public:
  Ground(const PartModel& part, const Level& level, const Frame& stand) {
    std::map<std::array<long, 2>, int> places;
    std::map<std::pair<int, int>, std::pair<int, Segment>> edges;
    const auto placeOf = [&](const Vec3& v) {
      const std::array key{std::lround(v.x() * 1e4), std::lround(v.y() * 1e4)};
      return places.emplace(key, static_cast<int>(places.size())).first->second;
    };
    for (std::size_t i = 0; i < part.mesh.triangles.size(); ++i) {
      if (!std::binary_search(level.faces.begin(), level.faces.end(), FaceId{part.mesh.tags[i]}))
        continue;
      const Triangle t = part.mesh.triangle(i);
      const std::array corners{stand * t.a, stand * t.b, stand * t.c};
      triangles_.push_back({corners[0], corners[1], corners[2]});
      for (std::size_t k = 0; k < 3; ++k) {
        const Vec3 &a = corners[k], &b = corners[(k + 1) % 3];
        const int ia = placeOf(a), ib = placeOf(b);
        if (ia == ib) continue;
        auto& edge = edges[std::minmax(ia, ib)];
        ++edge.first, edge.second = {a, b};
      }
    }
    for (const auto& [key, edge] : edges)
      if (edge.first == 1) bounds_.push_back(edge.second);
  }

  double room(const Vec3& p) const {
    double least = std::numeric_limits<double>::infinity();
    for (const Segment& s : bounds_)
      least = std::min(least, distanceInPlane(p, s));
    return least;
  }
  bool holds(const Vec3& p) const {
    return std::any_of(triangles_.begin(), triangles_.end(),
                       [&](const Triangle& t) { return insideTriangle(p, t); });
  }
  // A grid over it, and the middles of its triangles, so that narrow ones get some too.
  Points places(std::size_t most) const {
    Box3 box;
    for (const Triangle& t : triangles_)
      box.extend(t.a), box.extend(t.b), box.extend(t.c);
    Points found;
    if (triangles_.empty()) return found;
    const double z = box.center().z();
    const double share = std::sqrt(static_cast<double>(most));
    const double step = std::max({box.sizes().x(), box.sizes().y(), 1.0}) / share;
    for (double x = box.min().x() + step / 2; x < box.max().x(); x += step)
      for (double y = box.min().y() + step / 2; y < box.max().y(); y += step)
        if (const Vec3 p(x, y, z); holds(p)) found.push_back(p);
    const std::size_t stride = 1 + triangles_.size() / most;
    for (std::size_t i = 0; i < triangles_.size(); i += stride)
      found.push_back((triangles_[i].a + triangles_[i].b + triangles_[i].c) / 3);
    return found;
  }

 private:
  std::vector<Triangle> triangles_;
  std::vector<Segment> bounds_;
};

std::vector<Level> levelsBelow(const PartModel& part, const Vec3& up) {
  std::vector<Level> levels;
  for (const Face& face : part.faces) {
    if (face.ideal.type != SurfaceType::Plane || face.ideal.direction.dot(up) > -kLevel ||
        !part.takes(face.id))
      continue;
    const double height = face.ideal.point.dot(up);
    auto same = std::find_if(levels.begin(), levels.end(), [&](const Level& l) {
      return std::abs(l.height - height) < kSameHeight;
    });
    if (same == levels.end()) same = levels.insert(levels.end(), Level{height, 0, {}});
    same->area += face.area;
    same->faces.push_back(face.id); // ascending as the faces are
  }
  std::stable_sort(levels.begin(), levels.end(),
                   [](const Level& a, const Level& b) { return a.area > b.area * (1 + 1e-6); });
  if (levels.size() > kMostFaces) levels.resize(kMostFaces);
  return levels;
}

// Chooses among the spots.
class BearingFinder {
 public:
  BearingFinder(const PartModel& part, const MeshTree& tree, const Vec3& centre, const Vec3& up,
                bool anyhow)
      : part_(part)
      , anyhow_(anyhow)
      , tree_(tree)
      , up_(up)
      , stand_(frameOf(Vec3::Zero(), up).inverse())
      , centre_(stand_ * centre) {
    Box3 box;
    for (const Vec3& v : part.mesh.vertices)
      box.extend(stand_ * v);
    lowest_ = box.min().z();
    size_ = box.sizes().head<2>().norm();
    // Four degrees before it tips: a taller part tips sooner.
    least_held_ = std::max(0.8, 0.07 * (centre_.z() - lowest_));
    thick_ = std::clamp(size_ / 30, 4.0, 10.0);
  }

  std::optional<Bearing> find() {
    levels_ = levelsBelow(part_, up_);
    for (std::size_t l = 0; l < levels_.size(); ++l)
      addSpots(l);
    thin();
    auto best = onThree();
    if (!best) best = onPedestal();
    return best;
  }

 private:
  // Nothing of the part below it.
  bool free(const Vec3& at, double radius) const {
    if (at.z() < lowest_ + 0.05) return true;
    const Vec3 from = at - (radius + 0.6) * Vec3::UnitZ(),
               to(at.x(), at.y(), std::min(from.z(), lowest_ - radius - 1));
    const Frame back = stand_.inverse();
    return tree_.clear(Sweep{{back * from, back * to}, Vec3::Zero(), radius}, 0.5);
  }

  void addSpots(std::size_t l) {
    grounds_.emplace_back(part_, levels_[l], stand_);
    for (const Vec3& p : grounds_[l].places(kMostSpots)) {
      const double room = grounds_[l].room(p);
      if (room >= kLeastRoom && free(p, kThinRest)) spots_.push_back({p, room, l});
    }
  }

  // Those that lie far from each other, beginning with the one that lies farthest from the middle.
  void thin() {
    if (spots_.size() <= kMostSpots) return;
    std::vector<double> away(spots_.size(), std::numeric_limits<double>::infinity());
    std::vector<Spot> kept;
    std::size_t next = 0;
    for (std::size_t i = 1; i < spots_.size(); ++i)
      if ((spots_[i].at - centre_).head<2>().norm() >
          (spots_[next].at - centre_).head<2>().norm() + 1e-9)
        next = i;
    while (kept.size() < kMostSpots) {
      kept.push_back(spots_[next]);
      for (std::size_t i = 0; i < spots_.size(); ++i)
        away[i] = std::min(away[i], (spots_[i].at - spots_[next].at).head<2>().norm() *
                                        (1 + 0.02 * std::min(spots_[i].room, 8.0)));
      next = static_cast<std::size_t>(std::max_element(away.begin(), away.end()) - away.begin());
    }
    spots_ = std::move(kept);
  }

  double radiusFor(double room) const {
    return std::clamp(std::floor(2 * (room - kPastHoles)) / 2, kThinRest, thick_);
  }

  // The three that hold the centre of mass best, with room for thick rests away from the edges, all
  // on one level if that is nearly as good.
  std::optional<Bearing> onThree() const {
    const double enough = 0.2 * size_;
    std::array<std::size_t, 3> best{};
    double most = -1, held = 0;
    const auto score = [&](std::size_t i, std::size_t j, std::size_t k) {
      const Spot &a = spots_[i], &b = spots_[j], &c = spots_[k];
      const double room = std::min({a.room, b.room, c.room}), apart = 2 * radiusFor(room) + 2;
      const auto far = [](const Vec3& p, const Vec3& q) { return (p - q).head<2>().norm(); };
      if (std::min({far(a.at, b.at), far(b.at, c.at), far(c.at, a.at)}) < apart) return;
      const double in = insideOf({a.at, b.at, c.at}, centre_, Vec3::UnitZ());
      if (in < least_held_) return;
      const bool one = a.level == b.level && b.level == c.level;
      const double s = std::min(in, enough) / enough * (one ? 1 : 0.7) + 0.02 * std::min(room, 8.0);
      if (s > most + 1e-9) most = s, best = {i, j, k}, held = in;
    };
    for (std::size_t i = 0; i < spots_.size(); ++i)
      for (std::size_t j = i + 1; j < spots_.size(); ++j)
        for (std::size_t k = j + 1; k < spots_.size(); ++k)
          score(i, j, k);
    if (most < 0) return {};
    Bearing bearing{{}, held};
    double room = std::numeric_limits<double>::infinity();
    for (std::size_t i : best)
      room = std::min(room, spots_[i].room);
    double radius = radiusFor(room);
    while (radius > kThinRest && !std::all_of(best.begin(), best.end(), [&](std::size_t i) {
             return free(spots_[i].at, radius);
           }))
      radius -= 0.5;
    for (std::size_t i : best) {
      bearing.supports.push_back({stand_.inverse() * spots_[i].at, 2 * radius});
    }
    return bearing;
  }

  // A round block about the place below the centre of mass, as slim as holds the part.
  std::optional<Bearing> onPedestal() const {
    for (std::size_t l = 0; l < levels_.size(); ++l) {
      const Vec3 top(centre_.x(), centre_.y(), levels_[l].height);
      const Points all = grounds_[l].places(4 * kMostSpots);
      const double most = all.size() < 3 ? 0 : insideOf(convexOutline(all), centre_, Vec3::UnitZ());
      if (most < (anyhow_ ? kLeastRoom : least_held_)) continue;
      for (double radius = 2; radius < size_; radius *= 1.25) {
        Points borne;
        for (const Vec3& p : all)
          if ((p - top).head<2>().norm() < radius) borne.push_back(p);
        if (borne.size() < 3) continue;
        const double held = insideOf(convexOutline(borne), centre_, Vec3::UnitZ());
        if (held < (anyhow_ ? 0.6 * most : least_held_) || !free(top, radius)) continue;
        return Bearing{{{stand_.inverse() * top, 2 * radius}}, held};
      }
    }
    return {};
  }

  const PartModel& part_;
  bool anyhow_;
  const MeshTree& tree_;
  Vec3 up_;
  Frame stand_;
  Vec3 centre_; // standing frame
  double lowest_ = 0, size_ = 0, least_held_ = 0, thick_ = 0;
  std::vector<Level> levels_;
  std::vector<Ground> grounds_;
  std::vector<Spot> spots_;
};

} // namespace

double insideOf(const Points& corners, const Vec3& place, const Vec3& up) {
  const Frame stand = frameOf(Vec3::Zero(), up).inverse();
  Points flat;
  for (const Vec3& c : corners) {
    const Vec3 p = stand * c;
    flat.emplace_back(p.x(), p.y(), 0);
  }
  const Points ring = convexOutline(flat);
  if (ring.size() < 3) return -1;
  const Vec3 p = stand * place;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < ring.size(); ++i) {
    const Vec2 a = ring[i].head<2>(), b = ring[(i + 1) % ring.size()].head<2>();
    const Vec2 along = (b - a).normalized(), to = p.head<2>() - a;
    least = std::min(least, along.x() * to.y() - along.y() * to.x());
  }
  return least;
}

RestPlaces::RestPlaces(const PartModel& part)
    : part_(part)
    , tree_(part.mesh)
    , centre_(alder::centreOfMass(part.mesh)) {}

std::optional<Bearing> RestPlaces::bearing(const Vec3& up, bool anyhow) const {
  return BearingFinder(part_, tree_, centre_, up.normalized(), anyhow).find();
}

} // namespace alder
