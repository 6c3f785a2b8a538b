#include "base/units.h"
#include "exchange/routine/plan_json.h"
#include "plan/edit.h"
#include "plan/steps/step_edit.h"
#include "support.h"

using namespace alder;

Q_DECLARE_METATYPE(alder::Edit)

namespace {

std::string state(const Plan& plan) {
  std::string text = toJson(plan).dump() + plan.bench.json;
  for (const StepPicture& p : plan.pictures)
    text += p.name + *p.bytes;
  for (const DrawingFile& d : plan.drawings)
    text += d.name + *d.bytes;
  return text;
}

} // namespace

class EditTest : public QObject {
  Q_OBJECT

  // A stylus in front of the others, so that all indices move, and one of those there is gone.
  static Bench otherBench() {
    Json json = Json::parse(test::heronBench().json);
    Json added = json["styli"][0];
    added["name"] = "another";
    json["styli"].erase(1);
    json["styli"].insert(json["styli"].begin(), added);
    json.erase("rack");
    return *readBench(json.dump(), "other");
  }

  static std::vector<std::pair<const char*, Edit>> edits() {
    const Plan& plan = test::heronPlan();
    Recipe recipe = plan.features[1].recipe;
    recipe.per_row = 7;
    Requirement r = test::balloon(plan, 3);
    r.tolerance = 0.05;
    Specification asme = plan.spec;
    asme.standard = ToleranceStandard::Asme;
    auto order = test::orderOf(plan);
    std::swap(order[5], order[9]);
    Frame turned = plan.placement;
    turned.translation().x() += 10;
    Shell shell;
    shell.offset_high.z() = 25;
    return {{"recipe", SetRecipe{FeatureId{1}, recipe, {}, {}}},
            {"access", SetAccess{FeatureId{2}, {0, 0, radians(45), radians(90)}, true}},
            {"hop", SetHop{FeatureId{7}, HopMode::Led, Points{{1, 2, 3}, {4, 5, 6}}}},
            {"through", SetThrough{FeatureId{7}, ShellSide::Right}},
            {"add feature", newFeature()},
            {"remove feature", RemoveFeature{spareFeature()}},
            {"pinned", SetPinned{FeatureId{7}, true}},
            {"steps", *orderFeatures(plan, order)},
            {"requirement", SetRequirement{r}},
            {"specification", SetSpecification{asme}},
            {"placement", SetPlacement{turned}},
            {"shell", SetShell{shell}},
            {"setups", twoSetups()},
            {"qualification",
             SetQualification{
                 {Vec3(1, 2, 3), {{{0, 0, 0, 0}, Vec3(0.01, 0, 0), 2.99, 0.002, 0.001, 9, 5}}}}},
            {"bench", SetBench{otherBench()}},
            {"book", SetBook{{{entryFrom(plan.nominal(FeatureId{1}), recipe, "shop bore")}}}},
            {"pairs", SetPairs{{{"ram", "clamp 1", true, 0, "the clamp is lowered here"}}}},
            {"frames", SetFrames{{{"clamped",
                                   FrameFit::LeastWorst,
                                   {{{FeatureId{0}}, "zuv"}},
                                   "w",
                                   Vec3(0, 0, 1),
                                   Vec3(0, 0, 0.1)}}}},
            {"pictures", SetPictures{{test::picture("Clamp off.png")}}},
            {"drawings", SetDrawings{{{"TW-40.pdf", std::make_shared<const std::string>("%PDF")}}}},
            {"header", SetHeader{header()}},
            {"layouts", SetLayouts{{{"Mine", "{}"}}}},
            {"views", SetViews{{{"Bore",
                                 Vec3(1, 2, 3),
                                 Vec3(0, -1, 1),
                                 Vec3(0, 0, 1),
                                 80,
                                 60,
                                 CutPlane{Vec3(0, 0, 1), 7.5},
                                 {{plan.spec.requirements[2].id, Vec2(10, 5)}}}}}},
            {"article", SetArticle{article()}},
            {"approvals", SetApprovals{{{"HB-1", "Mira Fenn", 1772000000, "aa", "bb", "cc"}}}},
            {"routine", fewer()},
            {"notes", SetNotes{{{12, "modifier free state is not judged", {30}, true}}}},
            {"name", SetName{"Heron, first article"}}};
  }

