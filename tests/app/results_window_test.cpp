#include "exchange/results/result_file.h"
#include "made_results.h"
#include "results/results_window.h"
#include "window_driver.h"
#include <QDrag>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>

using namespace alder;
using namespace alder::app;
using alder::test::MadeResultFile;
using alder::test::madeResultFile;

// A file of results as a quality engineer brings it in: looked at, pointed at, matched, taken,
// undone; and the next one of its kind.
class ResultsWindowTest : public WindowDriver {
  Q_OBJECT

  ResultsWindow* results() {
    ResultsWindow* found = nullptr;
    const bool there = QTest::qWaitFor(
        [&] {
          for (QWidget* w : QApplication::topLevelWidgets())
            if (auto* r = qobject_cast<ResultsWindow*>(w); r && r->isVisible()) found = r;
          return found != nullptr;
        },
        20000);
    return there ? found : nullptr;
  }
  QString write(const char* name, const std::string& bytes) {
    const QString path = dir_.filePath(name);
    if (!writeFile(path.toStdString(), bytes)) return {};
    return path;
  }
  ResultsWindow* opened(const char* name, const std::string& bytes) {
    document().readResults(write(name, bytes));
    return results();
  }
  static MatchTable& table(ResultsWindow& w) { return *w.findChild<MatchTable*>(); }
  static ResultTextView& lines(ResultsWindow& w) { return *w.findChild<ResultTextView*>(); }
  static QString cell(ResultsWindow& w, int row, int column) {
    return table(w).model()->index(row, column).data().toString();
  }
  static int waiting(ResultsWindow& w) {
    int count = 0;
    for (std::size_t p = 0; p < w.file().read.parts.size(); ++p)
      for (const ResultMatch& m : w.matches(p).matches)
        count += m.requirement.valid() && !m.settled();
    return count;
  }
  void closeResults() {
    for (QWidget* w : QApplication::topLevelWidgets())
      if (auto* r = qobject_cast<ResultsWindow*>(w)) r->close();
    QTest::qWait(20);
  }
  // Chooses what the words are from the menu that pops up, by its keys.
  void chooseRole(const char* role, const std::function<void()>& ask) {
    bool chosen = false;
    QTimer::singleShot(100, this, [&] {
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      if (!menu) return;
      for (QAction* a : menu->actions())
        if (a->objectName() == role) {
          menu->setActiveAction(a);
          chosen = true;
        }
      QTest::keyClick(menu, chosen ? Qt::Key_Return : Qt::Key_Escape);
    });
    ask();
    QTest::qWait(150);
    QVERIFY2(chosen, role);
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void init() { document().clearSelection(); }
  void cleanup() {
    closeResults();
    undoAll();
  }
  void cleanupTestCase() { window_.reset(); }

  // What a file holds is seen before anything changes; taken, it is a part like any other.
  void takenAndUndone() {
    const MadeResultFile made = madeResultFile(0, document().plan().spec, 3);
    const auto parts = document().runs().size();
    ResultsWindow* w = opened("german.csv", made.bytes);
    QVERIFY(w);
    QCOMPARE(table(*w).model()->rowCount(), static_cast<int>(made.parts[0].values.size()));
    QCOMPARE(document().runs().size(), parts);
    // A value that is chosen shows its line and its requirement.
    int row = 0;
    while (!w->matches(0).matches[static_cast<std::size_t>(row)].requirement.valid())
      ++row;
    table(*w).selectRow(row);
    QCOMPARE(lines(*w).line() + 1,
             static_cast<std::size_t>(cell(*w, row, MatchModel::Line).toInt()));
    QVERIFY(document().selection().requirement ==
            w->matches(0).matches[static_cast<std::size_t>(row)].requirement);
    QTest::keyClick(w, Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), parts + 1);
    const JudgedRun* run = document().currentRun();
    QCOMPARE(run->name, made.parts[0].serial);
    int judged = 0;
    for (const auto& [id, verdict] : run->verdicts)
      judged += verdict.actual.has_value();
    QVERIFY(judged > 25);
    QVERIFY(document().unsaved());
    // The card says where the figure comes from.
    window_->setDesk(Desk::Verdict);
    document().selectRequirement(document().plan().spec.requirements[1].id);
    QVERIFY(cardSays("german.csv"));
    document().undo();
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), parts);
    document().redo();
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), parts + 1);
    // Saved and opened again it is there, and its file too.
    const QString path = dir_.filePath("kept.alder");
    QVERIFY(document().save(path));
    const auto back = openProject(path.toStdString());
    QVERIFY(back.has_value());
    QCOMPARE(*back->brought.files.back().bytes, made.bytes);
    document().undo();
  }

  // A file of no known kind that is not understood: the word is pointed at.
  void pointedAt() {
    const std::string bytes = "Nr;Text;Wert A;Wert B\n1;Bore ø32;32.010;32.010\n"
                              "2;Bore ø8;8.010;8.010\n3;Slot;6.050;6.050\n";
    ResultsWindow* w = opened("odd.csv", bytes);
    QVERIFY(w);
    ResultTextView& view = lines(*w);
    view.setFocus();
    // To the second line by keys, then to its last word.
    QTest::keyClick(&view, Qt::Key_Home, Qt::ControlModifier);
    QTest::keyClick(&view, Qt::Key_Down);
    QTest::keyClick(&view, Qt::Key_End);
    chooseRole("actual", [&] { QTest::keyClick(&view, Qt::Key_Return); });
    const auto actual_cell = [&] {
      for (const LineRule& r : w->file().kind.rules)
        for (const KindField& f : r.fields)
          if (f.role == ResultRole::Actual) return f.place.first;
      return -99;
    };
    QCOMPARE(actual_cell(), 3);
    // And by the mouse, what stands before it is the nominal.
    const std::size_t third = w->file().text.lines[3].find("6.050");
    chooseRole("nominal", [&] {
      QTest::mouseClick(view.viewport(), Qt::LeftButton, {}, view.pointOf(3, third));
    });
    QCOMPARE(*w->file().read.parts[0].values[0].nominal, 32.01);
    QCOMPARE(*w->file().read.parts[0].values[2].actual, 6.05);
  }

  // Requirements are laid on values by balloon number, removed, let stand, dragged.
  void matchesChanged() {
    const std::string bytes = "Name;Nominal;Actual\ngauge 1;0;0.013\ngauge 2;0;0.017\n";
    ResultsWindow* w = opened("gauges.csv", bytes);
    QVERIFY(w);
    MatchTable& t = table(*w);
    t.setFocus();
    t.selectRow(0);
    t.setCurrentIndex(t.model()->index(0, MatchModel::For));
    QTest::keyClicks(&t, "1");
    auto* box = w->findChild<QComboBox*>("requirementChoice");
    QVERIFY(box);
    QTest::keyClick(box, Qt::Key_Return);
    QTest::qWait(30);
    const RequirementId first = test::balloon(document().plan(), 1).id;
    QVERIFY(w->matches(0).matches[0].requirement == first);
    QVERIFY(w->matches(0).matches[0].decided);
    t.setFocus();
    t.setCurrentIndex(t.model()->index(0, MatchModel::For));
    QTest::keyClick(&t, Qt::Key_Delete);
    QVERIFY(!w->matches(0).matches[0].requirement.valid());
    // Dropped from the list of those without a value.
    auto* missing = w->findChild<QListWidget*>("resultMissing");
    const std::unique_ptr<QMimeData> dragged(
        missing->model()->mimeData({missing->model()->index(0, 0)}));
    const int id = missing->item(0)->data(Qt::UserRole).toInt();
    t.model()->dropMimeData(dragged.get(), Qt::MoveAction, -1, -1, t.model()->index(1, 2));
    QCOMPARE(w->matches(0).matches[1].requirement.value, id);
    // Space lets stand what speaks against it, and takes that back.
    if (!w->matches(0).matches[1].settled()) {
      t.setCurrentIndex(t.model()->index(1, MatchModel::For));
      QTest::keyClick(&t, Qt::Key_Space);
      QVERIFY(w->matches(0).matches[1].settled());
      QTest::keyClick(&t, Qt::Key_Space);
      QVERIFY(!w->matches(0).matches[1].settled());
    }
    QTest::keyClick(w, Qt::Key_Escape);
    QVERIFY(!w->isVisible() || !results());
  }

  // What was let stand for one reading of the file is told again for another.
  void anotherUnit() {
    const std::string bytes = "Name;Nominal;Upper;Lower;Actual\nBore ø32 diameter;32.000;32.025;"
                              "31.990;32.012\nBore ø8 diameter;8.000;8.022;8.000;8.010\n";
    ResultsWindow* w = opened("unit.csv", bytes);
    QVERIFY(w);
    QCOMPARE(waiting(*w), 1); // the lower limit
    QTest::mouseClick(w->findChild<QPushButton*>("resultLetStand"), Qt::LeftButton);
    QCOMPARE(waiting(*w), 0);
    auto* unit = w->findChild<QComboBox*>("resultUnit");
    unit->setCurrentIndex(1);
    emit unit->activated(1);
    for (const ResultMatch& m : w->matches(0).matches)
      QVERIFY(!m.settled());
  }

  // What a person decided for the first file of a kind, the second is not asked about.
  void secondFile() {
    const auto& spec = document().plan().spec;
    const MadeResultFile first = madeResultFile(3, spec, 6, 0, true),
                         second = madeResultFile(3, spec, 6, 500, true);
    ResultsWindow* w = opened("first.txt", first.bytes);
    QVERIFY(w);
    QVERIFY(waiting(*w) > 0);
    w->findChild<QLineEdit*>("resultKindName")->setText("Gate 4");
    // The values that wait, one by one, as a person who knows the part would.
    for (int guard = 0; waiting(*w) > 0 && guard < 300; ++guard) {
      QTest::keyClick(w, Qt::Key_J, Qt::ControlModifier);
      const int row = table(*w).currentRow();
      const auto& made = first.parts[0].values[static_cast<std::size_t>(row)];
      table(*w).model()->setData(table(*w).model()->index(row, MatchModel::For),
                                 made.requirement.value);
      if (!w->matches(0).matches[static_cast<std::size_t>(row)].settled()) {
        table(*w).setCurrentIndex(table(*w).model()->index(row, MatchModel::For));
        QTest::keyClick(&table(*w), Qt::Key_Space);
      }
    }
    QCOMPARE(waiting(*w), 0);
    QTest::mouseClick(w->findChild<QPushButton*>("resultTake"), Qt::LeftButton);
    QVERIFY(idle());
    ResultsWindow* next = opened("second.txt", second.bytes);
    QVERIFY(next);
    QVERIFY(next->file().known);
    QCOMPARE(next->findChild<QLineEdit*>("resultKindName")->text(), QString("Gate 4"));
    QCOMPARE(waiting(*next), 0);
    for (const ResultMatch& m : next->matches(0).matches)
      QVERIFY(m.requirement == second.parts[0].values[m.value].requirement);
    QTest::mouseClick(next->findChild<QPushButton*>("resultTake"), Qt::LeftButton);
    QVERIFY(idle());
    // Both are in the table of parts.
    document().writeHistory(dir_.filePath("parts.csv"));
    const auto history = readFile(dir_.filePath("parts.csv").toStdString());
    QVERIFY(history.has_value());
    QVERIFY(history->find(second.parts[0].serial) != std::string::npos);
  }

  void badFiles() {
    document().readResults(write("empty.txt", ""));
    QVERIFY(QTest::qWaitFor([&] { return told().contains("empty"); }, 5000));
    document().readResults(write("odd.bin", std::string("\x7f"
                                                        "ELF\0\0\0\0",
                                                        8)));
    QVERIFY(QTest::qWaitFor([&] { return told().contains("odd.bin"); }, 5000));
    document().readResults(dir_.filePath("nowhere.txt"));
    QVERIFY(QTest::qWaitFor([&] { return told().contains("nowhere"); }, 5000));
    QTest::qWait(100);
    for (QWidget* top : QApplication::topLevelWidgets())
      QVERIFY(!qobject_cast<ResultsWindow*>(top) || !top->isVisible());
  }
};

ALDER_TEST(ResultsWindowTest)
#include "results_window_test.moc"
