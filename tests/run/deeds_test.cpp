#include "base/files.h"
#include "exchange/points/points_file.h"
#include "exchange/runs/run_output.h"
#include "judge/judge.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/steps/step_edit.h"
#include "rehearse/qualify.h"
#include "route/qualify_way.h"
#include "run/journal.h"
#include "run/simulated_run.h"
#include "support.h"
#include <QTemporaryDir>
#include <set>

using namespace alder;

namespace {

// Remembers what the routine told and asked for.
class Witness : public WillingOperator {
 public:
  bool warned(const std::string& words) override {
    warnings.push_back(words);
    return go_on;
  }
  bool goOnDespite(const std::string& trouble) override {
    troubles.push_back(trouble);
    return go_on;
  }
  void evaluated(const std::vector<Evaluation>& e) override { told.push_back(e); }
  Done write(const Output& step, const RunSession& session) override {
    written.push_back(step.file);
    if (folder.empty()) return fail("{}: there is no room.", step.file);
    return writeOutput(step, session, folder, 0);
  }

  std::vector<std::string> warnings, troubles, written;
  std::vector<std::vector<Evaluation>> told;
  std::filesystem::path folder;
  bool go_on = true;
};

class Skipping : public Witness {
 public:
  FaultChoice choose(const Fault&, const RunTask&) override { return FaultChoice::Skip; }
};

} // namespace

// Steps of a run that judge, branch, work out, write, and look after the tips.
class DeedsTest : public QObject {
  Q_OBJECT

  struct Outcome {
    RunEnd end;
    std::vector<RunEvent> events;
    std::shared_ptr<RunSession> session;
  };
  static Outcome conducted(const Plan& plan, Operator& who, const Defects& defects = {},
                           RunKind kind = RunKind::Automatic,
                           const std::vector<PlannedFault>& faults = {}) {
    const auto shared = std::make_shared<const Plan>(plan);
    auto way = routePlan(plan, obstaclesOf(plan));
    if (!way) qFatal("%s", way.error().message.c_str());
    Outcome outcome;
    outcome.session =
        std::make_shared<RunSession>(shared, std::make_shared<const Way>(std::move(*way)), kind);
    SimulatedController machine({shared, defects, 3, faults, Vec3::Zero(), {}});
    outcome.end = conduct(*outcome.session, machine, who, [&](const RunEvent& e) -> Done {
      outcome.events.push_back(e);
      return {};
    });
    return outcome;
  }
  // What a journal of it brings back is the same.
  static bool replays(const Plan& plan, const Outcome& outcome, RunKind kind = RunKind::Automatic) {
    auto way = routePlan(plan, obstaclesOf(plan));
    RunSession again(std::make_shared<const Plan>(plan), std::make_shared<const Way>(*way), kind);
    for (const RunEvent& e : outcome.events) {
      const auto line = readJournal(journalLine(RunHead{}) + journalLine(e), "line");
      if (!line || !(line->events.front() == e)) return false;
      if (!again.take(e)) return false;
    }
    return again.touches() == outcome.session->touches() &&
           again.plan().qualified == outcome.session->plan().qualified &&
           again.endedBy() == outcome.session->endedBy();
  }
  static void put(Plan& plan, std::size_t at, StepBody body, int depth = 0) {
    auto edit = insertSteps(plan, {{StepId{0}, 0, true, 0, std::move(body)}}, at, depth);
    if (!edit) qFatal("%s", edit.error().message.c_str());
    if (auto done = applyEdit(plan, *edit); !done) qFatal("%s", done.error().message.c_str());
  }
  static std::set<FeatureId> touched(const RunSession& session) {
    std::set<FeatureId> all;
    for (const RawTouch& t : session.touches())
      all.insert(t.feature);
    return all;
  }

