// Drives the real window as a user would and looks at its state and its picture.
#pragma once

#include "base/files.h"
#include "plan/steps/step_edit.h"
#include "registry.h"
#include "shell/main_window.h"
#include <QApplication>
#include <QComboBox>
#include <QDropEvent>
#include <QLabel>
#include <QMimeData>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>

namespace alder::app {

class WindowDriver : public QObject {
 protected:
  std::unique_ptr<Theme> theme_;
  std::unique_ptr<MainWindow> window_;
  QTemporaryDir dir_;

  Document& document() { return window_->document(); }
  static QString data(const char* name) {
    return QString::fromStdString((dataFolder() / "demo" / "data" / name).string());
  }
  bool idle() {
    return QTest::qWaitFor(
        [this] {
          return !document().jobs().busy() && !document().judging() && document().routed();
        },
        600000);
  }
  void press(const char* action) { window_->actions().find(action)->trigger(); }
  template <class W> W* field(const char* name) {
    QTest::qWait(30); // the card follows the selection a moment later
    return window_->findChild<W*>(name);
  }
  void type(const char* name, const QString& text) {
    auto* edit = field<QLineEdit>(name);
    QVERIFY2(edit, name);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClick(edit, Qt::Key_Delete);
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
  }
  void choose(const char* name, const QString& words) {
    auto* box = field<QComboBox>(name);
    QVERIFY2(box, name);
    const int index = box->findText(words);
    QVERIFY2(index >= 0, qPrintable(words));
    box->setCurrentIndex(index);
    emit box->activated(index);
    QVERIFY(idle());
  }
  void click(const char* name) {
    auto* button = field<QPushButton>(name);
    QVERIFY2(button, name);
    QTest::mouseClick(button, Qt::LeftButton);
    QVERIFY(idle());
    QTest::qWait(30);
  }
  // The foot itself shows a job that begins later, which on a busy machine may be soon.
  QString told() { return window_->lastTold(); }
  // Pixels of two pictures that are not the same.
  static int differing(const QImage& a, const QImage& b) {
    int count = 0;
    for (int y = 0; y < std::min(a.height(), b.height()); ++y)
      for (int x = 0; x < std::min(a.width(), b.width()); ++x)
        count += a.pixel(x, y) != b.pixel(x, y);
    return count;
  }
  void undoAll() {
    while (!document().undoText().isEmpty())
      document().undo();
    QVERIFY(idle());
  }
  // Findings about the bench come a moment after the edit.
  bool cardSays(const QString& words) {
    return QTest::qWaitFor(
        [&] {
          const auto labels = window_->findChild<QWidget*>("cardArea")->findChildren<QLabel*>();
          return std::any_of(labels.begin(), labels.end(),
                             [&](QLabel* label) { return label->text().contains(words); });
        },
        3000);
  }
  std::vector<FeatureId> measured() { return measuringOrder(document().plan().steps); }
  // A block of the timeline to just before another's.
  void dragBefore(FeatureId moved, FeatureId target) {
    auto& timeline = window_->timeline();
    const QPoint from = timeline.blockOf(moved).center().toPoint(),
                 to(static_cast<int>(timeline.blockOf(target).left()) + 2, from.y());
    QTest::mousePress(&timeline, Qt::LeftButton, {}, from);
    QTest::mouseMove(&timeline, from + QPoint(-10, 0));
    QTest::mouseMove(&timeline, to);
    QTest::mouseRelease(&timeline, Qt::LeftButton, {}, to);
    QVERIFY(idle());
  }
  // A file, as one drops it on the window.
  void drop(const QString& path) {
    QMimeData mime;
    mime.setUrls({QUrl::fromLocalFile(path)});
    QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window_.get(), &enter);
    QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window_.get(), &drop);
  }
  static QDialog* modal() { return qobject_cast<QDialog*>(QApplication::activeModalWidget()); }
  // Does so once what a program comes to is shown, in the loop of that dialog.
  void whenProposed(QTimer& poll, bool& seen, const std::function<void(QDialog&)>& then) {
    connect(&poll, &QTimer::timeout, this, [&, then] {
      if (seen || !modal() || modal()->objectName() != "programProposal") return;
      seen = true;
      poll.stop();
      then(*modal());
    });
    poll.start(20);
  }
  // The mouse moved without a button, as an event: the pointer itself is one for all tests that run
  // at a time on a screen.
  static void hover(QWidget& over, const QPoint& at) {
    QMouseEvent move(QEvent::MouseMove, at, over.mapToGlobal(at), Qt::NoButton, Qt::NoButton,
                     Qt::NoModifier);
    QApplication::sendEvent(&over, &move);
  }
  // As numbered in the sheet; ids are not given again and count further.
  RequirementId balloon(int number) {
    for (const Requirement& r : document().plan().spec.requirements)
      if (r.balloon == number) return r.id;
    return {};
  }
  void selectBalloon(int number) { document().selectRequirement(balloon(number)); }
  // Share of stage pixels that differ from the upper left corner by more than a little.
  double filled(const QRect& part = {}) {
    const QImage image = window_->stage().view().grabFramebuffer();
    const QRect area = part.isNull() ? image.rect() : part;
    int other = 0;
    for (int y = area.top(); y <= area.bottom(); ++y) {
      const QColor edge = image.pixelColor(2, y);
      for (int x = area.left(); x <= area.right(); ++x) {
        const QColor c = image.pixelColor(x, y);
        other += std::abs(c.red() - edge.red()) + std::abs(c.green() - edge.green()) +
                     std::abs(c.blue() - edge.blue()) >
                 40;
      }
    }
    return static_cast<double>(other) / (area.width() * area.height());
  }

  void makeWindow() {
    // Not among the runs of whoever runs the tests.
    if (qEnvironmentVariableIsEmpty("ALDERPOINT_RUNS"))
      qputenv("ALDERPOINT_RUNS", (dir_.path() + "/runs").toUtf8());
    if (qEnvironmentVariableIsEmpty("ALDERPOINT_STATE"))
      qputenv("ALDERPOINT_STATE", (dir_.path() + "/unsaved").toUtf8());
    if (!theme_) {
      auto theme = Theme::load(false);
      QVERIFY(theme.has_value());
      theme_ = std::make_unique<Theme>(*theme);
    }
    window_ = std::make_unique<MainWindow>(*theme_);
    window_->resize(1280, 800);
    window_->show();
    QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
    QApplication::setActiveWindow(window_.get()); // there is no window manager to do so
  }
};

} // namespace alder::app
