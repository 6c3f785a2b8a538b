// What several tests need: the Heron once per program, results that print their error, and measured
// points made exactly.
#pragma once

#include "exchange/routine/project.h"
#include "judge/measurement.h"
#include "registry.h"
#include "rehearse/defects.h"
#include "rehearse/rehearsal.h"
#include "route/router.h"
#include <QTest>

// Fails the test with the error's message. Evaluates once.
#define VERIFY_OK(result)                                                                          \
  do {                                                                                             \
    const auto& verified_ = (result);                                                              \
    QVERIFY2(verified_.has_value(),                                                                \
             verified_.has_value() ? "" : verified_.error().message.c_str());                      \
  } while (false)
// The value that came out is near the one worked out.
#define NEAR(actual, expected, tolerance)                                                          \
  QVERIFY2(                                                                                        \
      std::abs((actual) - (expected)) <= (tolerance),                                              \
      qPrintable(QString("%1 is not %2").arg((actual), 0, 'g', 12).arg((expected), 0, 'g', 12)))

namespace alder::test {

std::string dataPath(const char* name);
PartPtr heron();                             // from demo/data
Bench heronBench();                          // with its fixture
Bench shippedBench(const std::string& name); // of assets/benches
const Plan& heronPlan();                     // drafted once
const Obstacles& heronObstacles();
const Way& heronWay();
Rehearsal rehearsed(const Plan& plan); // obstacles, way and all

// A rigid motion far from the origin, the same for the same seed.
Frame anyMotion(unsigned seed, double far = 500);
Points moved(const Points& points, const Frame& motion);

// Points measured exactly at the planned touches, after `moved` on each point of the feature.
MeasuredFeature exactly(const Plan& plan, FeatureId feature);
Measurements exactly(const Plan& plan);

// Features as they are measured; and the plan with them in another order.
std::vector<FeatureId> orderOf(const Plan& plan);
void setOrder(Plan& plan, const std::vector<FeatureId>& order);

// Is it made as the model says, and does it share no face with one that is not?
bool asModelled(const Plan& plan, const Defects& made, FeatureId feature);

// Of one white pixel, PNG.
StepPicture picture(const std::string& name);

// First feature whose name begins so.
FeatureId named(const Plan& plan, const std::string& name);
const Requirement& balloon(const Plan& plan, int number);

} // namespace alder::test
