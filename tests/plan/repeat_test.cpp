#include "exchange/routine/plan_json.h"
#include "exchange/routine/step_text.h"
#include "plan/repeats/repeat.h"
#include "plan/steps/step_edit.h"
#include "rehearse/rehearsal.h"
#include "support.h"
#include <set>

using namespace alder;

// Steps that are repeated elsewhere on the Heron, and what their copies follow.
class RepeatTest : public QObject {
  Q_OBJECT

  static std::string state(const Plan& plan) { return toJson(plan).dump(); }
  static void apply(Plan& plan, std::vector<Edit> edits) {
    auto group = withCopies(plan, {"change", std::move(edits)});
    if (!group) qFatal("%s", group.error().message.c_str());
    if (auto done = applyEdits(plan, *group); !done) qFatal("%s", done.error().message.c_str());
  }
  static StepId repeat(Plan& plan, const std::vector<FeatureId>& features) {
    std::vector<StepId> ids;
    for (FeatureId f : features)
      ids.push_back(stepOf(plan.steps, f));
    auto made = repeatSteps(plan, ids);
    if (!made) qFatal("%s", made.error().message.c_str());
    apply(plan, {made->first});
    return made->second;
  }
  static RepeatStep& stepAt(Plan& plan, StepId id) {
    return std::get<RepeatStep>(plan.steps[indexOf(plan.steps, id)].body);
  }
  static std::set<FeatureId> measured(const Plan& plan) {
    const auto order = measuringOrder(plan.steps, false);
    return {order.begin(), order.end()};
  }
  static FeatureId hole(const Plan& plan, int number) {
    return test::named(plan, "Bore ø11 · " + std::to_string(number));
  }

