#include "heron.h"
#include "support.h"
#include "window_driver.h"
#include <QClipboard>
#include <QFile>

using namespace alder;
using namespace alder::app;

// A table of requirements, opened or pasted, and what waits for its features told by keyboard.
class ListWindowTest : public WindowDriver {
  Q_OBJECT

  const Specification& spec() { return document().plan().spec; }
  QString file(const QString& name) { return dir_.filePath(name); }
  static constexpr const char* kTable = "No\tZone\tDescription\tNominal\tUpper tol\tLower "
                                        "tol\tTolerance\tDatums\tKey\n"
                                        "10\tC4\tWell bore diameter\t32\t0.025\t0\t\t\tSC\n"
                                        "20\tC4\tCylindricity of bore\t\t\t\t0.015\t\t\n"
                                        "30\tD5\t6x ø11 +0.2/-0.1\t\t\t\t\t\tCC\n"
                                        "40\t\tHeight of boss\t40\t0.1\t-0.1\t\t\t\n"
                                        "50\t\tThread\tM8\t\t\t\t\t\n";
  void key(int key, Qt::KeyboardModifiers modifiers) {
    QTest::keyClick(window_.get(), Qt::Key(key), modifiers);
  }
  static const Requirement& numbered(const Plan& plan, int balloon) {
    return *std::find_if(plan.spec.requirements.begin(), plan.spec.requirements.end(),
                         [&](const Requirement& r) { return r.balloon == balloon; });
  }
  std::size_t waiting() {
    return static_cast<std::size_t>(
        std::count_if(spec().requirements.begin(), spec().requirements.end(),
                      [](const Requirement& r) { return r.features.empty(); }));
  }
  bool taken(std::size_t count) {
    return QTest::qWaitFor([&] { return spec().requirements.size() == count; }, 60000) && idle();
  }

 private slots:
  void initTestCase() {
    makeWindow();
    const auto step = demo::heronPlainStep();
    VERIFY_OK(step);
    VERIFY_OK(writeFile(file("plain.step").toStdString(), *step));
    VERIFY_OK(writeFile(file("list.tsv").toStdString(), std::string(kTable)));
  }
  void init() {
    document().open(file("plain.step"), data("bench.json"));
    QVERIFY(idle());
    QVERIFY(spec().requirements.empty());
  }

  void pastedAndTied() {
    QApplication::clipboard()->setText(kTable);
    key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(taken(4));
    QVERIFY2(told().contains("4 of 5 rows") && told().contains("2 tied"), qPrintable(told()));
    QCOMPARE(waiting(), std::size_t(2));
    // What was not understood stands in the notes.
    QVERIFY(std::any_of(document().plan().notes.begin(), document().plan().notes.end(),
                        [](const Note& n) { return n.text.find("M8") != std::string::npos; }));
    // The first that waits is selected, and says what is proposed.
    QCOMPARE(numbered(document().plan(), 20).id, *document().selection().requirement);
    auto* first = field<QPushButton>("proposed0");
    QVERIFY(first);
    QVERIFY2(first->text().contains("32"), qPrintable(first->text()));
    // Alt+T takes it; the next one that waits follows.
    key(Qt::Key_T, Qt::AltModifier);
    QVERIFY(QTest::qWaitFor([this] { return waiting() == 1; }, 60000));
    QVERIFY(idle());
    QCOMPARE(numbered(document().plan(), 40).id, *document().selection().requirement);
    QCOMPARE(numbered(document().plan(), 20).features, numbered(document().plan(), 10).features);
    // This one by faces that are picked in the stage: the mounting face and the top.
    std::vector<FaceId> faces;
    for (const Face& f : document().plan().part->faces)
      if (f.ideal.type == SurfaceType::Plane && f.ideal.direction.z() > 0.99 &&
          (std::abs(f.ideal.point.z() - 20) < 1e-6 || std::abs(f.ideal.point.z() - 60) < 1e-6))
        faces.push_back(f.id);
    QCOMPARE(faces.size(), std::size_t(2));
    document().selectFaces(faces);
    key(Qt::Key_T, Qt::AltModifier);
    QVERIFY(QTest::qWaitFor([this] { return waiting() == 0; }, 60000));
    QVERIFY(idle());
    const Requirement& height = numbered(document().plan(), 40);
    QCOMPARE(height.features.size(), std::size_t(2));
    NEAR(height.nominal, 40.0, 1e-9);
    for (const Requirement& r : spec().requirements)
      QVERIFY2(document().whyNotCovered(r).empty(), document().whyNotCovered(r).c_str());
    // Nothing waits any more.
    key(Qt::Key_T, Qt::AltModifier);
    QVERIFY2(told().contains("waits"), qPrintable(told()));
    // All of it taken back, step by step.
    undoAll();
    QVERIFY(spec().requirements.empty());
  }

  // Opened from a file; the class of a key characteristic is edited in the card.
  void openedAndMarked() {
    document().readList(file("list.tsv"));
    QVERIFY(taken(4));
    const Requirement& bore = numbered(document().plan(), 10);
    QCOMPARE(bore.key, std::string("SC"));
    document().selectRequirement(bore.id);
    type("keyClass", "CC");
    QCOMPARE(numbered(document().plan(), 10).key, std::string("CC"));
    QVERIFY(document().save(file("listed.alder")));
    const auto saved = openProject(file("listed.alder").toStdString());
    VERIFY_OK(saved);
    QVERIFY(saved->plan.spec == spec());
    QCOMPARE(numbered(saved->plan, 10).key, std::string("CC"));
    QCOMPARE(numbered(saved->plan, 30).sheet_zone, std::string("D5"));
  }

  void oddTables() {
    QApplication::clipboard()->setText("just some words");
    key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(QTest::qWaitFor([this] { return told().contains("row of titles"); }, 10000));
    QApplication::clipboard()->clear();
    key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY2(told().contains("Copy the rows"), qPrintable(told()));
    document().readList(file("not there.csv"));
    QVERIFY(QTest::qWaitFor([this] { return told().contains("not there.csv"); }, 10000));
    QVERIFY(spec().requirements.empty());
  }
};

ALDER_TEST(ListWindowTest)
#include "list_window_test.moc"
