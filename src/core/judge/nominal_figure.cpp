#include "judge/nominal_figure.h"

#include "judge/judge.h"

namespace alder {

std::optional<double> nominalFigure(const Plan& plan, Requirement r) {
  Measurements nominal;
  for (FeatureId id : featuresNeeded(plan.spec, r)) {
    MeasuredFeature m;
    for (const Touch& t : plan.feature(id).touches) {
      m.points.push_back(t.point);
      m.rows.push_back(t.row);
      m.faces.push_back(t.face);
      m.nominals.push_back(t.point);
    }
    nominal.emplace(id, std::move(m));
  }
  r.lower = -1e9, r.upper = 1e9, r.tolerance = 2e9; // any figure will do
  return judge(plan, r, nominal).actual;
}

} // namespace alder
