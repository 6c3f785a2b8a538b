// A routine larger than most: 500 features with 8 touches each on a part of 200 000 triangles in a
// fixture of 50 000. Checked whole, and again after one feature moved.
#include "base/files.h"
#include "exchange/routine/project.h"
#include "ratio.h"
#include "rehearse/rehearsal.h"
#include "route/reach.h"
#include <cmath>

namespace alder::bench {
namespace {

constexpr int kCells = 317;           // 2 * 317 * 317 triangles
constexpr int kAcross = 25, kUp = 20; // features
constexpr double kSide = 500;         // mm

double height(double x, double y) {
  return 120 + 6 * std::sin(x / 17) * std::cos(y / 23);
}

int featureAt(double x, double y) {
  const int i = std::min(kAcross - 1, static_cast<int>(x / kSide * kAcross));
  const int j = std::min(kUp - 1, static_cast<int>(y / kSide * kUp));
  return j * kAcross + i;
}

// A wavy plate; each feature is a patch of it.
Mesh wavyPlate() {
  Mesh mesh;
  const double step = kSide / kCells;
  for (int j = 0; j <= kCells; ++j)
    for (int i = 0; i <= kCells; ++i)
      mesh.vertices.emplace_back(i * step, j * step, height(i * step, j * step));
  for (int j = 0; j < kCells; ++j)
    for (int i = 0; i < kCells; ++i) {
      const int a = j * (kCells + 1) + i, b = a + 1, c = a + kCells + 1, d = c + 1;
      mesh.triangles.push_back({a, b, d});
      mesh.triangles.push_back({a, d, c});
      for (int k = 0; k < 2; ++k)
        mesh.tags.push_back(featureAt((i + 0.5) * step, (j + 0.5) * step));
    }
  return mesh;
}

// Many small posts round the plate.
Mesh posts() {
  Mesh mesh;
  for (int k = 0; mesh.triangles.size() < 50000; ++k) {
    const double turn = 2.399963 * k, out = 300 + 40 * std::fmod(0.618 * k, 1);
    const Vec3 at(kSide / 2 + out * std::cos(turn) * 1.25, kSide / 2 + out * std::sin(turn) * 1.25,
                  0);
    mesh.appendBox(Box3(at, at + Vec3(6, 6, 60 + k % 90)), Frame::Identity(), 0);
  }
  return mesh;
}

Feature touched(int f) {
  Feature feature;
  feature.id = FeatureId{f};
  const Vec3 corner(f % kAcross * kSide / kAcross, f / kAcross * kSide / kUp, 0);
  for (int k = 0; k < 8; ++k) {
    const double turn = k * 0.785398;
    const double x = corner.x() + 10 + 5 * std::cos(turn), y = corner.y() + 12 + 5 * std::sin(turn),
                 e = 1e-4;
    const Vec3 n((height(x - e, y) - height(x + e, y)) / (2 * e),
                 (height(x, y - e) - height(x, y + e)) / (2 * e), 1);
    feature.touches.push_back({Vec3(x, y, height(x, y)), n.normalized(), FaceId{f}, 0});
  }
  return feature;
}

struct Large {
  Plan plan;
  Obstacles obstacles;
  Way way;
};

void touch(Way& way, const Plan& plan, const Vec3& on, int feature, int index) {
  const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
  const double e = 1e-4;
  const Vec3 n = Vec3((height(on.x() - e, on.y()) - height(on.x() + e, on.y())) / (2 * e),
                      (height(on.x(), on.y() - e) - height(on.x(), on.y() + e)) / (2 * e), 1)
                     .normalized();
  const Vec3 contact = on + tool.ball_radius * n, before = contact + 3 * n;
  const int step = static_cast<int>(way.steps.size()) - 1;
  way.positions.push_back(
      {MoveKind::Approach, before, tool.access, step, FeatureId{feature}, index});
  way.positions.push_back(
      {MoveKind::Touch, contact, tool.access, step, FeatureId{feature}, index, true});
  way.positions.push_back(
      {MoveKind::Retract, before, tool.access, step, FeatureId{feature}, index});
}

Way wayOf(const Plan& plan, double shift_of_one) {
  Way way;
  for (int f = 0; f < kAcross * kUp; ++f) {
    way.steps.push_back({StepKind::Measure, "", FeatureId{f}});
    const Vec3 corner(f % kAcross * kSide / kAcross, f / kAcross * kSide / kUp, 0);
    const double shift = f == 137 ? shift_of_one : 0;
    const auto over = [&](double x, double y) {
      way.positions.push_back({MoveKind::Hop, {x, y, 150}, {0, 0, 0, 0}, f, FeatureId{f}});
    };
    over(corner.x() + 10, corner.y() + 12);
    for (int k = 0; k < 8; ++k) {
      const double turn = k * 0.785398;
      const double x = corner.x() + 10 + 5 * std::cos(turn) + shift,
                   y = corner.y() + 12 + 5 * std::sin(turn);
      touch(way, plan, {x, y, height(x, y)}, f, k);
    }
    over(corner.x() + 10, corner.y() + 12);
  }
  return way;
}

const Large& large() {
  static const Large instance = [] {
    Large l;
    l.plan.bench = *readBench(*readFile(dataFolder() / "demo/data/bench.json"), "bench.json");
    l.plan.bench.fixture.bodies = {{"posts", FixtureKind::Rest, posts()}};
    l.plan.bench.machine.bodies.clear(); // its legs would stand in the posts
    l.plan.bench.machine.volume = Box3(Vec3(-500, -500, 0), Vec3(2000, 2000, 2000));
    for (int f = 0; f < kAcross * kUp; ++f) {
      NominalFeature n;
      n.id = FeatureId{f};
      n.faces = {FaceId{f}};
      l.plan.spec.features.push_back(std::move(n));
      l.plan.features.push_back(touched(f));
    }
    const Mesh plate = wavyPlate();
    l.obstacles.part = MeshTree(plate);
    l.obstacles.fixture = MeshTree(l.plan.bench.fixture.bodies[0].mesh);
    l.obstacles.solids = plate.box();
    l.way = wayOf(l.plan, 0);
    return l;
  }();
  return instance;
}

double whole() {
  const Large& l = large();
  return medianSeconds([&] { (void)rehearse(l.plan, l.obstacles, l.way); }, 3) / 3.0;
}

// One feature moves by a hundredth, back and forth.
double again() {
  const Large& l = large();
  MoveMemory memory;
  (void)rehearse(l.plan, l.obstacles, l.way, {}, &memory);
  double shift = 0;
  std::vector<Way> ways;
  for (int k = 0; k < 8; ++k)
    ways.push_back(wayOf(l.plan, shift += 0.01));
  std::size_t k = 0;
  return medianSeconds([&] { (void)rehearse(l.plan, l.obstacles, ways[k++ % 8], {}, &memory); },
                       7) /
         0.05;
}

// All 500 features with the short stylus, every third angle of the head.
double reach() {
  const Large& l = large();
  std::vector<FeatureId> all;
  for (int f = 0; f < kAcross * kUp; ++f)
    all.push_back(FeatureId{f});
  return medianSeconds([&] { (void)reachMaps(l.plan, l.obstacles, all, 0, 0, 3); }, 1) / 5.0;
}

} // namespace

std::vector<Ratio> largeRoutine() {
  return {{"route/reach-maps of 500 features over 5 s", 1.0, reach},
          {"rehearse/500-features over 3 s", 1.0, whole},
          {"rehearse/one-of-500 again over 50 ms", 1.0, again}};
}

} // namespace alder::bench
