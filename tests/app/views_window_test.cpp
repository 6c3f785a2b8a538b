#include "paper/callout_layout.h"
#include "stage/overlay.h"
#include "support.h"
#include "window_driver.h"
#include <QComboBox>
#include <QLineEdit>

using namespace alder;
using namespace alder::app;

// Views are kept by one key, their callouts dragged where they belong, and all of it undone.
class ViewsWindowTest : public WindowDriver {
  Q_OBJECT

  OcctView& view() { return window_->stage().view(); }
  StageOverlay& overlay() { return window_->stage().overlay(); }
  void painted() {
    overlay().grab();
    QTest::qWait(20);
  }
  const std::vector<KeptView>& views() { return document().plan().views; }
  const StageOverlay::PaintedCallout* callout(int balloon) {
    for (const auto& c : overlay().callouts())
      if (document().plan().spec.requirement(c.requirement).balloon == balloon) return &c;
    return nullptr;
  }
  void select(int balloon) {
    for (const Requirement& r : document().plan().spec.requirements)
      if (r.balloon == balloon) document().selectRequirement(r.id);
    QTest::qWait(20);
  }
  void drag(const QPointF& from, const QPointF& to) {
    QTest::mousePress(&view(), Qt::LeftButton, {}, from.toPoint());
    for (int i = 1; i <= 6; ++i) {
      const QPointF at = from + (to - from) * i / 6;
      QMouseEvent move(QEvent::MouseMove, at, view().mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                       Qt::NoModifier);
      QApplication::sendEvent(&view(), &move);
    }
    QTest::mouseRelease(&view(), Qt::LeftButton, {}, to.toPoint());
    painted();
  }
  QString faults() {
    const auto area = [](const QRectF& b) { return Area{b.x(), b.y(), b.width(), b.height()}; };
    const auto vec = [](const QPointF& p) { return Vec2(p.x(), p.y()); };
    const auto& all = overlay().callouts();
    for (std::size_t a = 0; a < all.size(); ++a)
      for (std::size_t b = a + 1; b < all.size(); ++b) {
        if (area(all[a].box).overlaps(area(all[b].box), 0.5)) return "labels overlap";
        if (segmentsCross(vec(all[a].leader.p1()), vec(all[a].leader.p2()), vec(all[b].leader.p1()),
                          vec(all[b].leader.p2())))
          return QString("leaders cross: %1,%2 to %3,%4 and %5,%6 to %7,%8")
              .arg(all[a].leader.x1())
              .arg(all[a].leader.y1())
              .arg(all[a].leader.x2())
              .arg(all[a].leader.y2())
              .arg(all[b].leader.x1())
              .arg(all[b].leader.y1())
              .arg(all[b].leader.x2())
              .arg(all[b].leader.y2());
      }
    return {};
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QTest::qWait(100);
    QVERIFY(idle());
    QVERIFY(QTest::qWaitFor([&] { return view().ready(); }, 20000));
  }
  void init() {
    undoAll();
    window_->setDesk(Desk::Part);
    document().clearSelection();
    press("viewIso");
    document().setSection({});
    painted();
  }

  void keptByOneKey() {
    select(3);
    painted();
    QTest::keyClick(window_.get(), Qt::Key_9, Qt::ControlModifier);
    painted();
    QCOMPARE(views().size(), std::size_t(1));
    QVERIFY2(views()[0].name.rfind("3  perpendicularity", 0) == 0, views()[0].name.c_str());
    QCOMPARE(views()[0].callouts.size(), std::size_t(1));
    QVERIFY(callout(3));
    const KeptView first = views()[0];
    // Seen from elsewhere, kept again under its name.
    drag({300, 300}, {420, 340});
    QTest::keyClick(window_.get(), Qt::Key_9, Qt::ControlModifier);
    QCOMPARE(views().size(), std::size_t(1));
    QVERIFY((views()[0].towards - first.towards).norm() > 0.1);
    document().undo();
    QVERIFY((views()[0].towards - first.towards).norm() < 1e-9);
    // Shown as it was kept, to the figure.
    press("viewTop");
    QVERIFY(!window_->stage().keptView());
    window_->stage().showKept(first.name);
    const KeptView again = window_->stage().seenNow();
    QVERIFY((again.centre - first.centre).norm() < 1e-6 * first.width);
    QVERIFY((again.towards - first.towards).norm() < 1e-9 && (again.up - first.up).norm() < 1e-6);
    NEAR(again.width, first.width, 1e-6 * first.width);
    document().undo();
    QVERIFY(views().empty() && !window_->stage().keptView());
  }

