// Triangles and round-ended rods, their distance, for the second opinion: written for it alone.
#pragma once

#include <Eigen/Geometry>
#include <array>
#include <optional>
#include <string>
#include <vector>

namespace dmis_machine {

using V = Eigen::Vector3d;
using T = Eigen::Isometry3d;

struct Capsule {
  V a, b;
  double radius = 0;
  std::string part;
};

struct Solid {
  std::string name;
  std::vector<std::array<V, 3>> triangles; // in its own frame
  T placed = T::Identity();                // in the machine
  bool away = false;                       // opened: it does not stand in the way
};

// Distance of the axis of a rod to a triangle; 0 where it goes through.
double distance(const V& a, const V& b, const std::array<V, 3>& triangle);

// Where a moving set of rods first comes nearer to a solid than `margin`.
struct Meeting {
  double share = 0; // of the move
  std::string rod, solid;
  double distance = 0;
};
class Space {
 public:
  explicit Space(std::vector<Solid> solids);
  std::vector<Solid> solids;
  // Rods about `from`, moved straight to `to`, the one called "ball" with a margin of its own.
  // Stops are taken as far apart as the nearest distance allows, 1e-3 mm at least.
  std::optional<Meeting> meets(const std::vector<Capsule>& rods, const V& from, const V& to,
                               double margin, double of_ball) const;
  V top() const; // of all boxes, the corner of the largest coordinates

 private:
  struct Node {
    V low, high;
    int left = -1, right = -1, first = 0, count = 0;
  };
  struct Tree {
    std::vector<Node> nodes;
    std::vector<int> order;
  };
  int build(Tree& tree, const Solid& solid, int first, int count) const;
  void nearest(std::size_t solid, const V& a, const V& b, double radius, double& best) const;
  std::vector<Tree> trees_;
};

} // namespace dmis_machine
