#include "revision/revision.h"

#include "made_parts.h"
#include "made_revision.h"
#include "part/step_import.h"
#include "plan/constructions/constructed_feature.h"
#include "route/draft.h"
#include "support.h"
#include <algorithm>
#include <set>

namespace {

using namespace alder;

std::string listOf(const Revision& r) {
  std::string all;
  for (const RevisionEntry& e : r.entries)
    all += fmt::format("\n  {} {}: {} ({})", name(e.subject), name(e.fate), e.words, e.detail);
  return all;
}

std::size_t count(const Revision& r, RevisionSubject subject, RevisionFate fate) {
  return static_cast<std::size_t>(
      std::count_if(r.entries.begin(), r.entries.end(), [&](const RevisionEntry& e) {
        return e.subject == subject && e.fate == fate;
      }));
}

std::vector<Decision> all(const Revision& r, Decision decision) {
  return std::vector<Decision>(r.entries.size(), decision);
}

class RevisionTest : public QObject {
  Q_OBJECT

  struct Case {
    Plan plan;
    Revision revision;
  };
  static Result<Case> made() {
    const auto files = test::revisedSpecification();
    if (!files) return pass(files.error());
    auto job = test::jobFor(files->before);
    if (!job) return pass(job.error());
    const auto now = importStep(files->now, "now.step");
    if (!now) return pass(now.error());
    auto revision = revisionOf(job->plan, {*now, {}});
    if (!revision) return pass(revision.error());
    return Case{std::move(job->plan), std::move(*revision)};
  }

 private slots:
  // Two moved bores, one new, one slot gone, three tolerances changed: that and nothing else.
  void toldExactly() {
    const auto c = made();
    VERIFY_OK(c);
    const Revision& r = c->revision;
    const auto told = [&](RevisionSubject s, RevisionFate f, std::size_t n) {
      return count(r, s, f) == n;
    };
    using S = RevisionSubject;
    using F = RevisionFate;
    const std::string list = listOf(r);
    QVERIFY2(told(S::Model, F::Changed, 2), list.c_str());
    QVERIFY2(told(S::Model, F::New, 1), list.c_str());
    QVERIFY2(told(S::Model, F::Gone, 1), list.c_str());
    QVERIFY2(told(S::Requirement, F::Changed, 3), list.c_str());
    QVERIFY2(told(S::Requirement, F::New, 2), list.c_str()); // size and position of the new bore
    QVERIFY2(told(S::Requirement, F::Gone, 1), list.c_str());
    QVERIFY2(told(S::Datum, F::Changed, 0) && told(S::Datum, F::New, 0), list.c_str());
    for (const RevisionEntry& e : r.entries)
      if (e.subject == S::Model && e.fate == F::Changed)
        QVERIFY2(e.surfaces == SurfaceFate::Moved, e.words.c_str());
    QCOMPARE(r.stayed, c->plan.spec.requirements.size() - 4);
  }

  void untouchedStaysBitByBit() {
    const auto c = made();
    VERIFY_OK(c);
    const auto group = revisedRoutine(c->plan, c->revision, all(c->revision, Decision::Taken));
    VERIFY_OK(group);
    Plan plan = c->plan;
    const auto undo = applyEdits(plan, *group);
    VERIFY_OK(undo);
    std::set<FeatureId> concerned;
    for (const RevisionEntry& e : c->revision.entries)
      if (e.subject == RevisionSubject::Model || e.subject == RevisionSubject::Touches)
        concerned.insert(e.features.begin(), e.features.end());
    std::size_t same = 0;
    for (const Feature& f : c->plan.features) {
      if (concerned.count(f.id)) continue;
      const Feature& now = plan.feature(f.id);
      QCOMPARE(now.touches.size(), f.touches.size());
      for (std::size_t i = 0; i < f.touches.size(); ++i) {
        QVERIFY(now.touches[i].point == f.touches[i].point);
        QVERIFY(now.touches[i].normal == f.touches[i].normal);
        QCOMPARE(now.touches[i].row, f.touches[i].row);
      }
      QVERIFY(now.access == f.access);
      QVERIFY(now.recipe == f.recipe);
      QVERIFY(now.entry == f.entry && now.waypoints == f.waypoints);
      QVERIFY(plan.nominal(f.id).ideal == c->plan.nominal(f.id).ideal);
      ++same;
    }
    QVERIFY(same >= 8);
    // Moved bores keep their touches too, moved.
    for (const CarriedFeature& f : c->revision.features)
      if (f.fate == SurfaceFate::Moved) {
        const auto& before = c->plan.feature(f.id).touches;
        const auto& now = plan.feature(f.id).touches;
        QCOMPARE(now.size(), before.size());
        for (std::size_t i = 0; i < now.size(); ++i)
          NEAR((now[i].point - f.move * before[i].point).norm(), 0.0, 1e-9);
      }
    // All on the material of the newer model, each on the face it names; all covered; no clash.
    for (const Feature& f : plan.features) {
      if (plan.nominal(f.id).isConstructed()) continue;
      const auto faults =
          faultsOf(*plan.part, plan.nominal(f.id), f.touches, plan.tip(f.access).edgeRoom());
      QVERIFY2(std::all_of(faults.begin(), faults.end(), [](auto& s) { return s.empty(); }),
               plan.nominal(f.id).name.c_str());
    }
    for (const Requirement& r : plan.spec.requirements)
      QVERIFY2(isCovered(plan, r), whyNotCovered(plan, r).c_str());
    QCOMPARE(plan.spec.requirements.size(), c->plan.spec.requirements.size() + 1);
    QVERIFY(test::rehearsed(plan).clear());
    // And back.
    VERIFY_OK(applyEdits(plan, *undo));
    QVERIFY(plan.part == c->plan.part);
    QVERIFY(plan.spec == c->plan.spec);
    QVERIFY(plan.steps == c->plan.steps);
    for (const Feature& f : c->plan.features)
      QVERIFY(plan.feature(f.id).touches == f.touches);
  }

