// alderpoint-machine: the simulated machine with the part of a routine on its table. Says on its
// first line of output where it listens. See docs/machine.md.
#include "base/files.h"
#include "base/units.h"
#include "exchange/routine/project.h"
#include "route/router.h"
#include "run/dme_server.h"
#include "run/strict/strict_machine.h"
#include "service.h"
#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <cstdio>

namespace {

struct Options {
  std::string routine, defects;
  std::uint64_t seed = 1;
  int port = 0;
  double pace = 0;
  std::vector<double> drift, move, turn;
  std::vector<std::string> faults;
  bool once = false, strict = false;
};

alder::Result<alder::SimulatedWorld> worldOf(const Options& o) {
  using namespace alder;
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  SimulatedWorld world;
  world.plan = std::make_shared<const Plan>(std::move(project->plan));
  world.seed = o.seed;
  if (!o.defects.empty()) {
    auto text = readFile(o.defects);
    if (!text) return pass(text.error());
    auto defects = readDefects(*text, o.defects, *world.plan);
    if (!defects) return pass(defects.error());
    world.defects = std::move(*defects);
  }
  const auto vector = [](const std::vector<double>& v) { return Vec3(v[0], v[1], v[2]); };
  if (!o.drift.empty()) world.drift = vector(o.drift);
  if (!o.move.empty() || !o.turn.empty()) {
    const Vec3 move = o.move.empty() ? Vec3::Zero() : vector(o.move);
    const Vec3 turn = o.turn.empty() ? Vec3::Zero() : vector(o.turn);
    world.defects.misplacement =
        smallMotion(radians(1) * turn, move, world.plan->placement.translation()) *
        world.defects.misplacement;
  }
  for (const std::string& text : o.faults) {
    auto planned = faultFromText(text);
    if (!planned) return pass(planned.error());
    world.faults.push_back(*planned);
  }
  return world;
}

// The touches by hand as the routine has them, one after the other: what the operator of a strict
// machine does, whom no client can tell.
std::function<std::optional<alder::TouchCommand>()> handTouches(const alder::Plan& plan) {
  using namespace alder;
  std::vector<TouchCommand> all;
  if (const auto way = routePlan(plan, obstaclesOf(plan)))
    for (const Position& p : way->positions) {
      if (!p.contact || p.kind != MoveKind::Manual) continue;
      const Touch& t = plan.feature(p.feature).touches[static_cast<std::size_t>(p.touch)];
      all.push_back({plan.placement * t.point, turn(plan.placement, t.normal), 2, 5, 0});
    }
  return [all = std::move(all), next = std::size_t{0}]() mutable -> std::optional<TouchCommand> {
    if (next >= all.size()) return {};
    return all[next++];
  };
}

} // namespace

int main(int argc, char** argv) {
  QCoreApplication application(argc, argv);
  CLI::App app{"The simulated measuring machine. It speaks I++ DME over a socket."};
  Options o;
  app.add_option("routine", o.routine, "*.alder, whose part lies on the table")->required();
  app.add_option("--defects", o.defects, "what is wrong with the part (JSON)");
  app.add_option("--seed", o.seed, "of the probing noise and of the operator's hand");
  app.add_option("--port", o.port, "to listen at; any that is free if absent");
  app.add_option("--pace", o.pace, "0: at once; 1: as slow as the machine; 0.1: ten times faster");
  app.add_option("--drift", o.drift, "of the machine, mm per hour in X Y Z")->expected(3);
  app.add_option("--move", o.move, "the part lies off by so much, mm")->expected(3);
  app.add_option("--turn", o.turn, "and is turned by so much, degrees about X Y Z")->expected(3);
  app.add_option("--fault", o.faults,
                 "missed@N, unexpected@N, lost@N or stop@N: from the N-th command on");
  app.add_flag("--strict", o.strict,
               "takes the protocol at its word, and answers as another controller would");
  app.add_flag("--once", o.once, "ends when its first client has gone");
  try {
    app.parse(argc, argv);
  } catch (const CLI::CallForHelp& help) {
    return app.exit(help);
  } catch (const CLI::ParseError& error) {
    std::fprintf(stderr, "alderpoint-machine: %s; see --help.\n", error.what());
    return 2;
  }
  auto world = worldOf(o);
  if (!world) {
    std::fprintf(stderr, "%s\n", world.error().message.c_str());
    return 2;
  }
  alder::machine::Service service;
  if (!service.listen(o.port)) {
    std::fprintf(stderr, "alderpoint-machine: port %d is taken; choose another.\n", o.port);
    return 2;
  }
  world->pace = [&](double seconds) { return service.moving(o.pace * seconds); };
  const auto plan = world->plan;
  alder::SimulatedController machine(std::move(*world));
  alder::StrictMachine strict(machine, plan->bench, o.seed);
  strict.next_by_hand = handTouches(*plan);
  if (o.strict) service.sendInPieces(o.seed);
  std::optional<alder::DmeServer> server;
  std::printf("listening at 127.0.0.1 %d\n", service.port());
  std::fflush(stdout);
  service.serve(
      [&]() -> alder::LineServer& {
        if (!o.strict) return server.emplace(machine, plan->bench);
        strict.connected();
        return strict;
      },
      o.once);
  return 0;
}
