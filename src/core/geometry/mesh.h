// Triangles of a body and a tree of boxes over them for fast, exact clearance questions.
#pragma once

#include "geometry/distance.h"
#include <array>
#include <cstdint>
#include <functional>
#include <optional>
#include <vector>

namespace alder {

struct Mesh {
  Points vertices;
  std::vector<std::array<int, 3>> triangles;
  std::vector<int> tags; // one per triangle: whose it is (a face of the part, say)

  Triangle triangle(std::size_t index) const {
    const auto& t = triangles[index];
    return {vertices[t[0]], vertices[t[1]], vertices[t[2]]};
  }
  Box3 box() const;
  void append(const Mesh& other, const Frame& placement);
  void appendBox(const Box3& box, const Frame& placement, int tag);
};

// A round-ended rod (capsule) that moves along a straight line: the set of points within `radius`
// of the parallelogram spanned by the rod's axis and the move. A ball has a == b, a rod at rest
// has move == 0. There are no samples along the way, hence nothing between them to miss.
struct Sweep {
  Segment axis;
  Vec3 move = Vec3::Zero();
  double radius = 0;
};

struct Nearest {
  double distance = 0; // between surfaces, mm; negative: radius not held by so much
  int triangle = -1;
  int tag = -1;
};

struct Closest {
  double distance = 0; // mm
  Vec3 point = Vec3::Zero();
  int triangle = -1;
  int tag = -1;
};

class MeshTree {
 public:
  MeshTree() = default;
  explicit MeshTree(const Mesh& mesh);

  bool empty() const { return nodes_.empty(); }
  const Box3& box() const { return box_; }

  // Nearest triangle to the sweep, if any is closer than `within` (mm, surface to surface).
  // `skip(tag)` leaves out triangles.
  using Skip = std::function<bool(int tag)>;
  std::optional<Nearest> nearest(const Sweep& sweep, double within, const Skip& skip = {}) const;
  // Nearest place of the triangles to the point, if any is closer than `within`. Where `facing` is
  // given (unit), only of triangles whose normal lies within 60 degrees of it. `hint`: a place in
  // the tree that is tried first, and on return where the nearest was: points that follow each
  // other closely are found faster by it.
  std::optional<Closest> closest(const Vec3& point, double within, int* hint = nullptr,
                                 const Vec3* facing = nullptr) const;
  // True when everything stays at least `margin` away; stops at the first that does not.
  // `hit`, where given: a place in the tree that is tried first, and on false the one that was hit.
  bool clear(const Sweep& sweep, double margin, const Skip& skip = {}, int* hit = nullptr) const;
  // Tag of a triangle that the box, widened by `margin` on all sides, meets; exactly.
  std::optional<int> met(const Box3& box, double margin, const Skip& skip = {}) const;
  // First triangle hit by the ray, as parameter along `direction` (need not be unit).
  std::optional<double> firstHit(const Vec3& origin, const Vec3& direction) const;
  // How often the triangles go round the point, seen along the ray: solids that overlap count each.
  // Runs astray where the ray meets an edge exactly; ask along several directions.
  int windings(const Vec3& point, const Vec3& direction) const;
  // All hits up to a parameter, in order.
  std::vector<double> hits(const Vec3& origin, const Vec3& direction, double furthest) const;

 private:
  // Four children side by side, so that they are tested at once. Boxes are rounded outwards; a
  // child is a node, or where negative the triangle ~child. Places left over lie far away.
  struct Node {
    using Four = Eigen::Array4f;
    std::array<Four, 3> centre, half;
    std::array<int, 4> child{};
    Node();
    void set(int place, const Box3& box, int what);
    Box3 box(int place) const;
  };
  struct Facet {
    Triangle triangle;
    Vec3 normal; // unit; zero where the triangle has no area
    double offset = 0;
  };
  struct Query;
  struct Builder;
  // take(parameter, triangle position)
  template <class Furthest, class Take>
  void alongRay(const Vec3& origin, const Vec3& direction, const Furthest& furthest,
                const Take& take) const;
  template <class Visit> void visit(const Query& query, double& reach, Visit&& visit) const;

  Box3 box_;
  std::vector<Node> nodes_;
  std::vector<Facet> facets_; // in the order of the leaves, as are tags
  std::vector<int> tags_, index_;
};

} // namespace alder
