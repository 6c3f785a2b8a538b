#include "support.h"
#include "window_driver.h"

#include "card/fields.h"
#include "shell/menus.h"
#include <QMenuBar>
#include <QSignalSpy>
#include <QTextBlock>
#include <QTextBrowser>
#include <set>

using namespace alder;
using namespace alder::app;

// Keys, menus, help, search, wheel: how the window is worked.
class KeysWindowTest : public WindowDriver {
  Q_OBJECT

  void wheelOver(QWidget* widget) {
    const QPointF at(widget->width() / 2.0, widget->height() / 2.0);
    for (int k = 0; k < 3; ++k) {
      QWheelEvent event(at, widget->mapToGlobal(at), {}, {0, -120}, Qt::NoButton, Qt::NoModifier,
                        Qt::NoScrollPhase, false);
      QApplication::sendEvent(widget, &event);
    }
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void noKeyIsGivenTwice() {
    std::map<QString, QString> given;
    for (QAction* action : window_->findChildren<QAction*>()) {
      for (const QKeySequence& key : action->shortcuts()) {
        const auto [at, fresh] = given.emplace(key.toString(), action->objectName());
        QVERIFY2(fresh, qPrintable(QString("%1: %2 and %3")
                                       .arg(key.toString(), at->second, action->objectName())));
      }
    }
    QVERIFY(given.size() > 40);
  }
  // Each key, pressed as a key on each desk, reaches its action once and no other.
  void everyKeyOnEveryDesk() {
    auto& actions = window_->actions();
    std::vector<QAction*> with_key;
    std::map<QAction*, int> count;
    for (const auto& e : actions.all()) {
      if (e.action->shortcut().isEmpty()) continue;
      QVERIFY(QObject::disconnect(e.action, &QAction::triggered, nullptr, nullptr)); // does nothing now
      connect(e.action, &QAction::triggered, this, [&count, a = e.action] { ++count[a]; });
      with_key.push_back(e.action);
    }
    for (int desk = 0; desk < 5; ++desk) {
      window_->setDesk(static_cast<Desk>(desk));
      for (QAction* action : with_key) action->setEnabled(true);
      window_->stage().setFocus();
      for (QAction* action : with_key) {
        count.clear();
        const QKeyCombination key = action->shortcut()[0];
        QTest::keyClick(window_.get(), key.key(), key.keyboardModifiers());
        QVERIFY2(count[action] == 1 && count.size() == 1,
                 qPrintable(QString("%1 (%2) on desk %3: %4 times, %5 actions")
                                .arg(action->objectName(), action->shortcut().toString())
                                .arg(desk)
                                .arg(count[action])
                                .arg(count.size())));
      }
    }
    // With its own actions again.
    window_.reset();
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void everyActionIsInOneMenu() {
    std::map<QString, int> listed;
    for (const MenuPlan& plan : menuPlans())
      for (const char* id : plan.actions)
        if (*id) {
          ++listed[id];
          QVERIFY2(window_->actions().find(id), id);
        }
    for (const auto& e : window_->actions().all())
      QVERIFY2(listed[e.action->objectName()] == 1, qPrintable(e.action->objectName()));
    QVERIFY(window_->menuBar()->isVisible());
    QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier);
    QVERIFY(!window_->menuBar()->isVisible());
    QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier);
    QVERIFY(window_->menuBar()->isVisible());
  }
  void helpIsOnWhatIsInFocus() {
    window_->setDesk(Desk::Rehearsal);
    window_->stage().setFocus();
    QTest::keyClick(window_.get(), Qt::Key_F1);
    auto* text = window_->findChild<QTextBrowser*>("helpText");
    QVERIFY(text && text->isVisible());
    auto* pane = window_->findChild<HelpPane*>("help");
    QTRY_COMPARE(pane->headingInSight(), QString("Rehearsal"));
    QVERIFY(text->toPlainText().size() > 3000);
    QTest::keyClick(text, Qt::Key_Escape);
    QVERIFY(!text->isVisible());
    window_->sheet().list().setFocus();
    QTest::keyClick(window_.get(), Qt::Key_F1);
    QTRY_COMPARE(pane->headingInSight(), QString("Part"));
    QTest::keyClick(text, Qt::Key_Escape);
    QTest::keyClick(window_.get(), Qt::Key_Slash, Qt::ControlModifier);
    QVERIFY(text->isVisible() && text->toPlainText().contains("Ctrl+Shift+Z"));
    for (const auto& e : window_->actions().all())
      if (!e.action->shortcut().isEmpty())
        QVERIFY2(text->toPlainText().contains(e.action->shortcut().toString()),
                 qPrintable(e.action->objectName()));
    QTest::keyClick(text, Qt::Key_Escape);
  }
  void searchKnowsTheWordsOfTheTrade() {
    auto* box = window_->findChild<QLineEdit*>("commandBox");
    auto* hits = window_->findChild<QListWidget*>("commandResults");
    const std::pair<const char*, const char*> kWords[]{
        {"alignment", "frame"}, {"collision", "clash"},  {"calibrate", "Qualify"},
        {"inspection", "Report"}, {"shortcut", "keys"},  {"optimize", "Order"},
        {"import", "Open"},       {"simulate", "Rehearse"}};
    for (const auto& [typed, found] : kWords) {
      box->setFocus();
      box->clear();
      QTest::keyClicks(box, typed);
      bool any = false;
      for (int i = 0; i < hits->count(); ++i)
        any |= hits->item(i)->text().contains(found, Qt::CaseInsensitive);
      QVERIFY2(any, typed);
    }
    QTest::keyClick(box, Qt::Key_Escape);
  }
  // Over every choice and field of the card, on every desk: the routine stays as it is.
  void theWheelChangesNothing() {
    const auto before = [&] { return routineKey(document().plan()); };
    const std::string key = before();
    int boxes = 0;
    for (int desk = 0; desk < 5; ++desk) {
      window_->setDesk(static_cast<Desk>(desk));
      for (const int balloon : {2, 9, 15}) {
        selectBalloon(balloon);
        QTest::qWait(40);
        auto* area = window_->findChild<QWidget*>("cardArea");
        for (QComboBox* box : area->findChildren<QComboBox*>()) {
          ++boxes;
          for (const bool focus : {false, true}) {
            if (focus) box->setFocus();
            const int index = box->currentIndex();
            wheelOver(box);
            QCOMPARE(box->currentIndex(), index);
          }
        }
        for (QLineEdit* field : area->findChildren<QLineEdit*>()) {
          const QString text = field->text();
          wheelOver(field);
          QCOMPARE(field->text(), text);
        }
      }
    }
    QVERIFY(boxes > 20);
    QCOMPARE(before(), key);
    QVERIFY(document().undoText().isEmpty());
  }
  void recentFiles() {
    const QString path = dir_.filePath("kept.alder");
    QVERIFY(document().save(path));
    auto* recent = window_->findChild<QMenu*>("menuRecent");
    emit recent->aboutToShow();
    QCOMPARE(recent->actions().front()->text(), QString("kept.alder"));
    document().open(data("heron.alder"));
    QVERIFY(idle());
    emit recent->aboutToShow();
    recent->actions().at(1)->trigger();
    QTRY_COMPARE_WITH_TIMEOUT(document().path(), path, 60000);
    QVERIFY(idle());
  }
};
ALDER_TEST(KeysWindowTest)
#include "keys_window_test.moc"