 private slots:
  // One hole of six: the others are found round the axis, and no longer measured by themselves.
  void theCircleIsFound() {
    Plan plan = test::heronPlan();
    const auto before = measured(plan);
    const StepId id = repeat(plan, {hole(plan, 1)});
    const RepeatStep& step = stepAt(plan, id);
    QCOMPARE(name(step.pattern->kind), name(PatternKind::Rotary));
    QCOMPARE(step.copies.size(), std::size_t(5));
    for (std::size_t k = 0; k < step.copies.size(); ++k)
      QCOMPARE(whyNoCopy(plan, indexOf(plan.steps, id), k, hole(plan, 1)), std::string());
    QCOMPARE(plan.steps.size(), test::heronPlan().steps.size() - 5 + 1);
    QVERIFY(measured(plan) == before);
    for (int k = 1; k <= 6; ++k) {
      QVERIFY(k == 1 || followsOriginal(plan, hole(plan, k)));
      QCOMPARE(plan.feature(hole(plan, k)).touches.size(),
               plan.feature(hole(plan, 1)).touches.size());
    }
    for (const Requirement& r : plan.spec.requirements)
      QCOMPARE(isCovered(plan, r), isCovered(test::heronPlan(), r));
    const Rehearsal rehearsal = test::rehearsed(plan);
    QVERIFY(rehearsal.clear());
  }
  void stepsAsTheyAreDone() {
    Plan plan = test::heronPlan();
    const StepId id = repeat(plan, {hole(plan, 1)});
    // With a move and a wait within it.
    const std::size_t at = indexOf(plan.steps, id);
    const Vec3 above(0, 0, 60);
    auto put =
        insertSteps(plan,
                    {{StepId{0}, 0, true, 0, MoveStep{CountFrom::Feature, hole(plan, 1), above}},
                     {StepId{1}, 0, true, 0, WaitStep{"look"}}},
                    at + 1, plan.steps[at + 1].depth);
    VERIFY_OK(put);
    apply(plan, {*put});
    const StepsDone done = stepsDone(plan);
    QCOMPARE(done.steps.size(), done.origin.size());
    QCOMPARE(done.steps.size(), plan.steps.size() + 5 * 3);
    VERIFY_OK(validate(done.steps));
    std::set<StepId> ids;
    int waits = 0;
    Points places;
    for (std::size_t i = 0; i < done.steps.size(); ++i) {
      ids.insert(done.steps[i].id);
      QVERIFY(indexOf(plan.steps, done.origin[i]) < plan.steps.size());
      waits += std::holds_alternative<WaitStep>(done.steps[i].body);
      if (const auto* move = std::get_if<MoveStep>(&done.steps[i].body))
        places.push_back(move->from == CountFrom::Feature
                             ? placesFrame(plan, move->feature) * move->place
                             : move->place);
    }
    QCOMPARE(ids.size(), done.steps.size());
    QCOMPARE(waits, 6);
    QCOMPARE(places.size(), std::size_t(6));
    // Each as high above its own hole.
    for (int k = 1; k <= 6; ++k) {
      const Vec3 over = placesFrame(plan, hole(plan, k)) * above;
      QVERIFY(std::any_of(places.begin(), places.end(),
                          [&](const Vec3& p) { return (p - over).norm() < 1e-6; }));
    }
    // The way stops for each.
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    QCOMPARE(std::count_if(way->steps.begin(), way->steps.end(),
                           [](const Step& s) { return s.kind == StepKind::Wait; }),
             6);
    QVERIFY(rehearse(plan, obstaclesOf(plan), *way)->clear());
  }
  void aChangeOfTheOriginalChangesItsCopies() {
    Plan plan = test::heronPlan();
    (void)repeat(plan, {hole(plan, 1)});
    const std::string start = state(plan);
    EditHistory history;
    Recipe recipe = plan.feature(hole(plan, 1)).recipe;
    recipe.per_row = 6;
    auto group = withCopies(plan, {"more", {SetRecipe{hole(plan, 1), recipe, {}, {}}}});
    VERIFY_OK(group);
    VERIFY_OK(history.apply(plan, *group));
    const auto count = plan.feature(hole(plan, 1)).touches.size();
    for (int k = 2; k <= 6; ++k) {
      QCOMPARE(plan.feature(hole(plan, k)).touches.size(), count);
      QVERIFY(followsOriginal(plan, hole(plan, k)));
      const NominalFeature& n = plan.nominal(hole(plan, k));
      for (const std::string& fault : faultsOf(*plan.part, n, plan.feature(n.id).touches, 1.0))
        QVERIFY2(fault.empty(), fault.c_str());
    }
    QVERIFY(history.undo(plan));
    QCOMPARE(state(plan), start);
  }
  // What is changed on a copy alone stays, until it is made as the original again.
  void aCopyOfItsOwn() {
    Plan plan = test::heronPlan();
    (void)repeat(plan, {hole(plan, 1)});
    Recipe own = plan.feature(hole(plan, 3)).recipe;
    own.per_row = 8;
    apply(plan, {SetRecipe{hole(plan, 3), own, {}, {}}});
    QVERIFY(!followsOriginal(plan, hole(plan, 3)));
    const auto count = plan.feature(hole(plan, 3)).touches.size();
    Recipe recipe = plan.feature(hole(plan, 1)).recipe;
    recipe.per_row = 5;
    apply(plan, {SetRecipe{hole(plan, 1), recipe, {}, {}}});
    QCOMPARE(plan.feature(hole(plan, 3)).touches.size(), count);
    QCOMPARE(plan.feature(hole(plan, 2)).touches.size(),
             plan.feature(hole(plan, 1)).touches.size());
    apply(plan, asOriginal(plan, hole(plan, 3)));
    QVERIFY(followsOriginal(plan, hole(plan, 3)));
    QVERIFY(asOriginal(plan, hole(plan, 3)).empty());
  }
  // Another rule for the same places: what is found there already stays, own changes too.
  void anotherRuleForTheSamePlaces() {
    Plan plan = test::heronPlan();
    const StepId id = repeat(plan, {hole(plan, 1)});
    const FeatureId second = stepAt(plan, id).copies[0].features.front().second,
                    third = stepAt(plan, id).copies[1].features.front().second;
    Recipe own = plan.feature(third).recipe;
    own.per_row = 8;
    apply(plan, {SetRecipe{third, own, {}, {}}});
    const auto touches = plan.feature(third).touches.size();
    RepeatStep step = stepAt(plan, id);
    step.pattern->count = 3;
    step.pattern->angle = radians(60);
    apply(plan, {*changeStep(plan, id, step)});
    QCOMPARE(stepAt(plan, id).copies.size(), std::size_t(2));
    QVERIFY(stepAt(plan, id).copies[0].of(hole(plan, 1)) == second);
    QVERIFY(stepAt(plan, id).copies[1].of(hole(plan, 1)) == third);
    QCOMPARE(plan.feature(third).touches.size(), touches);
    // The other way round they change their numbers.
    step = stepAt(plan, id);
    step.pattern->count = 6;
    step.pattern->angle = radians(-60);
    apply(plan, {*changeStep(plan, id, step)});
    QCOMPARE(stepAt(plan, id).copies.size(), std::size_t(5));
    QVERIFY(stepAt(plan, id).copies[3].of(hole(plan, 1)) == third);
    QCOMPARE(plan.feature(third).touches.size(), touches);
    QVERIFY(followsOriginal(plan, second));
  }
  void copiesAreLeftOut() {
    Plan plan = test::heronPlan();
    const StepId id = repeat(plan, {hole(plan, 1)});
    RepeatStep step = stepAt(plan, id);
    step.copies[1].skipped = true;
    const FeatureId gone = step.copies[1].features.front().second;
    auto change = changeStep(plan, id, step);
    VERIFY_OK(change);
    apply(plan, {*change});
    QVERIFY(!measured(plan).count(gone));
    QVERIFY(!isCovered(plan, test::balloon(plan, 8)));
    QCOMPARE(copyPlaceOf(plan.steps, gone)->copy, std::size_t(1));
  }
  // Features that nothing spoke of are taken into the routine, with requirements of the original.
  void whatIsNotYetInTheRoutine() {
    Plan plan = test::heronPlan();
    const FeatureId last = hole(plan, 6);
    for (const Requirement& r : Table<Requirement>(plan.spec.requirements))
      if (std::count(r.features.begin(), r.features.end(), last)) {
        Requirement fewer = r;
        std::erase(fewer.features, last);
        apply(plan, {SetRequirement{fewer}});
      }
    apply(plan, {*removeSteps(plan, {stepOf(plan.steps, last)}), RemoveFeature{last}});
    const std::size_t features = touchedCount(plan);
    Requirement form;
    form.kind = Characteristic::Roundness;
    form.features = {hole(plan, 1)};
    form.tolerance = 0.017;
    Specification spec = plan.spec;
    form.id = RequirementId{static_cast<int>(spec.requirements.size())};
    form.balloon = 99;
    spec.requirements.push_back(form);
    apply(plan, {SetSpecification{spec}});
    const std::string before = state(plan);
    auto made = repeatSteps(plan, {stepOf(plan.steps, hole(plan, 1))});
    VERIFY_OK(made);
    auto group = withCopies(plan, {"repeat", {made->first}});
    VERIFY_OK(group);
    auto undo = applyEdits(plan, *group);
    VERIFY_OK(undo);
    QCOMPARE(touchedCount(plan), features + 1);
    Plan undone = plan; // all of it is one step
    VERIFY_OK(applyEdits(undone, *undo));
    QCOMPARE(state(undone), before);
    int forms = 0;
    for (const Requirement& r : plan.spec.requirements)
      forms += r.kind == Characteristic::Roundness && r.tolerance == 0.017;
    QCOMPARE(forms, 6);
    for (const Requirement& r : plan.spec.requirements)
      QVERIFY2(isCovered(plan, r), whyNotCovered(plan, r).c_str());
    // A tighter original makes tighter copies; one that was changed stays.
    Requirement changed = plan.spec.requirements.back();
    changed.tolerance = 0.5;
    apply(plan, {SetRequirement{changed}});
    Requirement tighter = plan.spec.requirements[static_cast<std::size_t>(form.id.value)];
    tighter.tolerance = 0.013;
    apply(plan, {SetRequirement{tighter}});
    forms = 0;
    for (const Requirement& r : plan.spec.requirements)
      forms += r.kind == Characteristic::Roundness && r.tolerance == 0.013;
    QCOMPARE(forms, 5);
    QCOMPARE(plan.spec.requirements.back().tolerance, 0.5);
  }
  void whereThereIsNothing() {
    Plan plan = test::heronPlan();
    const StepId id = repeat(plan, {hole(plan, 1)});
    RepeatStep step = stepAt(plan, id);
    step.pattern->kind = PatternKind::Linear;
    step.pattern->count = 3;
    step.pattern->step = Vec3(1000, 0, 0);
    apply(plan, {*changeStep(plan, id, step)});
    QCOMPARE(stepAt(plan, id).copies.size(), std::size_t(2));
    QVERIFY(stepAt(plan, id).copies[0].features.empty());
    QVERIFY(!whyNoCopy(plan, indexOf(plan.steps, id), 0, hole(plan, 1)).empty());
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    QCOMPARE(std::count_if(
                 way->notes.begin(), way->notes.end(),
                 [](const Note& n) { return n.text.find("has no Bore ø11") != std::string::npos; }),
             2);
    // And back to where they are.
    step = stepAt(plan, id);
    step.pattern = likelyPattern(plan, {hole(plan, 1)});
    apply(plan, {*changeStep(plan, id, step)});
    QCOMPARE(measured(plan).count(hole(plan, 4)), std::size_t(1));
  }
  // Mirrored: the pair of bores beside each other. Their like is found by the plane between them.
  void onTheOtherSide() {
    Plan plan = test::heronPlan();
    const FeatureId one = test::named(plan, "Bore ø8 · 2"),
                    other = test::named(plan, "Bore ø8 · 3");
    const StepId id = repeat(plan, {one});
    RepeatStep step = stepAt(plan, id);
    step.pattern = {};
    step.pattern->kind = PatternKind::Mirrored;
    const Vec3 a = plan.nominal(one).ideal.point +
                   plan.nominal(one).ideal.length / 2 * plan.nominal(one).ideal.direction,
               b = plan.nominal(other).ideal.point +
                   plan.nominal(other).ideal.length / 2 * plan.nominal(other).ideal.direction;
    step.pattern->point = (a + b) / 2;
    step.pattern->axis = b - a;
    apply(plan, {*changeStep(plan, id, step)});
    QCOMPARE(stepAt(plan, id).copies.size(), std::size_t(1));
    QVERIFY(stepAt(plan, id).copies[0].of(one) == other);
    QVERIFY(followsOriginal(plan, other));
  }
  void writtenOutAgain() {
    Plan plan = test::heronPlan();
    const auto before = measured(plan);
    const StepId id = repeat(plan, {hole(plan, 1)});
    apply(plan, {*ungroupSteps(plan, {id})});
    QVERIFY(measured(plan) == before);
    QCOMPARE(plan.steps.size(), test::heronPlan().steps.size());
    VERIFY_OK(validate(plan.steps));
  }
  void refusedAndKept() {
    Plan plan = test::heronPlan();
    QVERIFY(!repeatSteps(plan, {}));
    auto note = insertSteps(plan, {{StepId{0}, 0, true, 0, NoteStep{"n"}}}, plan.steps.size(), 0);
    apply(plan, {*note});
    QVERIFY(!repeatSteps(plan, {plan.steps.back().id}));
    const StepId id = repeat(plan, {hole(plan, 1)});
    auto nested = repeatSteps(plan, {stepOf(plan.steps, hole(plan, 1))});
    if (nested) QVERIFY(!applyEdit(plan, nested->first)); // not within another
    const FeatureId copy = stepAt(plan, id).copies[0].features.front().second;
    QVERIFY(!applyEdit(plan, RemoveFeature{copy}));
    // As text for the clipboard: copies are found anew.
    Plan other = test::heronPlan();
    for (int k = 1; k <= 6; ++k)
      apply(other, {*removeSteps(other, {stepOf(other.steps, hole(other, k))})});
    auto pasted = stepsFromText(stepsText(plan, {id}), other);
    VERIFY_OK(pasted);
    apply(other, {*insertSteps(other, pasted->steps, other.steps.size(), 0)});
    QVERIFY(measured(other) == measured(plan));
  }
};

ALDER_TEST(RepeatTest)
#include "repeat_test.moc"
