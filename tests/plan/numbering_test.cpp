#include "plan/numbering.h"

#include "base/random.h"
#include "requirement/formula.h"
#include "requirement/member_numbers.h"
#include "support.h"
#include <numeric>
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

  // Moved as a person drags them; gaps stay; formulas go on speaking of the same requirements.
  void movedByHand() {
    Specification spec;
    for (const int number : {1, 2, 5, 7, 10}) {
      Requirement r;
      r.id = spec.requirements.next();
      r.balloon = number;
      spec.requirements.push_back(r);
    }
    Requirement& value = spec.requirements.at(RequirementId{3}); // number 7
    value.kind = Characteristic::Value, value.formula = "(#1 + #10) / 2 - #5*0.5";
    const auto moved = [&](std::vector<int> which, int before) {
      std::vector<RequirementId> ids;
      for (const int i : which)
        ids.push_back(RequirementId{i});
      return movedBefore(spec, ids, RequirementId{before});
    };
    const auto numbersOf = [](const Specification& s) {
      std::vector<int> all;
      for (const Requirement& r : s.requirements)
        all.push_back(r.balloon);
      return all;
    };
    QVERIFY(numbersOf(moved({4}, 0)) == (std::vector{2, 5, 7, 10, 1}));
    QVERIFY(moved({4}, 0).requirement(RequirementId{3}).formula == "(#2 + #1) / 2 - #7*0.5");
    QVERIFY(numbersOf(moved({0, 2}, 4)) == (std::vector{5, 1, 7, 2, 10}));
    QVERIFY(numbersOf(moved({0}, -1)) == (std::vector{10, 1, 2, 5, 7}));
    QVERIFY(moved({1}, 1) == spec && moved({1, 2}, 2) == spec && moved({4}, -1) == spec);
    QVERIFY(numbersOf(shifted(spec, {RequirementId{1}, RequirementId{2}}, 1)) ==
            (std::vector{1, 5, 7, 2, 10}));
    QVERIFY(shifted(spec, {RequirementId{0}, RequirementId{1}}, -1) == spec);
    QVERIFY(shifted(shifted(spec, {RequirementId{2}}, 1), {RequirementId{2}}, -1) == spec);
  }

  // By lot: nothing is lost, given twice or computed from another requirement than before.
  void formulasFollow() {
    Random random(11);
    for (int seed = 0; seed < 200; ++seed) {
      Specification spec;
      std::vector<int> free(40);
      std::iota(free.begin(), free.end(), 1);
      for (int i = 0; i < 12; ++i) {
        Requirement r;
        r.id = spec.requirements.next();
        const auto at =
            static_cast<std::size_t>(random.uniform() * static_cast<double>(free.size()));
        r.balloon = free[at];
        free.erase(free.begin() + static_cast<std::ptrdiff_t>(at));
        r.nominal = i;
        spec.requirements.push_back(r);
      }
      for (Requirement& r : spec.requirements)
        if (random.uniform() < 0.4) {
          r.kind = Characteristic::Value;
          r.formula = fmt::format(
              "#{} * 100 + #{}", spec.requirements[static_cast<std::size_t>(seed % 12)].balloon,
              spec.requirements[static_cast<std::size_t>((seed * 5 + 1) % 12)].balloon);
        }
      const auto computed = [](const Specification& s) {
        std::vector<double> all;
        for (const Requirement& r : s.requirements) {
          if (r.formula.empty()) continue;
          const auto v =
              evaluateFormula(r.formula, [&](const FormulaReference& f) -> Result<double> {
                for (const Requirement& other : s.requirements)
                  if (other.balloon == f.balloon) return other.nominal;
                return fail("none");
              });
          all.push_back(v ? *v : -1);
        }
        return all;
      };
      std::vector<RequirementId> ids;
      for (const Requirement& r : spec.requirements)
        if (random.uniform() < 0.3) ids.push_back(r.id);
      Plan plan;
      plan.spec = spec;
      for (const Specification& s :
           {movedBefore(spec, ids, RequirementId{static_cast<int>(random.uniform() * 13) - 1}),
            shifted(spec, ids, seed % 2 ? 1 : -1), numbered(plan, Numbering::OnDrawing)}) {
        QVERIFY(computed(s) == computed(spec));
        QCOMPARE(numbers(s).size(), spec.requirements.size());
      }
    }
  }

  void membersOfPatterns() {
    Requirement r;
    r.balloon = 7;
    r.features = {FeatureId{4}};
    QVERIFY(memberNumbers(r).empty());
    QCOMPARE(numberOf(r, FeatureId{4}), std::string("7"));
    r.features = {FeatureId{4}, FeatureId{2}, FeatureId{9}};
    QVERIFY(memberNumbers(r) == (std::vector<std::string>{"7.1", "7.2", "7.3"}));
    QCOMPARE(numberOf(r, FeatureId{2}), std::string("7.2"));
    r.kind = Characteristic::Distance;
    r.features.pop_back();
    QVERIFY(memberNumbers(r).empty());
  }
};

} // namespace

ALDER_TEST(NumberingTest)
#include "numbering_test.moc"
