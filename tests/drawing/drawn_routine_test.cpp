// The Heron without PMI and its drawing give the routine that its PMI gives.
#include "base/files.h"
#include "drafting/heron_drawing.h"
#include "drawing/accept.h"
#include "heron.h"
#include "part/step_import.h"
#include "plan/steps/step_edit.h"
#include "requirement/from_pmi.h"
#include "route/draft.h"
#include "route/new_feature.h"
#include "sheet/sheet_file.h"
#include "support.h"
#include <set>

namespace {

using namespace alder;

std::vector<FaceId> facesOf(const Specification& spec, const std::vector<FeatureId>& features) {
  std::vector<FaceId> faces;
  for (const FeatureId id : features)
    faces.insert(faces.end(), spec.feature(id).faces.begin(), spec.feature(id).faces.end());
  std::sort(faces.begin(), faces.end());
  return faces;
}

// All that a requirement says, in one line, without the ids that a specification happens to give.
std::string told(const Specification& spec, const Requirement& r) {
  std::string text = describe(spec, r);
  for (const FaceId f : facesOf(spec, r.features))
    text += fmt::format(" f{}", f.value);
  if (r.upper_segment.valid()) text += " below " + describe(spec.requirement(r.upper_segment));
  for (const DatumReference& d : r.datums)
    for (const std::string& letter : d.letters) {
      const Datum* datum = spec.datum(letter);
      text += " " + letter + "=";
      if (datum)
        for (const FaceId f : facesOf(spec, datum->features))
          text += fmt::format("f{}", f.value);
    }
  return text;
}

std::multiset<std::string> told(const Specification& spec) {
  std::multiset<std::string> all;
  for (const Requirement& r : spec.requirements)
    all.insert(told(spec, r));
  return all;
}

class DrawnRoutineTest : public QObject {
  Q_OBJECT
  PartPtr part_; // with PMI; its faces are those of the part without
  std::vector<DrawingSheet> sheets_;
  DrawingReading reading_;
  DrawingTies ties_;

  AcceptedDrawing accepted() const {
    return acceptProposals(*part_, {}, reading_, "heron.pdf", sureChoices(reading_, ties_));
  }

 private slots:
  void initTestCase() {
    const auto step = demo::heronStep();
    const auto pdf = demo::heronDrawing();
    QVERIFY(step && pdf);
    auto part = importStep(*step, "heron.step");
    auto sheets = readSheets(*pdf, "heron.pdf", 1, 2);
    QVERIFY(part && sheets);
    part_ = *part;
    sheets_ = *sheets;
    reading_ = readingOf(sheets_);
    ties_ = tiesOf(reading_, sheets_, *part_);
  }

  void allViewsAreFound() {
    QCOMPARE(ties_.views.size(), 2U);
    QCOMPARE(ties_.views[0].size(), 2U);
    QCOMPARE(ties_.views[1].size(), 2U);
    for (const auto& page : ties_.views)
      for (const DrawnView& v : page) {
        const Vec2 whole(std::round(v.origin.x()), std::round(v.origin.y()));
        QVERIFY((v.origin - whole).norm() < 0.05);
      }
  }

  void isWhatThePmiSays() {
    std::vector<Note> notes;
    const Specification model = specificationFromPmi(*part_, notes);
    const AcceptedDrawing taken = accepted();
    for (const AcceptedProposal& a : taken.refused)
      QFAIL((reading_.proposals[a.proposal].text + ": " + a.remarks.front()).c_str());
    for (const AcceptedProposal& a : taken.taken)
      QVERIFY2(a.remarks.empty(), a.remarks.empty() ? "" : a.remarks.front().c_str());
    const auto asked = told(model), drawn = told(taken.spec);
    for (const std::string& text : asked)
      QVERIFY2(drawn.count(text) == asked.count(text), text.c_str());
    QCOMPARE(drawn.size(), asked.size());
    QCOMPARE(taken.spec.datums.size(), model.datums.size());
    QCOMPARE(alder::name(taken.spec.general.rule), alder::name(GeneralRule::Iso2768));
  }

