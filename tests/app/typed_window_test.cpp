#include "support.h"
#include "window_driver.h"
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <STEPControl_Writer.hxx>

using namespace alder;
using namespace alder::app;

// A part without tolerances: requirements are typed on what is picked, by the keyboard, one after
// the other, while the way to the earlier ones is still looked for.
class TypedWindowTest : public WindowDriver {
  Q_OBJECT

  QLineEdit* line() { return window_->findChild<QLineEdit*>("typed"); }
  QString says() { return window_->findChild<QLabel*>("typeSays")->text(); }
  void write(const QString& text) {
    QTest::keyClicks(line(), text);
    QTest::keyClick(line(), Qt::Key_Return);
  }
  // Of the part, whether there is a feature of it or not.
  void pick(SurfaceType type, double diameter, bool add = false) {
    for (const Surface& s : document().plan().part->surfaces) {
      if (s.ideal.type != type || (diameter > 0 && std::abs(s.ideal.diameter - diameter) > 1e-6))
        continue;
      for (const NominalFeature& f : document().plan().spec.features)
        if (f.faces == s.faces) {
          auto features = add ? document().selection().features : std::vector<FeatureId>{};
          features.push_back(f.id);
          return document().selectFeatures(features);
        }
      auto faces = add ? document().selection().faces : std::vector<FaceId>{};
      faces.push_back(s.faces.front());
      return document().selectFaces(faces);
    }
    QFAIL("no such face");
  }
  bool settled() {
    return QTest::qWaitFor(
        [this] {
          return document().typedWaiting() == 0 && !document().jobs().busy() && document().routed();
        },
        300000);
  }
  QStringList requirements() {
    QStringList all;
    for (const Requirement& r : document().plan().spec.requirements)
      all.append(QString::fromStdString(describe(document().plan().spec, r)));
    return all;
  }

 private slots:
  void initTestCase() {
    makeWindow();
    STEPControl_Writer writer;
    QCOMPARE(writer.Transfer(test::heron()->shape, STEPControl_AsIs), IFSelect_RetDone);
    const QString path = dir_.filePath("bare.step");
    QCOMPARE(writer.Write(path.toStdString().c_str()), IFSelect_RetDone);
    document().open(path, data("bench.json"));
    QVERIFY(idle());
    QVERIFY(document().plan().spec.requirements.empty());
  }

