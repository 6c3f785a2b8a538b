#include "fit/rigid_pairs.h"
#include "judge/actual.h"
#include "judge/datum_system.h"
#include "judge/judge.h"
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

  static test::Suggested places(const test::MadeBlock& block, const Requirement& r) {
    test::Suggested all;
    if (const auto system = datumSystemOf(block.plan, r, block.measured))
      all.system = system->fit.placement;
    for (const FeatureId id : r.features) {
      const NominalFeature& f = block.plan.nominal(id);
      const auto a = actualOf(f, block.measured.at(id), matingEnvelope(f));
      if (!a) continue;
      Frame place = Frame::Identity();
      if (f.ideal.type == SurfaceType::Sphere) {
        place.translation() = a->derived.point - f.ideal.point;
      } else {
        const double sense = a->derived.direction.dot(f.ideal.direction) < 0 ? -1 : 1;
        place.linear() = shortestTurn(f.ideal.direction, sense * a->derived.direction);
        place.translation() = a->derived.point - place.linear() * f.ideal.point;
      }
      all.mating[id] = place;
    }
    return all;
  }

 private slots:
  // A few blocks of some 39 figures here; ALDERPOINT_BLOCKS asks for more, ALDERPOINT_FIRST_BLOCK
  // for others.
  void figures() {
    const int first_block = qEnvironmentVariableIsSet("ALDERPOINT_FIRST_BLOCK")
                                ? qEnvironmentVariableIntValue("ALDERPOINT_FIRST_BLOCK")
                                : 100;
    const int blocks = qEnvironmentVariableIsSet("ALDERPOINT_BLOCKS")
                           ? qEnvironmentVariableIntValue("ALDERPOINT_BLOCKS")
                           : 6;
    int compared = 0, apart = 0;
    double most = 0;
    for (int k = 0; k < blocks; ++k) {
      const auto standard = k % 2 ? ToleranceStandard::Asme : ToleranceStandard::Iso;
      const auto block =
          test::madeBlock(static_cast<std::uint64_t>(first_block + k), 0.03, standard);
      for (const Requirement& r : block.plan.spec.requirements) {
        const auto second = test::secondFigure(block, r, places(block, r));
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
        qWarning("block %d, %s: %.5f, the second judge says %.5f; %s", first_block + k,
                 test::describe(block, r).c_str(), first, second->figure, e.how.c_str());
      }
    }
    qInfo("%d figures compared, the farthest %.6f mm apart", compared, most);
    QCOMPARE(apart, 0);
  }
};
ALDER_TEST(SecondOpinionTest)
#include "second_opinion_test.moc"