 private slots:
  void evaluated() {
    Plan plan = test::heronPlan();
    put(plan, plan.steps.size(),
        EvaluateStep{{test::balloon(plan, 2).id, test::balloon(plan, 13).id}});
    put(plan, 3, EvaluateStep{});
    Witness who;
    const Outcome outcome = conducted(plan, who);
    QVERIFY2(outcome.end.finished, outcome.end.why.c_str());
    QCOMPARE(who.told.size(), std::size_t(2));
    // Early on only what stands on the features of the part frame is judged.
    QVERIFY(!who.told[0].empty() && who.told[0].size() < plan.spec.requirements.size());
    for (const Evaluation& e : who.told[0])
      QVERIFY(e.verdict != Verdict::Unmeasured);
    QCOMPARE(who.told[1].size(), std::size_t(2));
    // As it is judged afterwards.
    const auto after = judgeAll(plan, measurementsOf(outcome.session->run()));
    for (const Evaluation& e : who.told[1]) {
      const Evaluation& late = after[static_cast<std::size_t>(e.requirement.value)];
      QVERIFY(e.verdict == late.verdict);
      NEAR(*e.actual, *late.actual, 1e-9);
    }
    QVERIFY(replays(plan, outcome));
  }

  void branches_data() {
    QTest::addColumn<int>("does");
    QTest::addColumn<bool>("good");
    for (const bool good : {true, false})
      for (const BranchDoes does : {BranchDoes::Warn, BranchDoes::LeaveGroup, BranchDoes::Stop})
        QTest::addRow("%s %s", name(does).data(), good ? "good" : "bad")
            << static_cast<int>(does) << good;
  }
  void branches() {
    QFETCH(int, does);
    QFETCH(bool, good);
    Plan plan = test::heronPlan();
    // A wait and two more features stand in a group behind the branch.
    const auto order = test::orderOf(plan);
    auto group =
        groupSteps(plan, {stepOf(plan.steps, order[4]), stepOf(plan.steps, order[5])}, "g");
    VERIFY_OK(group);
    VERIFY_OK(applyEdit(plan, *group));
    const std::size_t at = indexOf(plan.steps, stepOf(plan.steps, order[4]));
    put(plan, at,
        BranchStep{test::balloon(plan, 2).id, BranchWhen::Outside, static_cast<BranchDoes>(does)},
        1);
    if (!good) {
      Requirement& r = plan.spec.requirements[1];
      QCOMPARE(r.balloon, 2);
      r.lower = r.upper = r.nominal + 1; // nothing is within
    }
    for (const RunKind kind : {RunKind::Automatic, RunKind::ByHand}) {
      Witness who;
      const Outcome outcome = conducted(plan, who, {}, kind);
      QVERIFY2(outcome.end.finished, outcome.end.why.c_str());
      const auto measured = touched(*outcome.session);
      const bool taken = !good;
      QCOMPARE(who.warnings.size(), std::size_t(taken && BranchDoes(does) == BranchDoes::Warn));
      const bool leaves = taken && BranchDoes(does) != BranchDoes::Warn,
                 stops = taken && BranchDoes(does) == BranchDoes::Stop;
      QCOMPARE(measured.count(order[3]), std::size_t(1));
      QCOMPARE(measured.count(order[4]), std::size_t(!leaves));
      QCOMPARE(measured.count(order[5]), std::size_t(!leaves));
      QCOMPARE(measured.count(order[6]), std::size_t(!stops));
      QCOMPARE(outcome.session->endedBy().empty(), !stops);
      QCOMPARE(outcome.end.why.empty(), !stops);
      QVERIFY(replays(plan, outcome, kind));
    }
  }
  void aWarningCanEndIt() {
    Plan plan = test::heronPlan();
    put(plan, plan.steps.size() - 3,
        BranchStep{test::balloon(plan, 2).id, BranchWhen::Within, BranchDoes::Warn});
    Witness who;
    who.go_on = false;
    const Outcome outcome = conducted(plan, who);
    QVERIFY(!outcome.end.finished);
    QCOMPARE(who.warnings.front(), std::string("Requirement 2 is within."));
  }

