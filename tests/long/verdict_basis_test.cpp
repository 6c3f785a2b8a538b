#include "base/random.h"
#include "judge/judge.h"
#include "judge/verdict.h"
#include "judge/verdict_basis.h"
#include "made_block.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

// A verdict depends on what its basis names, and on nothing else: judged by nothing but that it is
// the same, and after a change of anything else too.
class VerdictBasisTest : public QObject {
  Q_OBJECT

  static std::string all(const Evaluation& e) {
    std::string text = fmt::format("{} {} {} {} {} {} {}", e.requirement.value, name(e.verdict),
                                   e.actual.value_or(-1), e.lower, e.upper, e.share, e.how);
    for (const FeatureResult& f : e.features)
      text += fmt::format("; {} {} {}", f.feature.value, f.actual, f.allowed);
    return text;
  }
  static void sameByExcerpt(const Plan& plan, const Measurements& measured) {
    for (const Requirement& r : plan.spec.requirements) {
      const Plan excerpt = excerptFor(plan, basisOf(plan.spec, r));
      QCOMPARE(all(judge(excerpt, excerpt.spec.requirement(r.id), measured)),
               all(judge(plan, r, measured)));
    }
  }
  // Something of the specification or of the touches becomes another.
  static void change(Plan& plan, Random& random) {
    auto& all = plan.spec.requirements;
    const auto any = [&](std::size_t count) {
      return std::min(count - 1, static_cast<std::size_t>(random.uniform() * double(count)));
    };
    Requirement& r = all[any(all.size())];
    const std::size_t feature = any(plan.features.size());
    switch (any(10)) {
    case 0:
      r.tolerance *= 1.5;
      break;
    case 1:
      r.upper += 0.01;
      break;
    case 2:
      r.material =
          r.material == MaterialModifier::None ? MaterialModifier::Maximum : MaterialModifier::None;
      break;
    case 3:
      if (!r.datums.empty()) r.datums.pop_back();
      break;
    case 4:
      if (!r.datums.empty()) r.datums.front().material = MaterialModifier::Maximum;
      break;
    case 5:
      r.reciprocity = !r.reciprocity;
      break;
    case 6:
      r.balloon += 1000;
      break;
    case 7:
      plan.spec.features[feature].filtering.outlier_sigma = 3;
      break;
    case 8:
      plan.spec.features[feature].ideal.point += Vec3(0.001, 0, 0);
      break;
    default:
      all.erase(RequirementId(r.id));
    }
  }

 private slots:
  void excerptsOfTheDemo() {
    const auto run = runOnSimulatedMachine(test::heronPlan(), test::heronWay(), {}, 3);
    VERIFY_OK(run);
    sameByExcerpt(test::heronPlan(), measurementsOf(*run));
  }
  void excerptsOfBlocks() {
    for (std::uint64_t seed = 1; seed <= 2; ++seed) {
      auto block =
          test::madeBlock(seed, 0.03, seed % 2 ? ToleranceStandard::Asme : ToleranceStandard::Iso);
      Requirement value;
      value.id = block.plan.spec.requirements.next();
      value.balloon = 900;
      value.kind = Characteristic::Value;
      value.formula = fmt::format("#{} + 1", block.plan.spec.requirements.front().balloon);
      value.upper = 100;
      block.plan.spec.requirements.push_back(value);
      for (Requirement& r : block.plan.spec.requirements)
        r.reciprocity = r.material == MaterialModifier::Maximum && r.tolerance > 0;
      sameByExcerpt(block.plan, block.measured);
    }
  }
  // What is said to stand comes out the same.
  void whatStands() {
    std::size_t stood = 0, fell = 0;
    for (std::uint64_t seed = 11; seed <= 12; ++seed) {
      const auto block =
          test::madeBlock(seed, 0.03, seed % 2 ? ToleranceStandard::Asme : ToleranceStandard::Iso);
      std::map<RequirementId, std::string> before;
      for (const Requirement& r : block.plan.spec.requirements)
        before[r.id] = all(judge(block.plan, r, block.measured));
      Random random(seed);
      for (int k = 0; k < 8; ++k) {
        Plan now = block.plan;
        change(now, random);
        const auto stand = verdictsThatStand(block.plan, now);
        fell += before.size() - stand.size();
        for (const RequirementId id : stand) {
          ++stood;
          QCOMPARE(all(judge(now, now.spec.requirement(id), block.measured)), before[id]);
        }
      }
    }
    QVERIFY2(stood > 200 && fell > 20, qPrintable(QString("%1 %2").arg(stood).arg(fell)));
  }
};
ALDER_TEST(VerdictBasisTest)
#include "verdict_basis_test.moc"
