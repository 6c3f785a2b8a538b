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
    return QTest::qWaitFor([&] { return !w.busy(); }, 120000);
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
    hover(view, window_->stage().project(worst[0].at).toPoint());
    QVERIFY(window_->stage().placeUnderMouse().has_value());
    const auto under = *window_->stage().placeUnderMouse();
    QVERIFY2((under.at - worst[0].at).norm() < 12 && under.off * worst[0].off > 0,
             qPrintable(QString("%1 %2").arg(under.off).arg(worst[0].off)));
    hover(view, QPoint(30, 60));
    QVERIFY(!window_->stage().placeUnderMouse());
    document().undo();
    QVERIFY(idle());
    QVERIFY(window_->stage().worstPlaces(4).empty());
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
