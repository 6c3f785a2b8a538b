#include "base/units.h"
#include "run/simulated_run.h"
#include "support.h"
#include <thread>

using namespace alder;

// The part lies elsewhere than planned: it is found by hand, and everything follows.
class PlacementTest : public QObject {
  Q_OBJECT
 private:
  // Off by up to 20 mm and turned by up to 5 degrees on the table, with all that holds it; a little
  // higher or lower and tilted by what chips under a plate do.
  static Frame anyPlacement(unsigned seed, const Plan& plan) {
    Random random(seed * 7919 + 1);
    const double far = 20 * std::sqrt(random.uniform()), where = random.uniform(0, 2 * kPi);
    const Vec3 move(far * std::cos(where), far * std::sin(where), random.uniform(-0.5, 0.5));
    const Vec3 turn(radians(random.uniform(-0.15, 0.15)), radians(random.uniform(-0.15, 0.15)),
                    radians(random.uniform(-5, 5)));
    return smallMotion(turn, move, plan.placement.translation());
  }

 private slots:
  void everyPlacedPartIsFoundAndMeasured() {
    constexpr unsigned kParts = 200;
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    const Way& way = test::heronWay();
    const Defects made = asMade(plan, {});
    std::vector<std::string> wrong(kParts);
    const auto check = [&](unsigned n) -> std::string {
      Defects d;
      d.misplacement = anyPlacement(n, plan);
      const auto run = runOnSimulatedMachine(plan, way, d, n);
      if (!run) return run.error().message;
      const Frame expected = d.misplacement * plan.placement;
      if ((run->part_frame.translation() - expected.translation()).norm() > 2e-3)
        return "the part is not found well";
      std::map<FeatureId, std::size_t> counts;
      for (const auto& m : run->points) {
        ++counts[m.feature];
        if (test::asModelled(plan, made, m.feature) &&
            std::abs((m.surface - m.nominal).dot(m.normal)) > 2e-3)
          return fmt::format("{} is off by {:.4f}", plan.nominal(m.feature).name,
                             (m.surface - m.nominal).dot(m.normal));
      }
      for (const Feature& f : plan.features)
        if (f.covered() && counts[f.id] != f.touches.size())
          return plan.nominal(f.id).name + " is not measured";
      return {};
    };
    const auto half = [&](unsigned first) {
      for (unsigned n = first; n < kParts; n += 2)
        wrong[n] = check(n);
    };
    std::thread other(half, 1);
    half(0);
    other.join();
    int bad = 0;
    for (unsigned n = 0; n < kParts; ++n)
      if (!wrong[n].empty()) qWarning("part %u: %s", n, wrong[n].c_str()), ++bad;
    QCOMPARE(bad, 0);
  }
};
ALDER_TEST(PlacementTest)
#include "placement_test.moc"