  // The drawing of another part: lengths that happen to lie between planes of this one are not
  // sure.
  void aForeignDrawingIsNotSure() {
    for (const char* name : {"plate.pdf", "bracket.pdf", "flange.pdf"}) {
      const auto bytes = readFile(dataFolder() / "tests" / "data" / "drawings" / name);
      QVERIFY(bytes);
      const auto sheets = readSheets(*bytes, name, 1, 1);
      QVERIFY(sheets);
      const DrawingReading reading = readingOf(*sheets);
      const DrawingTies ties = tiesOf(reading, *sheets, *part_);
      QVERIFY(ties.views.front().empty());
      for (const ProposalChoice& c : sureChoices(reading, ties)) {
        const DrawingProposal& p = reading.proposals[c.proposal];
        QVERIFY2(p.as != ProposedAs::Requirement ||
                     p.typed.back().requirement.kind != Characteristic::Size ||
                     !p.typed.back().kind_open,
                 p.text.c_str());
      }
    }
  }

  void remembersWhereItStands() {
    const AcceptedDrawing taken = accepted();
    std::set<int> balloons;
    for (const Requirement& r : taken.spec.requirements) {
      QVERIFY(r.spot);
      QCOMPARE(r.spot->drawing, std::string("heron.pdf"));
      QVERIFY(r.spot->page == 1 || r.spot->page == 2);
      QVERIFY(r.spot->x > 0 && r.spot->x < 420 && r.spot->y > 0 && r.spot->y < 297);
      QVERIFY(balloons.insert(r.balloon).second);
    }
    QCOMPARE(*balloons.begin(), 1);
    QCOMPARE(*balloons.rbegin(), 35);
  }

  // Steps of a template or a person on a bare part: still there when the drawing is taken.
  void stepsThatAreThereStay() {
    Plan plan = beginPlan(part_, *readBench(demo::benchJson(true), "bench.json"));
    plan = withSpecification(plan, {});
    RoutineStep note;
    note.body = NoteStep{"clean the bore"};
    const auto edit = insertSteps(plan, {note}, 0, 0);
    QVERIFY(edit && applyEdit(plan, *edit));
    QCOMPARE(plan.steps.size(), std::size_t{1});
    const auto choices = sureChoices(reading_, ties_);
    const Specification wanted =
        acceptProposals(*part_, {}, reading_, "heron.pdf", {choices.front()}).spec;
    const auto found = planSpecification(plan, obstaclesOf(plan), wanted);
    QVERIFY(found);
    for (const Edit& e : found->edits)
      QVERIFY(applyEdit(plan, e));
    QCOMPARE(plan.spec.requirements.size(), std::size_t{1});
    QCOMPARE(plan.steps.size(), std::size_t{1} + found->features.size());
    QVERIFY(std::any_of(plan.steps.begin(), plan.steps.end(), [](const RoutineStep& s) {
      return std::holds_alternative<NoteStep>(s.body);
    }));
  }

  // Touches and ways in, feature by feature.
  void theRoutineIsTheSame() {
    Bench bench = *readBench(demo::benchJson(true), "bench.json");
    Plan model = beginPlan(part_, bench);
    Plan drawn = withSpecification(model, accepted().spec);
    auto by_model = completePlan(model), by_drawing = completePlan(drawn);
    QVERIFY(by_model && by_drawing);
    QCOMPARE(by_drawing->features.size(), by_model->features.size());
    for (const Feature& f : by_model->features) {
      const auto& faces = by_model->nominal(f.id).faces;
      const Feature* same = nullptr;
      for (const Feature& g : by_drawing->features)
        if (by_drawing->nominal(g.id).faces == faces) same = &g;
      QVERIFY2(same, by_model->nominal(f.id).name.c_str());
      QCOMPARE(same->touches.size(), f.touches.size());
      for (std::size_t i = 0; i < f.touches.size(); ++i)
        QVERIFY(same->touches[i].point == f.touches[i].point &&
                same->touches[i].normal == f.touches[i].normal);
      QVERIFY(by_drawing->tip(same->access).name == by_model->tip(f.access).name &&
              same->access.a == f.access.a && same->access.b == f.access.b);
    }
  }
};

} // namespace

ALDER_TEST(DrawnRoutineTest)
#include "drawn_routine_test.moc"
