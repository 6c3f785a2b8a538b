#include "drafting/heron_drawing.h"
#include "heron.h"
#include "requirement/member_numbers.h"
#include "support.h"
#include "window_driver.h"
#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QLabel>
#include <QLineEdit>

using namespace alder;
using namespace alder::app;

// A part without tolerances and its drawing: by mouse and keyboard from the page to requirements.
class DrawingWindowTest : public WindowDriver {
  Q_OBJECT
  int actions_ = 0; // of the user

  DrawingView& view() { return window_->drawingView(); }
  OpenDrawings& drawings() { return window_->drawings(); }
  const Specification& spec() { return document().plan().spec; }
  QString file(const QString& name) { return dir_.filePath(name); }
  bool write(const QString& name, const Result<std::string>& bytes) {
    return bytes && writeFile(file(name).toStdString(), *bytes);
  }
  bool understood() {
    return QTest::qWaitFor(
        [this] {
          const auto* read = drawings().read();
          return read && read->allUnderstood() &&
                 read->ties.suggestions.size() == read->reading.proposals.size() &&
                 !read->reading.proposals.empty();
        },
        60000);
  }
  std::size_t proposal(const std::string& text, int page = 1) {
    const auto& all = drawings().read()->reading.proposals;
    for (std::size_t i = 0; i < all.size(); ++i)
      if (all[i].text == text && all[i].page == page) return i;
    return all.size();
  }
  void click(const QPointF& at) {
    ++actions_;
    QTest::mouseClick(&view(), Qt::LeftButton, {}, at.toPoint());
  }
  void press(int key, Qt::KeyboardModifiers modifiers = {}, QWidget* where = nullptr) {
    ++actions_;
    QTest::keyClick(where ? where : window_.get(), Qt::Key(key), modifiers);
  }
  void frame(const QRectF& r) {
    ++actions_;
    QTest::mousePress(&view(), Qt::LeftButton, {}, r.topLeft().toPoint());
    QTest::mouseMove(&view(), r.center().toPoint());
    QTest::mouseMove(&view(), r.bottomRight().toPoint());
    QTest::mouseRelease(&view(), Qt::LeftButton, {}, r.bottomRight().toPoint());
  }

 private slots:
  void initTestCase() {
    makeWindow();
    QVERIFY(write("heron.pdf", demo::heronDrawing()));
    QVERIFY(write("plain.step", demo::heronPlainStep()));
  }
  void init() {
    document().open(file("plain.step"), data("bench.json"));
    QVERIFY(idle());
    QVERIFY(spec().requirements.empty());
    actions_ = 0;
  }

  // The whole way: the file dropped on the window, all that is sure taken by a key.
  void fromThePageToTheRoutine() {
    ++actions_;
    drop(file("heron.pdf"));
    QVERIFY(understood());
    QVERIFY(view().isVisible());
    QCOMPARE(drawings().count(ProposalState::Open), std::size_t{38});
    press(Qt::Key_D, Qt::AltModifier);
    QVERIFY(idle());
    QCOMPARE(drawings().count(ProposalState::Taken), std::size_t{38});
    QCOMPARE(spec().requirements.size(), std::size_t{35});
    QCOMPARE(spec().datums.size(), std::size_t{3});
    for (const Requirement& r : spec().requirements) {
      QVERIFY(!r.features.empty());
      QVERIFY2(document().whyNotCovered(r).empty(), describe(r).c_str());
    }
    QVERIFY2(actions_ < 60, qPrintable(QString::number(actions_)));
    QVERIFY2(told().contains("38"), qPrintable(told()));
    // One step back, and on again.
    document().undo();
    QVERIFY(idle());
    QVERIFY(spec().requirements.empty() && document().plan().steps.empty());
    QCOMPARE(drawings().count(ProposalState::Open), std::size_t{38});
    document().redo();
    QVERIFY(idle());
    QCOMPARE(spec().requirements.size(), std::size_t{35});
  }

