// What is measured, how, and which way it is left: faces taken in by hand, contours, the shank led
// by hand, the shell's own frame.
#include "base/units.h"
#include "registry.h"
#include "window_driver.h"
#include <set>

using namespace alder;
using namespace alder::app;

class RoutineWindowTest : public WindowDriver {
  Q_OBJECT

  const Plan& plan() { return document().plan(); }
  // A place in the picture where a click takes a face that nothing measures.
  std::optional<QPoint> bareFace() {
    OcctView& view = window_->stage().view();
    for (int y = 60; y < view.height() - 60; y += 12)
      for (int x = 60; x < view.width() - 60; x += 12) {
        QTest::mouseClick(&view, Qt::LeftButton, {}, QPoint(x, y));
        if (!document().selection().faces.empty()) return QPoint(x, y);
      }
    return {};
  }
  FeatureId freeform() {
    for (const NominalFeature& f : plan().spec.features)
      if (f.ideal.type == SurfaceType::Freeform) return f.id;
    return {};
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void init() {
    document().clearSelection();
    window_->setDesk(Desk::Routine);
    QTest::qWait(50);
  }
  void cleanup() { undoAll(); }
  void cleanupTestCase() { window_.reset(); }

  void measureAFaceThatWasPicked() {
    press("measureFaces");
    QVERIFY(told().contains("Click a face"));
    window_->setDesk(Desk::Part);
    const auto at = bareFace();
    QVERIFY(at);
    QVERIFY(document().selection().features.empty());
    const std::size_t count = plan().features.size(), steps = document().routed()->way.steps.size();
    click("measureFaces");
    QVERIFY2(plan().features.size() > count, qPrintable(told()));
    QCOMPARE(document().selection().features.size(), plan().features.size() - count);
    const Feature& fresh = plan().feature(document().selection().features.front());
    if (fresh.covered()) QVERIFY(document().routed()->way.steps.size() > steps);
    QVERIFY(document().routed()->rehearsal.clear());
    QVERIFY(field<QPushButton>("stopMeasuring"));
    click("stopMeasuring");
    QCOMPARE(plan().features.size(), count);
    press("undo");
    QVERIFY(idle());
    QCOMPARE(plan().features.size(), count + 1);
    // A requirement laid on it keeps it in the routine.
    undoAll();
    QCOMPARE(plan().features.size(), count);
  }
  void clickBesideLetsGo() {
    window_->setDesk(Desk::Part);
    QVERIFY(bareFace());
    QTest::mouseClick(&window_->stage().view(), Qt::LeftButton, {}, QPoint(5, 150));
    QVERIFY(document().selection().faces.empty());
  }
  // Dragged with Ctrl held, the shank follows the cursor; let go, its angles are forced.
  void leadTheShank() {
    const FeatureId id = plan().spec.datum("A")->features[0];
    document().selectFeatures({id});
    window_->stage().frameSelection();
    QTest::qWait(50);
    OcctView& view = window_->stage().view();
    const QPoint at = window_->stage().project(window_->stage().anchorOf(id)).toPoint();
    const Access before = plan().feature(id).access;
    QTest::mousePress(&view, Qt::LeftButton, Qt::ControlModifier, at);
    QTest::mouseMove(&view, at + QPoint(20, -20));
    const QPoint to = at + QPoint(110, -40);
    // The test library moves without modifiers; what was begun with Ctrl goes on all the same.
    QTest::mouseMove(&view, to);
    const QString said = window_->stage().ledText();
    QVERIFY2(said.contains("reaches"), qPrintable(said));
    QVERIFY(filled() > 0.05);
    QTest::mouseRelease(&view, Qt::LeftButton, Qt::ControlModifier, to);
    QVERIFY(window_->stage().ledText().isEmpty());
    QVERIFY(idle());
    QVERIFY(plan().feature(id).access_forced);
    QVERIFY(!(plan().feature(id).access == before));
    QVERIFY(said.startsWith(QString("A%1 B%2")
                                .arg(shownDegrees(plan().feature(id).access.a))
                                .arg(shownDegrees(plan().feature(id).access.b))));
    press("undo");
    QVERIFY(idle());
    QVERIFY(plan().feature(id).access == before);
  }
  void contourByCard() {
    const FeatureId id = freeform();
    document().selectFeatures({id});
    const auto touches = plan().feature(id).touches.size();
    choose("stroke", "scan a contour");
    QCOMPARE(plan().feature(id).recipe.stroke, Stroke::Contour);
    QVERIFY(plan().feature(id).touches.size() > touches);
    QVERIFY(document().routed()->rehearsal.clear());
    const Vec3 to = plan().feature(id).touches[plan().feature(id).touches.size() / 2].point;
    document().selectFeatures({id}, to);
    click("endScan");
    QVERIFY((plan().feature(id).recipe.contour.to - to).norm() < 1e-9);
    QVERIFY((plan().feature(id).touches.back().point - to).norm() < 0.5);
    type("contourTo", "here");
    QVERIFY(told().contains("one place"));
    type("contourTo", "1000, 0, 0");
    QVERIFY2(told().contains("ends must lie on the surface"), qPrintable(told()));
    QVERIFY((plan().feature(id).recipe.contour.to - to).norm() < 1e-9);
    type("pitch", "2");
    QCOMPARE(plan().feature(id).recipe.pitch, 2.0);
  }
  void edgeByCard() {
    const FeatureId id = plan().spec.datum("A")->features[0];
    document().selectFeatures({id});
    choose("stroke", "scan an edge");
    QCOMPARE(plan().feature(id).recipe.stroke, Stroke::Edge);
    const double below = plan().feature(id).recipe.contour.below;
    type("contourBelow", QString::number(below + 1));
    QCOMPARE(plan().feature(id).recipe.contour.below, below + 1);
    choose("stroke", "touch by touch");
    QVERIFY(!isContour(plan().feature(id).recipe.stroke));
  }
  void throughASide() {
    const FeatureId id = plan().spec.datum("A")->features[0];
    document().selectFeatures({id});
    choose("through", "front");
    QVERIFY(plan().feature(id).through == ShellSide::Front);
    QVERIFY(document().routed()->rehearsal.clear());
    choose("through", "nearest");
    QVERIFY(!plan().feature(id).through);
  }
  void shellInItsOwnFrame() {
    window_->setDesk(Desk::Bench);
    QTest::qWait(50);
    type("shellTurned", "20");
    QVERIFY(idle());
    QVERIFY(std::abs(plan().shell.turned - radians(20)) < 1e-9);
    choose("shellFrame", "the part");
    choose("shellPlanes", "along its planes");
    QVERIFY(plan().shell.with_part && plan().shell.planes);
    QVERIFY(document().routed()->rehearsal.clear());
    window_->setDesk(Desk::Routine);
    QTest::qWait(200);
    QVERIFY(filled() > 0.05);
  }
  void discByCard() {
    window_->setDesk(Desk::Bench);
    document().setBenchFocus({0, ""});
    QTest::qWait(50);
    type("tip0_disc", "1");
    QVERIFY(idle());
    QCOMPARE(plan().bench.styli[0].tips[0].disc_thickness, 1.0);
    type("tip0_disc", "50");
    QVERIFY2(told().contains("disc_thickness_mm"), qPrintable(told()));
    QCOMPARE(plan().bench.styli[0].tips[0].disc_thickness, 1.0);
  }
};
ALDER_TEST(RoutineWindowTest)
#include "routine_window_test.moc"
