#include "route/detour.h"

#include "base/random.h"
#include <algorithm>

namespace alder {
namespace {

struct Tree {
  std::vector<Vec3> places;
  std::vector<int> parents;

  explicit Tree(const Vec3& root)
      : places{root}
      , parents{-1} {}

  int nearest(const Vec3& p) const {
    int best = 0;
    double least = 1e300;
    for (std::size_t i = 0; i < places.size(); ++i)
      if (const double d = (places[i] - p).squaredNorm(); d < least)
        least = d, best = static_cast<int>(i);
    return best;
  }
  int add(const Vec3& p, int parent) {
    places.push_back(p);
    parents.push_back(parent);
    return static_cast<int>(places.size()) - 1;
  }
  // From the root to a place.
  std::vector<Vec3> wayTo(int place) const {
    std::vector<Vec3> way;
    for (int i = place; i >= 0; i = parents[static_cast<std::size_t>(i)])
      way.push_back(places[static_cast<std::size_t>(i)]);
    std::reverse(way.begin(), way.end());
    return way;
  }
};

class Finder {
 public:
  Finder(const Clearance& clearance, const Tool& tool, const Box3& within,
         const DetourSettings& settings)
      : clearance_(clearance)
      , tool_(tool)
      , within_(within)
      , settings_(settings)
      , random_(settings.seed) {}

  std::optional<std::vector<Vec3>> find(const Vec3& from, const Vec3& to) {
    Tree a(from), b(to);
    bool forward = true;
    for (int k = 0; k < settings_.most; ++k) {
      Tree &grown = forward ? a : b, &other = forward ? b : a;
      const int added = extend(grown, anyPlace());
      if (added >= 0) {
        const Vec3& target = grown.places[static_cast<std::size_t>(added)];
        if (const int met = connect(other, target); met >= 0) {
          auto way = grown.wayTo(added), rest = other.wayTo(met);
          way.insert(way.end(), rest.rbegin() + 1, rest.rend());
          if (!forward) std::reverse(way.begin(), way.end());
          return shortened(std::move(way));
        }
      }
      forward = !forward;
    }
    return {};
  }

 private:
  Vec3 anyPlace() {
    Vec3 p;
    for (int k = 0; k < 3; ++k)
      p[k] = random_.uniform(within_.min()[k], within_.max()[k]);
    return p;
  }

  bool free(const Vec3& from, const Vec3& to) const {
    return !clearance_.overrun(tool_, to) && clearance_.clear(tool_, from, to, settings_.margin);
  }

  // A step towards the place; the new one, or -1.
  int extend(Tree& tree, const Vec3& towards) const {
    const int from = tree.nearest(towards);
    const Vec3 start = tree.places[static_cast<std::size_t>(from)], d = towards - start;
    const double length = d.norm();
    if (length < 1e-6) return -1;
    // In narrow places a short step may be free where a long one is not.
    for (double step = std::min(length, settings_.stride); step > 0.8; step /= 3) {
      const Vec3 next = start + step / length * d;
      if (free(start, next)) return tree.add(next, from);
    }
    return -1;
  }

  // Steps until the place is reached, or something is in the way.
  int connect(Tree& tree, const Vec3& target) const {
    for (int k = 0; k < 200; ++k) {
      const int added = extend(tree, target);
      if (added < 0) return -1;
      if ((tree.places[static_cast<std::size_t>(added)] - target).norm() < 1e-9) return added;
    }
    return -1;
  }

  // Leaves places out where the rest is free, and draws corners in; long edges are parted, so that
  // they can bend round what is in the way.
  std::vector<Vec3> shortened(std::vector<Vec3> way) {
    leaveOut(way);
    for (int round = 0; round < 4; ++round) {
      for (std::size_t i = way.size() - 1; i > 0; --i)
        if ((way[i] - way[i - 1]).norm() > 8)
          way.insert(way.begin() + static_cast<std::ptrdiff_t>(i), Vec3((way[i] + way[i - 1]) / 2));
      for (std::size_t k = 0; k < 12 * way.size(); ++k)
        drawIn(way, 1 + static_cast<std::size_t>(random_.uniform() *
                                                 static_cast<double>(way.size() - 2)));
      leaveOut(way);
    }
    return {way.begin() + 1, way.end() - 1};
  }

  void drawIn(std::vector<Vec3>& way, std::size_t i) {
    if (i + 1 >= way.size()) return;
    const Vec3 before = way[i - 1], after = way[i + 1];
    const Vec3 moved = way[i] + random_.uniform(0.2, 1) * ((before + after) / 2 - way[i]);
    if (free(before, moved) && free(moved, after)) way[i] = moved;
  }

  void leaveOut(std::vector<Vec3>& way) const {
    for (std::size_t i = 0; i + 2 < way.size(); ++i)
      for (std::size_t j = way.size() - 1; j > i + 1; --j)
        if (free(way[i], way[j])) {
          way.erase(way.begin() + static_cast<std::ptrdiff_t>(i) + 1,
                    way.begin() + static_cast<std::ptrdiff_t>(j));
          break;
        }
  }

  const Clearance& clearance_;
  const Tool& tool_;
  Box3 within_;
  DetourSettings settings_;
  Random random_;
};

} // namespace

std::optional<std::vector<Vec3>> detour(const Clearance& clearance, const Tool& tool,
                                        const Vec3& from, const Vec3& to, const Box3& within,
                                        const DetourSettings& settings) {
  if (clearance.clear(tool, from, to, settings.margin)) return std::vector<Vec3>{};
  return Finder(clearance, tool, within, settings).find(from, to);
}

} // namespace alder
