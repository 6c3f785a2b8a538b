#include "base/files.h"
#include "made_parts.h"
#include "window_driver.h"
#include <QFile>

using namespace alder;
using namespace alder::app;

// Other ways for the part to stand, and a stylus that the bench lacks, each taken by one key or
// click.
class StandingWindowTest : public WindowDriver {
  Q_OBJECT

  const Plan& plan() { return document().plan(); }
  int covered() {
    int count = 0;
    for (const Feature& f : plan().features)
      count += f.covered();
    return count;
  }
  // The shipped bench without its star, which has the smallest balls.
  QString benchWithoutStar() {
    Json bench = Json::parse(defaultBench()->json);
    auto& styli = bench["styli"];
    styli.erase(2);
    auto& ports = bench["rack"]["ports"];
    ports.erase(2);
    const QString path = dir_.filePath("two.json");
    (void)writeFile(path.toStdString(), bench.dump());
    return path;
  }

 private slots:
  void initTestCase() { makeWindow(); }
  void cleanupTestCase() { window_.reset(); }

  void laidOtherwise() {
    const auto step = test::bracketStep("MM", 0);
    QVERIFY(step.has_value());
    const QString path = dir_.filePath("bracket.step");
    QVERIFY(writeFile(path.toStdString(), *step).has_value());
    document().open(path);
    QVERIFY(idle());
    const Frame lay = plan().placement;
    const int before = covered();
    window_->activateWindow();
    QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier | Qt::AltModifier);
    QVERIFY(idle());
    QVERIFY2(document().standingOffers().size() >= 2, qPrintable(told()));
    QVERIFY(field<QPushButton>("layOn0"));
    QVERIFY(cardSays("tips and angles"));
    const auto& first = document().standingOffers()[0];
    QVERIFY(first.reached > 0 && first.reached <= first.of);
    const std::size_t reached = first.reached;
    click("layOn0");
    QVERIFY(idle());
    QVERIFY(!plan().placement.isApprox(lay));
    QVERIFY(document().undoText().startsWith("Lay the part on"));
    // What was promised is what is there, and the way is proved.
    QVERIFY(covered() >= static_cast<int>(reached));
    QVERIFY(document().routed() && document().routed()->rehearsal.clear());
    // It stands otherwise now: what was offered for the other one is gone.
    QVERIFY(document().standingOffers().empty());
    press("undo");
    QVERIFY(idle());
    QVERIFY(plan().placement.isApprox(lay));
    QCOMPARE(covered(), before);
  }

  // What a person has put in stays, and an edit that came after takes the offers back.
  void nothingIsLost() {
    document().open(dir_.filePath("bracket.step"));
    QVERIFY(idle());
    document().insertStep(NoteStep{"look at the wall"});
    QVERIFY(idle());
    press("otherStandings");
    QVERIFY(idle());
    QVERIFY(!document().standingOffers().empty());
    Requirement changed = plan().spec.requirements.front();
    changed.tolerance += 0.01;
    QVERIFY(document().edit("Change", {SetRequirement{changed}}));
    QVERIFY(idle());
    QVERIFY(document().standingOffers().empty());
    press("otherStandings");
    QVERIFY(idle());
    document().layPart(0);
    QVERIFY(idle());
    QVERIFY(document().undoText().startsWith("Lay the part on"));
    QCOMPARE(plan().spec.requirements.front().tolerance, changed.tolerance);
    QVERIFY(std::any_of(plan().steps.begin(), plan().steps.end(), [](const RoutineStep& s) {
      return std::holds_alternative<NoteStep>(s.body);
    }));
    const auto order = measured();
    for (const Feature& f : plan().features)
      QCOMPARE(std::count(order.begin(), order.end(), f.id), 1);
  }

  void aFixtureHoldsIt() {
    document().open(QString::fromStdString(test::dataPath("heron.alder")));
    QVERIFY(idle());
    press("otherStandings");
    QVERIFY(idle());
    QVERIFY2(told().contains("held by its fixture"), qPrintable(told()));
    QVERIFY(document().standingOffers().empty());
  }

  void aStylusThatWouldFit() {
    const auto step = test::plateStep(0.25); // bores of 3 mm
    QVERIFY(step.has_value());
    const QString path = dir_.filePath("small.step");
    QVERIFY(writeFile(path.toStdString(), *step).has_value());
    document().open(path, benchWithoutStar());
    QVERIFY(idle());
    QCOMPARE(plan().bench.styli.size(), std::size_t(2));
    const auto bore = std::find_if(plan().features.begin(), plan().features.end(),
                                   [](const Feature& f) { return !f.covered(); });
    QVERIFY(bore != plan().features.end());
    QVERIFY2(bore->why_not.find("does not fit") != std::string::npos &&
                 bore->why_not.find("would reach it at") != std::string::npos,
             bore->why_not.c_str());
    const FeatureId id = bore->id;
    document().selectFeatures({id});
    window_->setDesk(Desk::Part);
    QVERIFY(field<QPushButton>("takeStylus"));
    window_->activateWindow();
    QTest::keyClick(window_.get(), Qt::Key_Y, Qt::AltModifier);
    QVERIFY(idle());
    QCOMPARE(plan().bench.styli.size(), std::size_t(3));
    QVERIFY2(plan().feature(id).covered(), plan().feature(id).why_not.c_str());
    QVERIFY(plan().tip(plan().feature(id).access).ball_diameter <= 2);
    press("undo");
    QVERIFY(idle());
    QCOMPARE(plan().bench.styli.size(), std::size_t(2));
    QVERIFY(!plan().feature(id).covered());
  }
};

ALDER_TEST(StandingWindowTest)
#include "standing_window_test.moc"