  // What is left stays; what nobody decided on stops it.
  void nothingUnseen() {
    const auto c = made();
    VERIFY_OK(c);
    auto decisions = all(c->revision, Decision::Taken);
    decisions.back() = Decision::Open;
    QVERIFY(!revisedRoutine(c->plan, c->revision, decisions));
    const auto group = revisedRoutine(c->plan, c->revision, all(c->revision, Decision::Left));
    VERIFY_OK(group);
    Plan plan = c->plan;
    VERIFY_OK(applyEdits(plan, *group));
    // Only what has nothing to stand on is gone: the size of the slot.
    QCOMPARE(plan.spec.requirements.size(), c->plan.spec.requirements.size() - 1);
    for (const Requirement& r : plan.spec.requirements) {
      const Requirement& old = c->plan.spec.requirement(r.id);
      QCOMPARE(r.tolerance, old.tolerance);
      QCOMPARE(r.lower, old.lower);
      QCOMPARE(r.balloon, old.balloon);
    }
    // The same newer model once more: what was left is told again, the rest no more.
    const auto again = revisionOf(plan, {plan.part, {}});
    VERIFY_OK(again);
    QCOMPARE(count(*again, RevisionSubject::Model, RevisionFate::Changed), std::size_t(0));
  }

  void sameModelHasNothingToTell() {
    for (const char* unit : {"MM", "INCH"}) {
      const auto first = test::bracketStep("MM", 0), second = test::bracketStep(unit, 0);
      VERIFY_OK(first);
      VERIFY_OK(second);
      const auto a = importStep(*first, "a.step"), b = importStep(*second, "b.step");
      VERIFY_OK(a);
      VERIFY_OK(b);
      auto bench = defaultBench();
      VERIFY_OK(bench);
      Plan plan = beginPlan(*a, *bench);
      // What a person changed here is not what the model changed.
      plan.spec.requirements[1].upper += 0.5;
      plan.spec.requirements[1].association = AssociateBy::LeastSquares;
      plan.spec.requirements.pop_back();
      const auto r = revisionOf(plan, {*b, {}});
      VERIFY_OK(r);
      QVERIFY2(r->entries.empty(), listOf(*r).c_str());
      QCOMPARE(r->stayed, plan.spec.requirements.size());
    }
  }

  // Requirements that no newer source speaks of follow the geometry when they are told to.
  void typedOnesFollowTheModel() {
    const auto files = test::revisedSpecification();
    VERIFY_OK(files);
    const auto before = importStep(files->before, "a.step");
    VERIFY_OK(before);
    const auto now = importStep(files->now, "b.step");
    VERIFY_OK(now);
    auto bench = defaultBench();
    VERIFY_OK(bench);
    Plan plan = beginPlan(*before, *bench);
    for (Requirement& r : plan.spec.requirements)
      r.entity = 0;
    const FeatureId a = plan.spec.requirements[2].features.front();
    Requirement distance;
    distance.kind = Characteristic::Distance;
    const auto b = std::find_if(
        plan.spec.features.begin(), plan.spec.features.end(), [&](const NominalFeature& f) {
          return f.ideal.type == SurfaceType::Cylinder && std::abs(f.ideal.point.x() - 90) < 1e-6 &&
                 std::abs(f.ideal.point.y() - 20) < 1e-6;
        });
    QVERIFY(b != plan.spec.features.end());
    const auto other = std::find_if(
        plan.spec.features.begin(), plan.spec.features.end(), [&](const NominalFeature& f) {
          return f.ideal.type == SurfaceType::Cylinder && std::abs(f.ideal.point.x() - 20) < 1e-6 &&
                 std::abs(f.ideal.point.y() - 20) < 1e-6;
        });
    QVERIFY(a.valid() && other != plan.spec.features.end());
    distance.features = {other->id, b->id};
    distance.nominal = 70, distance.lower = 69.8, distance.upper = 70.1;
    plan.spec = withRequirement(plan.spec, distance);
    const RequirementId id = plan.spec.requirements.back().id;
    auto stripped = *now;
    const auto r = revisionOf(plan, {stripped, {}});
    VERIFY_OK(r);
    const auto entry = std::find_if(r->entries.begin(), r->entries.end(), [&](auto& e) {
      return e.was && e.was->id == id && e.fate == RevisionFate::Changed;
    });
    QVERIFY2(entry != r->entries.end(), listOf(*r).c_str());
    NEAR(entry->is->nominal, 71.5, 1e-9);
    NEAR(entry->is->lower, 71.3, 1e-9);
    NEAR(entry->is->upper, 71.6, 1e-9);
  }

  void anotherPartIsRefused() {
    const auto shaft = test::shaftStep("MM", 0);
    VERIFY_OK(shaft);
    const auto part = importStep(*shaft, "shaft.step");
    VERIFY_OK(part);
    const auto r = revisionOf(test::heronPlan(), {*part, {}});
    QVERIFY(!r);
    QVERIFY2(r.error().message.find("two states of one part") != std::string::npos,
             r.error().message.c_str());
  }
};

} // namespace

ALDER_TEST(RevisionTest)
#include "revision_test.moc"
