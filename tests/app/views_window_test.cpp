#include "made_parts.h"
#include "made_views.h"
#include "part/pmi/views.h"
#include "part/step_import.h"
#include "part/step_text.h"
#include "window_driver.h"

#include <QMenu>
#include <QTemporaryDir>

using namespace alder;
using namespace alder::app;

// Views that the model's designer saved, and callouts where he drew them.
class ViewsWindowTest : public WindowDriver {
  Q_OBJECT

  test::MadeViews made_;

  const std::vector<PmiView>& views() { return document().plan().part->pmi.views; }
  Vec3 towards() {
    const gp_Dir d = window_->stage().view().view()->Camera()->Direction();
    return {-d.X(), -d.Y(), -d.Z()};
  }
  bool looksAt(std::size_t view) {
    const Vec3 wanted = turn(document().plan().placement, views()[view].towards);
    return QTest::qWaitFor([&] { return (towards() - wanted).norm() < 1e-6; }, 3000);
  }
  void key(int k) { QTest::keyClick(window_.get(), static_cast<Qt::Key>(k), Qt::ControlModifier); }

 private slots:
  void initTestCase() {
    const auto step = test::bracketStep("INCH", 2);
    VERIFY_OK(step);
    const auto part = importStep(*step, "bracket.step");
    VERIFY_OK(part);
    const auto text = StepText::parse(*step);
    VERIFY_OK(text);
    test::ViewsWanted w;
    w.seed = 4;
    w.first_id = text->lastId() + 1;
    w.context = 0;
    for (int id : text->ofType("ADVANCED_BREP_SHAPE_REPRESENTATION"))
      w.context = text->instance(id)->records.front().values[2].reference;
    w.mm_per_unit = 25.4;
    w.part = (*part)->mesh.box().center();
    for (const PmiTolerance& t : (*part)->pmi.tolerances)
      w.requirements.push_back(t.entity);
    made_ = test::madeViews(w);
    QVERIFY(made_.views.size() > 1);
    std::string file = *step;
    file.insert(text->end(), "\n" + made_.records);
    const QString path = dir_.filePath("bracket.step");
    QVERIFY(writeFile(path.toStdString(), file));
    makeWindow();
    document().open(path, data("bench.json"));
    QVERIFY2(QTest::qWaitFor([&] { return document().isOpen(); }, 60000), qPrintable(told()));
    QVERIFY(idle());
    QCOMPARE(views().size(), made_.views.size());
  }
  void cleanupTestCase() { window_.reset(); }

  // One after the other by key, and behind the last the whole part.
  void byKey() {
    for (std::size_t i = 0; i < views().size(); ++i) {
      key(Qt::Key_8);
      QVERIFY(looksAt(i));
      QVERIFY(window_->stage().shownView() == i);
      QVERIFY(told().contains(QString::fromStdString(views()[i].name)));
      QCOMPARE(window_->stage().requirementsOfView().size(), views()[i].shows.size());
      // what the window was saved to show is in the picture
      const ParallelView v = parallelView(views()[i], document().plan().part->mesh.box());
      const QRectF stage(window_->stage().rect());
      const Vec3 right = v.up.cross(v.towards);
      for (const double x : {-0.5, 0.5})
        for (const double y : {-0.5, 0.5}) {
          const Vec3 corner = v.centre + x * v.width * right + y * v.height * v.up;
          const QPointF at = window_->stage().project(document().plan().placement * corner);
          QVERIFY(stage.adjusted(-2, -2, 2, 2).contains(at));
        }
    }
    key(Qt::Key_8);
    QVERIFY(!window_->stage().shownView());
    QVERIFY(told().contains("whole part"));
  }

  // A click on a callout selects its requirement; the callout stands where it was drawn.
  void calloutsArePicked() {
    std::size_t shown = 0;
    while (shown < views().size() && views()[shown].shows.empty())
      ++shown;
    QVERIFY(shown < views().size());
    for (std::size_t i = 0; i <= shown; ++i)
      key(Qt::Key_8);
    QVERIFY(looksAt(shown));
    document().clearSelection();
    QTest::qWait(100); // painted
    int picked = 0;
    for (RequirementId id : window_->stage().requirementsOfView()) {
      const auto at = window_->stage().calloutOf(document().plan().spec.requirement(id));
      QVERIFY(at);
      const QPointF place = window_->stage().project(*at);
      if (!QRectF(window_->stage().rect()).adjusted(120, 60, -120, -80).contains(place)) continue;
      QTest::mouseClick(&window_->stage().view(), Qt::LeftButton, {}, place.toPoint());
      picked += document().selection().requirement == id ? 1 : 0;
      document().clearSelection();
      QTest::qWait(50);
    }
    QVERIFY(picked > 0);
    key(Qt::Key_1); // another look takes the callouts away
    QVERIFY(window_->stage().requirementsOfView().empty());
  }

  void byMenuAndName() {
    auto* menu = window_->findChild<QMenu*>("menuViews");
    QVERIFY(menu);
    emit menu->aboutToShow();
    QCOMPARE(menu->actions().size(), static_cast<int>(views().size()));
    menu->actions().last()->trigger();
    QVERIFY(looksAt(views().size() - 1));
    emit menu->aboutToShow();
    QVERIFY(menu->actions().last()->isChecked());
    QVERIFY(!menu->actions().first()->isChecked());

    auto* box = window_->findChild<QLineEdit*>("commandBox");
    key(Qt::Key_K);
    QTest::keyClicks(box, QString::fromStdString(views().front().name).left(9));
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(looksAt(0));
  }

  // Undoing an edit or removing a shown requirement leaves nothing that is gone on the stage.
  void removedWhileShown() {
    std::size_t shown = 0;
    while (views()[shown].shows.empty())
      ++shown;
    auto* menu = window_->findChild<QMenu*>("menuViews");
    emit menu->aboutToShow();
    menu->actions().at(static_cast<int>(shown))->trigger();
    const auto before = window_->stage().requirementsOfView();
    document().selectRequirement(before.front());
    press("removeRequirements");
    QVERIFY(idle());
    QCOMPARE(window_->stage().requirementsOfView().size(), before.size() - 1);
    QTest::qWait(50);
    undoAll();
    QCOMPARE(window_->stage().requirementsOfView().size(), before.size());
  }

  // Another part has other views, or none.
  void withoutViews() {
    document().open(data("heron.step"), data("bench.json"));
    QVERIFY(idle());
    QVERIFY(!window_->stage().shownView());
    key(Qt::Key_8);
    QVERIFY(told().contains("no saved views"));
    auto* menu = window_->findChild<QMenu*>("menuViews");
    emit menu->aboutToShow();
    QVERIFY(!menu->actions().first()->isEnabled());
  }
};

ALDER_TEST(ViewsWindowTest)
#include "views_window_test.moc"