  // The routine without its last step.
  static PartHeader header() {
    PartHeader h;
    h[HeaderField::Revision] = "C";
    h.documents = {{"3.1.pdf", std::make_shared<const std::string>("%PDF")}};
    return h;
  }
  static FirstArticle article() {
    FirstArticle a;
    a[ArticleField::Identifier] = "FAI-1";
    a.scope = ArticleScope::Delta;
    a.products = {{"CuSn8", "EN 12163", "", "", "", "CoC-771"}};
    a.set({test::heronPlan().spec.requirements[3].id, "G-7", "", ""});
    a.baseline = ArticleBaseline{"FAI-0", "TW-40", "A", "2026-03-01", {}};
    return a;
  }
  static SetRoutine fewer() {
    const Plan& plan = test::heronPlan();
    SetRoutine r{plan.spec, plan.features, plan.steps, plan.alignment};
    r.steps.pop_back();
    return r;
  }

  static AddFeature newFeature() {
    const Plan& plan = test::heronPlan();
    AddFeature add;
    add.nominal = plan.spec.features.front();
    add.nominal.name = "another";
    add.nominal.id = FeatureId{static_cast<int>(plan.features.size())};
    add.nominal.faces = {FaceId{static_cast<int>(plan.part->faces.size()) - 1}};
    add.feature = plan.features.front();
    return add;
  }
  static SetSetups twoSetups() {
    const Plan& plan = test::heronPlan();
    auto all = setupsOf(plan);
    Setup second{SetupId{1}, "upside down", "Turn it over."};
    second.placement = Frame(Eigen::Translation3d(0, 0, 40)) * plan.placement;
    second.supports = {{Vec3(0, 0, 0), 12}};
    second.fixture = Json::object();
    second.steps = measureSteps({FeatureId{5}});
    all.push_back(second);
    return {all, SetupId{0}};
  }
  static FeatureId spareFeature() { return newFeature().nominal.id; }
  // What is to be removed must be there, and nothing may stand on it.
  static Plan planFor(const Edit& edit) {
    Plan plan = test::heronPlan();
    if (edit.as<RemoveFeature>()) (void)applyEdit(plan, newFeature());
    return plan;
  }

