#include "revision/surface_pairing.h"

#include "base/assignment.h"
#include "part/recognise.h"
#include "part/surface_foot.h"
#include <BRepAdaptor_Surface.hxx>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

constexpr double kSamePlace = 1e-4; // mm
constexpr double kSameEdge = 0.05;  // mm; boxes are those of triangles
constexpr double kSameArea = 1e-5;  // relative
// Surfaces left over that are paired by likeness: of more, the models are not two states of one.
constexpr std::size_t kMostLeft = 800;

bool isRound(const Ideal& i) {
  return i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone ||
         i.type == SurfaceType::Torus;
}

double gapOf(const Box3& a, const Box3& b) {
  return std::sqrt(a.squaredExteriorDistance(b));
}

bool sameBox(const Box3& a, const Box3& b) {
  return (a.min() - b.min()).cwiseAbs().maxCoeff() < kSameEdge &&
         (a.max() - b.max()).cwiseAbs().maxCoeff() < kSameEdge;
}

// The place by which a surface is said to have moved.
Vec3 placeOf(const PairedSurface& s) {
  const Ideal& i = s.ideal;
  if (i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone)
    return i.point + i.length / 2 * i.direction;
  if (i.type == SurfaceType::Freeform) return s.box.center();
  return i.point;
}

// From one surface to another that is like it: the shortest turn of its direction, then the move.
// Along its own surface a plane, along its axis a cylinder does not move.
Frame moveBetween(const PairedSurface& from, const PairedSurface& to) {
  const Ideal &a = from.ideal, &b = to.ideal;
  Vec3 direction = b.direction;
  if (a.type != SurfaceType::Plane && a.type != SurfaceType::Cone && direction.dot(a.direction) < 0)
    direction = -direction;
  Frame move = Frame::Identity();
  if (a.type != SurfaceType::Sphere && (a.direction - direction).norm() > 1e-6)
    move.linear() = Eigen::Quaterniond::FromTwoVectors(a.direction, direction).toRotationMatrix();
  const Vec3 start = placeOf(from);
  Vec3 by = placeOf(to) - start;
  const Vec3 out = by.dot(direction) * direction;
  if (a.type == SurfaceType::Plane && (out.norm() > kSamePlace || by.norm() < kSamePlace)) by = out;
  if (a.type == SurfaceType::Cylinder) by -= by.dot(direction) * direction;
  move.translation() = start + by - move.linear() * start;
  return move;
}

bool sameSize(const PairedSurface& a, const PairedSurface& b) {
  return std::abs(a.ideal.diameter - b.ideal.diameter) < kSamePlace &&
         std::abs(a.ideal.half_angle - b.ideal.half_angle) < 1e-5 &&
         std::abs(a.tube - b.tube) < kSamePlace;
}

// In its own plane, by as much as its middle and its edges say; nothing: it did not.
std::optional<Vec3> slidBy(const PairedSurface& was, const PairedSurface& is) {
  if (was.ideal.type != SurfaceType::Plane || std::abs(was.area - is.area) > kSameArea * was.area)
    return {};
  const Vec3 by = is.ideal.point - was.ideal.point, boxes = is.box.center() - was.box.center();
  if (by.norm() < kSamePlace || (by - boxes).norm() > kSameEdge || boxes.norm() < 1e-3 ||
      (was.box.sizes() - is.box.sizes()).norm() > kSameEdge)
    return {};
  return by;
}

bool coaxial(const Ideal& a, const Ideal& b) {
  if (a.type == SurfaceType::Plane || b.type == SurfaceType::Plane ||
      a.type == SurfaceType::Freeform || b.type == SurfaceType::Freeform)
    return false;
  const Vec3 r = b.point - a.point;
  return a.direction.cross(b.direction).norm() < 1e-5 &&
         (r - r.dot(a.direction) * a.direction).norm() < 1e-3;
}

// On one axis, or about one centre.
bool sameAxisOf(const Ideal& a, const Ideal& b) {
  if (a.type == SurfaceType::Sphere) return (a.point - b.point).norm() < kSamePlace;
  const Vec3 r = b.point - a.point;
  return a.direction.cross(b.direction).norm() < 1e-5 &&
         (r - r.dot(a.direction) * a.direction).norm() < kSamePlace &&
         (a.type != SurfaceType::Torus || r.norm() < kSamePlace);
}

} // namespace

