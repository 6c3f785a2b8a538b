#include "exchange/routine/plan_json.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/feature_edit.h"
#include "plan/steps/step_edit.h"
#include "route/new_feature.h"
#include "route/order.h"
#include "support.h"
#include <set>

using namespace alder;

// Faces that no requirement speaks of, taken into the routine.
class NewFeatureTest : public QObject {
  Q_OBJECT

  // Faces of the part outside of all features, largest first.
  static std::vector<FaceId> bareFaces() {
    std::set<FaceId> used;
    for (const NominalFeature& f : test::heronPlan().spec.features)
      used.insert(f.faces.begin(), f.faces.end());
    std::vector<FaceId> bare;
    for (const Face& f : test::heron()->faces)
      if (!used.count(f.id)) bare.push_back(f.id);
    std::stable_sort(bare.begin(), bare.end(), [](FaceId a, FaceId b) {
      return test::heron()->face(a).area > test::heron()->face(b).area;
    });
    return bare;
  }
  static double secondsOf(const Plan& plan) { return test::rehearsed(plan).seconds; }

 private slots:
  void largestFacesAreMeasuredAndClear() {
    const auto bare = bareFaces();
    QVERIFY(bare.size() >= 3);
    int covered = 0;
    for (std::size_t i = 0; i < 3; ++i) {
      Plan plan = test::heronPlan();
      const auto added = planNewFeatures(plan, test::heronObstacles(), {bare[i]});
      VERIFY_OK(added);
      QCOMPARE(added->features.size(), 1u);
      const std::string before = toJson(plan).dump();
      EditHistory history;
      VERIFY_OK(history.apply(plan, {"Measure it", added->edits}));
      const Feature& f = plan.feature(added->features.front());
      if (f.covered()) {
        ++covered;
        QVERIFY(test::rehearsed(plan).clear());
      } else {
        QVERIFY(!f.why_not.empty());
      }
      QVERIFY(history.undo(plan));
      QCOMPARE(toJson(plan).dump(), before);
    }
    QVERIFY(covered > 0);
  }
  // In its place the routine is no longer than with the feature last, or anywhere else tried.
  void placeIsCheap() {
    Plan plan = test::heronPlan();
    for (const FaceId face : bareFaces()) {
      const auto added = planNewFeatures(plan, test::heronObstacles(), {face});
      VERIFY_OK(added);
      Plan cheap = plan;
      VERIFY_OK(applyEdits(cheap, {"Measure it", added->edits}));
      const FeatureId id = added->features.front();
      if (!cheap.feature(id).covered()) continue;
      const double best = secondsOf(cheap);
      for (const std::size_t place :
           {plan.steps.size(), plan.steps.size() / 2, plan.alignment.size()}) {
        Plan other = cheap;
        const auto before =
            place < plan.steps.size() ? std::optional(plan.steps[place].id) : std::nullopt;
        if (const auto moved = moveSteps(other, {stepOf(other.steps, id)}, before))
          VERIFY_OK(applyEdit(other, *moved));
        QVERIFY(best <= secondsOf(other) + 2); // hops are estimated when the place is chosen
      }
      return;
    }
    QFAIL("no bare face can be touched");
  }
  void pinnedFollowersStay() {
    Plan plan = test::heronPlan();
    for (Feature& f : plan.features)
      f.pinned = true; // all stay behind the one before: the end alone is left, or before the first
    const std::size_t place = cheapestPlace(plan, test::orderOf(plan).back());
    QVERIFY(place >= plan.steps.size() - 1);
  }
  // Nobody's id changes when a feature comes in before others, nor when it goes again.
  void idsStay() {
    Plan plan = test::heronPlan();
    const auto holes =
        proposeConstructions(plan, {test::named(plan, "Bore"), plan.spec.datum("A")->features[0]});
    QVERIFY(!holes.empty());
    auto spec = withConstructed(plan, holes.front().construction, "constructed");
    VERIFY_OK(spec);
    VERIFY_OK(applyEdit(plan, SetSpecification{*spec}));
    const int constructed = plan.spec.features.back().id.value;
    const std::string before = toJson(plan).dump();
    const auto added = planNewFeatures(plan, test::heronObstacles(), {bareFaces().front()});
    VERIFY_OK(added);
    auto back = applyEdits(plan, {"Measure it", added->edits});
    VERIFY_OK(back);
    QCOMPARE(plan.spec.features.back().id.value, constructed);
    QCOMPARE(plan.spec.features.back().name, std::string("constructed"));
    const FeatureId fresh = added->features.front();
    QCOMPARE(fresh.value, constructed + 1);
    QCOMPARE(plan.spec.features.placeOf(fresh),
             plan.features.size() - 2); // before constructed ones
    for (std::size_t i = 0; i < plan.features.size(); ++i)
      QCOMPARE(plan.features[i].id.value, plan.spec.features[i].id.value);
    VERIFY_OK(applyEdits(plan, *back));
    QCOMPARE(toJson(plan).dump(), before);
    // Another one is not taken for it.
    const auto other = planNewFeatures(plan, test::heronObstacles(), {bareFaces().back()});
    VERIFY_OK(other);
    QVERIFY(other->features.front() != fresh);
  }
  void whatIsNeededStays() {
    Plan plan = test::heronPlan();
    const FeatureId a = plan.spec.datum("A")->features[0];
    const auto refused = applyEdit(plan, RemoveFeature{a});
    QVERIFY(!refused);
    QVERIFY(refused.error().message.find("datum A") != std::string::npos);
    const auto again = planNewFeatures(plan, test::heronObstacles(), plan.nominal(a).faces);
    QVERIFY(!again);
    QVERIFY(again.error().message.find("in this routine already") != std::string::npos);
  }
};
ALDER_TEST(NewFeatureTest)
#include "new_feature_test.moc"
