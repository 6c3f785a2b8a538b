#include "base/random.h"
#include "base/units.h"
#include "judge/judge.h"
#include "made_block.h"
#include "support.h"

using namespace alder;

// No figure depends on where the part lay when it was touched.
class IndependenceTest : public QObject {
  Q_OBJECT

  static Frame motion(double mm, double degrees_, std::uint64_t seed) {
    Random random(seed);
    const auto direction = [&] {
      return Vec3{random.normal(), random.normal(), random.normal()}.normalized();
    };
    const Vec3 tilt = radians(degrees_) * direction(), move = mm * direction();
    return smallMotion(tilt, move, Vec3::Zero());
  }
  static Measurements moved(const Measurements& measured, const Frame& by) {
    Measurements all = measured;
    for (auto& [id, m] : all)
      for (Vec3& p : m.points)
        p = by * p;
    return all;
  }

 private slots:
  void figures_data() {
    QTest::addColumn<int>("seed");
    QTest::addColumn<bool>("iso");
    // ALDERPOINT_BLOCKS asks for more.
    const int blocks = qEnvironmentVariableIsSet("ALDERPOINT_BLOCKS")
                           ? qEnvironmentVariableIntValue("ALDERPOINT_BLOCKS")
                           : 3;
    for (int seed = 1; seed <= blocks; ++seed)
      for (const bool iso : {true, false})
        QTest::addRow("%d %s", seed, iso ? "ISO" : "ASME") << seed << iso;
  }
  void figures() {
    QFETCH(int, seed);
    QFETCH(bool, iso);
    const auto block = test::madeBlock(static_cast<std::uint64_t>(seed), 0.03,
                                       iso ? ToleranceStandard::Iso : ToleranceStandard::Asme);
    const auto before = judgeAll(block.plan, block.measured);
    const std::vector<Frame> motions{motion(10, 0.5, 1), motion(4, 0.2, 2), motion(25, 3, 3),
                                     test::anyMotion(static_cast<unsigned>(seed), 500)};
    int wrong = 0;
    for (std::size_t k = 0; k < motions.size(); ++k) {
      const auto after = judgeAll(block.plan, moved(block.measured, motions[k]));
      for (std::size_t i = 0; i < before.size(); ++i) {
        const auto& r = block.plan.spec.requirement(before[i].requirement);
        const std::string what = test::describe(block, r);
        if (!before[i].actual) {
          qWarning("%s: %s", what.c_str(), before[i].how.c_str());
          ++wrong;
          continue;
        }
        // Two features of a pattern may use the same share: then either is the worst.
        const double difference = after[i].actual
                                      ? (after[i].share - before[i].share) *
                                            (isDimension(r.kind) ? r.tolerance : before[i].upper)
                                      : 1e300;
        if (std::abs(difference) < 1e-6) continue;
        qWarning("motion %zu: %s: %.7f, was %.7f (allowed %.7f, was %.7f); %s", k + 1, what.c_str(),
                 after[i].actual.value_or(-1), *before[i].actual, after[i].upper, before[i].upper,
                 after[i].actual ? "" : after[i].how.c_str());
        ++wrong;
      }
    }
    QCOMPARE(wrong, 0);
  }
  // A feature beside the axis has no runout about it; a figure would depend on how the part is
  // turned.
  void runoutBesideTheAxis() {
    const auto block = test::madeBlock(1, 0.03, ToleranceStandard::Iso);
    const auto& all = block.plan.spec.requirements;
    const auto about = std::find_if(all.begin(), all.end(), [](const Requirement& r) {
      return r.kind == Characteristic::TotalRunout;
    });
    QVERIFY(about != all.end());
    QVERIFY(judge(block.plan, *about, block.measured).actual.has_value());
    Requirement beside = *about;
    for (const auto& [id, m] : block.measured)
      if (block.plan.nominal(id).name == "pin") beside.features = {id};
    const Evaluation e = judge(block.plan, beside, block.measured);
    QVERIFY(!e.actual);
    QVERIFY2(e.how.find("pin lies 28.2843 mm beside the axis") != std::string::npos, e.how.c_str());
  }
};
ALDER_TEST(IndependenceTest)
#include "independence_test.moc"
