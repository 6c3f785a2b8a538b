#include "geometry/mesh.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

constexpr int kLeafSize = 4;

// The parallelogram of a sweep in its simplest form: a segment, or two triangles about one.
struct SweepShape {
  bool flat = true;
  Segment segment{};
  double slack = 0; // no place of the shape is farther than this from the segment
  Triangle first{}, second{};

  explicit SweepShape(const Sweep& s) {
    const Vec3 rod = s.axis.b - s.axis.a;
    const double rod2 = rod.squaredNorm(), move2 = s.move.squaredNorm();
    if (rod.cross(s.move).squaredNorm() > 1e-16 * rod2 * move2 && rod2 > 1e-18 && move2 > 1e-18) {
      flat = false;
      first = {s.axis.a, s.axis.b, s.axis.b + s.move};
      second = {s.axis.a, s.axis.b + s.move, s.axis.a + s.move};
      const bool long_rod = rod2 > move2; // the middle line along the longer side
      const Vec3 half = (long_rod ? s.move : rod) / 2;
      segment = {s.axis.a + half, (long_rod ? s.axis.b : Vec3(s.axis.a + s.move)) + half};
      slack = half.norm();
      return;
    }
    // Rod and move are parallel: the union is the longest segment over the four end points.
    const Vec3 along = rod2 > move2 ? rod : s.move;
    const std::array<Vec3, 4> ends{s.axis.a, s.axis.b, s.axis.a + s.move, s.axis.b + s.move};
    segment = {ends[0], ends[0]};
    for (const Vec3& p : ends) {
      if (p.dot(along) < segment.a.dot(along)) segment.a = p;
      if (p.dot(along) > segment.b.dot(along)) segment.b = p;
    }
  }

  Vec3 closestTo(const Vec3& p) const {
    if (flat) return closestOnSegment(p, segment);
    const Vec3 a = closestOnTriangle(p, first), b = closestOnTriangle(p, second);
    return (a - p).squaredNorm() < (b - p).squaredNorm() ? a : b;
  }

  // Is the box farther away than `reach`? Two convex bodies are at least as far apart as along any
  // one direction; that from the nearest place on this shape to the middle of the box tells long
  // slanting rods from what merely lies within their own box.
  bool beyond(const Box3& box, double reach) const {
    const Vec3 centre = box.center();
    if (apart(centre - closestOnSegment(centre, segment), box, reach + slack)) return true;
    return slack > 4 && apart(centre - closestTo(centre), box, reach);
  }
  static bool apart(const Vec3& to, const Box3& box, double reach) {
    const double distance = to.norm();
    return distance > reach && distance * (distance - reach) > to.cwiseAbs().dot(0.5 * box.sizes());
  }

  // Exact where it is less than `reach`, else any number that is not. `any` is satisfied by any
  // place that is nearer than that.
  double squaredTo(const Triangle& t, double reach, bool any) const {
    const double middle = squaredDistance(segment, t), far = reach + slack;
    if (flat || middle >= far * far || (any && middle < reach * reach)) return middle;
    const double d = squaredDistance(first, t);
    return d == 0 ? 0 : std::min(d, squaredDistance(second, t));
  }
};

Box3 boxOf(const Triangle& t) {
  Box3 box(t.a);
  return box.extend(t.b).extend(t.c);
}

Box3 boxOf(const Sweep& s) {
  Box3 box(s.axis.a);
  return box.extend(s.axis.b).extend(s.axis.a + s.move).extend(s.axis.b + s.move);
}

} // namespace

Box3 Mesh::box() const {
  Box3 result;
  for (const Vec3& v : vertices)
    result.extend(v);
  return result;
}

void Mesh::append(const Mesh& other, const Frame& placement) {
  const int base = static_cast<int>(vertices.size());
  for (const Vec3& v : other.vertices)
    vertices.push_back(placement * v);
  for (const auto& t : other.triangles)
    triangles.push_back({t[0] + base, t[1] + base, t[2] + base});
  tags.insert(tags.end(), other.tags.begin(), other.tags.end());
}

void Mesh::appendBox(const Box3& box, const Frame& placement, int tag) {
  const int base = static_cast<int>(vertices.size());
  for (int i = 0; i < 8; ++i)
    vertices.push_back(placement * box.corner(static_cast<Box3::CornerType>(i)));
  // corner bits: 1 = x max, 2 = y max, 4 = z max; outward triangles
  static constexpr int sides[12][3] = {{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6},
                                       {0, 1, 4}, {1, 5, 4}, {2, 6, 3}, {3, 6, 7},
                                       {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}};
  for (const auto& s : sides) {
    triangles.push_back({base + s[0], base + s[1], base + s[2]});
    tags.push_back(tag);
  }
}

MeshTree::MeshTree(const Mesh& mesh) {
  const int count = static_cast<int>(mesh.triangles.size());
  if (count == 0) return;
  triangles_.reserve(count);
  for (int i = 0; i < count; ++i)
    triangles_.push_back(mesh.triangle(i));
  index_.resize(count);
  std::iota(index_.begin(), index_.end(), 0);
  nodes_.reserve(2 * count);
  build(0, count);
  std::vector<Triangle> ordered(count);
  tags_.resize(count);
  for (int i = 0; i < count; ++i) {
    ordered[i] = triangles_[index_[i]];
    tags_[i] = mesh.tags.empty() ? 0 : mesh.tags[index_[i]];
  }
  triangles_ = std::move(ordered);
}

