#include "exchange/routine/kept_verdicts.h"

#include "exchange/routine/project.h"
#include "support.h"
#include <QTemporaryDir>

using namespace alder;

// Verdicts that are kept are known again where they would come out the same, and only there. See
// VerdictBasisTest for what a verdict is based on.
class KeptVerdictsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

 private slots:
  void aLimitMovesItsOwnVerdict() {
    Plan now = test::heronPlan();
    auto form = std::find_if(now.spec.requirements.begin(), now.spec.requirements.end(),
                             [](const Requirement& r) { return isForm(r.kind); });
    form->tolerance = form->upper = 0.5;
    const auto stand = verdictsThatStand(test::heronPlan(), now);
    QVERIFY(!stand.contains(form->id));
    QVERIFY(stand.size() + 6 > now.spec.requirements.size());
    now = test::heronPlan();
    now.spec.near_share = 0.5;
    QVERIFY(verdictsThatStand(test::heronPlan(), now).empty());
  }
  // Keys are those of before where the verdict stands, and others where it does not.
  void keys() {
    Plan now = test::heronPlan();
    const Plan& before = test::heronPlan();
    now.spec.requirements.front().tolerance += 0.1;
    now.spec.requirements.front().upper += 0.1;
    now.features.front().touches.front().point.x() += 0.5;
    const auto stand = verdictsThatStand(before, now);
    const VerdictKeys a(before), b(now);
    for (const Requirement& r : before.spec.requirements)
      QCOMPARE(a.of(r) == b.of(now.spec.requirement(r.id)), stand.contains(r.id));
    QVERIFY(!stand.empty() && stand.size() < before.spec.requirements.size());
  }
  // With steps and way changed they stand, and in the file that is opened again they are found.
  void keysOfTheFile() {
    Plan plan = test::heronPlan();
    const std::string csv = "feature,x,y,z\n";
    Project project{plan, {{"part-0001", csv}}, {}};
    const VerdictKeys keys(plan);
    KeptVerdicts& kept = project.runs[0].kept;
    kept.points = pointsKey(csv);
    for (const Requirement& r : plan.spec.requirements)
      kept.all.push_back({r.id, keys.of(r), {Verdict::Near, 0.1234567890123, 0, 0.13, 0.95}});
    kept.all.back().verdict = {Verdict::Unmeasured, {}, -1, 1, 0};
    const std::string path = dir_.filePath("kept.alder").toStdString();
    VERIFY_OK(saveProject(project, path));
    const auto back = openProject(path);
    VERIFY_OK(back);
    QVERIFY(back->runs[0].kept == kept);
    const VerdictKeys again(back->plan);
    for (const KeptVerdict& k : kept.all)
      QCOMPARE(again.of(back->plan.spec.requirement(k.requirement)), k.basis);
    plan.shell.offset_low.x() += 5;
    plan.name = "another";
    plan.steps.pop_back();
    const VerdictKeys moved(plan);
    QCOMPARE(moved.of(plan.spec.requirements.front()), kept.all.front().basis);
    QVERIFY(pointsKey(csv + " ") != kept.points);
  }
  void damaged() {
    const Json good = toJson(KeptVerdicts{"p", {{RequirementId{3}, "b", {}}}});
    const auto told = [](const Json& json) {
      const JsonFields f(json, "file");
      (void)readKeptVerdicts(f);
      const auto done = f.done();
      return done ? std::string() : done.error().message;
    };
    QCOMPARE(told(good), std::string());
    Json bad = good;
    bad["verdicts"][0]["verdict"] = "fine";
    QVERIFY(told(bad).find("verdict") != std::string::npos);
    bad = good;
    bad["verdicts"][0]["lower"] = "low";
    QVERIFY(!told(bad).empty());
  }
};
ALDER_TEST(KeptVerdictsTest)
#include "kept_verdicts_test.moc"
