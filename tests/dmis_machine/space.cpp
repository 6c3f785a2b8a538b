#include "space.h"

#include <algorithm>
#include <cmath>

namespace dmis_machine {
namespace {

double clamped(double x) {
  return std::min(1.0, std::max(0.0, x));
}

double pointToSegment(const V& p, const V& a, const V& b) {
  const V d = b - a;
  const double n = d.squaredNorm();
  return (a + (n > 0 ? clamped((p - a).dot(d) / n) : 0) * d - p).norm();
}

// The smallest of the square of a - b over two segments is at a place where neither end can do
// better: tried from the four ends and the common normal.
double segmentToSegment(const V& a, const V& b, const V& c, const V& d) {
  double best = std::min(std::min(pointToSegment(a, c, d), pointToSegment(b, c, d)),
                         std::min(pointToSegment(c, a, b), pointToSegment(d, a, b)));
  const V u = b - a, v = d - c, n = u.cross(v);
  if (n.squaredNorm() < 1e-18) return best;
  const double s = (c - a).cross(v).dot(n) / n.squaredNorm(),
               t = (c - a).cross(u).dot(n) / n.squaredNorm();
  if (s >= 0 && s <= 1 && t >= 0 && t <= 1)
    best = std::min(best, std::abs((c - a).dot(n)) / n.norm());
  return best;
}

bool inside(const V& p, const std::array<V, 3>& t, const V& n) {
  for (int k = 0; k < 3; ++k) {
    const V& from = t[static_cast<std::size_t>(k)];
    if (n.dot((t[static_cast<std::size_t>((k + 1) % 3)] - from).cross(p - from)) < 0) return false;
  }
  return true;
}

double boxDistance(const V& low, const V& high, const V& p) {
  return (p - p.cwiseMax(low).cwiseMin(high)).norm();
}

} // namespace

double distance(const V& a, const V& b, const std::array<V, 3>& t) {
  double best = 1e300;
  for (std::size_t k = 0; k < 3; ++k)
    best = std::min(best, segmentToSegment(a, b, t[k], t[(k + 1) % 3]));
  const V n = (t[1] - t[0]).cross(t[2] - t[0]);
  const double size = n.norm();
  if (size < 1e-15) return best;
  const double da = n.dot(a - t[0]) / size, db = n.dot(b - t[0]) / size;
  for (const auto& [end, off] : {std::pair(a, da), std::pair(b, db)})
    if (inside(end - off * n / size, t, n)) best = std::min(best, std::abs(off));
  if ((da < 0) != (db < 0) && inside(a + da / (da - db) * (b - a), t, n)) return 0;
  return best;
}

Space::Space(std::vector<Solid> all)
    : solids(std::move(all)) {
  for (const Solid& s : solids) {
    Tree tree;
    for (std::size_t i = 0; i < s.triangles.size(); ++i)
      tree.order.push_back(static_cast<int>(i));
    if (!tree.order.empty()) build(tree, s, 0, static_cast<int>(tree.order.size()));
    trees_.push_back(std::move(tree));
  }
}

int Space::build(Tree& tree, const Solid& solid, int first, int count) const {
  const int me = static_cast<int>(tree.nodes.size());
  tree.nodes.emplace_back();
  Node node;
  node.low = V::Constant(1e300);
  node.high = V::Constant(-1e300);
  for (int i = first; i < first + count; ++i)
    for (const V& p :
         solid.triangles[static_cast<std::size_t>(tree.order[static_cast<std::size_t>(i)])]) {
      node.low = node.low.cwiseMin(p);
      node.high = node.high.cwiseMax(p);
    }
  node.first = first;
  node.count = count;
  if (count > 4) {
    int axis = 0;
    (node.high - node.low).maxCoeff(&axis);
    const auto middle = [&](int i) {
      const auto& t = solid.triangles[static_cast<std::size_t>(i)];
      return t[0][axis] + t[1][axis] + t[2][axis];
    };
    const auto begin = tree.order.begin() + first;
    std::nth_element(begin, begin + count / 2, begin + count,
                     [&](int x, int y) { return middle(x) < middle(y); });
    node.left = build(tree, solid, first, count / 2);
    node.right = build(tree, solid, first + count / 2, count - count / 2);
  }
  tree.nodes[static_cast<std::size_t>(me)] = node;
  return me;
}

// `best` is the nearest distance so far, from the surface of the rod.
void Space::nearest(std::size_t which, const V& a, const V& b, double radius, double& best) const {
  const Tree& tree = trees_[which];
  if (tree.nodes.empty()) return;
  const V middle = (a + b) / 2;
  const double reach = (b - a).norm() / 2 + radius;
  std::vector<int> open{0};
  while (!open.empty()) {
    const Node& node = tree.nodes[static_cast<std::size_t>(open.back())];
    open.pop_back();
    if (boxDistance(node.low, node.high, middle) - reach >= best) continue;
    if (node.left >= 0) {
      open.push_back(node.left);
      open.push_back(node.right);
      continue;
    }
    for (int i = node.first; i < node.first + node.count; ++i)
      best = std::min(best, distance(a, b,
                                     solids[which].triangles[static_cast<std::size_t>(
                                         tree.order[static_cast<std::size_t>(i)])]) -
                                radius);
  }
}

std::optional<Meeting> Space::meets(const std::vector<Capsule>& rods, const V& from, const V& to,
                                    double of_others, double of_ball) const {
  const double length = (to - from).norm();
  for (std::size_t s = 0; s < solids.size(); ++s) {
    if (solids[s].away) continue;
    const T back = solids[s].placed.inverse();
    for (const Capsule& rod : rods) {
      const double margin = rod.part == "ball" ? of_ball : of_others;
      for (double at = 0;;) {
        const V place = from + (length > 0 ? at / length : 0) * (to - from);
        double near = length - at + margin + 1; // farther does not matter
        nearest(s, back * (place + rod.a), back * (place + rod.b), rod.radius, near);
        if (near < margin)
          return Meeting{length > 0 ? at / length : 0, rod.part, solids[s].name, near};
        if (at >= length) break;
        at = std::min(length, at + std::max(near - margin, 1e-3));
      }
    }
  }
  return {};
}

V Space::top() const {
  V high = V::Constant(-1e300);
  for (const Solid& s : solids)
    for (const auto& t : s.triangles)
      for (const V& p : t)
        high = high.cwiseMax(s.placed * p);
  return high;
}

} // namespace dmis_machine
