// Revision C of the Heron, by its model, by its drawing, and by both.
#include "base/files.h"
#include "drafting/heron_drawing.h"
#include "part/step_import.h"
#include "requirement/general_tolerances.h"
#include "revision/revision.h"
#include "route/draft.h"
#include "sheet/sheet_file.h"
#include "support.h"
#include <algorithm>

namespace {

using namespace alder;
using demo::HeronRevision;

std::string entriesOf(const Revision& r) {
  std::string all;
  for (const RevisionEntry& e : r.entries)
    all += fmt::format("\n  {} {}: {} ({})", name(e.subject), name(e.fate), e.words, e.detail);
  return all;
}

class RevisedHeronTest : public QObject {
  Q_OBJECT
  PartPtr plain_, newer_, newer_plain_;
  Plan drawn_; // from the drawing of revision B

  static Result<RevisedDrawing> drawing(HeronRevision revision, const PartModel& part) {
    auto pdf = demo::heronDrawing(revision);
    if (!pdf) return pass(pdf.error());
    const auto pages = sheetsOf(*pdf, "heron.pdf");
    if (!pages) return pass(pages.error());
    auto sheets = readSheets(*pdf, "heron.pdf", 1, static_cast<int>(pages->size()));
    if (!sheets) return pass(sheets.error());
    RevisedDrawing d;
    d.file = {"heron-drawing-c.pdf", std::make_shared<const std::string>(std::move(*pdf)), {}, {}};
    d.replaces = "heron-drawing.pdf";
    d.reading = readingOf(*sheets);
    d.ties = tiesOf(d.reading, *sheets, part);
    d.sheets = std::move(*sheets);
    return d;
  }

  // As often as it is told: "model changed" 2, ...
  static std::map<std::string, int> counts(const Revision& r) {
    std::map<std::string, int> n;
    for (const RevisionEntry& e : r.entries)
      ++n[fmt::format("{} {}", name(e.subject), name(e.fate))];
    return n;
  }
  using Counts = std::map<std::string, int>;

 private slots:
  void initTestCase() {
    const auto read = [](HeronRevision revision, bool plain) -> PartPtr {
      const auto step = plain ? demo::heronPlainStep(revision) : demo::heronStep("INCH", revision);
      const auto part =
          step ? importStep(*step, "heron.step") : Result<PartPtr>(pass(step.error()));
      return part ? *part : nullptr;
    };
    plain_ = read(HeronRevision::B, true);
    newer_ = read(HeronRevision::C, false);
    newer_plain_ = read(HeronRevision::C, true);
    QVERIFY(plain_ && newer_ && newer_plain_);
    const auto b = drawing(HeronRevision::B, *plain_);
    VERIFY_OK(b);
    const AcceptedDrawing taken = acceptProposals(*plain_, {}, b->reading, "heron-drawing.pdf",
                                                  sureChoices(b->reading, b->ties));
    drawn_ = withSpecification(beginPlan(plain_, test::heronBench()), taken.spec);
    drawn_.drawings = {{"heron-drawing.pdf", b->file.bytes, {}, {}}};
    auto plan = completePlan(drawn_);
    VERIFY_OK(plan);
    drawn_ = std::move(*plan);
  }

  void byItsTolerances() {
    const auto r = revisionOf(test::heronPlan(), {newer_, {}});
    VERIFY_OK(r);
    QVERIFY2(counts(*r) == (Counts{{"model changed", 2},
                                   {"model new", 1},
                                   {"model gone", 1},
                                   {"requirement changed", 3},
                                   {"requirement new", 2},
                                   {"requirement gone", 2}}),
             entriesOf(*r).c_str());
    QCOMPARE(r->stayed, std::size_t(30));
  }

  // The newer drawing is read by another way than the model; both tell the same.
  void byModelAndDrawing() {
    const auto d = drawing(HeronRevision::C, *newer_plain_);
    VERIFY_OK(d);
    const auto r = revisionOf(drawn_, {newer_plain_, {*d}});
    VERIFY_OK(r);
    QVERIFY2(counts(*r) == (Counts{{"model changed", 2},
                                   {"model new", 1},
                                   {"model gone", 1},
                                   {"requirement changed", 3},
                                   {"requirement new", 2},
                                   {"requirement gone", 2}}),
             entriesOf(*r).c_str());
    const auto group =
        revisedRoutine(drawn_, *r, std::vector<Decision>(r->entries.size(), Decision::Taken));
    VERIFY_OK(group);
    Plan now = drawn_;
    VERIFY_OK(applyEdits(now, *group));
    QCOMPARE(now.drawings.size(), std::size_t(1));
    QCOMPARE(now.drawings[0].name, std::string("heron-drawing-c.pdf"));
    QCOMPARE(now.spec.requirements.size(), std::size_t(35));
    for (const Requirement& q : now.spec.requirements) {
      QVERIFY2(isCovered(now, q), whyNotCovered(now, q).c_str());
      QVERIFY(q.spot && q.spot->drawing == "heron-drawing-c.pdf" && q.spot->balloon);
    }
    QVERIFY(test::rehearsed(now).clear());
    // It is the same routine as the newer one would give, in what is asked of which faces.
    const auto again = revisionOf(now, {newer_plain_, {*d}});
    VERIFY_OK(again);
    RevisedDrawing same = *d;
    same.replaces = same.file.name;
    const auto none = revisionOf(now, {newer_plain_, {same}});
    VERIFY_OK(none);
    QVERIFY2(none->entries.empty(), entriesOf(*none).c_str());
  }

