#include "base/random.h"
#include "exchange/routine/plan_json.h"
#include "exchange/routine/step_text.h"
#include "plan/steps/step_edit.h"
#include "support.h"
#include <set>

using namespace alder;

// The tree of steps and what a person does to it.
class StepsTest : public QObject {
  Q_OBJECT

  static RoutineStep step(int id, int depth, StepBody body) {
    RoutineStep s;
    s.id = StepId{id};
    s.depth = depth;
    s.body = std::move(body);
    return s;
  }
  static RepeatStep repeatOfOne() {
    RepeatStep repeat{"again", {}, false, {}};
    repeat.pattern->kind = PatternKind::Listed;
    repeat.pattern->places = {{Vec3(1, 2, 3), radians(30)}, {Vec3(4, 5, 6), 0}};
    repeat.copies.resize(2);
    repeat.copies[1].skipped = true;
    return repeat;
  }
  static std::vector<StepBody> oneOfEach() {
    return {MeasureStep{FeatureId{1}},
            MoveStep{CountFrom::Feature, FeatureId{2}, Vec3(0, 0, 100)},
            TurnStep{radians(45), radians(-90)},
            SwapStep{"short ø3", "1"},
            WaitStep{"Open it", "clamp 1", true, 35},
            AskStep{"Temperature", true, "°C"},
            NoteStep{"by hand"},
            QualifyStep{true, false, false},
            EvaluateStep{{RequirementId{3}, RequirementId{7}}},
            BranchStep{RequirementId{4}, BranchWhen::NearOrOutside, BranchDoes::Stop},
            OutputStep{OutputKind::Report, "{routine}.pdf"},
            repeatOfOne(),
            GroupStep{"flange"}};
  }
  static std::string state(const Plan& plan) { return toJson(plan).dump(); }
  static std::vector<int> ids(const Steps& steps) {
    std::vector<int> all;
    for (const RoutineStep& s : steps)
      all.push_back(s.id.value);
    return all;
  }
  // 0, group 1 { 2, 3 }, 4, with the features of the Heron.
  static Plan small() {
    Plan plan = test::heronPlan();
    plan.alignment.clear();
    plan.steps = {step(0, 0, MeasureStep{FeatureId{0}}), step(1, 0, GroupStep{"g"}),
                  step(2, 1, MeasureStep{FeatureId{1}}), step(3, 1, NoteStep{"n"}),
                  step(4, 0, MeasureStep{FeatureId{2}})};
    return plan;
  }
  static Plan after(const Plan& plan, const Result<Edit>& edit) {
    Plan changed = plan;
    if (!edit) qFatal("%s", edit.error().message.c_str());
    if (auto done = applyEdit(changed, *edit); !done) qFatal("%s", done.error().message.c_str());
    return changed;
  }