std::vector<PairedSurface> pairedSurfaces(const PartModel& part) {
  std::vector<int> of_face(part.faces.size(), -1);
  for (const Surface& s : part.surfaces)
    for (const FaceId f : s.faces)
      of_face[static_cast<std::size_t>(f.value)] = s.id.value;
  std::vector<PairedSurface> all;
  for (const Surface& s : part.surfaces) {
    PairedSurface p;
    p.ideal = s.ideal;
    p.faces = s.faces;
    for (const FaceId f : s.faces) {
      const Face& face = part.face(f);
      p.area += face.area;
      p.box.extend(face.box);
      for (const FaceId n : face.neighbours)
        if (of_face[static_cast<std::size_t>(n.value)] != s.id.value)
          p.neighbours.insert(of_face[static_cast<std::size_t>(n.value)]);
    }
    if (s.ideal.type == SurfaceType::Torus)
      p.tube = BRepAdaptor_Surface(part.shapeOf(s.faces.front())).Torus().MinorRadius();
    all.push_back(std::move(p));
  }
  return all;
}

bool sameUntrimmed(const PairedSurface& a, const PairedSurface& b) {
  return sameIdeal(a.ideal, b.ideal) && std::abs(a.tube - b.tube) < kSamePlace;
}

bool sameExtent(const PairedSurface& a, const PairedSurface& b) {
  return std::abs(a.area - b.area) <= kSameArea * a.area && sameBox(a.box, b.box);
}

SurfacePairs::SurfacePairs(const PartModel& before, const PartModel& now)
    : before_part_(before)
    , now_part_(now)
    , before_(pairedSurfaces(before))
    , now_(pairedSurfaces(now))
    , of_now_(now_.size()) {
  result_.before.resize(before_.size());
}

void SurfacePairs::pair(int b, int n, SurfaceFate fate, const Frame& move) {
  SurfacePairing& p = result_.before[b];
  p.fate = fate;
  p.now.push_back(SurfaceId{n});
  p.move = move;
  of_now_[n].push_back(b);
}

bool SurfacePairs::unchangedFreeform(int b, int n) const {
  const PairedSurface &s = before_[b], &t = now_[n];
  if (s.ideal.type != SurfaceType::Freeform || t.ideal.type != SurfaceType::Freeform ||
      s.faces.size() != t.faces.size() || !sameBox(s.box, t.box) ||
      std::abs(s.area - t.area) > 1e-4 * s.area)
    return false;
  const SurfaceFoot foot(now_part_.shapeOf(t.faces.front()));
  const Mesh& mesh = before_part_.mesh;
  int asked = 0;
  for (std::size_t i = 0; i < mesh.triangles.size() && asked < 60; ++i) {
    if (mesh.tags[i] != s.faces.front().value) continue;
    ++asked;
    const Vec3& at = mesh.vertices[mesh.triangles[i][0]];
    const auto found = foot.at(at);
    if (!found || (found->point - at).norm() > 1e-3) return false;
  }
  return true;
}

void SurfacePairs::pairUnchanged() {
  for (std::size_t b = 0; b < before_.size(); ++b)
    for (std::size_t n = 0; n < now_.size() && open(static_cast<int>(b)); ++n) {
      if (!of_now_[n].empty() || before_[b].ideal.type != now_[n].ideal.type) continue;
      const int bi = static_cast<int>(b), ni = static_cast<int>(n);
      if ((sameUntrimmed(before_[b], now_[n]) && sameExtent(before_[b], now_[n])) ||
          unchangedFreeform(bi, ni))
        pair(bi, ni, SurfaceFate::Stayed);
    }
}

// Parted or joined by what was put in or taken out: each goes with all whose material it meets.
void SurfacePairs::pairTrimmed() {
  std::vector<bool> was_open(before_.size()), was_free(now_.size());
  for (std::size_t b = 0; b < before_.size(); ++b)
    was_open[b] = open(static_cast<int>(b));
  for (std::size_t n = 0; n < now_.size(); ++n)
    was_free[n] = of_now_[n].empty();
  for (std::size_t b = 0; b < before_.size(); ++b) {
    if (!was_open[b]) continue;
    for (std::size_t n = 0; n < now_.size(); ++n)
      if (was_free[n] && sameUntrimmed(before_[b], now_[n]) &&
          gapOf(before_[b].box, now_[n].box) < kSamePlace)
        pair(static_cast<int>(b), static_cast<int>(n), SurfaceFate::Trimmed);
  }
  // The floor of a pocket slides with its walls.
  for (std::size_t b = 0; b < before_.size(); ++b) {
    SurfacePairing& p = result_.before[b];
    if (!was_open[b] || p.now.size() != 1) continue;
    const auto n = static_cast<std::size_t>(p.now.front().value);
    const auto by = of_now_[n].size() == 1 ? slidBy(before_[b], now_[n]) : std::nullopt;
    if (!by) continue;
    p.fate = SurfaceFate::Moved;
    p.move = Frame(Eigen::Translation3d(*by));
  }
}

