#include "geometry/mesh_check.h"

#include <algorithm>
#include <map>

namespace alder {
namespace {

// By two of three directions that run askew to what people draw.
bool inside(const Vec3& point, const MeshTree& tree) {
  int votes = 0;
  for (const Vec3& way : {Vec3(0.3518, 0.2271, 0.9081), Vec3(-0.4127, 0.8713, 0.2651),
                          Vec3(0.7219, -0.5303, -0.4441)})
    votes += tree.windings(point, way) != 0;
  return votes >= 2;
}

bool deepInside(const Vec3& point, const MeshTree& tree, double deep) {
  return tree.box().contains(point) && tree.clear(Sweep{{point, point}, Vec3::Zero(), 0}, deep) &&
         inside(point, tree);
}

// Is some vertex, or some place of an edge between two crossings, deep inside the other?
bool anyInto(const Mesh& mesh, const MeshTree& other, double deep) {
  for (const Vec3& v : mesh.vertices)
    if (deepInside(v, other, deep)) return true;
  for (const auto& t : mesh.triangles)
    for (std::size_t k = 0; k < 3; ++k) {
      const Vec3 &a = mesh.vertices[static_cast<std::size_t>(t[k])],
                 &b = mesh.vertices[static_cast<std::size_t>(t[(k + 1) % 3])];
      Box3 box(a);
      box.extend(b);
      if (!box.intersects(other.box())) continue;
      auto places = other.hits(a, b - a, 1);
      if (places.empty()) continue;
      places.insert(places.begin(), 0);
      places.push_back(1);
      for (std::size_t i = 1; i < places.size(); ++i)
        for (const double share : {0.25, 0.5, 0.75}) {
          const double at = places[i - 1] + share * (places[i] - places[i - 1]);
          if (deepInside(a + at * (b - a), other, deep)) return true;
        }
    }
  return false;
}

} // namespace

double volumeOf(const Mesh& mesh) {
  double six = 0;
  const Vec3 about = mesh.vertices.empty() ? Vec3::Zero() : mesh.vertices.front();
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Triangle t = mesh.triangle(i);
    six += (t.a - about).dot((t.b - about).cross(t.c - about));
  }
  return six / 6;
}

Vec3 centreOfMass(const Mesh& mesh) {
  const Vec3 about = mesh.vertices.empty() ? Vec3::Zero() : mesh.vertices.front();
  double volume = 0, area = 0;
  Vec3 of_volume = Vec3::Zero(), of_area = Vec3::Zero();
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Triangle t = mesh.triangle(i);
    const Vec3 a = t.a - about, b = t.b - about, c = t.c - about;
    const double six = a.dot(b.cross(c)), twice = (b - a).cross(c - a).norm();
    volume += six, of_volume += six * (a + b + c) / 4;
    area += twice, of_area += twice * (a + b + c) / 3;
  }
  const Box3 box = mesh.box();
  if (volume > 0) // else the surface is open, or inside out
    if (const Vec3 centre = about + of_volume / volume; box.contains(centre)) return centre;
  return area > 0 ? Vec3(about + of_area / area) : about;
}

int openEdges(const Mesh& mesh) {
  std::map<std::array<double, 3>, int> places;
  std::vector<int> same;
  for (const Vec3& v : mesh.vertices)
    same.push_back(places.emplace(std::array{v.x(), v.y(), v.z()}, static_cast<int>(places.size()))
                       .first->second);
  std::map<std::pair<int, int>, int> balance; // of an edge: once each way
  for (const auto& t : mesh.triangles)
    for (int k = 0; k < 3; ++k) {
      const int a = same[static_cast<std::size_t>(t[k])],
                b = same[static_cast<std::size_t>(t[(k + 1) % 3])];
      if (a == b) continue;
      balance[std::minmax(a, b)] += a < b ? 1 : -1;
    }
  return static_cast<int>(
      std::count_if(balance.begin(), balance.end(), [](const auto& e) { return e.second != 0; }));
}

bool reachInto(const Mesh& first, const MeshTree& first_tree, const Mesh& second,
               const MeshTree& second_tree, double deep) {
  if (first_tree.empty() || second_tree.empty() ||
      squaredDistance(first_tree.box(), second_tree.box()) > 0)
    return false;
  return anyInto(first, second_tree, deep) || anyInto(second, first_tree, deep);
}

} // namespace alder