  // What is recognised is listed; picked there it is picked in the stage, and typed on at once.
  void recognisedFeaturesAreListed() {
    auto* list = window_->findChild<QListWidget*>("recognisedList");
    QVERIFY(list && list->isVisible() && list->count() > 10);
    const auto rowOf = [&](const QString& words) -> QListWidgetItem* {
      const auto found = list->findItems(words, Qt::MatchStartsWith);
      return found.size() == 1 ? found.front() : nullptr;
    };
    auto* holes = rowOf("6 × Bore ø11 on ø");
    QVERIFY(holes && rowOf("Bore ø32"));
    list->setFocus();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(holes).center());
    QCOMPARE(document().selection().faces.size(), std::size_t{6});
    // The other way round.
    pick(SurfaceType::Cylinder, 32);
    QCOMPARE(list->selectedItems().size(), 1);
    QVERIFY(list->selectedItems().front()->text().startsWith("Bore ø32, "));
    // By keys alone: an arrow, Return, the text; it leaves the list.
    const int rows = list->count();
    list->setFocus();
    QTest::keyClick(list, Qt::Key_Home);
    for (int row = 0; row < list->row(holes); ++row)
      QTest::keyClick(list, Qt::Key_Down);
    QVERIFY(holes->isSelected() && list->selectedItems().size() == 1);
    QTest::keyClick(list, Qt::Key_Return);
    QVERIFY(line()->isVisible() && line()->hasFocus());
    write("ø11 +0.2/0");
    QVERIFY(settled());
    QVERIFY2(!document().plan().spec.requirements.empty(),
             qPrintable(line()->text() + "|" + says() + "|" + told()));
    QCOMPARE(document().plan().spec.requirements.back().features.size(), std::size_t{6});
    QCOMPARE(list->count(), rows - 1);
    QVERIFY(!rowOf("6 × Bore ø11"));
    document().undo();
    QVERIFY(settled());
    QCOMPARE(list->count(), rows);
    QTest::keyClick(line(), Qt::Key_Escape);
    document().clearSelection();
  }

  void oneAfterTheOther() {
    pick(SurfaceType::Cylinder, 32);
    QTest::keyClick(window_.get(), Qt::Key_T);
    QVERIFY(line()->isVisible() && line()->hasFocus());
    QVERIFY2(says().contains("32 mm"), qPrintable(says())); // what the model has
    write("H7");
    QVERIFY(line()->text().isEmpty() && line()->isVisible());
    // Without waiting for anything.
    pick(SurfaceType::Cylinder, 11);
    QVERIFY(line()->hasFocus());
    QVERIFY2(says().contains("6x"), qPrintable(says()));
    write("6x ø11 +0.2/0");
    pick(SurfaceType::Plane, 0);
    write("flat 0,02");
    write("datum A");
    QVERIFY(document().typedWaiting() > 0);
    QVERIFY(settled());
    QCOMPARE(requirements(), QStringList({"ø32 H7 +0.025/0", "ø11 +0.2/0", "flatness 0.02"}));
    QCOMPARE(document().plan().spec.requirements[1].features.size(), std::size_t{6});
    QCOMPARE(document().plan().spec.datums.size(), std::size_t{1});
    QCOMPARE(document().plan().spec.features.size(), std::size_t{8});
    for (const Feature& f : document().plan().features)
      QVERIFY(!f.touches.empty());
    // And on features that are there by now, with the datum.
    pick(SurfaceType::Cylinder, 32);
    write("perp ø0.03 A");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("perpendicularity ø0.03 | A"));
    QVERIFY2(told().contains("perpendicularity"), qPrintable(told()));
  }

  void whatIsNotUnderstoodIsKept() {
    const auto before = requirements();
    pick(SurfaceType::Cylinder, 32);
    write("32 H7x");
    QCOMPARE(line()->text(), QString("32 H7x"));
    QVERIFY2(says().contains("<u>x</u>") && says().contains("not understood"), qPrintable(says()));
    QVERIFY(line()->property("bad").toBool());
    line()->clear();
    write("33 H7"); // told, and taken if a person wants it so
    QVERIFY(settled());
    QVERIFY2(told().contains("the model has 32 mm"), qPrintable(told()));
    document().undo();
    QVERIFY(settled());
    QCOMPARE(requirements(), before);
    document().clearSelection();
    write("32 H7");
    QVERIFY2(says().contains("Select"), qPrintable(says()));
    QCOMPARE(requirements(), before);
    line()->clear();
  }

  void broughtBackAndInInches() {
    pick(SurfaceType::Cylinder, 32);
    QTest::keyClick(line(), Qt::Key_Up);
    QCOMPARE(line()->text(), QString("33 H7"));
    QTest::keyClick(line(), Qt::Key_Up);
    QCOMPARE(line()->text(), QString("perp ø0.03 A"));
    QTest::keyClick(line(), Qt::Key_Down);
    QTest::keyClick(line(), Qt::Key_Down);
    QVERIFY(line()->text().isEmpty());
    QTest::keyClick(line(), Qt::Key_U, Qt::ControlModifier);
    QVERIFY(window_->findChild<QLabel*>("typeTarget")->text().contains("inch"));
    write("1.2598 ±.004");
    QVERIFY(settled());
    const Requirement& r = document().plan().spec.requirements.back();
    NEAR(r.nominal, 1.2598 * 25.4, 1e-9);
    NEAR(r.upper - r.lower, 0.008 * 25.4, 1e-9);
    QTest::keyClick(line(), Qt::Key_U, Qt::ControlModifier);
    document().undo();
    QVERIFY(settled());
  }

  // A routing that begins in between does not lose what waits.
  void othersWorkDoesNotLoseIt() {
    pick(SurfaceType::Sphere, 0);
    const auto before = document().plan().spec.requirements.size();
    write("±0.05");
    QVERIFY(document().typedWaiting() > 0);
    document().rehearseAgain();
    QVERIFY(settled());
    QCOMPARE(document().plan().spec.requirements.size(), before + 1);
    QVERIFY2(requirements().back().startsWith("Sø"), qPrintable(requirements().back()));
  }

  // Chosen once; shown as inherited; followed; and its own where it is written in the card.
  void generalTolerancesAreInherited() {
    pick(SurfaceType::Cylinder, 32);
    write("32");
    QVERIFY2(says().contains("general tolerances"), qPrintable(says()));
    line()->clear();
    document().clearSelection();
    choose("general", "ISO 2768-m");
    pick(SurfaceType::Cylinder, 32);
    write("32");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32 ±0.3 by ISO 2768-m"));
    document().clearSelection();
    choose("general", "ISO 2768-c");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32 ±0.8 by ISO 2768-c"));
    const RequirementId id = document().plan().spec.requirements.back().id;
    document().selectRequirement(id);
    QVERIFY(cardSays("come from the general tolerances, ISO 2768-c"));
    type("upper", "32.1");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32 +0.1/-0.8"));
    document().undo();
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32 ±0.8 by ISO 2768-c"));
    document().clearSelection();
    choose("general", "by number of decimals");
    QVERIFY(settled());
    QVERIFY2(told().contains("keeps its limits as its own"), qPrintable(told()));
    QCOMPARE(requirements().back(), QString("ø32 ±0.8"));
    document().undo();
    document().undo();
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32 ±0.3 by ISO 2768-m"));
  }

  // A class for geometry: typed without a figure, shown as inherited, its own where one is written.
  void generalGeometryIsInherited() {
    document().clearSelection();
    choose("generalGeometry", "ISO 2768-2 K");
    pick(SurfaceType::Plane, 0);
    write("flatness");
    QVERIFY(settled());
    QVERIFY2(requirements().back().endsWith(" by ISO 2768-mK"), qPrintable(requirements().back()));
    const Requirement made = document().plan().spec.requirements.back();
    document().clearSelection();
    choose("generalGeometry", "ISO 2768-2 L");
    QVERIFY(settled());
    const Requirement& coarse = document().plan().spec.requirements.back();
    NEAR(coarse.tolerance, 2 * made.tolerance, 1e-12);
    document().selectRequirement(coarse.id);
    QVERIFY(cardSays("comes from the general tolerances, ISO 2768-mL"));
    type("tolerance", "0.07");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("flatness 0.07"));
    document().undo();
    QVERIFY(settled());
    // By no class the text does not stand.
    document().clearSelection();
    choose("generalGeometry", "none");
    QVERIFY(settled());
    pick(SurfaceType::Plane, 0);
    write("perp A");
    QVERIFY(!line()->text().isEmpty());
    line()->clear();
    document().undo();
    QVERIFY(settled());
  }

  // A table of one's own, pasted; a row that is wrong is told and stays as it is typed.
  void generalTableIsPasted() {
    document().clearSelection();
    choose("general", "by size, own table");
    auto* table = field<QPlainTextEdit>("generalTable");
    QVERIFY(table);
    table->setFocus();
    table->selectAll();
    QGuiApplication::clipboard()->setText("Size\tTolerance\n6\t0,1\n5\t0,2\n");
    table->paste();
    QTest::keyClick(table, Qt::Key_Return, Qt::ControlModifier);
    QTRY_VERIFY2(told().contains("Line 3: 5 is not above"), qPrintable(told()));
    QVERIFY(table->toPlainText().contains("5\t0,2"));
    QVERIFY(document().plan().spec.general.by_size.empty());
    // Nothing typed is lost by looking elsewhere; Escape gives it back.
    pick(SurfaceType::Cylinder, 32);
    QVERIFY(!field<QPlainTextEdit>("generalTable"));
    document().clearSelection();
    table = field<QPlainTextEdit>("generalTable");
    QVERIFY(table && table->toPlainText().contains("5\t0,2"));
    table->setFocus();
    QTest::keyClick(table, Qt::Key_Escape);
    QVERIFY(table->toPlainText().isEmpty());
    QGuiApplication::clipboard()->setText("Size\tTolerance\n6\t0,1\n40\t0,25\n");
    table->paste();
    QTest::keyClick(table, Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(settled());
    QCOMPARE(document().plan().spec.general.by_size.size(), std::size_t{2});
    pick(SurfaceType::Cylinder, 32);
    write("32");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32 ±0.25 by table"));
    document().undo();
    document().undo();
    document().undo();
    QVERIFY(settled());
  }

  // MAX and MIN, in the line and in the card.
  void singleLimits() {
    pick(SurfaceType::Cylinder, 32);
    write("ø32.05 MAX");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32.05 MAX"));
    const RequirementId id = document().plan().spec.requirements.back().id;
    document().selectRequirement(id);
    QCOMPARE(field<QLineEdit>("lower")->text(), QString("none"));
    type("lower", "31.9");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32.05 ±0/-0.15").replace("±0", "0"));
    type("upper", "");
    QVERIFY(settled());
    QCOMPARE(requirements().back(), QString("ø32.05 -0.15 MIN"));
    type("lower", "none"); // neither is no requirement
    QTRY_VERIFY2(told().contains("At least one"), qPrintable(told()));
    QTRY_COMPARE(field<QLineEdit>("lower")->text(), QString("31.9000 mm"));
    QCOMPARE(requirements().back(), QString("ø32.05 -0.15 MIN"));
    for (int i = 0; i < 3; ++i)
      document().undo();
    QVERIFY(settled());
  }

  // A person who cancels is not overruled, and is told what was not added.
  void cancelledIsNotAdded() {
    pick(SurfaceType::Cone, 0);
    const auto before = requirements();
    write("round 0.05");
    QVERIFY(document().typedWaiting() > 0);
    QVERIFY(document().unsaved());
    document().jobs().cancel();
    QVERIFY(QTest::qWaitFor([this] { return document().typedWaiting() == 0; }, 5000));
    QTRY_VERIFY2(told().contains("1 typed requirement was not added"), qPrintable(told()));
    QTest::qWait(300);
    QVERIFY(!document().jobs().busy()); // nor begun again
    QCOMPARE(requirements(), before);
    document().rehearseAgain();
    QVERIFY(settled());
  }

  void leftByEscape() {
    QTest::keyClick(line(), Qt::Key_Escape);
    QVERIFY(!line()->isVisible());
    const auto before = requirements();
    QTest::keyClick(window_.get(), Qt::Key_T);
    QVERIFY(line()->isVisible());
    window_->setDesk(Desk::Routine);
    QVERIFY(!line()->isVisible());
    QCOMPARE(requirements(), before);
    // All of it taken back, step by step.
    while (!document().undoText().isEmpty())
      document().undo();
    QVERIFY(settled());
    QVERIFY(requirements().isEmpty());
    QVERIFY(document().plan().spec.features.empty());
  }
};

ALDER_TEST(TypedWindowTest)
#include "typed_window_test.moc"