  void constructed() {
    Plan plan = test::heronPlan();
    Construction c;
    for (int k = 1; k <= 6; ++k)
      c.of.push_back(test::named(plan, "Bore ø11 · " + std::to_string(k)));
    const auto proposals = proposeConstructions(plan, c.of);
    QVERIFY(!proposals.empty());
    auto spec = withConstructed(plan, proposals.front().construction, "Circle of holes");
    VERIFY_OK(spec);
    VERIFY_OK(applyEdit(plan, SetSpecification{*spec}));
    const FeatureId circle = test::named(plan, "Circle of holes");
    put(plan, 3, ConstructStep{circle});
    put(plan, plan.steps.size(), ConstructStep{circle});
    Witness who;
    const Outcome outcome = conducted(plan, who);
    QVERIFY(outcome.end.finished);
    QCOMPARE(who.troubles.size(), std::size_t(1)); // the early one
    QVERIFY(who.troubles.front().find("is not measured yet") != std::string::npos);
    const auto shape = outcome.session->constructed(circle);
    VERIFY_OK(shape);
    NEAR(shape->ideal.diameter, plan.nominal(circle).ideal.diameter, 0.02);
    QVERIFY(replays(plan, outcome));
    // The router tells of it before.
    const auto way = routePlan(plan, obstaclesOf(plan));
    QVERIFY(std::any_of(way->notes.begin(), way->notes.end(), [](const Note& n) {
      return n.text.find("constructed before") != std::string::npos;
    }));
  }

  void filesAreWritten() {
    QTemporaryDir dir;
    Plan plan = test::heronPlan();
    put(plan, 0, AskStep{"Serial number", false, "", QuestionRole::SerialNumber});
    put(plan, plan.steps.size(), OutputStep{OutputKind::TouchedPoints, "{routine}.csv"});
    put(plan, plan.steps.size(), OutputStep{OutputKind::Verdicts, "verdicts {Serial number}"});
    put(plan, plan.steps.size(), OutputStep{OutputKind::Report, "report.pdf"});
    Witness who;
    who.folder = dir.path().toStdString();
    const Outcome outcome = conducted(plan, who);
    QVERIFY(outcome.end.finished);
    QCOMPARE(who.troubles.size(), std::size_t(0));
    const auto points = readFile(who.folder / (plan.name + ".csv"));
    VERIFY_OK(points);
    QCOMPARE(*points, pointsText(outcome.session->run()));
    VERIFY_OK(readFile(who.folder / "verdicts .csv")); // nothing was answered
    QVERIFY(readFile(who.folder / "report.pdf")->starts_with("%PDF"));
    // What cannot be written is told.
    who = {};
    QVERIFY(conducted(plan, who).end.finished);
    QCOMPARE(who.troubles.size(), std::size_t(3));
  }
  void namesOfFiles() {
    const OutputStep step{OutputKind::Verdicts, "{Serial}/{routine} {nothing}x{.csv"};
    QCOMPARE(outputName(step, "He/ron", {{StepId{1}, "Serial", "../A:1"}}, 0),
             std::string("..-A-1/He-ron x{.csv"));
    QVERIFY(
        outputName({OutputKind::Report, "{time}"}, "", {}, 86400 * 366).starts_with("1971-01-0"));
  }

