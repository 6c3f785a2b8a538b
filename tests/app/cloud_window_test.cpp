#include "base/files.h"
#include "made_cloud.h"
#include "results/cloud_window.h"
#include "support.h"
#include "window_driver.h"
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

using namespace alder;
using namespace alder::app;

// A scanner's file as a quality engineer brings it in: read, its unit asked, placed, judged, taken,
// undone; stopped on the way; the wrong file.
class CloudWindowTest : public WindowDriver {
  Q_OBJECT

  QString write(const char* name, double scale, std::size_t points = 60000) {
    demo::ScanSettings s;
    s.points = points, s.noise = 0.01, s.motion = test::anyMotion(5);
    demo::Scan scan = demo::scanOf(*document().plan().part, s);
    for (Vec3& p : scan.points)
      p *= scale;
    const QString path = dir_.filePath(name);
    if (!writeFile(path.toStdString(), demo::plyOf(scan, false))) return {};
    return path;
  }
  // As one drops it on the window.
  CloudWindow* dropped(const QString& path) {
    drop(path);
    CloudWindow* found = nullptr;
    const bool there = QTest::qWaitFor(
        [&] {
          for (QWidget* w : QApplication::topLevelWidgets())
            if (auto* c = qobject_cast<CloudWindow*>(w); c && c->isVisible()) found = c;
          return found != nullptr;
        },
        5000);
    return there ? found : nullptr;
  }
  static QString words(CloudWindow& w, const char* name) {
    return w.findChild<QLabel*>(name)->text();
  }
  static bool settled(CloudWindow& w) {
    return QTest::qWaitFor([&] { return !w.busy(); }, 1200000);
  }

  QPoint onScreen(const Vec3& cad) {
    return window_->stage().project(document().plan().placement * cad).toPoint();
  }
  QImage picture() {
    QTest::qWait(300);
    return window_->stage().view().grabFramebuffer();
  }
  // Of a section across X: is the part shown where X is less?
  bool keptBelow(double at) {
    for (const MapPlace& p : window_->stage().worstPlaces(1000))
      if (std::abs(p.at.x() - at) > 0.5) return p.at.x() < at;
    return false;
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }

