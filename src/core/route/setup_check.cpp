#include "route/setup_check.h"

#include "geometry/mesh_check.h"
#include <algorithm>
#include <optional>

namespace alder {
namespace {

struct Solid {
  std::string name;
  Mesh mesh;
  MeshTree tree;
  Solid(std::string n, Mesh m)
      : name(std::move(n))
      , mesh(std::move(m))
      , tree(mesh) {}
};

class SetupCheck {
 public:
  explicit SetupCheck(const Plan& plan)
      : plan_(plan)
      , part_("part", placed(plan)) {
    for (const FixtureBody& b : plan.bench.fixture.bodies)
      fixture_.emplace_back(b.name, b.mesh);
    for (BenchSolid& s : benchSolids(plan.bench))
      solids_.emplace_back(s.name, std::move(s.mesh));
  }

  std::vector<SetupFinding> run() {
    withinTravel();
    for (const Solid& b : fixture_)
      meets(part_, b);
    for (const Solid& s : solids_) {
      meets(part_, s);
      for (const Solid& b : fixture_)
        meets(s, b);
    }
    inTable(part_);
    for (const Solid& b : fixture_)
      inTable(b);
    closed();
    speeds();
    for (const std::string& text : beyondProbe(plan_.bench))
      found_.push_back({false, text.substr(0, text.find(' ')), text + "."});
    return std::move(found_);
  }

 private:
  static Mesh placed(const Plan& plan) {
    Mesh mesh;
    mesh.append(plan.part->mesh, plan.placement);
    return mesh;
  }

  // A ball must come to all sides of the part; the pivot hangs above it.
  void withinTravel() {
    const Box3 box = part_.mesh.box(), &travel = plan_.bench.machine.volume;
    for (int k = 0; k < 2; ++k) {
      const double over = std::max(travel.min()[k] - box.min()[k], box.max()[k] - travel.max()[k]);
      if (over > 0)
        found_.push_back({true, "part",
                          fmt::format("The part reaches {:.0f} mm beyond the travel in {}; move it "
                                      "by its origin.",
                                      std::max(over, 1.0), "XY"[k])});
    }
    if (box.min().z() > travel.max().z())
      found_.push_back(
          {true, "part", "The part lies above the travel in Z; lower it by its origin."});
  }

  void meets(const Solid& a, const Solid& b) {
    if (reachInto(a.mesh, a.tree, b.mesh, b.tree, kRestSlack))
      found_.push_back({true, b.name,
                        fmt::format("{} and {} stand in each other; move one.",
                                    a.name == "part" ? "The part" : a.name, b.name)});
  }

  void inTable(const Solid& b) {
    if (b.mesh.vertices.empty()) return;
    const double low = b.mesh.box().min().z();
    if (low < -kRestSlack)
      found_.push_back({true, b.name,
                        fmt::format("{} reaches {:.1f} mm into the table; raise it.",
                                    b.name == "part" ? "The part" : b.name, -low)});
  }

  void closed() {
    for (const Solid& b : fixture_)
      if (const int edges = openEdges(b.mesh); edges > 0)
        found_.push_back({false, b.name,
                          fmt::format("{} is not closed ({} open edges); clashes with its surface "
                                      "are found, what lies inside of it is not.",
                                      b.name, edges)});
  }

  // The machine's own touch speed is checked with the bench.
  void speeds() {
    const ProbeLimits& probe = plan_.bench.probe;
    for (const Feature& f : plan_.features) {
      const double speed = f.recipe.speed;
      if (speed <= 0 || f.touches.empty()) continue;
      if ((probe.touch_speed > 0 && speed > probe.touch_speed) || speed < probe.least_touch_speed)
        found_.push_back({false, plan_.nominal(f.id).name,
                          fmt::format("{} is touched at {:g} mm/s; {} takes {:g} to {:g}.",
                                      plan_.nominal(f.id).name, speed, probe.name,
                                      probe.least_touch_speed, probe.touch_speed)});
    }
  }

  const Plan& plan_;
  Solid part_;
  std::vector<Solid> fixture_, solids_;
  std::vector<SetupFinding> found_;
};

} // namespace

std::vector<SetupFinding> checkSetup(const Plan& plan) {
  return SetupCheck(plan).run();
}

} // namespace alder
