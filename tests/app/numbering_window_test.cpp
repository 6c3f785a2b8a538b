#include "requirement/member_numbers.h"
#include "requirements/sheet.h"
#include "support.h"
#include "window_driver.h"
#include <QMouseEvent>

using namespace alder;
using namespace alder::app;

// Requirements are numbered anew by hand, by keys and by dragging them in the sheet.
class NumberingWindowTest : public WindowDriver {
  Q_OBJECT

  QListView& list() { return window_->findChild<RequirementSheet*>()->list(); }
  std::vector<RequirementId> rows() {
    std::vector<RequirementId> all;
    for (int i = 0; i < list().model()->rowCount(); ++i)
      all.push_back(static_cast<RequirementModel*>(list().model())->idAt(i));
    return all;
  }
  int numberOf(RequirementId id) { return document().plan().spec.requirement(id).balloon; }
  QPoint middleOf(int row) { return list().visualRect(list().model()->index(row, 0)).center(); }
  // Pressed on a row and dragged to a place in the list, as events; not let go yet.
  void drag(int row, const QPoint& to) {
    QWidget* on = list().viewport();
    const QPoint from = middleOf(row);
    QTest::mousePress(on, Qt::LeftButton, {}, from);
    const auto move = [&](const QPoint& at) {
      QMouseEvent e(QEvent::MouseMove, at, on->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                    Qt::NoModifier);
      QApplication::sendEvent(on, &e);
    };
    const int way = to.y() > from.y() ? 1 : -1;
    for (const QPoint& at : {from + QPoint(0, 6 * way), from + QPoint(0, 20 * way), to})
      move(at);
  }
  void drop(const QPoint& at) { QTest::mouseRelease(list().viewport(), Qt::LeftButton, {}, at); }
  QPoint above(int row) {
    return {100, list().visualRect(list().model()->index(row, 0)).top() + 2};
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron-clamp.alder"));
    QVERIFY(idle());
    QVERIFY(document().plan().spec.requirements.size() > 20);
  }

  // The sheet stands in the order of the numbers, and Alt with an arrow changes both.
  void byKeys() {
    const auto before = rows();
    selectBalloon(3);
    list().setFocus();
    QTest::keyClick(&list(), Qt::Key_Up, Qt::AltModifier);
    auto after = before;
    std::swap(after[1], after[2]);
    QVERIFY(rows() == after);
    QCOMPARE(numberOf(before[2]), 2);
    QCOMPARE(numberOf(before[1]), 3);
    QVERIFY(document().selection().requirement == before[2]); // goes with it
    QCOMPARE(list().currentIndex().row(), 1);
    QTest::keyClick(&list(), Qt::Key_Down, Qt::AltModifier);
    QVERIFY(rows() == before);
    press("numberLater");
    QCOMPARE(numberOf(before[2]), 4);
    press("numberEarlier");
    QVERIFY(rows() == before);
    // Two at once; at the end they stay.
    document().selectRequirements({before[0], before[1]}, before[0]);
    QTest::keyClick(&list(), Qt::Key_Up, Qt::AltModifier);
    QVERIFY(rows() == before);
    QTest::keyClick(&list(), Qt::Key_Down, Qt::AltModifier);
    QCOMPARE(numberOf(before[2]), 1);
    QCOMPARE(numberOf(before[1]), 3);
    undoAll();
    QVERIFY(rows() == before);
  }

  void byDragging() {
    const auto before = rows();
    drag(4, above(1));
    drop(above(1));
    QCOMPARE(numberOf(before[4]), 2);
    QCOMPARE(numberOf(before[1]), 3);
    QCOMPARE(numberOf(before[3]), 5);
    QCOMPARE(numberOf(before[5]), 6);
    QVERIFY(rows()[1] == before[4]);
    QCOMPARE(rows().size(), before.size()); // nothing is lost
    document().undo();
    QVERIFY(rows() == before);
    // Two together, down; the others close up.
    document().selectRequirements({before[1], before[2]}, before[2]);
    drag(2, above(5));
    drop(above(5));
    QCOMPARE(numberOf(before[3]), 2);
    QCOMPARE(numberOf(before[4]), 3);
    QCOMPARE(numberOf(before[1]), 4);
    QCOMPARE(numberOf(before[2]), 5);
    document().undo();
    // Escape gives up, and a drag to where it stands is no edit.
    drag(4, above(1));
    QTest::keyClick(&list(), Qt::Key_Escape);
    drop(above(1));
    QVERIFY(rows() == before);
    drag(4, above(4));
    drop(above(4));
    QVERIFY(rows() == before);
    QVERIFY(document().undoText().isEmpty());
    // A click still selects.
    QTest::mouseClick(list().viewport(), Qt::LeftButton, {}, middleOf(2));
    QVERIFY(document().selection().requirement == before[2]);
  }

  // Each feature of a selected pattern has its number in the stage; a single one has none.
  void membersInTheStage() {
    const auto shot = [&](RequirementId id) {
      document().selectRequirement(id);
      QTest::qWait(100);
      return window_->grab().toImage();
    };
    for (const Requirement& r : document().plan().spec.requirements)
      if (r.kind == Characteristic::Position && r.features.size() > 2) {
        const auto index = static_cast<RequirementModel*>(list().model())->rowOf(r.id);
        const QString tip = list().model()->index(index, 0).data(Qt::ToolTipRole).toString();
        for (const std::string& number : memberNumbers(r))
          QVERIFY2(tip.contains(QString::fromStdString(number)), qPrintable(tip));
        // A chip stands beside each, and is gone once another is selected.
        const RequirementId first = document().plan().spec.requirements.front().id;
        QVERIFY(memberNumbers(document().plan().spec.requirement(first)).empty());
        const QImage with = shot(r.id), without = shot(first);
        const auto& stage = window_->stage();
        for (const FeatureId f : r.features) {
          const QPoint at =
              window_->stage().mapTo(window_.get(), stage.project(stage.anchorOf(f)).toPoint());
          int other = 0;
          for (int x = at.x() - 60; x <= at.x() + 60; ++x)
            for (int y = at.y() - 30; y <= at.y() + 30; ++y)
              if (with.rect().contains(x, y)) other += with.pixel(x, y) != without.pixel(x, y);
          QVERIFY2(other > 300, qPrintable(QString("%1 at %2 %3")
                                               .arg(other)
                                               .arg(at.x())
                                               .arg(at.y()))); // a chip has some 600
        }
        return;
      }
    QFAIL("no pattern");
  }
};

ALDER_TEST(NumberingWindowTest)
#include "numbering_window_test.moc"
