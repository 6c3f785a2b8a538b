#include "base/random.h"
#include "base/units.h"
#include "route/clearance.h"
#include "support.h"
#include <fcl/fcl.h>

using namespace alder;

// Clash answers against a general collision library, and sweeps against very fine sampling.
class ClashLibraryTest : public QObject {
  Q_OBJECT

  static Tool anyTool(Random& r) {
    const Bench& bench = test::heronPlan().bench;
    const auto pick = [&](std::size_t count) {
      return std::min(count - 1,
                      static_cast<std::size_t>(r.uniform() * static_cast<double>(count)));
    };
    Access access;
    access.stylus = static_cast<int>(pick(bench.styli.size()));
    access.tip =
        static_cast<int>(pick(bench.styli[static_cast<std::size_t>(access.stylus)].tips.size()));
    access.a = radians(r.uniform(0, 105)), access.b = radians(r.uniform(-180, 180));
    return toolOf(bench, access);
  }
  static Vec3 anyPlace(Random& r) {
    // About the part with its fixture, wherever else something stands.
    static const Vec3 middle = [] {
      const Plan& plan = test::heronPlan();
      Mesh all;
      all.append(plan.part->mesh, plan.placement);
      for (const FixtureBody& body : plan.bench.fixture.bodies)
        all.append(body.mesh, Frame::Identity());
      return Vec3(all.box().center());
    }();
    return middle +
           Vec3(r.uniform(-75, 75), r.uniform(-75, 75), r.uniform(-40, 60));
  }

 private slots:
  void tenThousandPoses() {
    const Plan& plan = test::heronPlan();
    Mesh mesh;
    mesh.append(plan.part->mesh, plan.placement);
    auto model = std::make_shared<fcl::BVHModel<fcl::OBBRSSd>>();
    model->beginModel();
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
      const Triangle t = mesh.triangle(i);
      model->addTriangle(t.a, t.b, t.c);
    }
    model->endModel();
    const MeshTree& ours = test::heronObstacles().part;
    Random r(11);
    int poses = 0, clashes = 0, close = 0;
    while (poses < 10000) {
      const Tool tool = anyTool(r);
      const Vec3 ball = anyPlace(r);
      for (const Rod& rod : tool.rods) {
        if ((rod.b - rod.a).norm() < 1e-9) continue; // the other balls of a star
        const Segment axis{ball + rod.a, ball + rod.b};
        const auto near = ours.nearest({axis, Vec3::Zero(), rod.diameter / 2}, 1.0);
        ++poses;
        if (near && std::abs(near->distance) < 1e-4) {
          ++close; // where rounding decides
          continue;
        }
        const auto capsule =
            std::make_shared<fcl::Capsuled>(rod.diameter / 2, (axis.b - axis.a).norm());
        const fcl::Transform3d at = frameOf((axis.a + axis.b) / 2, axis.b - axis.a);
        fcl::CollisionRequestd request;
        fcl::CollisionResultd result;
        const bool theirs = fcl::collide(model.get(), fcl::Transform3d::Identity(), capsule.get(),
                                         at, request, result) > 0;
        const bool hit = near && near->distance < 0;
        clashes += hit;
        QVERIFY2(hit == theirs,
                 qPrintable(QString("pose %1, %2").arg(poses).arg(near ? near->distance : 9.0)));
      }
    }
    QVERIFY(clashes > 1000 && clashes < 9000);
    QVERIFY(close < 50);
  }
  // The least distance along a move is what the finest samples come down to, and never more.
  void sweepsAgainstSamples() {
    const MeshTree& part = test::heronObstacles().part;
    Random r(12);
    for (int k = 0; k < 150; ++k) {
      const Tool tool = anyTool(r);
      const Vec3 from = anyPlace(r), move(r.uniform(-12, 12), r.uniform(-12, 12), r.uniform(-6, 6));
      for (const Rod& rod : tool.rods) {
        const Segment axis{from + rod.a, from + rod.b};
        const auto swept = part.nearest({axis, move, rod.diameter / 2}, 30);
        constexpr int kSamples = 800;
        double least = 30;
        for (int s = 0; s <= kSamples; ++s) {
          const Vec3 by = move * (static_cast<double>(s) / kSamples);
          if (const auto near =
                  part.nearest({{axis.a + by, axis.b + by}, Vec3::Zero(), rod.diameter / 2}, least))
            least = near->distance;
        }
        const double distance = swept ? swept->distance : 30;
        QVERIFY(distance <= least + 1e-9);
        QVERIFY(distance >= least - move.norm() / kSamples - 1e-9);
      }
    }
  }
};
ALDER_TEST(ClashLibraryTest)
#include "clash_library_test.moc"