// What moved together did so by one move. Walls tell of it what is square to them, round ones what
// is square to their axes.
void SurfacePairs::settleMoves() {
  for (const SurfacePairing& p : result_.before)
    own_moves_.push_back(p.move.translation());
  std::vector<int> group(before_.size());
  std::iota(group.begin(), group.end(), 0);
  const auto members = [&](int g) {
    std::vector<int> all;
    for (std::size_t i = 0; i < group.size(); ++i)
      if (group[i] == g) all.push_back(static_cast<int>(i));
    return all;
  };
  const auto movedOnly = [&](int b) {
    return result_.before[b].fate == SurfaceFate::Moved &&
           result_.before[b].move.linear().isIdentity(1e-9);
  };
  for (std::size_t i = 0; i < before_.size(); ++i) {
    const int b = static_cast<int>(i);
    if (!movedOnly(b)) continue;
    for (int other = 0; other < b; ++other) {
      if (group[other] == group[b] || !movedOnly(other)) continue;
      const bool linked =
          before_[b].neighbours.count(other) > 0 || coaxial(before_[b].ideal, before_[other].ideal);
      if (!linked) continue;
      std::vector<int> both = members(group[b]);
      const auto others = members(group[other]);
      both.insert(both.end(), others.begin(), others.end());
      const auto by = commonMove(both);
      if (!by) continue;
      const int to = std::min(group[b], group[other]);
      for (const int m : both) {
        group[m] = to;
        result_.before[m].move = Frame(Eigen::Translation3d(*by));
      }
    }
  }
  for (std::size_t i = 0; i < before_.size(); ++i)
    result_.before[i].move_of = group[i];
}

std::optional<Vec3> SurfacePairs::commonMove(const std::vector<int>& surfaces) const {
  Mat3 normal = Mat3::Zero();
  Vec3 right = Vec3::Zero();
  std::vector<std::pair<Mat3, Vec3>> told;
  for (const int b : surfaces) {
    const Ideal& ideal = before_[b].ideal;
    const Vec3& d = ideal.direction;
    const Vec3& by = own_moves_[static_cast<std::size_t>(b)];
    Mat3 p = Mat3::Identity();
    const bool slid = (by - by.dot(d) * d).norm() > kSamePlace;
    if (ideal.type == SurfaceType::Plane && !slid) p = d * d.transpose();
    if (ideal.type == SurfaceType::Cylinder) p -= d * d.transpose();
    normal += p;
    right += p * by;
    told.push_back({p, p * by});
  }
  const Vec3 move = normal.completeOrthogonalDecomposition().solve(right);
  for (const auto& [p, by] : told)
    if ((p * move - by).norm() > 1e-3) return {};
  return move;
}

void SurfacePairs::pairResized() {
  struct Candidate {
    double cost;
    int b, n;
  };
  std::vector<Candidate> candidates;
  for (std::size_t b = 0; b < before_.size(); ++b) {
    const Ideal& was = before_[b].ideal;
    if (!open(static_cast<int>(b)) || (!isRound(was) && was.type != SurfaceType::Sphere)) continue;
    for (std::size_t n = 0; n < now_.size(); ++n) {
      const Ideal& is = now_[n].ideal;
      if (!of_now_[n].empty() || is.type != was.type || is.hole != was.hole ||
          !sameAxisOf(was, is) || gapOf(before_[b].box, now_[n].box) > kSamePlace)
        continue;
      // Ends at the same heights tell steps of one bore apart.
      const double ends = (before_[b].box.min() - now_[n].box.min()).norm() +
                          (before_[b].box.max() - now_[n].box.max()).norm();
      candidates.push_back(
          {ends + std::abs(was.diameter - is.diameter), static_cast<int>(b), static_cast<int>(n)});
    }
  }
  std::stable_sort(candidates.begin(), candidates.end(),
                   [](const Candidate& x, const Candidate& y) { return x.cost < y.cost; });
  for (const Candidate& c : candidates)
    if (open(c.b) && of_now_[c.n].empty()) pair(c.b, c.n, SurfaceFate::Resized);
}

double SurfacePairs::likeness(int b, int n) const {
  int known = 0, shared = 0;
  for (const int next : before_[b].neighbours) {
    const auto& images = result_.before[next].now;
    if (images.empty()) continue;
    ++known;
    shared += std::any_of(images.begin(), images.end(), [&](SurfaceId image) {
      return now_[n].neighbours.count(image.value) > 0;
    });
  }
  return known == 0 ? 0 : static_cast<double>(shared) / known;
}