  // The title block is asked once; what is known of the part is edited, kept and printed.
  void partDataFromTheTitle() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    document().clearSelection();
    auto* link = field<QPushButton>("titleFromDrawing");
    QVERIFY(link);
    QTest::mouseClick(link, Qt::LeftButton);
    const PartHeader& header = document().plan().header;
    QCOMPARE(header[HeaderField::Number], std::string("TW-40"));
    QCOMPARE(header[HeaderField::Revision], std::string("B"));
    QCOMPARE(header[HeaderField::Customer], std::string("Saltmarsh Instruments"));
    QVERIFY2(told().contains("TW-40"), qPrintable(told()));
    window_->findChild<QPushButton*>("wholeHeader")->click();
    type("header_order", "4711");
    QCOMPARE(document().plan().header[HeaderField::Order], std::string("4711"));
    QVERIFY(write("3.1.txt", std::string("a certificate that is made up")));
    document().attachDocument(file("3.1.txt"));
    document().attachDocument(file("3.1.txt"));
    QVERIFY2(told().contains("attached already"), qPrintable(told()));
    document().writeDocument("3.1.txt", file("again.txt"));
    QCOMPARE(*readFile(file("again.txt").toStdString()), *readFile(file("3.1.txt").toStdString()));
    document().undo();
    QVERIFY(document().plan().header.documents.empty());
    document().takeTitle({{"Revision", "D"}});
    QCOMPARE(header[HeaderField::Revision], std::string("B")); // what is known is not written over
    undoAll();
    QVERIFY(document().plan().header == PartHeader{});
  }

  // Selected in one region it is shown in all: another page comes where it stands there.
  void theSheetLeadsToThePage() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    drawings().takeAllSure();
    QVERIFY(idle());
    const std::size_t port = proposal("ø9 ±0.1", 2), bore = proposal("ø32 H7");
    document().selectRequirement(drawings().requirementOf(port)->id);
    QCOMPARE(view().page(), 2);
    QCOMPARE(view().current(), std::optional(port));
    document().selectRequirement(drawings().requirementOf(bore)->id);
    QCOMPARE(view().page(), 1);
    document().clearSelection();
    click(view().frameOf(proposal("ø8 H8")).center());
    QVERIFY(document().selection().requirement);
    QCOMPARE(describe(spec().requirement(*document().selection().requirement)),
             std::string("ø8 H8 +0.022/0"));
  }

  void oneByOneByMouseAndKeyboard() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    click(view().badgeOf(proposal("ø32 H7"))); // its plus
    QVERIFY(idle());
    QCOMPARE(spec().requirements.size(), std::size_t{1});
    QVERIFY(document().selection().requirement);
    // A click shows what it would be laid on, Return takes it.
    click(view().frameOf(proposal("ø8 H8")).center());
    QCOMPARE(spec().requirements.size(), std::size_t{1});
    QCOMPARE(document().selection().faces.size(), std::size_t{1});
    press(Qt::Key_Return, {}, &view());
    QVERIFY(idle());
    QCOMPARE(spec().requirements.size(), std::size_t{2});
    // Refused, and offered again.
    const std::size_t cup = proposal("Sø18 ±0.05");
    click(view().frameOf(cup).center());
    press(Qt::Key_Delete, {}, &view());
    QCOMPARE(drawings().state(cup), ProposalState::Refused);
    press(Qt::Key_Delete, {}, &view());
    QCOMPARE(drawings().state(cup), ProposalState::Open);
    // On to the next that is open, by keys alone.
    press(Qt::Key_N, {}, &view());
    QVERIFY(view().current());
    const std::size_t next = *view().current();
    QCOMPARE(drawings().state(next), ProposalState::Open);
    press(Qt::Key_N, Qt::ShiftModifier, &view());
    QVERIFY(view().current() != std::optional(next));
    // Several with a frame drawn round them.
    const QRectF stack = view()
                             .frameOf(proposal("ø60 ±0.1"))
                             .united(view().frameOf(proposal("coaxiality ø0.05 | B")))
                             .adjusted(-25, -6, 10, 6);
    frame(stack);
    QVERIFY(idle());
    QCOMPARE(spec().requirements.size(), std::size_t{5});
    // What is removed is offered again.
    click(view().frameOf(proposal("ø60 ±0.1")).center());
    press(Qt::Key_Delete, {}, &view());
    QVERIFY(idle());
    QCOMPARE(spec().requirements.size(), std::size_t{4});
    QCOMPARE(drawings().state(proposal("ø60 ±0.1")), ProposalState::Open);
  }

  // Other features than those proposed: picked in the stage before it is taken.
  void onWhatIsPicked() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    click(view().frameOf(proposal("ø8 H8")).center());
    for (const Surface& s : document().plan().part->surfaces)
      if (s.ideal.type == SurfaceType::Cylinder && std::abs(s.ideal.diameter - 8) < 1e-6 &&
          std::abs(s.ideal.direction.z()) < 0.1) {
        document().selectFaces(s.faces);
        break;
      }
    press(Qt::Key_Return, {}, &view());
    QVERIFY(idle());
    QCOMPARE(spec().requirements.size(), std::size_t{1});
    QVERIFY(std::abs(spec().features.front().ideal.direction.z()) < 0.1);
  }

  // What was not found is framed and typed.
  void framedAndTyped() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    const Box2 note =
        drawings().read()->reading.proposals[proposal("Tolerancing ISO 8015")].box.bounds();
    const QRectF about(view().toWidget({note.min().x(), note.max().y()}),
                       view().toWidget({note.max().x(), note.min().y()}));
    frame(about.adjusted(-3, -1, 3, 1));
    auto* line = window_->findChild<QLineEdit*>("typed");
    QVERIFY(line->isVisible());
    QCOMPARE(line->text(), QString("Tolerancing ISO 8015"));
    line->clear();
    for (const Surface& s : document().plan().part->surfaces)
      if (s.ideal.type == SurfaceType::Cylinder && std::abs(s.ideal.diameter - 32) < 1e-6)
        document().selectFaces(s.faces);
    QTest::keyClicks(line, "H7");
    QTest::keyClick(line, Qt::Key_Return);
    QVERIFY(QTest::qWaitFor([this] { return spec().requirements.size() == 1; }, 60000));
    QVERIFY(spec().requirements.front().spot);
    QCOMPARE(spec().requirements.front().spot->drawing, std::string("heron.pdf"));
  }

  void pagesZoomAndUnit() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    press(Qt::Key_PageDown, {}, &view());
    QCOMPARE(view().page(), 2);
    press(Qt::Key_PageDown, {}, &view());
    QCOMPARE(view().page(), 2);
    press(Qt::Key_PageUp, {}, &view());
    const QPointF middle = view().rect().center();
    const Vec2 held = view().toSheet(middle);
    press(Qt::Key_Plus, {}, &view());
    QVERIFY((view().toSheet(middle) - held).norm() < 1e-6);
    press(Qt::Key_Home, {}, &view());
    auto* unit = window_->findChild<QComboBox*>("drawingUnit");
    QCOMPARE(unit->currentText(), QString("mm"));
    unit->setFocus();
    QTest::keyClick(unit, Qt::Key_Down);
    QVERIFY(QTest::qWaitFor([&] { return drawings().read()->reading.unit == LengthUnit::Inch; },
                            10000));
    QCOMPARE(document().plan().drawings.front().unit, std::string("in"));
    document().undo();
    press(Qt::Key_D); // hidden, and back
    QVERIFY(!view().isVisible());
    press(Qt::Key_D);
    QVERIFY(view().isVisible());
  }

  void isKeptInTheFile() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    drawings().takeAllSure();
    QVERIFY(idle());
    drawings().refuse({proposal("A")});
    const QString path = file("kept.alder");
    QVERIFY(document().save(path));
    document().open(path);
    QVERIFY(idle());
    QVERIFY(understood());
    QCOMPARE(document().plan().drawings.size(), std::size_t{1});
    QCOMPARE(drawings().count(ProposalState::Taken), std::size_t{38});
  }

  // A balloon is dragged by hand and stays there; the drawing is written with all of them.
  void balloonsAreMovedAndWritten() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    drawings().takeAllSure();
    QVERIFY(idle());
    const std::size_t bore = proposal("ø32 H7");
    const RequirementId id = drawings().requirementOf(bore)->id;
    QVERIFY(spec().requirement(id).spot->balloon);
    const QPointF from = view().badgeOf(bore), to = view().toWidget({300, 200});
    QTest::mousePress(&view(), Qt::LeftButton, {}, from.toPoint());
    QTest::mouseMove(&view(), ((from + to) / 2).toPoint());
    QTest::mouseMove(&view(), to.toPoint());
    QTest::mouseRelease(&view(), Qt::LeftButton, {}, to.toPoint());
    const auto balloon = spec().requirement(id).spot->balloon;
    QVERIFY(balloon && balloon->pinned);
    QVERIFY((Vec2(balloon->x, balloon->y) - Vec2(300, 200)).norm() < 2);
    document().undo();
    QVERIFY(!spec().requirement(id).spot->balloon->pinned);
    const QString path = file("ballooned.pdf");
    drawings().writeBallooned(path);
    QVERIFY(QTest::qWaitFor([&] { return QFile::exists(path); }, 20000));
    const auto bytes = readFile(path.toStdString());
    QVERIFY(bytes);
    const auto sheets = readSheets(*bytes, "ballooned.pdf", 1, 2);
    QVERIFY(sheets);
    std::size_t added = 0;
    for (std::size_t i = 0; i < 2; ++i)
      added += sheets->at(i).characters.size() - drawings().read()->sheets[i].characters.size();
    // Figures of 1 to 35, and of each pattern ".1-.6".
    std::size_t figures = 9 + 2 * 26;
    for (const Requirement& r : spec().requirements)
      if (const auto members = memberNumbers(r).size(); members > 0)
        figures += 4 + std::to_string(members).size();
    QVERIFY(figures > 9 + 2 * 26);
    QCOMPARE(added, figures);
  }

  // Another file under the same name, and back by undo: each is read as what it is.
  void anotherStateOfTheFile() {
    drop(file("heron.pdf"));
    QVERIFY(understood());
    const auto all = drawings().read()->reading.proposals.size();
    const auto plate = readFile(dataFolder() / "tests" / "data" / "drawings" / "plate.pdf");
    QVERIFY(plate && QDir(dir_.path()).mkpath("other"));
    QVERIFY(writeFile(file("other/heron.pdf").toStdString(), *plate));
    drop(file("other/heron.pdf"));
    QVERIFY(QTest::qWaitFor(
        [&] { return drawings().read() && drawings().read()->sizes.size() == 1; }, 20000));
    QVERIFY(understood());
    QVERIFY(drawings().read()->reading.proposals.size() != all);
    document().undo();
    QVERIFY(QTest::qWaitFor(
        [&] { return drawings().read() && drawings().read()->sizes.size() == 2; }, 20000));
    QVERIFY(understood());
    QCOMPARE(drawings().read()->reading.proposals.size(), all);
  }

  void aFileThatIsNoDrawing() {
    QVERIFY(writeFile(file("broken.pdf").toStdString(), "%PDF-1.7 and nothing more"));
    drop(file("broken.pdf"));
    QVERIFY(QTest::qWaitFor([this] { return told().contains("damaged"); }, 20000));
    QVERIFY(document().plan().drawings.empty());
    QVERIFY(writeFile(file("text.pdf").toStdString(), "hello"));
    drop(file("text.pdf"));
    QVERIFY(
        QTest::qWaitFor([this] { return told().contains("no drawing that can be read"); }, 20000));
    QVERIFY(document().plan().drawings.empty());
  }
};

ALDER_TEST(DrawingWindowTest)
#include "drawing_window_test.moc"
