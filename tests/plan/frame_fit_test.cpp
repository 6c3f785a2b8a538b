#include "plan/frames/frame_band.h"
#include "plan/frames/frame_fit.h"
#include "plan/steps/step_edit.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

class FrameFitTest : public QObject {
  Q_OBJECT
 private:
  // Ball centres of the planned touches, moved as the part is.
  static std::vector<FramePoint> touchedAt(const Frame& placement, double radius) {
    const Plan& plan = test::heronPlan();
    std::vector<FramePoint> points;
    for (const Feature& f : plan.features)
      for (const Touch& t : f.touches)
        points.push_back({f.id, t.face, placement * (t.point + radius * t.normal), radius});
    return points;
  }
  static PartFrame from(const std::vector<const char*>& features,
                        FrameFit fit = FrameFit::InOrder) {
    PartFrame frame{"f", fit, {}, "", Vec3::Zero(), Vec3::Zero()};
    for (const char* name : features)
      frame.stages.push_back({{test::named(test::heronPlan(), name)}, ""});
    return frame;
  }
  // Another plane that is touched along the same line.
  static FeatureId facing(FeatureId one) {
    const Plan& plan = test::heronPlan();
    const Vec3 n = plan.feature(one).touches.front().normal;
    for (const Feature& f : plan.features)
      if (f.id != one && f.covered() && plan.nominal(f.id).ideal.type == SurfaceType::Plane &&
          std::abs(std::abs(f.touches.front().normal.dot(n)) - 1) < 1e-9)
        return f.id;
    qFatal("the demo part has two parallel planes");
  }
  static double off(const Frame& a, const Frame& b) {
    return (a.translation() - b.translation()).norm() + 100 * (a.linear() - b.linear()).norm();
  }

