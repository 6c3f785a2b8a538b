#include "base/files.h"
#include "cad_files.h"
#include "operator_driver.h"
#include <QTreeWidget>

using namespace alder;
using namespace alder::app;

// An assembly in the window: what the file hides is left out, other bodies are taken by keyboard.
class BodiesWindowTest : public OperatorDriver {
  Q_OBJECT

  const PartModel& part() { return *document().plan().part; }
  QTreeWidget* tree() { return window_->findChild<QTreeWidget*>("bodies"); }
  QTreeWidgetItem* item(const QString& name) {
    for (QTreeWidgetItemIterator it(tree()); *it; ++it)
      if ((*it)->text(0).startsWith(name)) return *it;
    return nullptr;
  }
  // As a person does it: to the row, Space, Enter.
  void mark(const QString& name) {
    window_->activateWindow();
    press("bodies");
    QTRY_VERIFY(tree() && tree()->hasFocus());
    QTest::keyClick(tree(), Qt::Key_Home);
    for (int k = 0; k < 20 && !tree()->currentItem()->text(0).startsWith(name); ++k)
      QTest::keyClick(tree(), Qt::Key_Down);
    const auto before = tree()->currentItem()->checkState(0);
    QTest::keyClick(tree(), Qt::Key_Space);
    QVERIFY2(tree()->currentItem()->checkState(0) != before,
             qPrintable(tree()->currentItem()->text(0)));
    QTest::keyClick(tree(), Qt::Key_Return);
  }
  void nowLeftOut(std::size_t count) {
    QTRY_VERIFY2_WITH_TIMEOUT(leftOut(part()).size() == count, qPrintable(told()), 20000);
    QVERIFY(idle());
  }

 private slots:
  void initTestCase() {
    qputenv("ALDERPOINT_RUNS", runs_.path().toUtf8());
    makeWindow();
    const QString path = dir_.filePath("gauge.step");
    QVERIFY(writeFile(path.toStdString(), test::assemblyStep()).has_value());
    document().open(path);
    QVERIFY(idle());
  }
  void cleanupTestCase() { window_.reset(); }

  void hiddenIsLeftOut() {
    window_->setDesk(Desk::Part);
    QTRY_VERIFY(tree());
    QVERIFY(cardSays("BODIES (3 OF 4)"));
    QVERIFY(item("tool")->text(0).contains("not shown in the file"));
    QCOMPARE(item("tool")->checkState(0), Qt::Unchecked);
    QCOMPARE(item("pins")->checkState(0), Qt::Checked);
    QCOMPARE(leftOut(part()).size(), std::size_t(1));
  }

  // Nobody has touched the draft: it is made anew.
  void takenByKey() {
    mark("tool");
    nowLeftOut(0);
    QVERIFY(cardSays("BODIES (4 OF 4)"));
    QVERIFY(document().undoText().isEmpty());
    mark("tool");
    nowLeftOut(1);
  }

  // Once something was done it is an edit; a body with features on it stays.
  void undoneAndRefused() {
    const auto face = std::find_if(part().faces.begin(), part().faces.end(), [&](const Face& f) {
      return part().bodies[std::size_t(f.body)].name.starts_with("frame") &&
             f.ideal.direction.z() > 0.9;
    });
    QVERIFY(face != part().faces.end());
    document().selectFaces({face->id});
    press("measureFaces");
    QVERIFY(idle());
    QCOMPARE(document().plan().features.size(), std::size_t(1));
    mark("tool");
    nowLeftOut(0);
    QCOMPARE(document().plan().features.size(), std::size_t(1));
    QVERIFY(document().undoText().contains("Bodies"));
    press("undo");
    QVERIFY(idle());
    QCOMPARE(leftOut(part()).size(), std::size_t(1));
    mark("frame");
    QCOMPARE(leftOut(part()).size(), std::size_t(1));
    QVERIFY2(told().contains("would be left out"), qPrintable(told()));
  }
};

ALDER_TEST(BodiesWindowTest)
#include "bodies_window_test.moc"
