#include "second_judge.h"
#include "support.h"

using namespace alder;

// Two judges that share no code give the same figures of parts with every kind of error.
class SecondOpinionTest : public QObject {
  Q_OBJECT

  // By ASME all requirements of one datum system are held at the same time; the second judge looks
  // at one.
  static Plan alone(Plan plan, const Requirement& r) {
    for (Requirement& other : plan.spec.requirements)
      if (other.id != r.id && other.datums == r.datums) other.kind = Characteristic::Value;
    return plan;
  }

 private slots:
  // A few blocks of some 39 figures here; ALDERPOINT_BLOCKS asks for more.
  void figures() {
    const int blocks = qEnvironmentVariableIsSet("ALDERPOINT_BLOCKS")
                           ? qEnvironmentVariableIntValue("ALDERPOINT_BLOCKS")
                           : 6;
    int compared = 0, apart = 0;
    double most = 0;
    for (int k = 0; k < blocks; ++k) {
      const auto standard = k % 2 ? ToleranceStandard::Asme : ToleranceStandard::Iso;
      const auto block = test::madeBlock(static_cast<std::uint64_t>(100 + k), 0.03, standard);
      for (const Requirement& r : block.plan.spec.requirements) {
        const auto second = test::secondFigure(block, r);
        if (!second) continue;
        // With several features at M or L the first judge shares out what is left by their bonus,
        // the second alike; their verdicts are the same.
        const bool pattern = second->is_margin && r.features.size() > 1;
        ++compared;
        const Evaluation e = judge(alone(block.plan, r), r, block.measured);
        const double first = !e.actual ? 1e9 : second->is_margin ? e.upper - *e.actual : *e.actual;
        if (pattern && (first >= 0) == (second->figure >= 0)) continue;
        most = std::max(most, std::abs(first - second->figure));
        if (std::abs(first - second->figure) <= 1e-4) continue;
        ++apart;
        qWarning("block %d, %s: %.5f, the second judge says %.5f; %s", 100 + k,
                 test::describe(block, r).c_str(), first, second->figure, e.how.c_str());
      }
    }
    qInfo("%d figures compared, the farthest %.6f mm apart", compared, most);
    QCOMPARE(apart, 0);
  }
};
ALDER_TEST(SecondOpinionTest)
#include "second_opinion_test.moc"