  // What the title block says otherwise of the part is told too.
  void titleBlock() {
    const auto c = drawing(HeronRevision::C, *plain_);
    VERIFY_OK(c);
    Plan plan = drawn_;
    for (const auto& [caption, text] : titleOf(c->reading))
      if (const auto field = headerFieldOf(caption)) plan.header[*field] = text;
    QCOMPARE(plan.header[HeaderField::Number], std::string("TW-40"));
    QCOMPARE(plan.header[HeaderField::Material], std::string("CuSn8 bronze"));
    QCOMPARE(plan.header[HeaderField::Revision], std::string("C"));
    plan.header[HeaderField::Revision] = "B";
    const auto r = revisionOf(plan, {nullptr, {*c}});
    VERIFY_OK(r);
    const auto entry = std::find_if(r->entries.begin(), r->entries.end(),
                                    [](auto& e) { return e.subject == RevisionSubject::Header; });
    QVERIFY(entry != r->entries.end());
    QCOMPARE(entry->words, std::string("Revision B, now C"));
    const auto group =
        revisedRoutine(plan, *r, std::vector<Decision>(r->entries.size(), Decision::Taken));
    VERIFY_OK(group);
    VERIFY_OK(applyEdits(plan, *group));
    QCOMPARE(plan.header[HeaderField::Revision], std::string("C"));
  }

  void drawingAlone() {
    const auto b = drawing(HeronRevision::B, *plain_);
    VERIFY_OK(b);
    const auto none = revisionOf(drawn_, {nullptr, {*b}});
    VERIFY_OK(none);
    QVERIFY2(none->entries.empty(), entriesOf(*none).c_str());
    const auto c = drawing(HeronRevision::C, *plain_);
    VERIFY_OK(c);
    const auto r = revisionOf(drawn_, {nullptr, {*c}});
    VERIFY_OK(r);
    QVERIFY2(
        counts(*r) ==
            (Counts{{"requirement changed", 3}, {"requirement new", 2}, {"requirement gone", 2}}),
        entriesOf(*r).c_str());
    // What the newer drawing does not ask for any more can be left all the same.
    std::vector<Decision> decisions(r->entries.size(), Decision::Left);
    const auto group = revisedRoutine(drawn_, *r, decisions);
    VERIFY_OK(group);
    Plan now = drawn_;
    VERIFY_OK(applyEdits(now, *group));
    QCOMPARE(now.spec.requirements.size(), drawn_.spec.requirements.size());
    // No place is left on a drawing that is no longer there.
    for (const Requirement& q : now.spec.requirements)
      QVERIFY(!q.spot || q.spot->drawing == "heron-drawing-c.pdf");
    QCOMPARE(std::count_if(now.spec.requirements.begin(), now.spec.requirements.end(),
                           [](const Requirement& q) { return !q.spot; }),
             2);
    for (const Feature& f : drawn_.features)
      QVERIFY(now.feature(f.id).touches == f.touches);
  }

  // The model that comes later carries what the drawing asked for: nothing is asked twice.
  void tolerancesThatWereDrawn() {
    const auto step = demo::heronStep("MM");
    VERIFY_OK(step);
    const auto part = importStep(*step, "heron.step");
    VERIFY_OK(part);
    const auto r = revisionOf(drawn_, {*part, {}});
    VERIFY_OK(r);
    QVERIFY2(r->entries.empty(), entriesOf(*r).c_str());
  }

  // Steps that evaluate several requirements lose those that are gone; one that branches on such a
  // one stops it.
  void stepsThatSpeakOfTheGone() {
    Plan plan = test::heronPlan();
    const RequirementId stays = test::balloon(plan, 2).id, goes = test::balloon(plan, 24).id;
    RoutineStep step;
    step.id = freeId(plan.steps);
    step.body = EvaluateStep{{stays, goes}};
    plan.steps.push_back(step);
    const auto r = revisionOf(plan, {newer_, {}});
    VERIFY_OK(r);
    const std::vector<Decision> taken(r->entries.size(), Decision::Taken);
    const auto group = revisedRoutine(plan, *r, taken);
    VERIFY_OK(group);
    Plan now = plan;
    VERIFY_OK(applyEdits(now, *group));
    const std::size_t at = indexOf(now.steps, step.id);
    QVERIFY(at < now.steps.size());
    QVERIFY(std::get<EvaluateStep>(now.steps[at].body).requirements == std::vector{stays});
    BranchStep branch;
    branch.requirement = goes;
    step.body = branch;
    plan.steps.back() = step;
    const auto stopped = revisedRoutine(plan, *r, taken);
    QVERIFY(!stopped);
    QVERIFY2(stopped.error().message.find("requirement 24") != std::string::npos,
             stopped.error().message.c_str());
  }

  // A step or frame that stands on what is gone stops it, and is named.
  void whatStandsOnTheGone() {
    Plan plan = test::heronPlan();
    const FeatureId keyway = test::named(plan, "Slot 8");
    PartFrame frame;
    frame.name = "by the keyway";
    frame.stages.push_back({});
    frame.stages.back().features = {test::named(plan, "Bore ø32"), keyway};
    plan.frames.push_back(frame);
    const auto r = revisionOf(plan, {newer_, {}});
    VERIFY_OK(r);
    const auto group =
        revisedRoutine(plan, *r, std::vector<Decision>(r->entries.size(), Decision::Taken));
    QVERIFY(!group);
    QVERIFY2(group.error().message.find("Frame by the keyway speaks of Slot 8") == 0,
             group.error().message.c_str());
  }
};

} // namespace

ALDER_TEST(RevisedHeronTest)
#include "revised_heron_test.moc"
