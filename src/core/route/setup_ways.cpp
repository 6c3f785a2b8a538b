#include "route/setup_ways.h"

namespace alder {

Result<std::vector<SetupWay>> setupWays(const Plan& plan, const Progress& progress) {
  std::vector<SetupWay> ways;
  for (const Setup& setup : setupsOf(plan)) {
    SetupWay one{inSetup(plan, setup.id), {}, {}};
    one.obstacles = obstaclesOf(one.plan);
    auto way = routePlan(one.plan, one.obstacles, progress);
    if (!way && setupCount(plan) > 1) return fail("{}: {}", setup.name, way.error().message);
    if (!way) return pass(way.error());
    one.way = std::move(*way);
    ways.push_back(std::move(one));
  }
  return ways;
}

} // namespace alder