 private slots:
  // Levelled, centred and turned: a plane, a bore, another bore.
  void planeBoreBore() {
    const PartFrame frame = from({"Plane · 1", "Bore ø32", "Bore ø8 · 1"});
    for (unsigned seed = 0; seed < 5; ++seed) {
      const Frame start = test::anyMotion(seed);
      const Frame truth =
          smallMotion(Vec3(0.02, -0.015, 0.03), Vec3(1, -2, 0.5), start.translation()) * start;
      for (const FrameFit fit : {FrameFit::InOrder, FrameFit::LeastSquares, FrameFit::LeastWorst}) {
        PartFrame f = frame;
        f.fit = fit;
        const auto found = findFrame(test::heronPlan(), f, touchedAt(truth, 1.5), start);
        VERIFY_OK(found);
        QVERIFY2(off(found->placement, truth) < 2e-5,
                 qPrintable(QString::number(off(found->placement, truth))));
        QCOMPARE(found->free, std::string());
        QVERIFY(found->worst < 1e-6);
      }
    }
  }
  // What is not fixed stays as it was, and is named.
  void whatCanStillMove() {
    const Plan& plan = test::heronPlan();
    QCOMPARE(*leftFree(plan, from({"Plane · 1"})), std::string("xyw"));
    QCOMPARE(*leftFree(plan, from({"Plane · 1", "Bore ø32"})), std::string("w"));
    QCOMPARE(*leftFree(plan, from({"Bore ø32"})), std::string("zw"));
    QCOMPARE(freedomInWords("xyw"), std::string("x, y, turn about z"));
    QCOMPARE(freedomInWords(""), std::string("nothing"));
    // A stage that may only level leaves the height free.
    PartFrame level = from({"Plane · 1", "Bore ø32", "Bore ø8 · 1"});
    level.stages[0].locks = "uv";
    QCOMPARE(*leftFree(plan, level), std::string("z"));
  }
  // Held directions do not move; the others take what they can.
  void heldDirections() {
    const Plan& plan = test::heronPlan();
    PartFrame f = from({"Plane · 1", "Bore ø32", "Bore ø8 · 1"}, FrameFit::LeastSquares);
    f.held = "uvw";
    const Frame truth = smallMotion(Vec3::Zero(), Vec3(0.3, -0.2, 0.1), Vec3::Zero());
    const auto found = findFrame(plan, f, touchedAt(truth, 0), Frame::Identity());
    VERIFY_OK(found);
    QVERIFY(off(found->placement, truth) < 1e-5);
    f.held = "xyzuvw";
    const auto still = findFrame(plan, f, touchedAt(truth, 0), Frame::Identity());
    VERIFY_OK(still);
    QVERIFY(off(still->placement, Frame::Identity()) < 1e-12);
    QVERIFY(still->worst > 0.05);
  }
  // Of points that do not fit, the least worst is no worse than the least squares, and the other
  // way round.
  void eachIsBestInItsOwnWay() {
    const Plan& plan = test::heronPlan();
    Random random(5);
    auto points = touchedAt(Frame::Identity(), 0);
    for (FramePoint& p : points)
      p.ball += 0.02 * Vec3{random.normal(), random.normal(), random.normal()};
    const std::vector<const char*> features{"Plane · 1", "Bore ø32", "Bore ø8 · 1"};
    const auto squares =
        findFrame(plan, from(features, FrameFit::LeastSquares), points, Frame::Identity());
    const auto worst =
        findFrame(plan, from(features, FrameFit::LeastWorst), points, Frame::Identity());
    VERIFY_OK(squares);
    VERIFY_OK(worst);
    QVERIFY(worst->worst <= squares->worst + 1e-9);
    QVERIFY(squares->rms <= worst->rms + 1e-9);
  }
  // Two faces against each other, one weighing more: the place is the weighted mean of what the two
  // ask for, exactly; and what is least in the worst case lies where weighted deviations are alike.
  void weights() {
    const Plan& plan = test::heronPlan();
    auto points = touchedAt(Frame::Identity(), 0);
    const FeatureId low = test::named(plan, "Plane · 1"), high = facing(low);
    const Vec3 n = plan.feature(low).touches.front().normal;
    for (FramePoint& p : points)
      if (p.feature == high) p.ball += 0.03 * n;
    const auto count = [&](FeatureId id) {
      return static_cast<double>(plan.feature(id).touches.size());
    };
    PartFrame f = from({"Plane · 1"}, FrameFit::LeastSquares);
    f.stages.push_back({{high}, ""});
    f.held = "xyuvw";
    for (const double w : {1.0, 2.0, 5.0}) {
      f.stages[1].weight = w;
      const auto found = findFrame(plan, f, points, Frame::Identity());
      VERIFY_OK(found);
      const double expected = 0.03 * w * w * count(high) / (count(low) + w * w * count(high));
      QVERIFY(std::abs(found->placement.translation().dot(n) - expected) < 1e-7);
    }
    f.fit = FrameFit::LeastWorst;
    f.stages[1].weight = 2; // x = 2 (0.03 - x)
    const auto worst = findFrame(plan, f, points, Frame::Identity());
    VERIFY_OK(worst);
    QVERIFY(std::abs(worst->placement.translation().dot(n) - 0.02) < 1e-6);
  }
  // Into bands of different widths and middles: each face uses the same share of its own.
  void insideTheBand() {
    const Plan& plan = test::heronPlan();
    auto points = touchedAt(Frame::Identity(), 0);
    const FeatureId low = test::named(plan, "Plane · 1"), high = facing(low);
    const Vec3 n = plan.feature(low).touches.front().normal;
    const double side = n.dot(plan.feature(high).touches.front().normal);
    for (FramePoint& p : points)
      if (p.feature == high) p.ball += 0.03 * n;
    PartFrame f = from({"Plane · 1"}, FrameFit::InsideBand);
    f.stages.push_back({{high}, ""});
    f.held = "xyuvw";
    f.stages[0].band = Band{-0.01, 0.01};
    f.stages[1].band = side > 0 ? Band{-0.01, 0.03} : Band{-0.03, 0.01}; // its middle 0.01 along n
    // Moved by x along n the faces lie x and 0.03 - x off: x / 0.01 = (0.03 - x - 0.01) / 0.02.
    const auto found = findFrame(plan, f, points, Frame::Identity());
    VERIFY_OK(found);
    QVERIFY(std::abs(found->placement.translation().dot(n) - 0.02 / 3) < 1e-6);
    QVERIFY(std::abs(found->share - 2.0 / 3) < 1e-4);
    f.stages[0].band = Band{-0.002, 0.002};
    f.stages[1].band = side > 0 ? Band{0.008, 0.012} : Band{-0.012, -0.008};
    const auto too_narrow = findFrame(plan, f, points, Frame::Identity());
    VERIFY_OK(too_narrow);
    QVERIFY(too_narrow->share > 1);
  }
  // Where none is named, the band is that of the tightest profile tolerance.
  void bandsOfTolerances() {
    Plan plan = test::heronPlan();
    int found = 0;
    for (const Requirement& r : plan.spec.requirements) {
      if (r.kind != Characteristic::SurfaceProfile) continue;
      const auto band = bandOf(plan, {{r.features.front()}, ""}, r.features.front());
      VERIFY_OK(band);
      QVERIFY(band->upper - band->lower <= r.tolerance + 1e-12);
      ++found;
    }
    QVERIFY(found > 0);
    const FeatureId bore = test::named(plan, "Bore ø32");
    const auto none = bandOf(plan, {{bore}, ""}, bore);
    QVERIFY(!none && none.error().message.find("give its band") != std::string::npos);
    QVERIFY(!findFrame(plan, from({"Bore ø32"}, FrameFit::InsideBand),
                       touchedAt(Frame::Identity(), 0), Frame::Identity()));
    PartFrame f = from({"Bore ø32"});
    f.stages[0].band = Band{0.1, 0.1};
    QVERIFY(!validate(f));
    f.stages[0].band.reset(), f.stages[0].weight = 0;
    QVERIFY(!validate(f));
  }
  // Features that should be elsewhere than the model has them.
  void setToOtherPlaces() {
    PartFrame f = from({"Plane · 1", "Bore ø32", "Bore ø8 · 1"});
    f.shift = Vec3(0, 0, 2), f.turn = Vec3(0, 0, 0.1);
    // Touched 2 mm higher and turned: exactly where they should be, so that nothing moved.
    const Frame made = smallMotion(f.turn, f.shift, Vec3::Zero());
    const auto found = findFrame(test::heronPlan(), f, touchedAt(made, 0), made);
    VERIFY_OK(found);
    QVERIFY(off(found->placement, Frame::Identity()) < 1e-5);
  }
  void framesThatCannotBe() {
    const Plan& plan = test::heronPlan();
    QVERIFY(!findFrame(plan, PartFrame{}, {}, Frame::Identity()));
    const auto untouched = findFrame(plan, from({"Bore ø32"}), {}, Frame::Identity());
    QVERIFY(!untouched &&
            untouched.error().message.find("Bore ø32 is not touched") != std::string::npos);
    PartFrame f = from({"Bore ø32"});
    for (const char* letters : {"a", "xx", "X"}) {
      f.held = letters;
      QVERIFY2(!validate(f), letters);
    }
    Plan changed = plan;
    f.held = "";
    QVERIFY(applyEdit(changed, SetFrames{{f}}).has_value());
    QVERIFY(!applyEdit(changed, SetFrames{{f, f}}));
  }
  // In a run: the part lies a little off, and the machine goes by the frame from then on.
  void usedInARun() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    PartFrame f = from({"Plane · 1", "Bore ø32", "Bore ø8 · 1"}, FrameFit::LeastSquares);
    f.name = "again";
    plan.frames = {f};
    RoutineStep use;
    use.id = freeId(plan.steps);
    use.body = UseFrameStep{"again"};
    plan.steps.insert(plan.steps.begin() + 6, use);
    const auto way = routePlan(plan, test::heronObstacles());
    VERIFY_OK(way);
    for (const Note& n : way->notes)
      QVERIFY2(n.text.find("again") == std::string::npos, n.text.c_str());
    Defects d;
    d.misplacement =
        smallMotion(Vec3(0, 0, 0.001), Vec3(0.2, 0.1, 0), plan.placement.translation());
    const auto shared = std::make_shared<const Plan>(plan);
    RunSession session(shared, std::make_shared<const Way>(*way));
    SimulatedController machine({shared, d, 3, {}, Vec3::Zero(), {}});
    WillingOperator who;
    const RunEnd end = conduct(session, machine, who, [](const RunEvent&) -> Done { return {}; });
    QVERIFY2(end.finished, end.why.c_str());
    QCOMPARE(session.framesUsed().size(), std::size_t(1));
    QCOMPARE(session.framesUsed().front().name, std::string("again"));
    QVERIFY(off(session.frame(), d.misplacement * plan.placement) < 1e-3);
    // Checked again it hardly moved.
    const UsedFrame& used = session.framesUsed().front();
    QVERIFY(changeBetween(plan, used.before, used.after).distance < 0.01);
    // Before its features are measured there is a note.
    plan.steps.erase(plan.steps.begin() + 6);
    plan.steps.insert(plan.steps.begin(), use);
    const auto early = routePlan(plan, test::heronObstacles());
    VERIFY_OK(early);
    QVERIFY(std::any_of(early->notes.begin(), early->notes.end(), [](const Note& n) {
      return n.text.find("frame again is used before") != std::string::npos;
    }));
  }
};
ALDER_TEST(FrameFitTest)
#include "frame_fit_test.moc"
