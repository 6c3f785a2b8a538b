#include "plan/numbering.h"

#include "support.h"
#include <set>

namespace {

using namespace alder;

class NumberingTest : public QObject {
  Q_OBJECT

  static std::set<int> numbers(const Specification& spec) {
    std::set<int> all;
    for (const Requirement& r : spec.requirements)
      all.insert(r.balloon);
    return all;
  }

 private slots:
  // A feature that is touched later has no smaller number, and none is given twice.
  void followsTheMeasuring() {
    const Plan& plan = test::heronPlan();
    const Specification spec = numbered(plan, Numbering::AsMeasured);
    const auto order = measuringOrder(plan.steps);
    const auto last = [&](const Requirement& r) {
      std::ptrdiff_t at = -1;
      for (const FeatureId id : touchedFor(spec, r.features))
        at = std::max(at, std::find(order.begin(), order.end(), id) - order.begin());
      return at;
    };
    QCOMPARE(numbers(spec).size(), spec.requirements.size());
    QCOMPARE(*numbers(spec).rbegin(), static_cast<int>(spec.requirements.size()));
    for (const Requirement& a : spec.requirements)
      for (const Requirement& b : spec.requirements)
        if (last(a) < last(b)) QVERIFY(a.balloon < b.balloon);
    Plan again = plan;
    again.spec = spec;
    QVERIFY(numbered(again, Numbering::AsMeasured) == spec);
  }

  // Upper left, upper right, lower right, lower left; the second page goes on.
  void goesClockwiseByPage() {
    Plan plan = test::heronPlan();
    const std::vector<std::pair<int, Vec2>> places{
        {2, {10, 10}}, {1, {90, 10}}, {1, {10, 90}}, {1, {10, 12}}, {1, {90, 90}}};
    for (std::size_t i = 0; i < places.size(); ++i)
      plan.spec.requirements[i].spot =
          DrawingSpot{"a.pdf", places[i].first, places[i].second.x(), places[i].second.y(), {}};
    const Specification spec = numbered(plan, Numbering::OnDrawing);
    const auto number = [&](std::size_t i) { return spec.requirements[i].balloon; };
    QCOMPARE(number(2), 1);
    QCOMPARE(number(4), 2);
    QCOMPARE(number(1), 3);
    QCOMPARE(number(3), 4);
    QCOMPARE(number(0), 5);
    QCOMPARE(number(5), 6); // those without a place keep their order
    QCOMPARE(numbers(spec).size(), spec.requirements.size());
  }
};

} // namespace

ALDER_TEST(NumberingTest)
#include "numbering_test.moc"
