// Whether planned touches suffice is tried with and without probing noise.
#include "judge/coverage.h"
#include "support.h"
#include <thread>

using namespace alder;

class CoverageTest : public QObject {
  Q_OBJECT

 private:
  static const Requirement& positionIn(const Plan& plan) {
    for (const Requirement& r : plan.spec.requirements)
      if (r.kind == Characteristic::Position && r.datums.size() == 3) return r;
    qFatal("no position");
  }
  static FeatureId primary(const Plan& plan, const Requirement& r) {
    for (const Datum& d : plan.spec.datums)
      if (d.letter == r.datums.front().letters.front()) return d.features.front();
    qFatal("no datum");
  }

 private slots:
  void theDemoIsCovered() {
    const Plan& plan = test::heronPlan();
    const Coverage coverage = coverageOf(plan);
    QCOMPARE(coverage.size(), plan.spec.requirements.size());
    for (const auto& [id, tried] : coverage) {
      QVERIFY2(tried.why.empty(), tried.why.c_str());
      QVERIFY(tried.noise >= 0);
      QVERIFY(tried.noise <= kMostNoise || isForm(plan.spec.requirement(id).kind));
    }
  }
  // Where the figure moves with the points, twice the noise moves it twice as far.
  void noiseScales() {
    Plan plan = test::heronPlan();
    const Requirement r = positionIn(plan);
    plan.bench.machine.probing_noise = 0;
    QCOMPARE(coverageOf(plan, r).noise, 0.0);
    plan.bench.machine.probing_noise = 1e-4;
    const double once = coverageOf(plan, r).noise;
    plan.bench.machine.probing_noise = 2e-4;
    QVERIFY(once > 0);
    QVERIFY(std::abs(coverageOf(plan, r).noise / once - 2) < 0.05);
  }
  // A plane touched on a strip turns about it, and what hangs on it moves.
  void aNarrowDatumIsTold() {
    Plan plan = test::heronPlan();
    const Coverage before = coverageOf(plan);
    const FeatureId datum = primary(plan, positionIn(plan));
    QCOMPARE(plan.nominal(datum).ideal.type, SurfaceType::Plane);
    const Vec3 across = anyPerpendicular(plan.nominal(datum).ideal.direction);
    Feature& f = plan.feature(datum);
    Vec3 middle = Vec3::Zero();
    for (const Touch& t : f.touches)
      middle += t.point / static_cast<double>(f.touches.size());
    for (Touch& t : f.touches) {
      const double off = across.dot(t.point - middle);
      t.point += across * ((off > 0 ? 0.1 : -0.1) - off);
    }
    int told = 0;
    for (const auto& [id, tried] : coverageOf(plan)) {
      const Requirement& r = plan.spec.requirement(id);
      const auto needs = featuresNeeded(plan.spec, r);
      if (std::find(needs.begin(), needs.end(), datum) == needs.end()) {
        QVERIFY2(tried == before.at(id), describe(r).c_str());
        continue;
      }
      if (tried.why.empty()) continue;
      ++told;
      QVERIFY(tried.noise > kMostNoise && tried.noise > 3 * before.at(id).noise);
      QVERIFY2(tried.why.find(plan.nominal(datum).name) != std::string::npos, tried.why.c_str());
    }
    QVERIFY2(told > 0, qPrintable(QString::number(told)));
  }
  void whatIsNotTouchedComesFirst() {
    Plan plan = test::heronPlan();
    const Requirement r = positionIn(plan);
    Feature& f = plan.feature(r.features.front());
    f.touches.clear();
    f.access = {};
    f.why_not = "left out";
    const Tried tried = coverageOf(plan, r);
    QVERIFY2(tried.why.find("left out") != std::string::npos, tried.why.c_str());
    QCOMPARE(tried.noise, 0.0);
  }
  // What stands is not tried again, and what is found is what trying everything would find.
  void whatHasNotChangedStands() {
    const Plan& before = test::heronPlan();
    const Coverage first = coverageOf(before);
    Plan plan = before;
    const FeatureId datum = primary(plan, positionIn(plan));
    for (Touch& t : plan.feature(datum).touches)
      t.point += 0.5 * anyPerpendicular(t.normal);
    const Coverage all = coverageOf(plan);
    QVERIFY(all != first);
    const auto from = [&before](const Coverage& known) {
      auto memory = std::make_unique<CoverageMemory>();
      for (const auto& [id, tried] : known)
        memory->keep(id, tried, std::make_shared<const Plan>(before));
      return memory;
    };
    const auto now = [&plan] { return std::make_shared<const Plan>(plan); };
    QVERIFY(coverageOf(now(), *from(first)) == all);
    // Marked, so that what is taken over shows.
    Coverage marked = first;
    for (auto& [id, tried] : marked)
      tried.noise = -1;
    for (const auto& [id, tried] : coverageOf(now(), *from(marked))) {
      const auto needs = featuresNeeded(plan.spec, plan.spec.requirement(id));
      const bool hangs = std::find(needs.begin(), needs.end(), datum) != needs.end();
      QCOMPARE(tried.noise == -1, !hangs);
    }
    plan = before;
    plan.bench.machine.probing_noise *= 2;
    for (const auto& [id, tried] : coverageOf(now(), *from(marked)))
      QVERIFY(tried.noise >= 0);
    plan = before;
    plan.spec.requirements.front().tolerance += 0.01;
    for (const auto& [id, tried] : coverageOf(now(), *from(marked)))
      QVERIFY(tried.noise >= 0);
  }
  // The noise of one feature is its own: what else is touched changes no figure.
  void othersChangeNothing() {
    Plan plan = test::heronPlan();
    const Requirement r = positionIn(plan);
    const Tried before = coverageOf(plan, r);
    const auto needs = featuresNeeded(plan.spec, r);
    for (Feature& f : plan.features)
      if (std::find(needs.begin(), needs.end(), f.id) == needs.end()) f.touches.clear();
    QVERIFY(coverageOf(plan, r) == before);
  }
  // What was found before it was stopped need not be found again.
  void stoppedItLosesNothing() {
    const auto plan = std::make_shared<const Plan>(test::heronPlan());
    CoverageMemory memory;
    std::stop_source stop;
    std::jthread stopper([&] {
      while (!memory.find(*plan, plan->spec.requirements[2]))
        std::this_thread::yield();
      stop.request_stop();
    });
    const Coverage some = coverageOf(plan, memory, {{}, stop.get_token()});
    stopper.join();
    QVERIFY(some.size() >= 3 && some.size() < plan->spec.requirements.size());
    for (const auto& [id, tried] : some)
      QVERIFY(memory.find(*plan, plan->spec.requirement(id)) == tried);
  }
  void canBeStopped() {
    std::stop_source stop;
    stop.request_stop();
    QVERIFY(coverageOf(test::heronPlan(), {{}, stop.get_token()}).empty());
  }
};

ALDER_TEST(CoverageTest)
#include "coverage_test.moc"