  // Tips are qualified in the run; what is measured then is as good as with tips qualified before.
  void tipsAreQualified() {
    Plan plan = test::heronPlan();
    const auto tips = accessesUsed(plan);
    // Known is the first alone, so that the machine is not taken as perfect.
    const auto way = qualifyWay(plan, obstaclesOf(plan), {tips.front()});
    VERIFY_OK(way);
    auto known = qualifyOnSimulatedMachine(plan, *way, {}, {});
    VERIFY_OK(known);
    plan.qualified = *known;
    Witness who;
    const auto worst = [&](const Outcome& o) {
      double most = 0;
      for (const MeasuredPoint& p : o.session->run().points)
        most = std::max(most, std::abs((p.surface - p.nominal).dot(p.normal)));
      return most;
    };
    const Outcome without = conducted(plan, who);
    QVERIFY(without.end.finished);
    put(plan, 0, QualifyStep{});
    const auto routed = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(routed);
    const auto rehearsal = rehearse(plan, obstaclesOf(plan), *routed);
    VERIFY_OK(rehearsal);
    QVERIFY2(rehearsal->clear(),
             rehearsal->clear() ? "" : rehearsal->clashes.front().moving.c_str());
    const Outcome outcome = conducted(plan, who);
    QVERIFY2(outcome.end.finished, outcome.end.why.c_str());
    for (const Access& a : tips)
      QVERIFY(!needsQualifying(outcome.session->plan().qualified, a, plan.bench));
    // As good as if they had been qualified before.
    Plan before = test::heronPlan();
    const auto way_of_all = qualifyWay(before, obstaclesOf(before), tips);
    VERIFY_OK(way_of_all);
    before.qualified = *qualifyOnSimulatedMachine(before, *way_of_all, {}, {});
    const double best = worst(conducted(before, who));
    QVERIFY(worst(outcome) < 1.2 * best);
    QVERIFY(best < 0.8 * worst(without));
    QVERIFY(replays(plan, outcome));
    // Those that need it: one was known, and is not touched again.
    for (const RunEvent& e : outcome.events)
      if (const auto* s = std::get_if<SphereTouched>(&e)) QVERIFY(!(s->access == tips.front()));
    // All of them, the sphere having moved: nothing of before is left.
    Plan moved = test::heronPlan();
    moved.qualified = *known;
    moved.qualified.sphere += Vec3(1, 0, 0);
    put(moved, 0, QualifyStep{true, true, true});
    const Outcome again = conducted(moved, who);
    QVERIFY2(again.end.finished, again.end.why.c_str());
    QCOMPARE(again.session->plan().qualified.tips.size(), tips.size());
    NEAR((again.session->plan().qualified.sphere - plan.bench.sphere.centre).norm(), 0.0, 0.1);
    QVERIFY(replays(moved, again));
    // By hand the sphere is passed over.
    const Outcome by_hand = conducted(plan, who, {}, RunKind::ByHand);
    QVERIFY2(by_hand.end.finished, by_hand.end.why.c_str());
    QVERIFY(by_hand.session->plan().qualified == plan.qualified);
  }
  // A touch of the sphere that fails may be skipped: that tip stays as it was, the others are
  // qualified, and the part is measured.
  void aTipIsGivenUp() {
    Skipping who;
    Plan plan = test::heronPlan();
    const auto tips = accessesUsed(plan);
    put(plan, 0, QualifyStep{});
    const Outcome outcome =
        conducted(plan, who, {}, RunKind::Automatic, {{1, FaultKind::MissedTouch}});
    QVERIFY2(outcome.end.finished, outcome.end.why.c_str());
    const Qualification& known = outcome.session->plan().qualified;
    QCOMPARE(known.tips.size(), tips.size() - 1);
    int given_up = 0;
    for (const RunEvent& e : outcome.events)
      if (const auto* tip = std::get_if<TipGivenUp>(&e)) {
        QVERIFY(!known.find(tip->access));
        ++given_up;
      }
    QCOMPARE(given_up, 1);
    QCOMPARE(outcome.session->touchesLeft(), 0);
    QVERIFY(replays(plan, outcome));
    RunSession other(std::make_shared<const Plan>(test::heronPlan()),
                     std::make_shared<const Way>(test::heronWay()));
    QVERIFY(!other.take(TipGivenUp{StepId{1}, tips.front()}));
    QVERIFY(!other.take(Framed{"none"}));
  }
  void whatIsStale() {
    Plan plan = test::heronPlan();
    QualifiedTip tip;
    tip.access = accessesUsed(plan).front();
    tip.diameter = plan.tip(tip.access).ball_diameter;
    tip.seconds = 1000;
    plan.qualified.tips = {tip};
    QVERIFY(!needsQualifying(plan.qualified, tip.access, plan.bench));
    QCOMPARE(withoutStale(plan.qualified, plan.bench, 1001).tips.size(), std::size_t(1));
    QCOMPARE(withoutStale(plan.qualified, plan.bench, 1000 + 3600L * 24 * 365).tips.size(),
             std::size_t(0));
  }
};

ALDER_TEST(DeedsTest)
#include "deeds_test.moc"
