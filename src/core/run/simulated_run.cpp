#include "run/simulated_run.h"

namespace alder {

std::optional<std::string> WillingOperator::answer(const RunTask& ask) {
  (void)ask;
  return "";
}

std::optional<std::string> WillingOperator::toolFor(const ToolWanted& tool,
                                                    const std::vector<std::string>& names) {
  trouble_ = unknownTool(tool, names);
  return {};
}

FaultChoice WillingOperator::choose(const Fault& fault, const RunTask& during) {
  trouble_ = during.text.empty() ? fault.message : during.text + ": " + fault.message;
  return tries_-- > 0 ? FaultChoice::Retry : FaultChoice::Stop;
}

bool WillingOperator::goOnDespite(const std::string& trouble) {
  trouble_ = trouble + ".";
  return false;
}

Result<Run> runOnSimulatedMachine(const Plan& plan, const Way& way, const Defects& defects,
                                  std::uint64_t seed, const Progress& progress) {
  const auto shared = std::make_shared<const Plan>(plan);
  RunSession session(shared, std::make_shared<const Way>(way));
  SimulatedController machine({shared, defects, seed, {}, Vec3::Zero(), {}});
  WillingOperator who(progress);
  const double all = std::max(1, session.touchesLeft());
  const RunEnd end = conduct(session, machine, who, [&](const RunEvent&) -> Done {
    progress.step(session.touchesDone() / all, "Measuring");
    return {};
  });
  if (progress.cancelled()) return cancelledError();
  if (!end.finished) return fail("{}", who.trouble().empty() ? end.why : who.trouble());
  return session.run();
}

std::uint64_t seedOfSetup(std::uint64_t seed, std::size_t place) {
  return seed + 0x9e3779b97f4a7c15u * place;
}

void appendRun(Run& all, Run next) {
  if (all.points.empty() && all.frames.empty()) {
    all = std::move(next);
    return;
  }
  all.points.insert(all.points.end(), next.points.begin(), next.points.end());
  all.frames.insert(all.frames.end(), next.frames.begin(), next.frames.end());
}

Result<Run> runEverySetup(const std::vector<SetupWay>& ways, const Defects& defects,
                          std::uint64_t seed, const Progress& progress) {
  Run all;
  for (std::size_t i = 0; i < ways.size(); ++i) {
    auto run =
        runOnSimulatedMachine(ways[i].plan, ways[i].way, defects, seedOfSetup(seed, i), progress);
    if (!run) return run;
    appendRun(all, std::move(*run));
  }
  return all;
}

} // namespace alder
