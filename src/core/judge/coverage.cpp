#include "judge/coverage.h"

#include "base/random.h"
#include "judge/verdict.h"

namespace alder {
namespace {

// A little noise, as a machine has it: without, what is not fixed could pass by luck.
constexpr double kNoise = 1e-4; // mm

Measurements asPlanned(const Plan& plan) {
  Measurements all;
  Random random(1);
  for (const Feature& f : plan.features) {
    if (!f.covered()) continue;
    MeasuredFeature m;
    for (const Touch& t : f.touches) {
      m.points.push_back(t.point + kNoise * random.normal() * t.normal);
      m.rows.push_back(t.row);
      m.faces.push_back(t.face);
      m.nominals.push_back(t.point);
    }
    all[f.id] = std::move(m);
  }
  return all;
}

} // namespace

Coverage coverageOf(const Plan& plan, const Progress& progress) {
  Coverage coverage;
  const Measurements measured = asPlanned(plan);
  for (const Requirement& r : plan.spec.requirements) {
    if (progress.cancelled()) break;
    std::string why = whyNotCovered(plan, r);
    if (why.empty())
      if (const Evaluation e = judge(plan, r, measured); !e.actual)
        why = "The touches do not suffice to judge it: " + e.how;
    if (!why.empty()) coverage[r.id] = std::move(why);
  }
  return coverage;
}

} // namespace alder