 private slots:
  void wellFormed() {
    QVERIFY(validate(small().steps));
    Steps deep = small().steps;
    deep[0].depth = 1;
    QVERIFY(!validate(deep));
    deep = small().steps;
    deep[4].depth = 2; // within a note
    QVERIFY(!validate(deep));
    deep = small().steps;
    deep[4].id = StepId{0};
    QVERIFY(!validate(deep));
    // Between touches only what the operator does.
    QVERIFY(mayHold(MeasureStep{}, WaitStep{}) && !mayHold(MeasureStep{}, MeasureStep{}));
    QVERIFY(mayHold(GroupStep{}, GroupStep{}) && !mayHold(WaitStep{}, NoteStep{}));
  }
  void walking() {
    Steps steps = small().steps;
    QCOMPARE(endOf(steps, 1), 4u);
    QCOMPARE(endOf(steps, 4), 5u);
    QCOMPARE(indexOf(steps, StepId{3}), 3u);
    QCOMPARE(indexOf(steps, StepId{77}), steps.size());
    steps[1].enabled = false;
    QCOMPARE(nextActive(steps, 1), 4u); // with all within
    QCOMPARE(measuringOrder(steps, false).size(), 2u);
    QCOMPARE(measuringOrder(steps).size(), 3u);
  }
  void movedAndGrouped() {
    const Plan plan = small();
    QCOMPARE(ids(after(plan, moveSteps(plan, {StepId{4}}, StepId{0})).steps),
             (std::vector{4, 0, 1, 2, 3}));
    // Into the group it stands as deep as what is there.
    const Plan in = after(plan, moveSteps(plan, {StepId{4}}, StepId{3}));
    QCOMPARE(ids(in.steps), (std::vector{0, 1, 2, 4, 3}));
    QCOMPARE(in.steps[3].depth, 1);
    const Plan out = after(in, moveSteps(in, {StepId{4}}, std::nullopt));
    QCOMPARE(out.steps.back().depth, 0);
    QVERIFY(!moveSteps(plan, {StepId{1}}, StepId{2})); // into itself
    QVERIFY(!moveSteps(plan, {StepId{1}}, StepId{1})); // nothing would change
    const Plan grouped = after(plan, groupSteps(plan, {StepId{0}, StepId{4}}, "two"));
    QCOMPARE(ids(grouped.steps), (std::vector{5, 0, 4, 1, 2, 3}));
    QCOMPARE(state(after(grouped, ungroupSteps(grouped, {StepId{5}}))).size(), state(plan).size());
    QCOMPARE(ids(after(plan, removeSteps(plan, {StepId{1}, StepId{2}})).steps),
             (std::vector{0, 4}));
    QVERIFY(!groupSteps(plan, {}, "none"));
  }
  void betweenTouches() {
    Plan plan = small();
    plan = after(plan, insertSteps(plan, {step(0, 0, WaitStep{})}, 4, 0));
    const StepId wait{5};
    plan = after(plan, putWithinNext(plan, wait));
    QCOMPARE(ids(plan.steps), (std::vector{0, 1, 2, 3, 4, 5}));
    QCOMPARE(plan.steps.back().depth, 1);
    plan = after(plan, putOutside(plan, wait));
    QCOMPARE(ids(plan.steps), (std::vector{0, 1, 2, 3, 5, 4}));
    QVERIFY(!putWithinNext(plan, StepId{0})); // a measure step
    QVERIFY(!putOutside(plan, StepId{0}));
  }
  // A change at one place is an edit of that place alone.
  void editsAreSmall() {
    const Plan& plan = test::heronPlan();
    const auto edit = changeStep(plan, plan.steps[4].id, NoteStep{"n"});
    VERIFY_OK(edit);
    const SpliceSteps& splice = *edit->as<SpliceSteps>();
    QVERIFY(splice.at == 4 && splice.remove == 1 && splice.insert.size() == 1);
    const auto put = insertSteps(plan, {step(0, 0, NoteStep{"n"})}, 7, 0);
    VERIFY_OK(put);
    QVERIFY(put->as<SpliceSteps>()->remove == 0);
    QVERIFY(put->as<SpliceSteps>()->insert.size() == 1);
  }
  void whatIsRefused() {
    const Plan& plan = test::heronPlan();
    const auto refused = [&](const Result<Edit>& edit, const char* words) {
      Plan copy = plan;
      const std::string before = state(copy);
      if (!edit) return edit.error().message.find(words) != std::string::npos;
      const auto done = applyEdit(copy, *edit);
      return !done && done.error().message.find(words) != std::string::npos &&
             state(copy) == before;
    };
    QVERIFY(refused(insertSteps(plan, measureSteps({FeatureId{3}}), 5, 0), "measured twice"));
    QVERIFY(refused(enableSteps(plan, {plan.steps[0].id}, false), "cannot be left out"));
    QVERIFY(refused(moveSteps(plan, {plan.steps[6].id}, plan.steps[0].id), "come first"));
    QVERIFY(refused(insertSteps(plan, {step(0, 0, AskStep{})}, 5, 0), "what the operator"));
    QVERIFY(refused(insertSteps(plan, {step(0, 0, GroupStep{})}, 5, 0), "needs a name"));
    QVERIFY(
        refused(insertSteps(plan, {step(0, 0, WaitStep{"", "", true, -1})}, 5, 0), "0 seconds"));
    QVERIFY(refused(insertSteps(plan, measureSteps({FeatureId{999}}), 5, 0), "not of the part"));
    QVERIFY(refused(changeStep(plan, StepId{999}, NoteStep{}), "not in this routine"));
    QVERIFY(refused(orderFeatures(plan, {FeatureId{1}}), "same features"));
  }
  // Any number of changes, in any order: always well formed, and undone exactly.
  void anyChangesAreUndone() {
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
      Random random(seed);
      Plan plan = small();
      EditHistory history;
      std::vector<std::string> states{state(plan)};
      const auto any = [&] {
        return plan
            .steps[static_cast<std::size_t>(random.uniform() *
                                            static_cast<double>(plan.steps.size()))]
            .id;
      };
      for (int k = 0; k < 60; ++k) {
        const int what = static_cast<int>(random.uniform() * 7);
        Result<Edit> edit = nothingChanges();
        if (what == 0)
          edit = insertSteps(
              plan, {step(0, 0, oneOfEach()[1 + static_cast<std::size_t>(random.uniform() * 7)])},
              static_cast<std::size_t>(random.uniform() * static_cast<double>(plan.steps.size())),
              0);
        if (what == 1) edit = moveSteps(plan, {any(), any()}, any());
        if (what == 2) edit = groupSteps(plan, {any(), any()}, "g");
        if (what == 3) edit = ungroupSteps(plan, {any()});
        if (what == 4) edit = enableSteps(plan, {any()}, random.uniform() < 0.5);
        if (what == 5) edit = putWithinNext(plan, any());
        if (what == 6 && plan.steps.size() > 3) edit = removeSteps(plan, {any()});
        if (!edit || !history.apply(plan, {"once", {*edit}})) continue;
        if (plan.steps.empty()) {
          history.undo(plan);
          continue;
        }
        QVERIFY(validate(plan.steps));
        states.push_back(state(plan));
      }
      QVERIFY(states.size() > 15);
      for (std::size_t k = states.size() - 1; k > 0; --k) {
        QCOMPARE(state(plan), states[k]);
        QVERIFY(history.undo(plan));
      }
      QCOMPARE(state(plan), states[0]);
      for (std::size_t k = 1; k < states.size(); ++k) {
        QVERIFY(history.redo(plan));
        QCOMPARE(state(plan), states[k]);
      }
    }
  }
  void allKindsAreKept() {
    Plan plan = test::heronPlan();
    plan.alignment.clear();
    plan.steps.clear();
    int id = 0;
    for (const StepBody& body : oneOfEach())
      plan.steps.push_back(step(id++, 0, body));
    plan.steps.push_back(step(id++, 1, WaitStep{}));
    plan.steps.push_back(step(id++, 1, MeasureStep{FeatureId{5}}));
    plan.steps.push_back(step(id++, 2, NoteStep{"between"}));
    plan.steps.back().before = 3;
    plan.steps[3].enabled = false;
    const auto read = planFromJson(toJson(plan), "a", plan.part, plan.bench);
    VERIFY_OK(read);
    QVERIFY(read->steps == plan.steps);
    for (const RoutineStep& s : plan.steps)
      QVERIFY(!describe(plan, s).empty());
  }
  // Files of before there were steps name the order of the features.
  void olderFilesOpen() {
    Json json = toJson(test::heronPlan());
    json.erase("steps");
    json["order"] = Json::array({0, 1, 2, 4, 3});
    auto read = planFromJson(json, "a", test::heron(), test::heronBench());
    VERIFY_OK(read);
    QCOMPARE(test::orderOf(*read),
             (std::vector{FeatureId{0}, FeatureId{1}, FeatureId{2}, FeatureId{4}, FeatureId{3}}));
    json["steps"] = Json::array({{{"kind", "dance"}}});
    read = planFromJson(json, "a", test::heron(), test::heronBench());
    QVERIFY(!read && read.error().message.find("kind of step") != std::string::npos);
    json["steps"] = Json::array({{{"kind", "note"}, {"depth", 3}}});
    read = planFromJson(json, "a", test::heron(), test::heronBench());
    QVERIFY(!read && read.error().message.find("deeper") != std::string::npos);
  }
  // Copied from one routine into another: by the names of the features.
  void copiedAcrossRoutines() {
    const Plan from = small();
    Plan into = test::heronPlan();
    into.steps.clear();
    into.alignment.clear();
    const auto pasted = stepsFromText(stepsText(from, {StepId{1}, StepId{4}}), into);
    VERIFY_OK(pasted);
    QVERIFY(pasted->left.empty());
    QCOMPARE(pasted->steps.size(), 4u);
    QCOMPARE(pasted->steps[1].depth, 1);
    into = after(into, insertSteps(into, pasted->steps, 0, 0));
    // Again, the features are there already; what else was copied comes.
    const auto again = stepsFromText(stepsText(from, {StepId{1}, StepId{4}}), into);
    VERIFY_OK(again);
    QCOMPARE(again->steps.size(), 2u); // the group and its note
    QVERIFY(again->left.find("measured in this routine already") != std::string::npos);
    Plan other = into;
    for (NominalFeature& f : other.spec.features)
      f.name += " of another part";
    const auto unknown = stepsFromText(stepsText(from, {StepId{4}}), other);
    QVERIFY(!unknown);
    QVERIFY(unknown.error().message.find("not in this routine") != std::string::npos);
    for (const char* text : {"", "words", "{}", "{\"format\":\"alderpoint-steps\",\"steps\":3}"})
      QVERIFY(!stepsFromText(text, into));
  }
};
ALDER_TEST(StepsTest)
#include "steps_test.moc"