  void placedJudgedTakenUndone() {
    const std::size_t runs = document().project().runs.size();
    CloudWindow* w = dropped(write("scan-7.ply", 1));
    QVERIFY(w);
    QVERIFY(settled(*w));
    QVERIFY2(words(*w, "cloudAbout").contains("60 000 points"),
             qPrintable(words(*w, "cloudAbout")));
    QCOMPARE(w->findChild<QComboBox*>("cloudUnit")->currentText(), QString("mm"));
    QVERIFY(!w->findChild<QPushButton*>("cloudTake")->isEnabled());
    QTest::keyClick(w->findChild<QPushButton*>("cloudPlace"), Qt::Key_Return);
    QVERIFY(w->busy());
    QVERIFY(settled(*w));
    QVERIFY2(words(*w, "cloudSummary").contains("points used"),
             qPrintable(words(*w, "cloudSummary")));
    auto* table = w->findChild<QTableWidget*>("cloudRequirements");
    QCOMPARE(table->rowCount(), static_cast<int>(document().plan().spec.requirements.size()));
    // A requirement chosen here is chosen everywhere.
    table->setCurrentCell(3, 1);
    QCOMPARE(document().selection().requirement, document().plan().spec.requirements[3].id);
    QCOMPARE(document().project().runs.size(), runs);
    // A requirement goes meanwhile, and comes back.
    document().removeRequirements(); // the one chosen
    QVERIFY(settled(*w));
    QCOMPARE(table->rowCount(), static_cast<int>(document().plan().spec.requirements.size()));
    document().undo();
    QVERIFY(settled(*w));
    QCOMPARE(table->rowCount(), 35);
    QVERIFY(idle());
    w->findChild<QLineEdit*>("cloudName")->setText("part 7");
    QTest::keyClick(w, Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(idle());
    QCOMPARE(document().project().runs.size(), runs + 1);
    QCOMPARE(document().project().runs.back().name, std::string("part-7"));
    QVERIFY(document().unsaved());
    document().undo();
    QCOMPARE(document().project().runs.size(), runs);
    document().redo();
    QCOMPARE(document().project().runs.size(), runs + 1);
    document().undo();
  }

  // The lobes of the demo's boss stand in the stage as tiles, the outermost in the colour of the
  // limit.
  void shownOnThePart() {
    CloudWindow* w = dropped(data("heron-scan.ply"));
    QVERIFY(w);
    QVERIFY(settled(*w));
    QTest::keyClick(w, Qt::Key_Return);
    QVERIFY(settled(*w));
    QTest::keyClick(w, Qt::Key_Return, Qt::ControlModifier);
    window_->setDesk(Desk::Verdict);
    QVERIFY(idle());
    document().selectRequirement(test::balloon(document().plan(), 30).id);
    QVERIFY(idle());
    window_->stage().frameSelection();
    QTest::qWait(500);
    const QImage picture = window_->stage().view().grabFramebuffer();
    const QColor red = theme_->deviationColor(1), blue = theme_->deviationColor(-1);
    int reds = 0, blues = 0;
    const auto like = [](const QColor& a, const QColor& b) {
      return std::abs(a.hsvHue() - b.hsvHue()) < 12 && a.hsvSaturation() > 0.6 * b.hsvSaturation();
    };
    for (int y = 0; y < picture.height(); ++y)
      for (int x = 0; x < picture.width(); ++x) {
        const QColor c = picture.pixelColor(x, y);
        reds += like(c, red), blues += like(c, blue);
      }
    QVERIFY2(reds > 300 && blues > 300, qPrintable(QString("%1 %2").arg(reds).arg(blues)));
    // The farthest places are told, apart from each other, the farthest first.
    const auto worst = window_->stage().worstPlaces(4);
    QVERIFY(worst.size() >= 2);
    for (std::size_t i = 1; i < worst.size(); ++i) {
      QVERIFY(std::abs(worst[i].share) <= std::abs(worst[i - 1].share));
      QVERIFY((worst[i].at - worst[0].at).norm() > 5);
    }
    QVERIFY(std::abs(worst[0].off) > 0.05 && std::abs(worst[0].off) < 0.08);
    // The mouse over one of them tells what is there.
    hover(window_->stage().view(), QPoint(30, 60)); // wherever the pointer stood before
    QVERIFY(!window_->stage().placeUnderMouse());
    QWidget& view = window_->stage().view();
    hover(view, onScreen(worst[0].at));
    QVERIFY(window_->stage().placeUnderMouse().has_value());
    const auto under = *window_->stage().placeUnderMouse();
    QVERIFY2((under.at - worst[0].at).norm() < 12 && under.off * worst[0].off > 0,
             qPrintable(QString("%1 %2").arg(under.off).arg(worst[0].off)));
    hover(view, QPoint(30, 60));
    QVERIFY(!window_->stage().placeUnderMouse());
  }

  // By keys alone: a section, each way in turn; on and back; then by the card and a click.
  void sectionThroughTheMap() {
    const auto press = [&](Qt::Key key) {
      QTest::keyClick(window_.get(), key, Qt::ControlModifier | Qt::AltModifier);
    };
    const QImage before = picture();
    press(Qt::Key_X);
    QVERIFY(document().section().has_value());
    QCOMPARE(document().section()->way, SectionWay::AcrossX);
    // through the worst place
    double worst = 0;
    for (const MapPlace& p : window_->stage().map().places)
      worst = std::max(worst, std::abs(p.share));
    bool there = false;
    for (const MapPlace& p : window_->stage().map().places)
      there |= std::abs(p.share) == worst && (p.at - document().section()->through).norm() < 1e-9;
    QVERIFY(there);
    QVERIFY(differing(before, picture()) > 2000);
    const double at = document().section()->plane.at;
    QTest::keyClick(window_.get(), Qt::Key_Right, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(document().section()->plane.at > at + 0.1);
    QTest::keyClick(window_.get(), Qt::Key_Left, Qt::ControlModifier | Qt::ShiftModifier);
    NEAR(document().section()->plane.at, at, 1e-9);
    for (const MapPlace& p : window_->stage().worstPlaces(4)) // none of what is taken away
      QVERIFY(std::abs(p.at.x() - at) < 1e-5 || (p.at.x() < at) == keptBelow(at));
    // The eye goes to the other side: the other half is taken away.
    window_->stage().look(OcctView::Standard::Right);
    const bool below = keptBelow(at);
    window_->stage().look(OcctView::Standard::Left);
    QVERIFY(keptBelow(at) != below);
    for (const SectionWay way : {SectionWay::AcrossY, SectionWay::AcrossZ,
                                 SectionWay::AcrossFeature, SectionWay::AlongFeature}) {
      press(Qt::Key_X);
      QCOMPARE(document().section()->way, way);
    }
    press(Qt::Key_X);
    QVERIFY(!document().section());
    // by the card
    auto* choice = window_->findChild<QComboBox*>("section");
    QVERIFY(choice);
    choice->setFocus();
    QTest::keyClick(choice, Qt::Key_End);
    QTRY_VERIFY(document().section().has_value());
    QCOMPARE(document().section()->way, SectionWay::AlongFeature);
    document().setSection(SectionWay::AcrossZ);
    QTRY_VERIFY(window_->findChild<QLineEdit*>("sectionAt"));
    auto* field = window_->findChild<QLineEdit*>("sectionAt");
    field->setText("1in+2");
    QTest::keyClick(field, Qt::Key_Return);
    NEAR(document().section()->plane.at, 27.4, 1e-9);
    // by a click on the map
    window_->stage().look(OcctView::Standard::Iso);
    QTest::qWait(300);
    const auto worst_now = window_->stage().worstPlaces(1);
    QVERIFY(!worst_now.empty());
    QTest::mouseClick(&window_->stage().view(), Qt::LeftButton, {}, onScreen(worst_now[0].at));
    QVERIFY2(std::abs(document().section()->plane.at - worst_now[0].at.z()) < 3,
             qPrintable(QString::number(document().section()->plane.at)));
    document().setSection({});
  }

  // What is left out of the map is told, judged all the same, undone, and kept with the routine.
  void areasLeftOutOfTheMap() {
    document().selectRequirement(test::balloon(document().plan(), 30).id);
    QVERIFY(idle());
    const auto places = window_->stage().map().places.size();
    const auto actual = document().evaluation(*document().selection().requirement)->actual;
    QVERIFY(places > 20 && actual);
    QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier | Qt::AltModifier);
    QVERIFY(window_->stage().map().places.empty());
    QVERIFY(window_->stage().leftOut() > 0.99);
    QVERIFY(document().unsaved());
    QTRY_VERIFY(window_->findChild<QPushButton*>("mapAgain0"));
    QTest::keyClick(window_.get(), Qt::Key_X, Qt::ControlModifier | Qt::AltModifier);
    QVERIFY(document().section()); // of the part alone
    document().setSection({});
    QVERIFY(document().evaluation(*document().selection().requirement)->actual == actual);
    document().undo();
    QVERIFY(idle());
    QCOMPARE(window_->stage().map().places.size(), places);
    // about a place that is clicked
    window_->stage().frameSelection();
    QTest::qWait(300);
    const auto worst = window_->stage().worstPlaces(1);
    QTest::mouseClick(&window_->stage().view(), Qt::LeftButton, {}, onScreen(worst[0].at));
    QVERIFY(document().selection().picked.has_value());
    QTRY_VERIFY(window_->findChild<QLineEdit*>("mapRadius"));
    auto* radius = window_->findChild<QLineEdit*>("mapRadius");
    radius->setText("8");
    QTest::keyClick(radius, Qt::Key_Return);
    QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier | Qt::AltModifier);
    QCOMPARE(document().leftOutOfMap().size(), std::size_t{1});
    QVERIFY(window_->stage().map().places.size() < places);
    QVERIFY((window_->stage().worstPlaces(1)[0].at - worst[0].at).norm() > 4);
    document().undo();
    document().undo(); // the cloud itself
    QVERIFY(idle());
    QVERIFY(window_->stage().worstPlaces(4).empty());
    document().redo();
    document().redo();
    QVERIFY(idle());
    const QString path = dir_.filePath("left-out.alder");
    document().save(path);
    QVERIFY(idle());
    document().open(path);
    QVERIFY(idle());
    QCOMPARE(document().leftOutOfMap().size(), std::size_t{1});
    NEAR(document().leftOutOfMap()[0].radius, 8.0, 1e-12);
    QTRY_VERIFY(window_->findChild<QPushButton*>("mapAgain0"));
    window_->findChild<QPushButton*>("mapAgain0")->click();
    QVERIFY(document().leftOutOfMap().empty());
  }

