#include "exchange/routine/frames_file.h"
#include "exchange/runs/measured_again.h"
#include "operator_driver.h"
#include <QLineEdit>

using namespace alder;
using namespace alder::app;

// What is done with a part that was measured: measured again in part, judged anew, compared with
// where it should have lain.
class AgainWindowTest : public OperatorDriver {
  Q_OBJECT
 private:
  void atOnce() { view().findChild<QComboBox*>("operatorPace")->setCurrentIndex(0); }
  void key(Qt::Key k) { QTest::keyClick(&view(), k); }
  void measurePart(std::uint64_t seed) {
    document().run({}, seed);
    QVERIFY(idle());
  }
  const Plan& plan() { return document().plan(); }
  // Of a requirement on bores alone.
  RequirementId aBore() {
    for (const Requirement& r : plan().spec.requirements)
      if (r.kind == Characteristic::Size && r.features.size() == 1 && document().evaluation(r.id) &&
          document().evaluation(r.id)->actual)
        return r.id;
    return {};
  }

 private slots:
  void initTestCase() {
    qputenv("ALDERPOINT_RUNS", runs_.path().toUtf8());
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
    window_->setDesk(Desk::Verdict);
    measurePart(5);
  }
  void cleanupTestCase() { window_.reset(); }
  void cleanup() { stopAndLeave(); }

