#include "brute_force.h"

#include "requirement/datum_targets.h"
#include "route/feature_router.h"
#include "route/qualify_way.h"
#include "route/reach.h"
#include <Eigen/Eigenvalues>
#undef emit // Qt's word for it stands in the way of TBB's
#include <tbb/parallel_for.h>

namespace alder::test {

std::string accessThatWouldDo(const Plan& plan, FeatureId feature, const Enough& enough) {
  const Obstacles obstacles = obstaclesOf(plan);
  const Clearance clearance(plan, obstacles);
  const Feature& f = plan.feature(feature);
  const NominalFeature& nominal = plan.nominal(feature);
  if (nominal.faces.empty()) return {};
  const Head& head = plan.bench.head;
  for (std::size_t s = 0; s < plan.bench.styli.size(); ++s)
    for (std::size_t t = 0; t < plan.bench.styli[s].tips.size(); ++t) {
      const auto touches =
          planTouches(*plan.part, nominal, f.recipe, plan.bench.styli[s].tips[t].edgeRoom(), {},
                      targetsOf(plan.spec, feature));
      if (!touchesSuffice(nominal.ideal, touches, f.recipe.stroke)) continue;
      std::vector<std::string> found(static_cast<std::size_t>(stepsOf(head.a)));
      tbb::parallel_for(0, stepsOf(head.a), [&](int i) {
        for (int j = 0; j < stepsOf(head.b); ++j) {
          const Access access{static_cast<int>(s), static_cast<int>(t),
                              head.a.low + i * head.a.step, head.b.low + j * head.b.step};
          const Tool tool = toolOf(plan.bench, access);
          const FeatureRouter router(clearance, tool, f);
          std::vector<Touch> good;
          for (const Touch& touch : touches)
            if (touchable(tool, turn(plan.placement, touch.normal)) && router.reaches(touch))
              good.push_back(touch);
          std::string why;
          if (!touchesSuffice(nominal.ideal, good, f.recipe.stroke) ||
              router.route(good, why).empty())
            continue;
          if (enough && !enough(access, good)) continue;
          if (plan.bench.has_sphere && !qualifyWay(plan, obstacles, {access})) continue;
          found[static_cast<std::size_t>(i)] =
              nameOf(plan, access) + ": " + std::to_string(good.size()) + " touches";
          return;
        }
      });
      for (const std::string& one : found)
        if (!one.empty()) return one;
    }
  return {};
}

bool holdTogether(const Plan& plan, const std::vector<Touch>& touches) {
  constexpr double kFirmly = 0.03; // of the best held way
  const Box3 box = plan.part->mesh.box();
  const double reach = box.diagonal().norm() / 2;
  Eigen::Matrix<double, 6, 6> sum = Eigen::Matrix<double, 6, 6>::Zero();
  for (const Touch& t : touches) {
    Eigen::Matrix<double, 6, 1> row;
    row << (t.point - box.center()).cross(t.normal) / reach, t.normal;
    sum += row * row.transpose();
  }
  const Eigen::Matrix<double, 6, 1> held =
      Eigen::SelfAdjointEigenSolver<Eigen::Matrix<double, 6, 6>>(sum).eigenvalues();
  return held[0] > kFirmly * kFirmly * held[5];
}

} // namespace alder::test
