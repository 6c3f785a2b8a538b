// The Heron's drawing asks for what its PMI asks for: all of it, and nothing else.
#include "drafting/heron_drawing.h"
#include "drawing/proposal.h"
#include "heron.h"
#include "part/step_import.h"
#include "requirement/from_pmi.h"
#include "requirement/general_tolerances.h"
#include "sheet/sheet_file.h"
#include "support.h"
#include <map>

namespace {

using namespace alder;

class HeronDrawingTest : public QObject {
  Q_OBJECT
  std::string pdf_;
  std::vector<DrawingSheet> sheets_;

 private slots:
  void initTestCase() {
    auto pdf = demo::heronDrawing();
    QVERIFY(pdf);
    pdf_ = *pdf;
    auto sheets = readSheets(pdf_, "drawing.pdf", 1, 2);
    QVERIFY2(sheets, sheets ? "" : sheets.error().message.c_str());
    sheets_ = *sheets;
    QCOMPARE(sheets_.size(), 2U);
  }

  void asksForWhatThePmiAsksFor() {
    const auto step = demo::heronStep();
    QVERIFY(step);
    const auto part = importStep(*step, "heron.step");
    QVERIFY(part);
    std::vector<Note> notes;
    const Specification spec = specificationFromPmi(**part, notes);
    std::map<std::string, int> asked, offered;
    for (const Requirement& r : spec.requirements)
      ++asked[describe(r) + (r.features.size() > 1 && r.kind == Characteristic::Size
                                 ? fmt::format(" {}x", r.features.size())
                                 : "")];
    for (const DrawingProposal& p : readingOf(sheets_).proposals) {
      QVERIFY2(p.as != ProposedAs::NotUnderstood, (p.text + ": " + p.says).c_str());
      if (p.as != ProposedAs::Requirement) continue;
      const Typed& t = p.typed.front();
      ++offered[describe(t.requirement) + (t.count > 1 ? fmt::format(" {}x", t.count) : "")];
    }
    for (const auto& [text, count] : asked)
      QVERIFY2(offered[text] == count, text.c_str());
    for (const auto& [text, count] : offered)
      QVERIFY2(asked[text] == count, text.c_str());
  }

  void tellsWhatHoldsForTheSheet() {
    const DrawingReading reading = readingOf(sheets_);
    QCOMPARE(reading.unit, LengthUnit::Millimetre);
    QCOMPARE(reading.unit_from, std::string("All dimensions in mm"));
    QVERIFY(reading.general);
    QCOMPARE(alder::name(*reading.general), std::string("ISO 2768-mK"));
    std::map<ProposedAs, int> of;
    for (const DrawingProposal& p : reading.proposals)
      ++of[p.as];
    QCOMPARE(of[ProposedAs::Datum], 3);
    QCOMPARE(of[ProposedAs::Basic], 4);
    QCOMPARE(of[ProposedAs::Note], 4);
  }

  // A size and its indicators are one callout, the lower segment of the composite known as such.
  void knowsWhatStandsTogether() {
    const DrawingReading reading = readingOf(sheets_);
    std::vector<const DrawingProposal*> holes;
    for (const DrawingProposal& p : reading.proposals)
      if (p.text.starts_with("6x")) {
        for (const DrawingProposal& other : reading.proposals)
          if (other.callout == p.callout && p.callout > 0) holes.push_back(&other);
      }
    QCOMPARE(holes.size(), 3U);
    QVERIFY(!holes[1]->lower_segment && holes[2]->lower_segment);
  }

  // A text without end, in a frame and without: no dimension, and nothing breaks over it.
  void aVeryLongTextIsNoDimension() {
    DrawingSheet sheet;
    sheet.size = {420, 297};
    for (int i = 0; i < 20000; ++i) {
      sheet.characters.push_back({i % 2 ? "1" : ".", {10 + 0.015 * i, 100}, 0.015, 0, 3});
      sheet.characters.push_back({"A", {10 + 0.015 * i, 200}, 0.015, 0, 3});
    }
    sheet.paths.push_back({{{9, 99}, {315, 99}, {315, 104}, {9, 104}}, true});
    for (const DrawingProposal& p : readingOf({sheet}).proposals)
      QVERIFY(p.as != ProposedAs::Requirement && p.as != ProposedAs::Basic);
  }

  void theSameDrawingIsTheSameFile() { QCOMPARE(*demo::heronDrawing(), pdf_); }
};

} // namespace

ALDER_TEST(HeronDrawingTest)
#include "heron_drawing_test.moc"