  // A label that is dragged stays there, for other looks and after a save; the others keep clear.
  void labelsAreDragged() {
    select(3);
    press("keepView");
    const std::string name = views()[0].name;
    document().setViewCallouts(name, "1-5, 9");
    window_->stage().showKept(name);
    document().clearSelection();
    painted();
    QCOMPARE(overlay().callouts().size(), std::size_t(6));
    QVERIFY2(faults().isEmpty(), qPrintable(faults()));
    const QPointF from = callout(9)->box.center(), to(260, 150);
    const gp_Dir eye = view().seen().towards;
    drag(from, to);
    QVERIFY(view().seen().towards.IsEqual(eye, 1e-9)); // the part was not turned
    QVERIFY((callout(9)->box.center() - to).manhattanLength() < 3);
    const KeptCallout* kept = views()[0].find(callout(9)->requirement);
    QVERIFY(kept && kept->label);
    press("viewTop");
    window_->stage().showKept(name);
    painted();
    QVERIFY((callout(9)->box.center() - to).manhattanLength() < 3);
    document().undo();
    painted();
    QVERIFY((callout(9)->box.center() - to).manhattanLength() > 20);
    // A click on it selects, and moves nothing.
    QTest::mouseClick(&view(), Qt::LeftButton, {}, callout(2)->box.center().toPoint());
    QCOMPARE(document().plan().spec.requirement(*document().selection().requirement).balloon, 2);
    QVERIFY(!views()[0].find(callout(2)->requirement)->label);
  }

  // From any side: no two labels meet, no two leaders cross; what has no room is told by number.
  void laidOutFromAnySide() {
    press("keepView");
    const std::string name = views()[0].name;
    document().setViewCallouts(name, "1-14");
    window_->stage().showKept(name);
    for (const char* look : {"viewIso", "viewTop", "viewFront", "viewLeft", "viewBottom"}) {
      press(look);
      KeptView seen = window_->stage().seenNow();
      seen.callouts = views()[0].callouts;
      document().keepView(seen, name);
      window_->stage().showKept(name);
      painted();
      QVERIFY2(faults().isEmpty(), qPrintable(QString(look) + ": " + faults()));
      QVERIFY(overlay().callouts().size() >= 10);
    }
    // With what was measured in the Verdict desk.
    document().run({}, 3);
    QVERIFY(QTest::qWaitFor([&] { return !document().runs().empty(); }, 60000));
    QVERIFY(idle());
    window_->setDesk(Desk::Verdict);
    window_->stage().showKept(name);
    painted();
    QVERIFY(overlay().callouts().size() >= 10);
    QVERIFY2(faults().isEmpty(), qPrintable(faults()));
  }

  // Of two things that are picked what is between them, in the card and in the stage.
  void ruler() {
    const Plan& plan = document().plan();
    const auto featureNamed = [&](const char* name) {
      for (const NominalFeature& f : plan.spec.features)
        if (f.name == name) return f.id;
      return FeatureId{};
    };
    const FeatureId bore = featureNamed("Bore ø32"), boss = featureNamed("Boss ø120");
    QVERIFY(bore.valid() && boss.valid());
    document().selectFeatures({bore});
    QVERIFY(cardSays("32.0000 mm"));
    QVERIFY(cardSays("16.0000 mm"));
    const QImage alone = window_->stage().overlay().grab().toImage();
    document().selectFeatures({bore, boss});
    QVERIFY(cardSays("distance of the axes"));
    QVERIFY(cardSays("0.0000 mm"));
    QVERIFY(document().ruler()->between);
    QVERIFY(window_->stage().overlay().grab().toImage() != alone);
    document().clearSelection();
    QVERIFY(!document().ruler());
  }

  // When it has come to rest: it is drawn coarsely first, and finely a moment later.
  QImage picture() {
    constexpr int kRest = 600, kMost = 20;
    QImage last = view().grabFramebuffer();
    for (int i = 0; i < kMost; ++i) {
      QTest::qWait(kRest);
      QImage now = view().grabFramebuffer();
      if (now == last) break;
      last = std::move(now);
    }
    return last;
  }

