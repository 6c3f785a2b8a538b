#include "drafting/heron_drawing.h"
#include "heron.h"
#include "support.h"
#include "window_driver.h"
#include <QFile>
#include <QLabel>

using namespace alder;
using namespace alder::app;

// A newer model and drawing gone through in the window, by mouse and keyboard.
class RevisionWindowTest : public WindowDriver {
  Q_OBJECT

  OpenRevision& revision() { return window_->revision(); }
  RevisionPane& pane() { return window_->revisionPane(); }
  const Plan& plan() { return document().plan(); }
  QString file(const QString& name) { return dir_.filePath(name); }
  bool write(const QString& name, const Result<std::string>& bytes) {
    return bytes && writeFile(file(name).toStdString(), *bytes);
  }
  bool compared() {
    return QTest::qWaitFor([this] { return revision().revision() != nullptr; }, 60000);
  }
  void press(int key, Qt::KeyboardModifiers modifiers = {}) {
    QTest::keyClick(&pane().list(), Qt::Key(key), modifiers);
  }
  QString says() { return pane().findChild<QLabel*>("revisionSays")->text(); }
  // The part without tolerances with all that its drawing asks for.
  bool takeDrawn() {
    document().open(file("plain.step"), data("bench.json"));
    if (!idle()) return false;
    drop(file("heron.pdf"));
    const auto understood = [this] {
      const auto* read = window_->drawings().read();
      return read && read->whole() && !read->ties.suggestions.empty();
    };
    if (!QTest::qWaitFor(understood, 60000)) return false;
    window_->drawings().takeAllSure();
    return idle();
  }
  std::size_t entry(RevisionSubject subject, RevisionFate fate) {
    const auto& all = revision().revision()->entries;
    for (std::size_t i = 0; i < all.size(); ++i)
      if (all[i].subject == subject && all[i].fate == fate) return i;
    return all.size();
  }

