#include "base/units.h"
#include "card/requirement/indicator_edit.h"
#include "card/verdict/verdict_plot.h"
#include "registry.h"
#include "stage/zone_geometry.h"
#include "window_driver.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QWindow>
#include <set>

using namespace alder;
using namespace alder::app;

// What the quality engineer does: change what is demanded and how it is judged, construct, compute,
// and look at why. On one measured part; each test takes back what it changed.
class JudgingWindowTest : public WindowDriver {
  Q_OBJECT

  const Requirement& requirement(int number) {
    return document().plan().spec.requirement(balloon(number));
  }
  const Evaluation& result(int number) {
    if (!QTest::qWaitFor([&] { return document().evaluation(balloon(number)); }, 60000))
      qFatal("requirement %d is not judged", number);
    return *document().evaluation(balloon(number));
  }
  void choose(const char* name, int index) {
    auto* box = field<QComboBox>(name);
    QVERIFY2(box, name);
    box->setFocus();
    const int steps = index - box->currentIndex();
    for (int k = 0; k < std::abs(steps); ++k)
      QTest::keyClick(box, steps > 0 ? Qt::Key_Down : Qt::Key_Up);
    emit box->activated(index);
    QTest::qWait(50);
  }
  void click(const char* name) {
    auto* button = field<QPushButton>(name);
    QVERIFY2(button, name);
    QTest::mouseClick(button, Qt::LeftButton);
    QTest::qWait(50);
  }
  IndicatorEdit* indicator() {
    auto* edit = field<IndicatorEdit>("indicator");
    if (edit) edit->setFocus();
    return edit;
  }
  void undoAll() {
    while (document().undoText() != before_)
      document().undo();
    QVERIFY(idle());
  }
  QString before_;

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
    document().run({}, 1);
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), std::size_t(1));
  }
  void init() {
    window_->setDesk(Desk::Part);
    before_ = document().undoText();
    document().clearSelection();
  }
  void cleanup() { undoAll(); }
  void cleanupTestCase() { window_.reset(); }

  void indicatorByKeyboard() {
    selectBalloon(3);
    auto* edit = indicator();
    QVERIFY(edit);
    QTest::keyClicks(edit, "0.05"); // begins at the value
    QVERIFY(std::abs(edit->draft().tolerance - 0.05) < 1e-12);
    QCOMPARE(requirement(3).tolerance, 0.03); // not yet handed over
    QTest::keyClick(edit, Qt::Key_Escape);
    QCOMPARE(edit->draft().tolerance, 0.03);
    QTest::keyClicks(edit, "0.05m");
    QTest::keyClick(edit, Qt::Key_Right);
    QTest::keyClick(edit, Qt::Key_Right);
    QTest::keyClicks(edit, "b-c");
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(requirement(3).tolerance, 0.05);
    QCOMPARE(indicator()->compartment(), 3); // where it was, to go on
    QVERIFY(requirement(3).material == MaterialModifier::Maximum);
    QCOMPARE(requirement(3).datums.size(), std::size_t(2));
    QCOMPARE(requirement(3).datums[1].letters, (std::vector<std::string>{"B", "C"}));
    document().undo();
    QCOMPARE(requirement(3).datums.size(), std::size_t(1));
    edit = indicator();
    edit->setCompartment(1);
    QTest::keyClick(edit, Qt::Key_Home);
    QTest::keyClicks(edit, "p"); // the next with this letter
    QVERIFY(edit->draft().kind == Characteristic::Position);
    QTest::keyClick(edit, Qt::Key_Up);
    QVERIFY(edit->draft().kind == Characteristic::Angularity);
    QTest::keyClick(edit, Qt::Key_Escape);
  }
  void leavingTheIndicatorKeepsIt() {
    selectBalloon(3);
    QTest::keyClicks(indicator(), "0.07");
    auto* next = field<QLineEdit>("tolerance");
    QVERIFY(next);
    next->setFocus();
    QTest::qWait(50);
    QCOMPARE(requirement(3).tolerance, 0.07);
  }
  void remarksFollowTheTyping() {
    selectBalloon(3);
    auto* edit = indicator();
    QTest::keyClick(edit, Qt::Key_End);
    QTest::keyClicks(edit, "q");
    auto* remark = field<QLabel>("remark");
    QVERIFY(remark && remark->text().contains("Datum Q is not defined"));
    // One key applies what is proposed, to the plan.
    auto* fix = field<QPushButton>("applyCorrection");
    QVERIFY(fix && fix->text().contains("Leave out datum Q"));
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(requirement(3).datums.size(), std::size_t(2));
    QTest::qWait(50);
    fix = field<QPushButton>("applyCorrection");
    QVERIFY(fix && fix->isVisible());
    QTest::keyClick(window_->windowHandle(), Qt::Key_Period, Qt::ControlModifier);
    QTest::qWait(300);
    QCOMPARE(requirement(3).datums.size(), std::size_t(1));
    QVERIFY(!field<QLabel>("remark"));
  }
  void judgedDifferently() {
    selectBalloon(4);
    const double zone = *result(4).actual;
    choose("association", 1);
    QVERIFY(requirement(4).association == AssociateBy::LeastSquares);
    QVERIFY(*result(4).actual > zone); // the minimum zone is the smallest
    QVERIFY(result(4).how.find("least squares") != std::string::npos);
    choose("standard", 2);
    QVERIFY(result(4).how.find("ASME Y14.5-2018") != std::string::npos);
    choose("ownFilter", 1);
    choose("requirementFilter", 1);
    QVERIFY(requirement(4).filtering->kind == FilterKind::Gaussian);
    QVERIFY(result(4).how.find("15 undulations") != std::string::npos);
    type("requirementUndulations", "2");
    QCOMPARE(requirement(4).filtering->undulations, 2.0);
    type("requirementSigma", "0.2"); // refused with a line, nothing changes
    QCOMPARE(requirement(4).filtering->outlier_sigma, 0.0);
  }
  void orientationAndIntersectionPlanes() {
    const auto take = [this](const char* name, const QString& words) {
      auto* box = field<QComboBox>(name);
      QVERIFY(box);
      const int index = box->findText(words);
      QVERIFY2(index > 0, qPrintable(words));
      choose(name, index);
    };
    selectBalloon(14);
    QVERIFY(!field<QComboBox>("zonePlane")); // a round zone lies between no planes
    const double round = *result(14).actual;
    Requirement flat = requirement(14);
    flat.zone = Zone::Planar;
    QVERIFY(document().edit("Flat zone", {SetRequirement{flat}}));
    QVERIFY(result(14).how.find("taken as a cylinder") != std::string::npos);
    QVERIFY(std::abs(*result(14).actual - round) < 1e-9);
    take("zonePlane", "// A"); // it leans by 30 degrees
    QCOMPARE(requirement(14).zone_plane->datum, std::string("A"));
    QVERIFY(!result(14).actual);
    QVERIFY(result(14).how.find("cannot lie between planes") != std::string::npos);
    take("zonePlane", "⟂ A");
    QVERIFY(*result(14).actual < round);
    QVERIFY(result(14).how.find("orientation plane ⟂ A") != std::string::npos);
    document().undo();
    QVERIFY(requirement(14).zone_plane->relation == PlaneRelation::Parallel);
    selectBalloon(5);
    QVERIFY(!field<QComboBox>("zonePlane"));
    const double all = *result(5).actual;
    take("sectionPlane", "= B"); // as its lines do
    QVERIFY(std::abs(*result(5).actual - all) < 1e-6);
    take("sectionPlane", "// A");
    QVERIFY(!result(5).actual);
    QVERIFY(result(5).how.find("no line of at least three touches") != std::string::npos);
  }
  void severalRequirementsTogether() {
    auto& list = window_->sheet().list();
    const auto place = [&](int number) {
      return list.visualRect(list.model()->index(number - 1, 0)).center();
    };
    list.scrollToTop();
    QTest::mouseClick(list.viewport(), Qt::LeftButton, {}, place(4));
    QTest::mouseClick(list.viewport(), Qt::LeftButton, Qt::ControlModifier, place(5));
    QCOMPARE(document().selection().requirements.size(), std::size_t(2));
    choose("ownFilter", 1);
    type("requirementSigma", "3");
    for (const int number : {4, 5})
      QCOMPARE(requirement(number).filtering.value_or(Filtering{}).outlier_sigma, 3.0);
    QVERIFY(document().undoText().contains("2 requirements"));
    document().undo();
    for (const int number : {4, 5})
      QCOMPARE(requirement(number).filtering.value_or(Filtering{}).outlier_sigma, 0.0);
    QCOMPARE(document().selection().requirements.size(), std::size_t(2));
  }
  // Typed, and taken from the place picked; the touches follow, and undo takes both back.
  void datumTargets() {
    const Plan& plan = document().plan();
    const FeatureId a = plan.spec.datum("A")->features[0];
    const auto touches = [&] { return document().plan().feature(a).touches.size(); };
    const std::size_t before = touches();
    const Vec3 here = plan.feature(a).touches[0].point + Vec3(1.5, 0, 0);
    document().selectFeatures({a}, here);
    QTest::qWait(50);
    click("pickTarget");
    QCOMPARE(document().plan().spec.datum("A")->targets.size(), std::size_t(1));
    QCOMPARE(touches(), before + 1);
    QVERIFY(field<QLineEdit>("datumTargets")->text().contains(","));
    type("datumTargets", "0, 0"); // refused with a line, nothing changes
    type("datumTargets", "900, 0, 0");
    QCOMPARE(document().plan().spec.datum("A")->targets.size(), std::size_t(1));
    document().undo();
    QCOMPARE(touches(), before);
    QVERIFY(document().plan().spec.datum("A")->targets.empty());
  }
  void constructDemandAndUndo() {
    selectBalloon(9);
    click("construct0");
    QVERIFY(document().routed()); // the way stays: nothing moves
    const auto selected = document().selection().features;
    QCOMPARE(selected.size(), std::size_t(1));
    const NominalFeature circle = document().plan().nominal(selected[0]);
    QCOMPARE(circle.name, std::string("Pitch circle 1"));
    click("demandSize");
    QCOMPARE(window_->sheet().list().model()->rowCount(), 36);
    QCOMPARE(requirement(36).features, selected);
    QVERIFY(std::abs(*result(36).actual - circle.ideal.diameter) < 0.005);
    // What is in use cannot go.
    document().removeFeature(selected[0]);
    QCOMPARE(document().plan().spec.features.size(), std::size_t(circle.id.value) + 1);
    document().undo();
    document().undo();
    QCOMPARE(window_->sheet().list().model()->rowCount(), 35);
    QVERIFY(document().selection().features.empty());
    document().redo();
    document().redo();
    QCOMPARE(window_->sheet().list().model()->rowCount(), 36);
    // Saved and read again it is the same.
    const QString path = dir_.filePath("constructed.alder");
    QVERIFY(document().save(path));
    const auto again = openProject(path.toStdString());
    QVERIFY(again.has_value());
    QCOMPARE(again->plan.spec.features.back().ideal.diameter, circle.ideal.diameter);
    QVERIFY(again->plan.spec.requirements == document().plan().spec.requirements);
  }
  // Touches are drafted anew; what is constructed from them stays and is not touched.
  void draftingKeepsConstructedFeatures() {
    selectBalloon(9);
    press("construct");
    const FeatureId circle = document().selection().features[0];
    document().draftAgain();
    QVERIFY(idle());
    QCOMPARE(document().plan().nominal(circle).name, std::string("Pitch circle 1"));
    QVERIFY(document().plan().feature(circle).why_not.empty());
    QVERIFY(document().plan().feature(circle).touches.empty());
    QVERIFY(isCovered(document().plan(), requirement(9)));
    QVERIFY(document().routed()->rehearsal.clear());
    // Also one that came while the draft was under way.
    document().draftAgain();
    selectBalloon(10);
    document().constructLikeliest();
    QVERIFY(idle());
    QCOMPARE(document().plan().features.size(), document().plan().spec.features.size());
  }
  // A constructed feature becomes a datum, and a requirement refers to it.
  void constructedDatum() {
    selectBalloon(9);
    press("construct");
    const auto circle = document().selection().features;
    type("datumLetter", "h");
    QVERIFY(document().plan().spec.datum("H"));
    QCOMPARE(document().plan().spec.datum("H")->features, circle);
    selectBalloon(7);
    auto* edit = indicator();
    QTest::keyClick(edit, Qt::Key_End);
    QTest::keyClick(edit, Qt::Key_Left);
    QTest::keyClicks(edit, "h");
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(requirement(7).datums[1].letters, std::vector<std::string>{"H"});
    QVERIFY2(result(7).actual.has_value(), result(7).how.c_str());
    QVERIFY(*result(7).actual < 0.02);
    type("locks0", "z");
    QCOMPARE(requirement(7).datums[0].may_fix, std::string("z"));
    QVERIFY(result(7).how.find("A[z]") != std::string::npos);
    document().selectFeatures(circle);
    type("datumLetter", "7"); // no letter: refused with a line
    QVERIFY(document().plan().spec.datum("H"));
  }
  void demandsBetweenTwoFeatures() {
    selectBalloon(9);
    auto holes = document().selection().features;
    holes.resize(2);
    document().selectFeatures(holes);
    click("demandDistance");
    const Requirement& r = requirement(36);
    QVERIFY(r.kind == Characteristic::Distance && r.nominal > 10);
    QVERIFY(std::abs(*result(36).actual - r.nominal) < 0.01);
    click("removeRequirement");
    QCOMPARE(window_->sheet().list().model()->rowCount(), 35);
  }
  void valueByFormula() {
    click("demandValue");
    QCOMPARE(document().selection().requirement->value, balloon(36).value);
    type("formula", "#2 / 2");
    QVERIFY(std::abs(*result(36).actual - *result(2).actual / 2) < 1e-12);
    type("nominal", "16");
    QVERIFY(result(36).verdict == Verdict::Within);
    type("formula", "#2 +");
    QVERIFY(!result(36).actual);
    QVERIFY(result(36).how.find("#2 +") != std::string::npos);
  }
  void theProjectsJudging() {
    choose("projectStandard", 1);
    QVERIFY(result(1).how.find("ASME Y14.5-2018") != std::string::npos);
    type("nearShare", "1");
    QVERIFY(result(1).verdict == Verdict::Near);
    type("projectUncertainty", "1");
    QVERIFY(result(1).how.find("ISO 14253-1") != std::string::npos);
    type("nearShare", "0"); // refused
    QCOMPARE(document().plan().spec.near_share, 0.01);
  }
  void plotsFitTheKind() {
    window_->setDesk(Desk::Verdict);
    using Kind = DeviationPlot::Kind;
    for (const auto& [number, kind] : {std::pair{1, Kind::Map},
                                       {4, Kind::Unrolled},
                                       {5, Kind::Strip},
                                       {18, Kind::Polar},
                                       {28, Kind::Map}}) {
      selectBalloon(number);
      QTest::qWait(50);
      auto* plot = dynamic_cast<VerdictPlot*>(window_->findChild<QWidget*>("verdictPlot"));
      QVERIFY2(plot, qPrintable(QString::number(number)));
      QVERIFY(plot->plot().kind == kind);
      QVERIFY(plot->plot().points.size() >= 3);
      // Something is drawn, in more than one colour.
      const QImage image = plot->grab().toImage();
      std::set<QRgb> colors;
      for (int x = 0; x < image.width(); ++x)
        for (int y = 0; y < image.height(); ++y)
          colors.insert(image.pixel(x, y));
      QVERIFY(colors.size() > 8);
    }
    selectBalloon(2); // a size has none
    QTest::qWait(50);
    QVERIFY(!window_->findChild<QWidget*>("verdictPlot"));
  }
  // Zone and actual axis appear with the requirement, and grow with the factor.
  void zonesInTheStage() {
    const Plan& plan = document().plan();
    const auto pieces = [&](int number, double factor) {
      const Evaluation& e = result(number);
      return zoneGeometry(plan, requirement(number), e.features.front(), factor, *theme_);
    };
    const auto position = pieces(9, 20); // a zone, the nominal axis, the actual one
    QCOMPARE(position.size(), std::size_t(3));
    const double allowed = result(9).features.front().allowed;
    const auto& zone = position[0].mesh;
    const Ideal& hole = plan.nominal(result(9).features.front().feature).ideal;
    const Vec3 axis = turn(plan.placement, hole.direction), at = plan.placement * hole.point;
    double widest = 0;
    for (const Vec3& v : zone.vertices)
      widest = std::max(widest, (v - at).cross(axis).norm());
    QVERIFY(std::abs(widest - 10 * allowed) < 0.03 * widest);
    QCOMPARE(position[2].lines.size(), std::size_t(1));
    const double off = (position[2].lines[0][0] - at).cross(axis).norm();
    QVERIFY(off <= 10 * result(9).features.front().actual + 1e-6);
    const auto profile = pieces(28, 100); // the faces moved out and in
    QCOMPARE(profile.size(), std::size_t(2));
    QVERIFY((profile[0].mesh.vertices[0] - profile[1].mesh.vertices[0]).norm() > 11.9);
    QVERIFY(pieces(2, 100).empty()); // a size has limits, no zone
    QVERIFY(!pieces(1, 100).empty() && !pieces(25, 100).empty() && !pieces(20, 100).empty());
  }
  void deviationsEnlarged() {
    window_->setDesk(Desk::Verdict);
    selectBalloon(4);
    type("exaggeration", "500");
    QCOMPARE(document().exaggeration(), 500.0);
    type("exaggeration", "0");
    QCOMPARE(document().exaggeration(), 0.0);
  }

  // A requirement that is gone leaves a gap among the ids, not among those that are gone through.
  void nextOneAfterARemoval() {
    selectBalloon(5);
    document().removeRequirements();
    QVERIFY(!balloon(5).valid());
    for (int number : {1, 4, 6}) {
      selectBalloon(number);
      press("nextUncovered");
      QVERIFY2(told().contains("Every requirement is covered"), qPrintable(told()));
    }
    undoAll();
    QVERIFY(balloon(5).valid());
  }
};

ALDER_TEST(JudgingWindowTest)
#include "judging_window_test.moc"