  // By its key through the middle of the part, each way in turn; of a feature once one is selected.
  void sectionByKey() {
    const auto next = [&] {
      QTest::keyClick(window_.get(), Qt::Key_X, Qt::ControlModifier | Qt::AltModifier);
    };
    const QImage whole = picture();
    next();
    QVERIFY(document().section());
    NEAR(document().section()->plane.height(document().plan().part->mesh.box().center()), 0.0,
         1e-9);
    QVERIFY(differing(picture(), whole) > 5000);
    next(), next();
    QVERIFY(document().section()->way == SectionWay::AcrossZ);
    next(); // there is no feature that it could go across
    QVERIFY(!document().section());
    QVERIFY(differing(picture(), whole) < 50);
    select(4);
    QVERIFY(!document().selection().features.empty());
    const Ideal& ideal = document().plan().nominal(document().selection().features[0]).ideal;
    document().setSection(SectionWay::AlongFeature);
    NEAR(document().section()->plane.normal.dot(ideal.direction), 0.0, 1e-9);
    NEAR(document().section()->plane.height(ideal.point), 0.0, 1e-9);
    document().setSection(SectionWay::AcrossFeature);
    NEAR(document().section()->plane.normal.cross(ideal.direction).norm(), 0.0, 1e-9);
    document().clearSelection(); // it stays the section of that feature
    next();
    QVERIFY(document().section()->way == SectionWay::AlongFeature);
    next();
    QVERIFY(!document().section());
    select(4);
    document().setSection(SectionWay::AcrossFeature);
    // The part alone where the machine moves; nothing where the bench is set.
    window_->setDesk(Desk::Routine);
    QVERIFY(window_->stage().cutNow());
    window_->setDesk(Desk::Bench);
    QVERIFY(!window_->stage().cutNow());
    window_->setDesk(Desk::Part);
    document().setSection({});
  }

  // By its handle so far as the mouse goes, whichever way the plane lies; by the card as typed.
  void sectionByMouseAndField() {
    for (const SectionWay way : {SectionWay::AcrossX, SectionWay::AcrossY, SectionWay::AcrossZ}) {
      document().setSection({});
      document().setSection(way);
      const CutPlane before = document().section()->plane;
      const auto frame = window_->stage().sectionFrame();
      QVERIFY(frame);
      const QImage there = picture();
      drag(frame->handle, frame->handle + 12 * frame->along);
      const double moved = document().section()->plane.at - before.at;
      QVERIFY2(std::abs(moved - 12) < 2.5 / frame->scale + 0.2,
               qPrintable(QString("way %1: %2").arg(static_cast<int>(way)).arg(moved)));
      QVERIFY(differing(picture(), there) > 500);
    }
    type("sectionAt", "1in-5");
    NEAR(document().section()->plane.at, 20.4, 1e-9);
    // Seen along its normal: up is towards the eye.
    press("viewTop");
    const auto frame = window_->stage().sectionFrame();
    drag(frame->handle, frame->handle + QPointF(0, -20));
    QVERIFY(document().section()->plane.at > 20.4 + 10 / frame->scale);
    // Beside the handle the part is turned, as without one.
    const double at = document().section()->plane.at;
    drag(frame->handle + QPointF(-60, 0), frame->handle + QPointF(-90, 30));
    QCOMPARE(document().section()->plane.at, at);
    document().setSection({});
  }

  // Kept with the view, shown with it, and gone with one that has none.
  void sectionIsKeptWithTheView() {
    press("keepView");
    document().setSection(SectionWay::AcrossY);
    document().sectionAt(3.5);
    press("viewFront");
    press("keepView");
    QCOMPARE(views().size(), std::size_t(2));
    QVERIFY(!views()[0].section && views()[1].section);
    NEAR(views()[1].section->height(Vec3(7, 3.5, 11)), 0.0, 1e-9);
    window_->stage().showKept(views()[0].name);
    QVERIFY(!document().section());
    window_->stage().showKept(views()[1].name);
    QVERIFY(document().section() && document().section()->plane == *views()[1].section);
    QVERIFY(!document().section()->way);
    const auto way = [&] {
      const auto* ways = window_->findChild<QComboBox*>("section");
      return ways ? ways->currentText() : QString();
    };
    QTRY_COMPARE(way(), QString("as in the view"));
    type("sectionAt", "5");
    press("keepView"); // anew, where it is now
    NEAR(views()[1].section->at, 5.0, 1e-9);
    document().setSection({});
  }

  void namedShownAndRemoved() {
    press("keepView");
    document().clearSelection();
    QTest::qWait(50);
    type("viewName0", "Front of the bore");
    QCOMPARE(views()[0].name, std::string("Front of the bore"));
    type("viewCallouts0", "2, 4");
    QCOMPARE(views()[0].callouts.size(), std::size_t(2));
    type("viewCallouts0", "two");
    QVERIFY(told().contains("two"));
    QCOMPARE(views()[0].callouts.size(), std::size_t(2));
    press("viewTop");
    QVERIFY(!window_->stage().keptView());
    click("showView0");
    QVERIFY(window_->stage().keptView());
    press("nextView");
    QVERIFY(!window_->stage().keptView() || views().size() > 1); // behind the last: the whole part
    press("keepView");
    QCOMPARE(views().size(), std::size_t(2));
    click("removeView1");
    click("removeView0");
    QVERIFY(views().empty());
  }
};
ALDER_TEST(ViewsWindowTest)
#include "views_window_test.moc"
