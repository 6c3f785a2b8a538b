// Is a straight move of the stylus clear of the part? Ours sweeps exactly; fcl is asked for the
// distance of each rod to the same triangles at samples half a millimetre apart, which still leaves
// gaps.
#include "base/random.h"
#include "exchange/routine/project.h"
#include "ratio.h"
#include "route/clearance.h"

#include "base/files.h"
#include <fcl/fcl.h>

namespace alder::bench {
namespace {

struct Scene {
  Plan plan;
  Obstacles obstacles;
  std::shared_ptr<fcl::BVHModel<fcl::OBBRSSd>> model =
      std::make_shared<fcl::BVHModel<fcl::OBBRSSd>>();
};

const Scene& scene() {
  static const Scene instance = [] {
    Scene s;
    s.plan = std::move(openProject((dataFolder() / "demo/data/heron.alder").string())->plan);
    s.plan.bench.fixture.bodies.clear();
    s.obstacles = obstaclesOf(s.plan);
    Mesh mesh;
    mesh.append(s.plan.part->mesh, s.plan.placement);
    s.model->beginModel();
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
      const Triangle t = mesh.triangle(i);
      s.model->addTriangle(t.a, t.b, t.c);
    }
    s.model->endModel();
    return s;
  }();
  return instance;
}

std::vector<std::pair<Vec3, Vec3>> moves() {
  Random r(3);
  std::vector<std::pair<Vec3, Vec3>> result;
  const Vec3 c = scene().obstacles.solids.center();
  for (int i = 0; i < 60; ++i) {
    const Vec3 from = c + Vec3(r.uniform(-70, 70), r.uniform(-70, 70), r.uniform(10, 60));
    result.emplace_back(from,
                        from + Vec3(r.uniform(-15, 15), r.uniform(-15, 15), r.uniform(-5, 5)));
  }
  return result;
}

double ratio() {
  const Scene& s = scene();
  const Tool tool = toolOf(s.plan.bench, {0, 0, 0, 0});
  const Clearance clearance(s.plan, s.obstacles);
  const auto all = moves();
  int ours_clear = 0, theirs_clear = 0;
  const double ours = medianSeconds(
      [&] {
        ours_clear = 0;
        for (const auto& [a, b] : all)
          ours_clear += clearance.clear(tool, a, b, 0.0);
      },
      5);
  const double theirs = medianSeconds(
      [&] {
        theirs_clear = 0;
        for (const auto& [a, b] : all) {
          const int samples = 1 + static_cast<int>((b - a).norm() / 0.5);
          bool clear = true;
          for (int k = 0; k <= samples && clear; ++k) {
            const Vec3 ball = a + (b - a) * (static_cast<double>(k) / samples);
            std::vector<Rod> rods = tool.rods;
            rods.push_back({Vec3::Zero(), Vec3::Zero(), 2 * tool.ball_radius, "ball"});
            for (const Rod& rod : rods) {
              const auto shape =
                  std::make_shared<fcl::Capsuled>(rod.diameter / 2, (rod.b - rod.a).norm());
              fcl::Transform3d at =
                  frameOf(ball + (rod.a + rod.b) / 2,
                          (rod.b - rod.a).norm() > 0 ? Vec3(rod.b - rod.a) : Vec3(Vec3::UnitZ()));
              fcl::CollisionRequestd request;
              fcl::CollisionResultd result;
              if (fcl::collide(s.model.get(), fcl::Transform3d::Identity(), shape.get(), at,
                               request, result) > 0) {
                clear = false;
                break;
              }
            }
          }
          theirs_clear += clear;
        }
      },
      3);
  // samples may miss what the sweep finds, never the other way round by more than rounding
  if (std::abs(ours_clear - theirs_clear) > 3) return 1e9;
  return ours / theirs;
}

// How far is each rod from the part, to the last digit? Both answer for the same poses.
double distanceRatio() {
  const Scene& s = scene();
  const Tool tool = toolOf(s.plan.bench, {0, 0, 0, 0});
  std::vector<Rod> rods = tool.rods;
  rods.push_back({Vec3::Zero(), Vec3::Zero(), 2 * tool.ball_radius, "ball"});
  std::vector<double> ours, theirs;
  const auto places = moves();
  const auto eachRod = [&](const auto& measure) {
    for (const auto& [ball, unused] : places)
      for (const Rod& rod : rods)
        measure(Segment{ball + rod.a, ball + rod.b}, rod.diameter / 2);
  };
  const double fast = medianSeconds(
      [&] {
        ours.clear();
        eachRod([&](const Segment& axis, double radius) {
          const auto n = s.obstacles.part.nearest({axis, Vec3::Zero(), radius}, 1e4);
          ours.push_back(n->distance);
        });
      },
      5);
  const double slow = medianSeconds(
      [&] {
        theirs.clear();
        eachRod([&](const Segment& axis, double radius) {
          const Vec3 along = axis.b - axis.a;
          // Their rod has length; that of the ball hardly any.
          const auto shape = std::make_shared<fcl::Capsuled>(radius, std::max(along.norm(), 1e-9));
          const fcl::Transform3d at =
              frameOf((axis.a + axis.b) / 2, along.norm() > 0 ? along : Vec3(Vec3::UnitZ()));
          fcl::DistanceRequestd request;
          fcl::DistanceResultd result;
          theirs.push_back(fcl::distance(s.model.get(), fcl::Transform3d::Identity(), shape.get(),
                                         at, request, result));
        });
      },
      1);
  for (std::size_t i = 0; i < ours.size(); ++i)
    if (ours[i] > 0 && std::abs(ours[i] - theirs[i]) > 1e-3) return 1e9;
  return fast / slow;
}

} // namespace

std::vector<Ratio> againstFcl() {
  return {{"route/move-clear over fcl at samples", 0.5, ratio},
          {"route/rod-distance over fcl", 0.02, distanceRatio}};
}

} // namespace alder::bench