 private slots:
  // A stylus under another name is the same one to the features that use it.
  void renamedStylusStaysInUse() {
    Plan plan = test::heronPlan();
    Json json = Json::parse(plan.bench.json);
    const std::string old = json["styli"][0]["name"];
    json["styli"][0]["name"] = "renamed";
    json["rack"]["ports"][0]["stylus"] = "renamed";
    VERIFY_OK(applyEdit(plan, SetBench{*readBench(json.dump(), "shop")}));
    int used = 0;
    for (std::size_t i = 0; i < plan.features.size(); ++i) {
      QVERIFY(plan.features[i].access == test::heronPlan().features[i].access);
      used += plan.features[i].access.stylus == 0;
    }
    QVERIFY(used > 0);
  }
  // What is touched in a set-up keeps it there.
  void setupInUseStays() {
    Plan plan = test::heronPlan();
    VERIFY_OK(applyEdit(plan, twoSetups()));
    plan.features[5].setup = SetupId{1};
    const auto first = setupsOf(plan).front();
    QVERIFY(!applyEdit(plan, SetSetups{{first}, SetupId{0}}));
    QCOMPARE(plan.setups.size(), std::size_t(2));
    QVERIFY(!applyEdit(plan, SetSetups{setupsOf(plan), SetupId{9}}));
  }
  // The contract of every edit: it changes something, undo gives back exactly what was, redo
  // exactly what became of it, and doing it once more is refused.
  void contract_data() {
    QTest::addColumn<int>("index");
    const auto all = edits();
    QCOMPARE(all.size(), EditKinds::count); // a new kind of edit must be listed here
    for (std::size_t i = 0; i < all.size(); ++i)
      QTest::newRow(all[i].first) << int(i);
  }
  void contract() {
    QFETCH(int, index);
    const Edit edit = edits()[static_cast<std::size_t>(index)].second;
    QCOMPARE(edit.kind(), static_cast<std::size_t>(index));
    Plan plan = planFor(edit);
    EditHistory history;
    const auto before = state(plan);
    VERIFY_OK(history.apply(plan, {"once", {edit}}));
    const auto after = state(plan);
    QVERIFY(before != after);
    QVERIFY(history.unsaved());
    QVERIFY(!history.apply(plan, {"again", {edit}}));
    QCOMPARE(state(plan), after);
    QVERIFY(history.undo(plan));
    QCOMPARE(state(plan), before);
    QVERIFY(!history.unsaved());
    QVERIFY(history.redo(plan));
    QCOMPARE(state(plan), after);
    QCOMPARE(history.undoText(), std::string("once"));
  }
  void allTogetherInAnyNumber() {
    Plan plan = test::heronPlan();
    EditHistory history;
    std::vector<std::string> states{state(plan)};
    for (const auto& [name, edit] : edits()) {
      VERIFY_OK(history.apply(plan, {name, {edit}}));
      states.push_back(state(plan));
    }
    for (std::size_t i = states.size() - 1; i-- > 0;) {
      QVERIFY(history.undo(plan));
      QCOMPARE(state(plan), states[i]);
    }
    QVERIFY(!history.undo(plan));
    for (std::size_t i = 1; i < states.size(); ++i) {
      QVERIFY(history.redo(plan));
      QCOMPARE(state(plan), states[i]);
    }
  }
  // A group is all or nothing.
  void refusedEditsLeaveNothing_data() {
    QTest::addColumn<int>("which");
    for (int i = 0; i < 6; ++i)
      QTest::newRow(qPrintable(QString::number(i))) << i;
  }
  void refusedEditsLeaveNothing() {
    QFETCH(int, which);
    Plan plan = test::heronPlan();
    const auto before = state(plan);
    Recipe bad = plan.features[1].recipe;
    bad.rows = 0;
    Requirement negative = test::balloon(plan, 3), upside = test::balloon(plan, 2);
    negative.tolerance = -1;
    std::swap(upside.lower, upside.upper);
    const Edit refused[]{SetRecipe{FeatureId{1}, bad, {}, {}},
                         SetAccess{FeatureId{1}, {0, 0, radians(170), 0}, true},
                         SetRequirement{negative},
                         SetRequirement{upside},
                         SpliceSteps{0, 0, measureSteps({FeatureId{1}})},
                         SetHop{FeatureId{999}, HopMode::Close, {}}};
    EditHistory history;
    const auto done = history.apply(plan, {"group", {SetName{"other"}, refused[which]}});
    QVERIFY(!done);
    QVERIFY(!done.error().message.empty());
    QCOMPARE(state(plan), before);
    QVERIFY(!history.undo(plan));
  }
  void savedStateIsKnown() {
    Plan plan = test::heronPlan();
    EditHistory history;
    VERIFY_OK(history.apply(plan, {"a", {SetName{"a"}}}));
    history.markSaved();
    QVERIFY(!history.unsaved());
    history.undo(plan);
    QVERIFY(history.unsaved());
    VERIFY_OK(history.apply(plan, {"b", {SetName{"b"}}}));
    QVERIFY(history.unsaved()); // one step deep again, but not the step that was saved
    history.undo(plan);
    QVERIFY(history.unsaved());
  }
};
ALDER_TEST(EditTest)
#include "edit_test.moc"
