#include "base/files.h"
#include "registry.h"
#include "window_driver.h"

#include <QFile>
#include <QFileDialog>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTimer>

using namespace alder;
using namespace alder::app;

// What a model says of a requirement and is not judged: marked, told, and counted only when a
// person has seen it.
class ModelNotesWindowTest : public WindowDriver {
  Q_OBJECT

  const Requirement& withNote() {
    for (const Requirement& r : document().plan().spec.requirements)
      if (!notesOn(document().plan(), r).empty()) return r;
    qFatal("no requirement has a note");
  }
  QString cardText() {
    QString all;
    for (const QLabel* label : window_->findChild<QWidget*>("cardArea")->findChildren<QLabel*>())
      all += label->text() + "\n";
    return all;
  }
  // The figure is worked out aside.
  bool covered() {
    return QTest::qWaitFor([&] { return document().whyNotCovered(withNote()).empty(); }, 20000);
  }
  // Through the dialog.
  void writeModelAs(const QString& path) {
    QTimer::singleShot(0, this, [path] {
      QWidget* dialog = nullptr;
      QVERIFY(QTest::qWaitFor([&] { return (dialog = QApplication::activeModalWidget()); }, 5000));
      auto* files = qobject_cast<QFileDialog*>(dialog);
      QVERIFY(files);
      files->selectFile(path);
      QMetaObject::invokeMethod(files, "accept");
    });
    press("writeModel");
  }
  bool toldSoon(const QString& words) {
    return QTest::qWaitFor([&] { return told().contains(words); }, 60000);
  }
  QTemporaryDir folder_;

 private slots:
  // The Heron, with a free state on one of its positions.
  void initTestCase() {
    makeWindow();
    std::string bytes = *readFile(data("heron.step").toStdString());
    const std::string was = "GEOMETRIC_TOLERANCE_WITH_MODIFIERS((.MAXIMUM_MATERIAL_REQUIREMENT.))";
    const auto at = bytes.find(was);
    QVERIFY(at != std::string::npos);
    bytes.insert(at + was.size() - 2, ",.FREE_STATE.");
    const QString path = folder_.filePath("free.step");
    QVERIFY(writeFile(path.toStdString(), bytes));
    document().open(path, data("bench.json"));
    QVERIFY(idle());
  }
  void cleanupTestCase() { window_.reset(); }

  void aPersonLetsItCount() {
    QVERIFY(!document().whyNotCovered(withNote()).empty());
    const Requirement& r = withNote();
    QVERIFY(document().whyNotCovered(r).find("free state") != std::string::npos);
    const auto place = static_cast<int>(document().plan().spec.requirements.placeOf(r.id));
    auto& list = window_->sheet().list();
    const auto spoken = list.model()->index(place, 0).data(Qt::AccessibleTextRole).toString();
    QVERIFY(spoken.endsWith("notes not yet seen"));
    QVERIFY(window_->sheet().summary().contains("1 with notes"));

    list.setFocus();
    list.setCurrentIndex(list.model()->index(place, 0));
    QTest::qWait(50);
    QVERIFY(cardText().contains("modifier free state is not judged"));
    auto* seen = field<QPushButton>("notesSeen");
    QVERIFY(seen);
    seen->setFocus();
    QTest::keyClick(seen, Qt::Key_Space);
    QVERIFY(idle());
    QVERIFY(covered());
    QVERIFY(!window_->sheet().summary().contains("with notes"));
    QVERIFY(cardText().contains("not taken over, seen", Qt::CaseInsensitive));
    document().undo();
    QVERIFY(idle());
    QVERIFY(!document().whyNotCovered(withNote()).empty());
    document().redo();
    QVERIFY(idle());
    QVERIFY(covered());
  }
  // The records that it was read from, folded out by the keyboard.
  void theFilesOwnWords() {
    document().selectRequirement(withNote().id);
    QVERIFY(idle());
    QTest::qWait(400); // the card is made anew when coverage is known; both of one card
    auto* link = window_->findChild<QPushButton*>("showFileWords");
    auto* words = window_->findChild<QPlainTextEdit*>("fileWords");
    QVERIFY(link && words && !words->isVisible());
    link->setFocus();
    QTest::keyClick(link, Qt::Key_Space);
    QVERIFY(words->isVisible());
    const QString first = words->toPlainText().section('\n', 0, 0);
    QVERIFY(first.startsWith(QString("#%1 = (").arg(withNote().entity)));
    QVERIFY(first.contains(".FREE_STATE."));
    QVERIFY(words->toPlainText().contains("DATUM_SYSTEM"));
    QVERIFY(words->toPlainText().contains("TOLERANCE_ZONE"));
    QTest::keyClick(link, Qt::Key_Space);
    QVERIFY(!words->isVisible());
  }
  // Corrected by hand, it goes out as the routine has it; what the file loses by that is told.
  void writtenWithRequirements() {
    const RequirementId id = withNote().id;
    const std::size_t count = document().plan().spec.requirements.size();
    Specification spec = document().plan().spec;
    spec.requirements.at(id).tolerance *= 2;
    QVERIFY(document().edit("Change requirement", {SetSpecification{spec}}));
    QVERIFY(idle());
    const QString path = folder_.filePath("Heron corrected.step"),
                  beside = folder_.filePath("Heron corrected-not-written.txt");
    writeModelAs(path.chopped(5)); // the ending is put on
    QVERIFY2(toldSoon("Wrote Heron corrected.step: "), qPrintable(told()));
    QVERIFY2(told().contains("1 written") && told().endsWith("Heron corrected-not-written.txt"),
             qPrintable(told()));
    const auto lines = readFile(beside.toStdString());
    QVERIFY(lines.has_value());
    QVERIFY2(lines->find("of the model is gone: modifier free state is not judged.") !=
                 std::string::npos,
             lines->c_str());
    // Written once more without a correction, there is nothing to tell, and no list of before.
    document().undo();
    QVERIFY(idle());
    document().writeModel(path);
    QVERIFY2(toldSoon(QString("Wrote Heron corrected.step: %1 requirements as in the model, 0 "
                              "written")
                          .arg(count)),
             qPrintable(told()));
    QVERIFY(!QFile::exists(beside));
    QVERIFY(readFile(path.toStdString()) == document().plan().part->bytes);
    // Where it cannot be written, one line and no file.
    document().writeModel(folder_.filePath("no such folder/x.step"));
    QVERIFY(toldSoon("no such folder"));
  }
  // It is seen once and not at each opening.
  void itStaysSeen() {
    const QString path = folder_.filePath("free.alder");
    QVERIFY(document().save(path));
    document().open(path);
    QVERIFY(idle());
    QVERIFY(covered());
    QVERIFY(notesOn(document().plan(), withNote()).front()->seen);
  }
};
ALDER_TEST(ModelNotesWindowTest)
#include "model_notes_window_test.moc"
