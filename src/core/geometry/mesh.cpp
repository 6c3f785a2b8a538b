#include "geometry/mesh.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

constexpr float kFarAway = 1e15f;

} // namespace

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

  // Exact where it is less than `reach`, else any number that is not. `any` is satisfied by any
  // place that is nearer than that.
  double squaredTo(const Triangle& t, double reach, bool any) const {
    const double middle = squaredDistance(segment, t), far = reach + slack;
    if (flat || middle >= far * far || (any && middle < reach * reach)) return middle;
    const double d = squaredDistance(first, t);
    return d == 0 ? 0 : std::min(d, squaredDistance(second, t));
  }
};

namespace {

Box3 boxOf(const Triangle& t) {
  Box3 box(t.a);
  return box.extend(t.b).extend(t.c);
}

// Do triangle and box meet? They do not where some direction parts them: the axes of the box, the
// normal of the triangle, and the cross products of their edges. Akenine-Moeller, Fast 3D
// triangle-box overlap testing, 2001.
bool meet(const Triangle& t, const Vec3& centre, const Vec3& half) {
  const std::array<Vec3, 3> v{t.a - centre, t.b - centre, t.c - centre};
  const auto parted = [&](const Vec3& along) {
    const double a = v[0].dot(along), b = v[1].dot(along), c = v[2].dot(along);
    const double reach = along.cwiseAbs().dot(half);
    return std::min({a, b, c}) > reach || std::max({a, b, c}) < -reach;
  };
  for (int k = 0; k < 3; ++k)
    if (parted(Vec3::Unit(k))) return false;
  if (parted((v[1] - v[0]).cross(v[2] - v[0]))) return false;
  for (int e = 0; e < 3; ++e)
    for (int k = 0; k < 3; ++k)
      if (parted((v[(e + 1) % 3] - v[e]).cross(Vec3::Unit(k)))) return false;
  return true;
}

// Moeller and Trumbore, Fast, minimum storage ray/triangle intersection, 1997.
std::optional<double> parameterOfHit(const Triangle& t, const Vec3& origin, const Vec3& direction) {
  const Vec3 e1 = t.b - t.a, e2 = t.c - t.a, p = direction.cross(e2);
  const double det = e1.dot(p);
  if (std::abs(det) < 1e-300) return {}; // along the plane
  const Vec3 s = origin - t.a;
  const double u = s.dot(p) / det;
  const Vec3 q = s.cross(e1);
  const double v = direction.dot(q) / det, time = e2.dot(q) / det;
  if (u >= 0 && v >= 0 && u + v <= 1 && time >= 0) return time;
  return {};
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

MeshTree::Node::Node() {
  for (int k = 0; k < 3; ++k) {
    centre[k].setConstant(kFarAway);
    half[k].setZero();
  }
}

void MeshTree::Node::set(int place, const Box3& box, int what) {
  constexpr float kWider = 1.0f + 4e-7f; // more than what rounding to float takes
  for (int k = 0; k < 3; ++k) {
    centre[k][place] = static_cast<float>(box.center()[k]);
    const double c = centre[k][place];
    half[k][place] = static_cast<float>(std::max(box.max()[k] - c, c - box.min()[k])) * kWider;
  }
  child[place] = what;
}

Box3 MeshTree::Node::box(int place) const {
  const Vec3 c(centre[0][place], centre[1][place], centre[2][place]);
  const Vec3 h(half[0][place], half[1][place], half[2][place]);
  return {c - h, c + h};
}

// Splits at the median of the longest axis, twice a node.
struct MeshTree::Builder {
  MeshTree& tree;
  std::vector<Box3> boxes; // of the triangles as they were given

  using Range = std::pair<int, int>;

  int split(Range r) {
    Box3 centres;
    for (int i = r.first; i < r.second; ++i)
      centres.extend(boxes[tree.index_[i]].center());
    int axis = 0;
    centres.sizes().maxCoeff(&axis);
    const int middle = (r.first + r.second) / 2;
    const auto key = [&](int i) { return boxes[i].min()[axis] + boxes[i].max()[axis]; };
    const auto begin = tree.index_.begin();
    std::nth_element(begin + r.first, begin + middle, begin + r.second, [&](int a, int b) {
      const double ka = key(a), kb = key(b);
      return ka < kb || (ka == kb && a < b);
    });
    return middle;
  }
  Box3 boxOf(Range r) const {
    Box3 box;
    for (int i = r.first; i < r.second; ++i)
      box.extend(boxes[tree.index_[i]]);
    return box;
  }
  int build(Range all) {
    const int self = static_cast<int>(tree.nodes_.size());
    tree.nodes_.emplace_back();
    std::vector<Range> parts{all};
    for (int round = 0; round < 2; ++round)
      for (std::size_t i = parts.size(); i-- > 0;)
        if (const Range r = parts[i]; r.second - r.first > 1) {
          const int middle = split(r);
          parts[i].second = middle;
          parts.emplace_back(middle, r.second);
        }
    for (std::size_t i = 0; i < parts.size(); ++i) {
      const Box3 box = boxOf(parts[i]);
      const bool one = parts[i].second - parts[i].first == 1;
      const int child = one ? ~parts[i].first : build(parts[i]);
      tree.nodes_[self].set(static_cast<int>(i), box, child);
    }
    return self;
  }
};

MeshTree::MeshTree(const Mesh& mesh) {
  const int count = static_cast<int>(mesh.triangles.size());
  if (count == 0) return;
  index_.resize(count);
  std::iota(index_.begin(), index_.end(), 0);
  Builder builder{*this, {}};
  for (int i = 0; i < count; ++i)
    builder.boxes.push_back(boxOf(mesh.triangle(i)));
  box_ = builder.boxOf({0, count});
  nodes_.reserve(count / 2 + 1);
  builder.build({0, count});
  for (const int i : index_) {
    const Triangle t = mesh.triangle(i);
    const Vec3 across = (t.b - t.a).cross(t.c - t.a);
    const Vec3 normal = across.squaredNorm() > 1e-24 ? Vec3(across.normalized()) : Vec3::Zero();
    facets_.push_back({t, normal, normal.dot(t.a)});
    tags_.push_back(mesh.tags.empty() ? 0 : mesh.tags[i]);
  }
}

// A sweep as the tree asks for it: its shape, and what tells quickly that a box is far.
struct MeshTree::Query {
  using Four = Node::Four;

  SweepShape shape;
  Vec3 centre, half;         // of the sweep's own box
  Vec3 from, along;          // the segment of the shape
  float inverse_length2 = 0; // 0 for a point
  // Boxes are tested in float, whose error is a few units in the last place of the coordinates.
  double slop = 0;

  Query(const Sweep& s, const Box3& tree)
      : shape(s) {
    const Box3 box = boxOf(s);
    centre = box.center();
    half = box.sizes() / 2;
    from = shape.segment.a;
    along = shape.segment.b - shape.segment.a;
    const double length2 = along.squaredNorm();
    if (length2 > 1e-24) inverse_length2 = static_cast<float>(1 / length2);
    for (const Box3* b : {&box, &tree})
      slop += 4e-6 * std::max(b->min().cwiseAbs().maxCoeff(), b->max().cwiseAbs().maxCoeff());
  }

  // Squared distances that the boxes have at least, infinite where farther than `reach`. Two convex
  // bodies are at least as far apart as along any one direction: the axes of the box, and that from
  // the nearest place of the segment to the middle of the box, which tells long slanting rods from
  // what merely lies within their own box.
  Four lowest(const Node& n, double reach) const {
    std::array<Four, 3> to;
    Four by_axes = Four::Zero(), at = Four::Zero();
    for (int k = 0; k < 3; ++k) {
      const auto h = static_cast<float>(half[k]);
      const Four gap =
          ((n.centre[k] - static_cast<float>(centre[k])).abs() - (n.half[k] + h)).max(0);
      by_axes += gap * gap;
      to[k] = n.centre[k] - static_cast<float>(from[k]);
      at += to[k] * static_cast<float>(along[k]);
    }
    at = (at * inverse_length2).max(0).min(1);
    Four distance2 = Four::Zero(), extent = Four::Zero();
    for (int k = 0; k < 3; ++k) {
      to[k] -= at * static_cast<float>(along[k]);
      distance2 += to[k] * to[k];
      extent += to[k].abs() * n.half[k];
    }
    const auto near = static_cast<float>(reach + slop),
               far = static_cast<float>(reach + slop + shape.slack);
    const Four left = (distance2 - extent).max(0);
    return (by_axes > near * near || left * left > far * far * distance2)
        .select(Four(kFar), by_axes);
  }
  // The same with both triangles of a wide sweep.
  bool beyond(const Node& node, int place, double reach) const {
    if (shape.flat || shape.slack <= 4) return false;
    const Box3 box = node.box(place);
    const Vec3 c = box.center(), h = box.sizes() / 2;
    const Vec3 a = closestOnTriangle(c, shape.first) - c,
               b = closestOnTriangle(c, shape.second) - c;
    const Vec3& to = a.squaredNorm() < b.squaredNorm() ? a : b;
    const double distance2 = to.squaredNorm(), left = distance2 - to.cwiseAbs().dot(h);
    return left > 0 && left * left > reach * reach * distance2;
  }

  // Is the plane of the facet farther than `reach`, with all of the shape on one side?
  bool beyondPlane(const Facet& f, double reach) const {
    const double a = f.normal.dot(from) - f.offset, b = a + f.normal.dot(along);
    const double far = reach + shape.slack + 1e-9;
    return (a > far && b > far) || (a < -far && b < -far);
  }

  static constexpr float kFar = 1e36f;
};

// Calls visit(triangle position) for triangles whose surface may be nearer than `reach` to the
// sweep's axis; visit may shrink `reach`. The nearest boxes come first.
template <class Visit>
void MeshTree::visit(const Query& query, double& reach, Visit&& visit) const {
  if (nodes_.empty()) return;
  struct Waiting {
    int child;
    float lowest;
  };
  std::array<Waiting, 128> stack; // 3 a level, of which there are at most 16
  int depth = 0;
  stack[depth++] = {0, 0};
  while (depth > 0) {
    const Waiting next = stack[--depth];
    if (const double near = reach + query.slop; next.lowest > near * near) continue;
    if (next.child < 0) {
      if (!query.beyondPlane(facets_[~next.child], reach) && !visit(~next.child)) return;
      continue;
    }
    const Node& node = nodes_[next.child];
    const Eigen::Array4f lowest = query.lowest(node, reach);
    const int first = depth;
    for (int i = 0; i < 4; ++i) {
      if (lowest[i] >= Query::kFar || query.beyond(node, i, reach)) continue;
      int at = depth++; // farthest first
      for (; at > first && stack[at - 1].lowest < lowest[i]; --at)
        stack[at] = stack[at - 1];
      stack[at] = {node.child[i], lowest[i]};
    }
  }
}

std::optional<Nearest> MeshTree::nearest(const Sweep& sweep, double within,
                                         const Skip& skip) const {
  double reach = std::max(0.0, sweep.radius + within);
  std::optional<Nearest> best;
  const Query query(sweep, box_);
  visit(query, reach, [&](int i) {
    if (skip && skip(tags_[i])) return true;
    const double d = std::sqrt(query.shape.squaredTo(facets_[i].triangle, reach, false));
    if (d < reach) {
      reach = d;
      best = Nearest{d - sweep.radius, index_[i], tags_[i]};
    }
    return reach > 0; // nothing is nearer than what the axis runs through
  });
  return best;
}

std::optional<Closest> MeshTree::closest(const Vec3& point, double within, int* hint,
                                         const Vec3* facing) const {
  if (nodes_.empty()) return {};
  constexpr double kFacing = 0.5; // cosine
  std::optional<Closest> best;
  double reach2 = within * within;
  const auto consider = [&](int i) {
    const Facet& f = facets_[i];
    if (facing && f.normal.dot(*facing) < kFacing) return;
    const double beside = f.normal.dot(point) - f.offset;
    if (beside * beside >= reach2 && !f.normal.isZero()) return;
    const Vec3 foot = closestOnTriangle(point, f.triangle);
    if (const double d2 = (foot - point).squaredNorm(); d2 < reach2) {
      reach2 = d2;
      best = Closest{0, foot, i, 0};
    }
  };
  if (hint && *hint >= 0 && *hint < static_cast<int>(facets_.size())) consider(*hint);
  using Four = Node::Four;
  // Boxes are compared in float: what its rounding takes, for coordinates as large as these.
  const auto slop = static_cast<float>(
      4e-6 * std::max(point.cwiseAbs().maxCoeff(), std::max(box_.min().cwiseAbs().maxCoeff(),
                                                            box_.max().cwiseAbs().maxCoeff())));
  const Eigen::Vector3f p = point.cast<float>();
  struct Waiting {
    int child;
    float lowest;
  };
  std::array<Waiting, 128> stack; // 3 a level, of which there are at most 16
  int depth = 0;
  stack[depth++] = {0, 0};
  while (depth > 0) {
    const Waiting next = stack[--depth];
    if (next.lowest >= reach2) continue;
    if (next.child < 0) {
      consider(~next.child);
      continue;
    }
    const Node& node = nodes_[next.child];
    Four squares = Four::Zero();
    for (int k = 0; k < 3; ++k) {
      const Four gap = ((node.centre[k] - p[k]).abs() - node.half[k] - slop).max(0);
      squares += gap * gap;
    }
    const int first = depth;
    for (int i = 0; i < 4; ++i) {
      if (squares[i] >= reach2) continue;
      int at = depth++; // farthest first
      for (; at > first && stack[at - 1].lowest < squares[i]; --at)
        stack[at] = stack[at - 1];
      stack[at] = {node.child[i], squares[i]};
    }
  }
  if (!best) return {};
  if (hint) *hint = best->triangle;
  best->tag = tags_[best->triangle];
  best->triangle = index_[best->triangle];
  best->distance = std::sqrt(reach2);
  return best;
}

bool MeshTree::clear(const Sweep& sweep, double margin, const Skip& skip, int* hit) const {
  double reach = std::max(0.0, sweep.radius + margin);
  bool free = true;
  const Query query(sweep, box_);
  if (hit && *hit >= 0 && *hit < static_cast<int>(facets_.size()) && !(skip && skip(tags_[*hit])) &&
      query.shape.squaredTo(facets_[*hit].triangle, reach, true) < reach * reach)
    return false;
  visit(query, reach, [&](int i) {
    if (skip && skip(tags_[i])) return true;
    if (query.shape.squaredTo(facets_[i].triangle, reach, true) >= reach * reach) return true;
    free = false;
    if (hit) *hit = i;
    return false;
  });
  return free;
}

std::optional<int> MeshTree::met(const Box3& box, double margin, const Skip& skip) const {
  if (nodes_.empty()) return {};
  const Vec3 half = (box.sizes() / 2 + Vec3::Constant(margin)).cwiseMax(0.0), centre = box.center();
  const Box3 wide(centre - half, centre + half);
  std::vector<int> stack{0};
  while (!stack.empty()) {
    const int child = stack.back();
    stack.pop_back();
    if (child < 0) {
      if (!(skip && skip(tags_[~child])) && meet(facets_[~child].triangle, centre, half))
        return tags_[~child];
      continue;
    }
    const Node& node = nodes_[child];
    for (int i = 0; i < 4; ++i)
      if (node.centre[0][i] < kFarAway && node.box(i).intersects(wide))
        stack.push_back(node.child[i]);
  }
  return {};
}

// Calls take(parameter, triangle) for triangles on the ray that may lie before `furthest()`.
template <class Furthest, class Take>
void MeshTree::alongRay(const Vec3& origin, const Vec3& direction, const Furthest& furthest,
                        const Take& take) const {
  if (nodes_.empty()) return;
  const auto enters = [&](const Box3& box) {
    double enter = 0, leave = furthest();
    for (int k = 0; k < 3 && enter <= leave; ++k) {
      if (std::abs(direction[k]) < 1e-300) {
        if (origin[k] < box.min()[k] || origin[k] > box.max()[k]) return false;
        continue;
      }
      double t0 = (box.min()[k] - origin[k]) / direction[k];
      double t1 = (box.max()[k] - origin[k]) / direction[k];
      if (t0 > t1) std::swap(t0, t1);
      enter = std::max(enter, t0);
      leave = std::min(leave, t1);
    }
    return enter <= leave;
  };
  std::vector<int> stack{0};
  while (!stack.empty()) {
    const int child = stack.back();
    stack.pop_back();
    if (child >= 0) {
      const Node& node = nodes_[child];
      for (int i = 0; i < 4; ++i)
        if (node.centre[0][i] < kFarAway && enters(node.box(i))) stack.push_back(node.child[i]);
    } else if (const auto hit = parameterOfHit(facets_[~child].triangle, origin, direction)) {
      take(*hit, ~child);
    }
  }
}

std::optional<double> MeshTree::firstHit(const Vec3& origin, const Vec3& direction) const {
  std::optional<double> best;
  alongRay(
      origin, direction, [&] { return best.value_or(1e300); },
      [&](double hit, int) {
        if (hit < best.value_or(1e300)) best = hit;
      });
  return best;
}

std::vector<double> MeshTree::hits(const Vec3& origin, const Vec3& direction,
                                   double furthest) const {
  std::vector<double> all;
  alongRay(
      origin, direction, [&] { return furthest; },
      [&](double hit, int) {
        if (hit <= furthest) all.push_back(hit);
      });
  std::sort(all.begin(), all.end());
  return all;
}

int MeshTree::windings(const Vec3& point, const Vec3& direction) const {
  int sum = 0;
  alongRay(
      point, direction, [] { return 1e300; },
      [&](double, int triangle) { sum += facets_[triangle].normal.dot(direction) > 0 ? 1 : -1; });
  return sum;
}

} // namespace alder