  // From a requirement three keys: again, it still lies there, back.
  void oneFeatureAgain() {
    const RequirementId r = aBore();
    QVERIFY(r.valid());
    const FeatureId feature = plan().spec.requirement(r).features.front();
    document().selectRequirement(r);
    QVERIFY(cardSays("touches on 1 feature"));
    const auto before = document().currentRun()->measured();
    const std::string part = document().currentRunName();
    const auto parts = document().runs().size();
    press("measureAgain");
    QVERIFY(view().isVisible());
    QVERIFY(says("Measure again"));
    QVERIFY(headline().contains(QString::fromStdString(plan().nominal(feature).name)));
    QVERIFY(detail().contains(QString::fromStdString(part)));
    atOnce();
    key(Qt::Key_Return);
    QVERIFY(says("Measured again"));
    QVERIFY2(detail().contains(QString::fromStdString(part)), qPrintable(detail()));
    key(Qt::Key_Return);
    QVERIFY(!view().isVisible());
    QCOMPARE(document().runs().size(), parts);
    QCOMPARE(document().currentRunName(), part);
    const auto& after = document().currentRun()->measured();
    for (const auto& [id, m] : before)
      QCOMPARE(after.at(id).points == m.points, id != feature);
    document().selectRequirement(r);
    QVERIFY(cardSays("measured again on"));
    QVERIFY(document().unsaved());
    // It is so in the file, with what it replaced.
    QVERIFY(document().save(dir_.filePath("again.alder")));
    const auto saved = openProject(dir_.filePath("again.alder").toStdString());
    QVERIFY(saved.has_value());
    QVERIFY(saved->runs.back().csv.find("# replaced: ") != std::string::npos);
    QVERIFY(!saved->runs.back().then.empty());
  }
  // Taken out meanwhile: by hand first; and one that is broken off goes on where it was.
  void brokenOffAndGoneOnWith() {
    const auto times = document().measuredAgain().size();
    document().selectRequirement(aBore());
    press("measureAgain");
    QVERIFY(says("Measure again"));
    // In real time: else it is over before it is stopped.
    view().findChild<QComboBox*>("operatorPace")->setCurrentIndex(2);
    key(Qt::Key_F);
    QTRY_VERIFY_WITH_TIMEOUT(view().running(), 60000);
    QVERIFY2(QTest::qWaitFor([&] { return view().worker().scene().done > 0; }, 180000),
             qPrintable(headline() + ": " + detail()));
    key(Qt::Key_Escape);
    QVERIFY(says("Stopped"));
    QVERIFY(brokenOffRuns().empty()); // no part of its own
    key(Qt::Key_Escape);
    QVERIFY(idle()); // else it says that it is not ready yet
    document().selectRequirement(aBore());
    press("measureAgain");
    atOnce();
    key(Qt::Key_F);
    QVERIFY(says("A run was broken off"));
    QVERIFY(detail().contains("touches of it are kept"));
    key(Qt::Key_Return);
    // The machine was switched on anew. Where it was stopped on the way in from there, or after the
    // last touch, as on a busy computer, it need not be moved clear.
    const auto begins = [&](const char* words) { return headline().startsWith(words); };
    QVERIFY2(
        QTest::qWaitFor(
            [&] { return begins("Move the machine clear") || begins("Measured again"); }, 180000),
        qPrintable(headline() + ": " + detail()));
    if (begins("Move the machine clear")) key(Qt::Key_Return);
    QVERIFY2(says("Measured again"), qPrintable(headline() + ": " + detail()));
    key(Qt::Key_Return);
    QCOMPARE(document().measuredAgain().size(), times + 1);
    document().clearSelection();
    press("measureAgain");
    QVERIFY(!view().isVisible());
    QVERIFY(told().contains("Select a requirement"));
  }
  // Under another setting the verdict of then stands beside the one of now; the points stay.
  void judgedAnew() {
    const RequirementId id = aBore();
    Requirement changed = plan().spec.requirement(id);
    document().selectRequirement(id);
    QVERIFY(!document().verdictThen(id));
    const auto points = document().currentRun()->measured();
    const double actual = *document().evaluation(id)->actual;
    changed.lower = actual + 1, changed.upper = actual + 2;
    QVERIFY(document().edit("Other limits", {SetRequirement{changed}}));
    QVERIFY(idle());
    QVERIFY(document().verdictThen(id));
    QVERIFY(cardSays("WHEN IT WAS MEASURED"));
    for (const auto& [feature, m] : points)
      QVERIFY(document().currentRun()->measured().at(feature).points == m.points);
    document().clearSelection();
    QVERIFY(cardSays("Judged otherwise than when"));
    undoAll();
    QVERIFY(!document().verdictThen(id));
    QVERIFY(document().verdictsChanged().isEmpty());
  }
  // Two parts against each other and against the plan; kept, used as the beginning, forgotten.
  void whereItLay() {
    measurePart(6);
    document().clearSelection();
    const auto both = document().compared();
    QVERIFY(both.has_value());
    QCOMPARE(both->first.name, std::string("as planned"));
    QCOMPARE(both->second.name, document().currentRunName());
    QVERIFY(cardSays("corner that moved most"));
    choose("compareAxes", "the machine");
    choose("compareOrder", "z-y′-x″");
    const auto move = document().correctionCompared();
    QVERIFY(move.has_value());
    QCOMPARE(move->order, std::string("zyx"));
    // Applied it leads from the one to the other.
    QVERIFY((motionOf(*move) * both->first.placement.matrix() - both->second.placement.matrix())
                .norm() < 1e-6);
    choose("compareFrom", QString::fromStdString(document().currentRunName()));
    QVERIFY(cardSays("0.0000 mm"));
    click("keepPlace");
    QCOMPARE(plan().bench.fixture.frames.size(), std::size_t(1));
    QVERIFY(told().contains("place 1"));
    type("placeName0", "left seat");
    QVERIFY(idle());
    QCOMPARE(plan().bench.fixture.frames.front().name, std::string("left seat"));
    click("placeBegin0");
    QVERIFY(std::get<UseFrameStep>(plan().steps.front().body).frame == "left seat");
    for (const Step& s : document().routed()->way.steps)
      QVERIFY(s.kind != StepKind::Manual); // nobody touches the part first
    window_->setDesk(Desk::Routine);
    QVERIFY(cardSays("From where it is planned"));
    type("placeName", "right seat");
    QVERIFY(idle());
    QVERIFY(std::get<UseFrameStep>(plan().steps.front().body).frame == "right seat");
    type("placeName", "");
    QVERIFY(told().contains("needs a name"));
    measurePart(7);
    QVERIFY(document().currentRun()->measured().size() > 10);
    window_->setDesk(Desk::Verdict);
    document().clearSelection();
    choose("compareTo", QString::fromStdString(document().currentRunName()) + ", right seat");
    click("placeForget0");
    QVERIFY(plan().bench.fixture.frames.empty());
    undoAll();
    QVERIFY(plan().bench.fixture.frames.empty());
  }
  // To a file and back, into a routine that does not have them.
  void framesInFiles() {
    const QString file = dir_.filePath("frames.json");
    document().writeFrames(file);
    QVERIFY(told().contains("Alt+F"));
    PartFrame frame;
    frame.name = "clamped";
    frame.stages.push_back({{plan().alignment[0]}, ""});
    QVERIFY(document().edit("Frame", {SetFrames{{frame}}}));
    document().keepPlace({"x", plan().placement});
    document().writeFrames(file);
    QVERIFY2(told().contains("1 frames and 1 places"), qPrintable(told()));
    undoAll();
    QVERIFY(plan().frames.empty() && plan().bench.fixture.frames.empty());
    document().readFrames(file);
    QVERIFY(idle());
    QVERIFY(plan().frames == std::vector<PartFrame>{frame});
    QCOMPARE(plan().bench.fixture.frames.front().name, std::string("place 1"));
    document().readFrames(file); // again: nothing is there twice
    QCOMPARE(plan().bench.fixture.frames.size(), std::size_t(1));
    document().readFrames(data("heron.alder"));
    QVERIFY(told().contains("heron.alder"));
    document().readFrames(dir_.filePath("none.json"));
    QVERIFY(told().contains("none.json"));
    undoAll();
  }
};
ALDER_TEST(AgainWindowTest)
#include "again_window_test.moc"
