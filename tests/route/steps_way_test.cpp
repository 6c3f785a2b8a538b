#include "base/units.h"
#include "plan/steps/step_edit.h"
#include "route/order.h"
#include "support.h"
#include <set>

using namespace alder;

// Ways through steps that touch nothing.
class StepsWayTest : public QObject {
  Q_OBJECT

  static Plan with(const Plan& plan, std::size_t at, StepBody body) {
    Plan changed = plan;
    RoutineStep s;
    s.body = std::move(body);
    const auto edit = insertSteps(changed, {s}, at, 0);
    if (!edit) qFatal("%s", edit.error().message.c_str());
    if (auto done = applyEdit(changed, *edit); !done) qFatal("%s", done.error().message.c_str());
    return changed;
  }
  static Way wayOf(const Plan& plan) {
    auto way = routePlan(plan, obstaclesOf(plan));
    if (!way) qFatal("%s", way.error().message.c_str());
    return *way;
  }
  static const Step* find(const Way& way, StepKind kind) {
    for (const Step& s : way.steps)
      if (s.kind == kind) return &s;
    return nullptr;
  }

 private slots:
  void waitsTakeTimeAndStandClear() {
    const Plan& plain = test::heronPlan();
    const Plan plan = with(plain, 8, WaitStep{"Look", "", true, 60});
    const Way way = wayOf(plan);
    const Step* wait = find(way, StepKind::Wait);
    QVERIFY(wait && wait->last == wait->first);
    const auto times = timesOf(plan.bench, way), before = timesOf(plain.bench, test::heronWay());
    const auto at = static_cast<std::size_t>(wait->first);
    NEAR(times[at] - times[at - 1], 60.0, 1e-9);
    QVERIFY(times.back() >= before.back() + 60);
    const Position& p = way.positions[at];
    const Clearance clearance(plan, test::heronObstacles());
    QVERIFY(clearance.roomToTurn(toolOf(plan.bench, p.access), p.ball));
    QVERIFY(test::rehearsed(plan).clear());
    QCOMPARE(way.steps[static_cast<std::size_t>(wait - way.steps.data())].origin, plan.steps[8].id);
  }
  // First of all the operator is asked, before anything is touched by hand.
  void askedFirst() {
    const Plan plan = with(test::heronPlan(), 0, AskStep{"Serial number", false, ""});
    const Way way = wayOf(plan);
    const Step *ask = find(way, StepKind::Ask), *hand = find(way, StepKind::Manual);
    QVERIFY(ask && hand && ask < hand);
    QVERIFY(test::rehearsed(plan).clear());
  }
  // The hop that meets the clamp is free once a wait before it has opened the clamp.
  void openedClampsAreOutOfTheWay() {
    auto project = openProject(test::dataPath("heron-clamp.alder"));
    VERIFY_OK(project);
    Plan& plan = project->plan;
    const Rehearsal r = test::rehearsed(plan);
    QVERIFY(!r.clear());
    const std::string clamp = r.clashes.front().still;
    QVERIFY(clamp.starts_with("clamp"));
    const auto order = test::orderOf(plan);
    const Way way = wayOf(plan);
    const FeatureId met = way.steps[static_cast<std::size_t>(r.clashes.front().step)].feature;
    const auto place = std::find(order.begin(), order.end(), met) - order.begin();
    // Two before: the close hop stays, between its features.
    const Plan open =
        with(plan, static_cast<std::size_t>(place) - 1, WaitStep{"", clamp, true, 15});
    const Way opened = wayOf(open);
    QCOMPARE(opened.states.size(), 2u);
    QVERIFY(test::rehearsed(open).clear());
    // Closed again before it, it is in the way again.
    const Plan closed =
        with(open, static_cast<std::size_t>(place) + 1, WaitStep{"", clamp, false, 15});
    QCOMPARE(wayOf(closed).states.size(), 3u);
    // A clamp that is not there opens nothing.
    const Plan wrong =
        with(plan, static_cast<std::size_t>(place) - 1, WaitStep{"", "clamp 9", true, 15});
    QVERIFY(!test::rehearsed(wrong).clear());
  }
  void placesAreCountedFrom() {
    const Plan& plan = test::heronPlan();
    const FeatureId bore = test::named(plan, "Bore ø32");
    const auto ballOf = [&](const MoveStep& move) {
      const Plan moved = with(plan, 8, move);
      const Way way = wayOf(moved);
      const Step* s = find(way, StepKind::Move);
      if (!s) qFatal("no move");
      if (!test::rehearsed(moved).clear()) qFatal("clash");
      return way.positions[static_cast<std::size_t>(s->last)].ball;
    };
    // Above the bore, whichever way its axis runs: higher than its upper end by 100.
    const Vec3 above = ballOf({CountFrom::Feature, bore, Vec3(0, 0, 100)});
    const Ideal& i = plan.nominal(bore).ideal;
    const Vec3 one = plan.placement * i.point,
               other = plan.placement * (i.point + i.length * i.direction);
    NEAR(above.z(), std::max(one.z(), other.z()) + 100, 1e-6);
    NEAR(std::hypot(above.x() - one.x(), above.y() - one.y()), 0.0, 1e-6);
    // Of a face: out of it.
    const FeatureId face = plan.spec.datum("A")->features[0];
    const Vec3 off = ballOf({CountFrom::Feature, face, Vec3(0, 0, 100)});
    NEAR((off - plan.placement * plan.nominal(face).ideal.point)
             .dot(turn(plan.placement, plan.nominal(face).ideal.direction)),
         100.0, 1e-6);
    NEAR((ballOf({CountFrom::Part, {}, Vec3(10, 20, 150)}) - plan.placement * Vec3(10, 20, 150))
             .norm(),
         0.0, 1e-9);
    NEAR((ballOf({CountFrom::Machine, {}, Vec3(300, 400, 350)}) - Vec3(300, 400, 350)).norm(), 0.0,
         1e-9);
  }
  // Inside the shell it goes down along the shank, and the same way out again.
  void movesInsideAreLeftAsEntered() {
    const Plan& plan = test::heronPlan();
    const FeatureId bore = test::named(plan, "Bore ø32");
    const Vec3 inside = placesFrame(plan, bore) * Vec3(0, 0, -3);
    const Plan moved = with(plan, 8, MoveStep{CountFrom::Part, {}, inside});
    const Way way = wayOf(moved);
    const Step* s = find(way, StepKind::Move);
    const auto at = static_cast<std::size_t>(s->last);
    NEAR((way.positions[at].ball - plan.placement * inside).norm(), 0.0, 1e-9);
    NEAR((way.positions[at + 1].ball - way.positions[at - 1].ball).norm(), 0.0, 1e-9);
    QVERIFY(test::rehearsed(moved).clear());
  }
  void headTurnsAndSwaps() {
    const Plan& plan = test::heronPlan();
    const Way turned = wayOf(with(plan, 8, TurnStep{radians(30), radians(60)}));
    QVERIFY(std::any_of(turned.positions.begin(), turned.positions.end(), [](const Position& p) {
      return p.kind == MoveKind::Turn && std::abs(p.access.a - radians(30)) < 1e-9 &&
             std::abs(p.access.b - radians(60)) < 1e-9;
    }));
    const Stylus& star = plan.bench.styli.back();
    const Plan swapping = with(plan, 8, SwapStep{star.name, star.tips.back().name});
    const Way swapped = wayOf(swapping);
    QVERIFY(std::any_of(swapped.steps.begin(), swapped.steps.end(), [&](const Step& s) {
      return s.kind == StepKind::Swap &&
             s.access.stylus == static_cast<int>(plan.bench.styli.size()) - 1;
    }));
    QVERIFY(test::rehearsed(swapping).clear());
    const Way none = wayOf(with(plan, 8, SwapStep{"no such stylus", ""}));
    QVERIFY(!none.notes.empty());
    QVERIFY(none.notes.front().text.find("no such stylus") != std::string::npos);
  }
  void leftOutIsNotMeasured() {
    Plan plan = test::heronPlan();
    const StepId last = plan.steps.back().id;
    const FeatureId f = test::orderOf(plan).back();
    VERIFY_OK(applyEdit(plan, *enableSteps(plan, {last}, false)));
    const Way way = wayOf(plan);
    for (const Position& p : way.positions)
      QVERIFY(p.feature != f || p.kind == MoveKind::Manual);
    int shown = 0;
    for (const Step& s : way.steps)
      shown += s.left_out && s.origin == last;
    QCOMPARE(shown, 1);
    int uncovered = 0;
    for (const Requirement& r : plan.spec.requirements)
      uncovered += whyNotCovered(plan, r).find("left out of the routine") != std::string::npos;
    QVERIFY(uncovered > 0);
  }
  // Between two touches of one feature, all of which are made.
  void waitsWithinAFeature() {
    Plan plan = with(test::heronPlan(), 9, WaitStep{"turn it", "", true, 12});
    const StepId wait = plan.steps[9].id;
    VERIFY_OK(applyEdit(plan, *putWithinNext(plan, wait)));
    Steps steps = plan.steps;
    const std::size_t i = indexOf(steps, wait);
    steps[i].before = 3;
    VERIFY_OK(applyEdit(plan, *stepsBecome(plan, steps)));
    const FeatureId f = std::get<MeasureStep>(plan.steps[i - 1].body).feature;
    const Way way = wayOf(plan);
    std::vector<int> touched;
    std::size_t before_wait = 0;
    for (const Position& p : way.positions) {
      if (p.dwell > 0) before_wait = touched.size();
      if (p.contact && p.feature == f && p.kind == MoveKind::Touch) touched.push_back(p.touch);
    }
    QCOMPARE(before_wait, 3u);
    QCOMPARE(touched.size(), plan.feature(f).touches.size());
    for (std::size_t k = 0; k < touched.size(); ++k)
      QCOMPARE(touched[k], static_cast<int>(k));
    QVERIFY(test::rehearsed(plan).clear());
  }
  // Ordering for time takes nothing across a wait, and keeps groups together.
  void orderKeepsWaitsAndGroups() {
    Plan plan = test::heronPlan();
    std::vector<StepId> members;
    for (const std::size_t i : {5u, 11u, 17u})
      members.push_back(plan.steps[i].id);
    VERIFY_OK(applyEdit(plan, *groupSteps(plan, members, "three")));
    plan = with(plan, 13, WaitStep{});
    const auto sides = [](const Plan& p) {
      std::pair<std::set<FeatureId>, std::set<FeatureId>> sets;
      bool behind = false;
      for (const RoutineStep& s : p.steps) {
        behind |= std::holds_alternative<WaitStep>(s.body);
        if (const auto* m = std::get_if<MeasureStep>(&s.body))
          (behind ? sets.second : sets.first).insert(m->feature);
      }
      return sets;
    };
    const auto before = sides(plan);
    const double seconds_before = test::rehearsed(plan).seconds;
    orderForTime(plan);
    QVERIFY(validate(plan.steps));
    QVERIFY(sides(plan) == before);
    QVERIFY(test::rehearsed(plan).seconds <= seconds_before + 1);
    for (std::size_t i = 0; i < plan.steps.size(); ++i)
      if (std::holds_alternative<GroupStep>(plan.steps[i].body)) {
        QCOMPARE(endOf(plan.steps, i) - i, 4u);
        for (std::size_t k = i + 1; k < i + 4; ++k)
          QVERIFY(std::count(members.begin(), members.end(), plan.steps[k].id) == 1);
      }
  }
  // Notes and groups may stand before anything that the machine does.
  void aNoteComesFirst() {
    Plan plan = test::heronPlan();
    RoutineStep note;
    note.id = freeId(plan.steps);
    note.body = NoteStep{"first of all"};
    plan.steps.insert(plan.steps.begin(), note);
    const auto way = routePlan(plan, test::heronObstacles());
    VERIFY_OK(way);
    QCOMPARE(way->steps.front().kind, StepKind::Note);
    for (const Step& s : way->steps)
      QVERIFY2(s.access.valid(), s.text.c_str());
  }
};
ALDER_TEST(StepsWayTest)
#include "steps_way_test.moc"