 private slots:
  void initTestCase() {
    makeWindow();
    QVERIFY(write("c.step", demo::heronStep("INCH", demo::HeronRevision::C)));
    QVERIFY(write("plain.step", demo::heronPlainStep()));
    QVERIFY(write("plain-c.step", demo::heronPlainStep(demo::HeronRevision::C)));
    QVERIFY(write("heron.pdf", demo::heronDrawing()));
    QVERIFY(write("heron-c.pdf", demo::heronDrawing(demo::HeronRevision::C)));
    QVERIFY(write("broken.step", std::string("ISO-10303-21; nothing follows")));
  }
  void init() {
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void cleanup() { revision().giveUp(); }

  void goneThroughByKeys() {
    const Plan before = plan();
    window_->openRevision({file("c.step")});
    QVERIFY(pane().isVisible());
    QVERIFY(compared());
    const std::size_t count = revision().revision()->entries.size();
    QCOMPARE(count, std::size_t(11));
    QCOMPARE(pane().list().count(), 11);
    QVERIFY2(says().contains("11 of 11") && says().contains("30 requirements stay"),
             qPrintable(says()));
    QVERIFY(plan().spec == before.spec); // nothing is taken over yet
    // Finishing is refused while anything is open.
    WindowDriver::press("finishRevision");
    QVERIFY2(told().contains("not decided"), qPrintable(told()));
    // What the model has cannot be left.
    QVERIFY(pane().list().hasFocus());
    press(Qt::Key_Delete);
    QVERIFY2(told().contains("not left as it was"), qPrintable(told()));
    QCOMPARE(revision().open(), count);
    // The pictures show the moved bore, before and now.
    QVERIFY(QTest::qWaitFor(
        [this] { return !pane().before().image().isNull() && !pane().now().image().isNull(); },
        30000));
    QVERIFY(pane().before().image() != pane().now().image());
    press(Qt::Key_Return);
    QCOMPARE(revision().open(), count - 1);
    QCOMPARE(pane().list().currentRow(), 1);
    // The closer flatness is left as it was; all else is taken over.
    const std::size_t flatness = entry(RevisionSubject::Requirement, RevisionFate::Changed);
    pane().list().setCurrentRow(static_cast<int>(flatness));
    QCOMPARE(document().selection().requirement, revision().revision()->entries[flatness].was->id);
    press(Qt::Key_Delete);
    QVERIFY(revision().decision(flatness) == Decision::Left);
    for (std::size_t i = 0; i < count && revision().open() > 0; ++i)
      press(Qt::Key_Return);
    QCOMPARE(revision().open(), std::size_t(0));
    QVERIFY(plan().spec == before.spec);
    QTest::keyClick(window_.get(), Qt::Key_Return, Qt::ControlModifier | Qt::AltModifier);
    QVERIFY(QTest::qWaitFor([this] { return !revision().active(); }, 60000));
    QVERIFY(idle());
    QVERIFY(!pane().isVisible());
    QCOMPARE(plan().spec.requirements.size(), std::size_t(35));
    QCOMPARE(test::balloon(plan(), 1).tolerance, 0.02);
    QCOMPARE(test::balloon(plan(), 12).tolerance, 0.25);
    QVERIFY(plan().part != before.part);
    for (const Requirement& r : plan().spec.requirements)
      QVERIFY2(document().whyNotCovered(r).empty(), describe(r).c_str());
    QVERIFY(document().routed() && document().routed()->rehearsal.clear());
    // Saved and opened, it is the newer one; undone, the older.
    QVERIFY(document().save(file("c.alder")));
    const auto saved = openProject(file("c.alder").toStdString());
    VERIFY_OK(saved);
    QCOMPARE(saved->plan.part->faces.size(), plan().part->faces.size());
    QVERIFY(saved->plan.spec == plan().spec);
    document().undo();
    QVERIFY(idle());
    QVERIFY(plan().part == before.part && plan().spec == before.spec);
    QVERIFY(document().routed() && document().routed()->rehearsal.clear());
    // Faces that are selected belong to the model they were picked on.
    const FaceId last{static_cast<int>(plan().part->faces.size()) - 1};
    document().selectFaces({last});
    document().redo();
    QVERIFY(document().selection().faces.empty());
    QVERIFY(idle());
    QCOMPARE(test::balloon(plan(), 12).tolerance, 0.25);
  }

  // Both at once, dropped on the window; the pictures are of the pages.
  void modelAndDrawing() {
    QVERIFY(takeDrawn());
    QCOMPARE(plan().spec.requirements.size(), std::size_t(35));
    window_->openRevision({file("plain-c.step"), file("heron-c.pdf")});
    QVERIFY(compared());
    QCOMPARE(revision().revision()->entries.size(), std::size_t(11));
    const std::size_t gone = entry(RevisionSubject::Requirement, RevisionFate::Gone);
    pane().list().setCurrentRow(static_cast<int>(gone));
    QVERIFY(QTest::qWaitFor([this] { return !pane().before().image().isNull(); }, 30000));
    QVERIFY(pane().now().image().isNull());
    while (revision().open() > 0)
      pane().decideCurrent(Decision::Taken);
    revision().finish();
    QVERIFY(QTest::qWaitFor([this] { return !revision().active(); }, 60000));
    QVERIFY(idle());
    QCOMPARE(plan().drawings.size(), std::size_t(1));
    QCOMPARE(plan().drawings.front().name, std::string("heron-c.pdf"));
    const DrawingFile* shown = window_->drawings().shown();
    QVERIFY(shown && shown->name == "heron-c.pdf");
    for (const Requirement& r : plan().spec.requirements)
      QVERIFY(r.spot && r.spot->drawing == "heron-c.pdf" && r.spot->balloon);
  }

  // A drawing under the name of one that requirements came from is gone through, not exchanged.
  void sameNameIsARevision() {
    QVERIFY(takeDrawn());
    QDir(dir_.path()).mkdir("newer");
    QVERIFY(QFile::copy(file("heron-c.pdf"), file("newer/heron.pdf")));
    drop(file("newer/heron.pdf"));
    QVERIFY(revision().active());
    QVERIFY(compared());
    QCOMPARE(revision().revision()->entries.size(), std::size_t(7));
    // An edit meanwhile: what was decided on stays so.
    revision().decide(0, Decision::Taken);
    Specification spec = plan().spec;
    spec.uncertainty = 0.001;
    QVERIFY(document().edit("Change the uncertainty", {SetSpecification{spec}}));
    QVERIFY(QTest::qWaitFor([&] { return revision().older().spec.uncertainty == 0.001; }, 30000));
    QCOMPARE(revision().open(), std::size_t(6));
    revision().giveUp();
    QVERIFY(!pane().isVisible());
    QVERIFY(window_->drawingView().isVisible());
  }

  void refusedInOneLine() {
    const Plan before = plan();
    window_->openRevision({file("broken.step")});
    QVERIFY(QTest::qWaitFor([this] { return !revision().active(); }, 60000));
    QVERIFY2(told().contains("broken.step"), qPrintable(told()));
    window_->openRevision({file("c.step"), file("plain-c.step")});
    QVERIFY(QTest::qWaitFor([this] { return !revision().active(); }, 60000));
    QVERIFY2(told().contains("one newer model"), qPrintable(told()));
    // The same once more: nothing differs, and nothing is lost by finishing.
    window_->openRevision({data("heron.step")});
    QVERIFY(compared());
    QVERIFY2(says().contains("Nothing differs"), qPrintable(says()));
    QVERIFY(plan().spec == before.spec && plan().part == before.part);
    // Another routine ends it.
    document().open(file("plain.step"), data("bench.json"));
    QVERIFY(idle());
    QVERIFY(!revision().active());
  }
};

ALDER_TEST(RevisionWindowTest)
#include "revision_window_test.moc"