int MeshTree::build(int begin, int end) {
  const int self = static_cast<int>(nodes_.size());
  nodes_.emplace_back();
  Box3 box, centres;
  for (int i = begin; i < end; ++i) {
    const Box3 b = boxOf(triangles_[index_[i]]);
    box.extend(b);
    centres.extend(b.center());
  }
  nodes_[self].box = box;
  nodes_[self].begin = begin;
  nodes_[self].end = end;
  if (end - begin <= kLeafSize) return self;
  int axis = 0;
  centres.sizes().maxCoeff(&axis);
  const int middle = (begin + end) / 2;
  const auto key = [&](int i) {
    const Triangle& t = triangles_[i];
    return std::min({t.a[axis], t.b[axis], t.c[axis]}) +
           std::max({t.a[axis], t.b[axis], t.c[axis]});
  };
  std::nth_element(index_.begin() + begin, index_.begin() + middle, index_.begin() + end,
                   [&](int a, int b) {
                     const double ka = key(a), kb = key(b);
                     return ka < kb || (ka == kb && a < b);
                   });
  const int left = build(begin, middle);
  const int right = build(middle, end);
  nodes_[self].left = left;
  nodes_[self].right = right;
  return self;
}

// Calls visit(triangle position, squared axis distance) for triangles whose surface may be nearer
// than `reach` to the sweep's axis; visit may shrink `reach`.
template <class Visit>
void MeshTree::visit(const Sweep& sweep, double& reach, Visit&& visit) const {
  if (nodes_.empty()) return;
  const SweepShape shape(sweep);
  const Box3 sweep_box = boxOf(sweep);
  std::array<int, 128> stack;
  int depth = 0;
  stack[depth++] = 0;
  while (depth > 0) {
    const Node& node = nodes_[stack[--depth]];
    if (squaredDistance(node.box, sweep_box) > reach * reach || shape.beyond(node.box, reach))
      continue;
    if (node.left < 0) {
      for (int i = node.begin; i < node.end; ++i) {
        const Box3 box = boxOf(triangles_[i]);
        if (squaredDistance(box, sweep_box) > reach * reach || shape.beyond(box, reach)) continue;
        if (!visit(i, shape)) return;
      }
      continue;
    }
    const double dl = squaredDistance(nodes_[node.left].box, sweep_box);
    const double dr = squaredDistance(nodes_[node.right].box, sweep_box);
    stack[depth++] = dl < dr ? node.right : node.left;
    stack[depth++] = dl < dr ? node.left : node.right;
  }
}

std::optional<Nearest> MeshTree::nearest(const Sweep& sweep, double within,
                                         const Skip& skip) const {
  double reach = std::max(0.0, sweep.radius + within);
  std::optional<Nearest> best;
  visit(sweep, reach, [&](int i, const SweepShape& shape) {
    if (skip && skip(tags_[i])) return true;
    const double d = std::sqrt(shape.squaredTo(triangles_[i], reach, false));
    if (d < reach) {
      reach = d;
      best = Nearest{d - sweep.radius, index_[i], tags_[i]};
    }
    return reach > 0; // nothing is nearer than what the axis runs through
  });
  return best;
}

bool MeshTree::clear(const Sweep& sweep, double margin, const Skip& skip, int* hit) const {
  double reach = std::max(0.0, sweep.radius + margin);
  bool free = true;
  if (hit && *hit >= 0 && *hit < static_cast<int>(triangles_.size()) &&
      !(skip && skip(tags_[*hit])) &&
      SweepShape(sweep).squaredTo(triangles_[*hit], reach, true) < reach * reach)
    return false;
  visit(sweep, reach, [&](int i, const SweepShape& shape) {
    if (skip && skip(tags_[i])) return true;
    if (shape.squaredTo(triangles_[i], reach, true) >= reach * reach) return true;
    free = false;
    if (hit) *hit = i;
    return false;
  });
  return free;
}

std::optional<double> MeshTree::firstHit(const Vec3& origin, const Vec3& direction) const {
  std::optional<double> best;
  if (nodes_.empty()) return best;
  std::vector<int> stack{0};
  while (!stack.empty()) {
    const Node& node = nodes_[stack.back()];
    stack.pop_back();
    double enter = 0, leave = best.value_or(1e300);
    for (int k = 0; k < 3 && enter <= leave; ++k) {
      if (std::abs(direction[k]) < 1e-300) {
        if (origin[k] < node.box.min()[k] || origin[k] > node.box.max()[k]) leave = -1;
        continue;
      }
      double t0 = (node.box.min()[k] - origin[k]) / direction[k];
      double t1 = (node.box.max()[k] - origin[k]) / direction[k];
      if (t0 > t1) std::swap(t0, t1);
      enter = std::max(enter, t0);
      leave = std::min(leave, t1);
    }
    if (enter > leave) continue;
    if (node.left >= 0) {
      stack.push_back(node.left);
      stack.push_back(node.right);
      continue;
    }
    for (int i = node.begin; i < node.end; ++i) {
      // Moeller and Trumbore 1997
      const Triangle& t = triangles_[i];
      const Vec3 e1 = t.b - t.a, e2 = t.c - t.a, p = direction.cross(e2);
      const double det = e1.dot(p);
      if (std::abs(det) < 1e-300) continue;
      const Vec3 s = origin - t.a;
      const double u = s.dot(p) / det;
      const Vec3 q = s.cross(e1);
      const double v = direction.dot(q) / det, time = e2.dot(q) / det;
      if (u >= 0 && v >= 0 && u + v <= 1 && time >= 0 && time < best.value_or(1e300)) best = time;
    }
  }
  return best;
}

} // namespace alder
