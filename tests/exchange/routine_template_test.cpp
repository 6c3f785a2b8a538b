#include "base/files.h"
#include "exchange/routine/routine_template.h"
#include "plan/steps/step_edit.h"
#include "route/draft.h"
#include "support.h"

using namespace alder;

// Routines that start from what others have in common.
class RoutineTemplateTest : public QObject {
  Q_OBJECT

  static Plan withSteps() {
    Plan plan = test::heronPlan();
    const auto put = [&](std::size_t at, StepBody body) {
      auto edit = insertSteps(plan, {{StepId{0}, 0, true, 0, std::move(body)}}, at, 0);
      if (!edit || !applyEdit(plan, *edit)) qFatal("not put in");
    };
    put(0, AskStep{"Serial number", false, ""});
    put(1, WaitStep{"Clean the part", "", true, 30});
    put(2, QualifyStep{});
    put(plan.steps.size(), EvaluateStep{});
    put(plan.steps.size(),
        EvaluateStep{{test::balloon(plan, 2).id}}); // speaks of a requirement of this part
    put(plan.steps.size(), OutputStep{OutputKind::Report, "{routine} {Serial number}.pdf"});
    plan.shell.offset_high = Vec3(12, 13, 14);
    plan.spec.near_share = 0.8;
    plan.spec.standard = ToleranceStandard::Asme;
    plan.pairs = {{"ball", "clamp 1", false, 5, "known"}};
    BookEntry entry;
    entry.recipe = plan.feature(test::named(plan, "Bore ø32")).recipe;
    entry.recipe.name = "our bores";
    entry.recipe.rows = 5;
    entry.type = SurfaceType::Cylinder;
    plan.book.entries = {entry};
    return plan;
  }

 private slots:
  void whatIsTaken() {
    const RoutineTemplate t = templateOf(withSteps());
    QCOMPARE(t.opening.size(), std::size_t(3));
    QCOMPARE(t.closing.size(), std::size_t(2));
    QVERIFY(std::holds_alternative<AskStep>(t.opening[0].body));
    QVERIFY(std::holds_alternative<EvaluateStep>(t.closing[0].body));
    QVERIFY(std::holds_alternative<OutputStep>(t.closing[1].body));
  }
  void bothWays() {
    const RoutineTemplate t = templateOf(withSteps());
    const auto back = templateFromText(templateText(t), "t");
    VERIFY_OK(back);
    QCOMPARE(templateText(*back), templateText(t));
    QVERIFY(back->opening == t.opening && back->closing == t.closing);
    QVERIFY(back->shell == t.shell && back->pairs == t.pairs);
    QCOMPARE(back->bench.json, Json::parse(t.bench.json).dump(1));
  }
  void aNewRoutine() {
    const RoutineTemplate t = templateOf(withSteps());
    auto plan = completePlan(beginPlan(test::heron(), t));
    VERIFY_OK(plan);
    VERIFY_OK(addTemplateSteps(*plan, t));
    // The shop's recipe asks for touches that are shared among angles.
    const auto portions = std::count_if(plan->spec.features.begin(), plan->spec.features.end(),
                                        [](const NominalFeature& n) { return n.portion; });
    QVERIFY(portions <= 1);
    QCOMPARE(plan->steps.size(),
             test::heronPlan().steps.size() + 5 + static_cast<std::size_t>(portions));
    QVERIFY(std::holds_alternative<AskStep>(plan->steps.front().body));
    QVERIFY(std::holds_alternative<OutputStep>(plan->steps.back().body));
    QCOMPARE(plan->shell.offset_high, Vec3(12, 13, 14));
    QCOMPARE(plan->spec.near_share, 0.8);
    QVERIFY(plan->spec.standard == ToleranceStandard::Asme);
    QCOMPARE(plan->feature(test::named(*plan, "Bore ø32")).recipe.name, std::string("our bores"));
    for (const Requirement& r : plan->spec.requirements)
      QCOMPARE(isCovered(*plan, r), isCovered(test::heronPlan(), r));
  }
  void refused_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    QTest::newRow("no JSON") << "{"
                             << "line 1";
    QTest::newRow("a list") << "[]"
                            << "no template";
    QTest::newRow("another file") << R"({"format": "alderpoint-routine"})"
                                  << "no template";
    QTest::newRow("newer") << R"({"format": "alderpoint-template", "version": 99})"
                           << "newer";
    QTest::newRow("no bench") << R"({"format": "alderpoint-template", "version": 1})"
                              << "no bench";
  }
  void refused() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    const auto read = templateFromText(text.toStdString(), "x.alder-template");
    QVERIFY(!read);
    QVERIFY2(QString::fromStdString(read.error().message).contains(says),
             read.error().message.c_str());
    QVERIFY(read.error().message.find("x.alder-template") != std::string::npos);
  }
  // A step that speaks of a feature has none here.
  void stepsOfFeatures() {
    Json json = Json::parse(templateText(templateOf(withSteps())));
    json["opening"].push_back({{"kind", "measure"}, {"feature", 0}, {"id", 77}});
    QVERIFY(!templateFromText(json.dump(), "t"));
    json["opening"] = 3;
    QVERIFY(!templateFromText(json.dump(), "t"));
  }
};

ALDER_TEST(RoutineTemplateTest)
#include "routine_template_test.moc"