  void unitIsAsked() {
    CloudWindow* w = dropped(write("inch.ply", 1 / 25.4));
    QVERIFY(w);
    QVERIFY(settled(*w));
    auto* unit = w->findChild<QComboBox*>("cloudUnit");
    QCOMPARE(unit->currentText(), QString("in"));
    // A person may be wrong; then it is told.
    unit->setCurrentIndex(unit->findText("mm"));
    QTest::mouseClick(w->findChild<QPushButton*>("cloudPlace"), Qt::LeftButton);
    QVERIFY(settled(*w));
    QVERIFY2(words(*w, "cloudSummary").contains("inch"), qPrintable(words(*w, "cloudSummary")));
    QVERIFY(!w->placed());
    unit->setCurrentIndex(unit->findText("in"));
    QTest::mouseClick(w->findChild<QPushButton*>("cloudPlace"), Qt::LeftButton);
    QVERIFY(settled(*w));
    QVERIFY(w->placed());
    QVERIFY(w->placed()->gathered.rms < 0.02);
    w->close();
  }

  void stoppedAndWrong() {
    CloudWindow* w = dropped(write("again.ply", 1));
    QVERIFY(w);
    QVERIFY(settled(*w));
    auto* reach = w->findChild<QLineEdit*>("cloudReach");
    reach->setText("1 apple");
    QTest::mouseClick(w->findChild<QPushButton*>("cloudPlace"), Qt::LeftButton);
    QVERIFY(!w->busy());
    QVERIFY2(words(*w, "cloudSummary").startsWith("Counts within"),
             qPrintable(words(*w, "cloudSummary")));
    reach->setText("0.05in");
    QTest::mouseClick(w->findChild<QPushButton*>("cloudPlace"), Qt::LeftButton);
    QVERIFY(w->busy());
    QTest::keyClick(w, Qt::Key_Escape);
    QVERIFY(settled(*w));
    QVERIFY(w->isVisible() && !w->placed());
    QTest::keyClick(w, Qt::Key_Escape);
    QTRY_VERIFY(QApplication::topLevelWidgets().indexOf(w) < 0 || !w->isVisible());
    const QString wrong = dir_.filePath("wrong.ply");
    QVERIFY(writeFile(wrong.toStdString(), "ply\nformat ascii 1.0\nelement vertex 3\n"));
    w = dropped(wrong);
    QVERIFY(w);
    QVERIFY(settled(*w));
    QVERIFY2(words(*w, "cloudSummary").contains("wrong.ply"),
             qPrintable(words(*w, "cloudSummary")));
    QVERIFY(!w->findChild<QPushButton*>("cloudPlace")->isEnabled());
    w->close();
  }
};

ALDER_TEST(CloudWindowTest)
#include "cloud_window_test.moc"