// What left over is like each other and lies between the same neighbours; altogether nearest.
bool SurfacePairs::pairByNeighbours(bool other_size) {
  std::vector<int> left, fresh;
  for (std::size_t b = 0; b < before_.size(); ++b)
    if (open(static_cast<int>(b)) && before_[b].ideal.type != SurfaceType::Freeform)
      left.push_back(static_cast<int>(b));
  for (std::size_t n = 0; n < now_.size(); ++n)
    if (of_now_[n].empty() && now_[n].ideal.type != SurfaceType::Freeform)
      fresh.push_back(static_cast<int>(n));
  if (left.empty() || fresh.empty() || left.size() > kMostLeft || fresh.size() > kMostLeft)
    return false;
  const double whole = before_part_.mesh.box().sizes().norm(), far = 10 * (1 + whole);
  std::vector<std::vector<double>> gain(left.size(),
                                        std::vector<double>(fresh.size() + left.size(), 0));
  for (std::size_t i = 0; i < left.size(); ++i)
    for (std::size_t k = 0; k < fresh.size(); ++k) {
      const PairedSurface &was = before_[left[i]], &is = now_[fresh[k]];
      const double distance = (placeOf(was) - placeOf(is)).norm();
      const bool plane = was.ideal.type == SurfaceType::Plane;
      const double turned = was.ideal.direction.dot(is.ideal.direction);
      if (was.ideal.type != is.ideal.type || was.ideal.hole != is.ideal.hole ||
          (plane ? turned < 0.7 : sameSize(was, is) == other_size) ||
          (!plane && was.ideal.type != SurfaceType::Sphere && std::abs(turned) < 0.7))
        continue;
      // What is far away may be another one just as well.
      if (distance > std::max(1.5 * was.box.diagonal().norm(), 0.1 * whole)) continue;
      // Another size in another place: only where they overlap it is the same one.
      if (other_size && !plane && gapOf(was.box, is.box) > kSamePlace) continue;
      const double like = likeness(left[i], fresh[k]);
      if (like < 0.5) continue;
      gain[i][k] = far * (1 + like) - distance - far * (1 - std::abs(turned));
    }
  bool any = false;
  const auto best = bestAssignment(gain);
  for (std::size_t i = 0; i < left.size(); ++i) {
    if (best[i] >= fresh.size() || gain[i][best[i]] <= 0) continue;
    const int b = left[i], n = fresh[best[i]];
    pair(b, n,
         other_size && !sameSize(before_[b], now_[n]) ? SurfaceFate::Resized : SurfaceFate::Moved,
         moveBetween(before_[b], now_[n]));
    any = true;
  }
  return any;
}

void SurfacePairs::pairFreeform() {
  for (std::size_t b = 0; b < before_.size(); ++b) {
    const PairedSurface& was = before_[b];
    if (!open(static_cast<int>(b)) || was.ideal.type != SurfaceType::Freeform) continue;
    int best = -1;
    double most = 0;
    for (std::size_t n = 0; n < now_.size(); ++n) {
      const PairedSurface& is = now_[n];
      if (!of_now_[n].empty() || is.ideal.type != SurfaceType::Freeform) continue;
      const Box3 both = was.box.intersection(is.box);
      const double overlap =
          both.isEmpty() ? 0 : both.diagonal().norm() / was.box.merged(is.box).diagonal().norm();
      const double like = overlap + likeness(static_cast<int>(b), static_cast<int>(n));
      if (overlap > 0.5 && like > most) most = like, best = static_cast<int>(n);
    }
    if (best < 0) continue;
    pair(static_cast<int>(b), best, SurfaceFate::Reshaped);
    const SurfaceFoot foot(now_part_.shapeOf(now_[best].faces.front()));
    const Mesh& mesh = before_part_.mesh;
    double& off = result_.before[b].off;
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
      if (mesh.tags[i] != was.faces.front().value) continue;
      const Vec3& at = mesh.vertices[mesh.triangles[i][0]];
      if (const auto found = foot.at(at)) off = std::max(off, (found->point - at).norm());
    }
    if (off < 1e-3) result_.before[b].fate = SurfaceFate::Trimmed;
  }
}

ModelComparison SurfacePairs::compare() {
  pairUnchanged();
  pairTrimmed();
  double area = 0, found = 0;
  for (std::size_t b = 0; b < before_.size(); ++b) {
    area += before_[b].area;
    double again = 0;
    for (const SurfaceId n : result_.before[b].now)
      again += now_[static_cast<std::size_t>(n.value)].area;
    found += std::min(before_[b].area, again);
  }
  result_.found = area > 0 ? found / area : 0;
  pairResized();
  // What was paired tells more of what lies beside it; of the same size before another.
  while (pairByNeighbours(false) || pairByNeighbours(true)) {
  }
  pairFreeform();
  settleMoves();
  for (std::size_t n = 0; n < now_.size(); ++n)
    if (of_now_[n].empty()) result_.fresh.push_back(SurfaceId{static_cast<int>(n)});
  return std::move(result_);
}

} // namespace alder
