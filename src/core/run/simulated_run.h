// A whole run on the simulated machine within this program, with an operator who does as asked.
#pragma once

#include "route/setup_ways.h"
#include "run/driver.h"
#include "run/simulated_controller.h"

namespace alder {

// Continues whatever is asked and never looks twice: for runs without a person.
class WillingOperator : public Operator {
 public:
  explicit WillingOperator(const Progress& progress = {}, int tries = 0)
      : progress_(progress)
      , tries_(tries) {}
  bool proceed(const RunTask&) override { return true; }
  std::optional<std::string> answer(const RunTask& ask) override;
  bool moveClear(const std::string&, bool) override { return true; }
  bool mayHome(const std::string&) override { return true; }
  std::optional<std::string> toolFor(const ToolWanted& tool,
                                     const std::vector<std::string>& names) override;
  FaultChoice choose(const Fault& fault, const RunTask& during) override;
  bool goOnDespite(const std::string& trouble) override;
  bool warned(const std::string&) override { return true; }
  Done write(const Output&, const RunSession&) override { return {}; } // nothing is asked for
  bool hold() override { return !progress_.cancelled(); }
  const std::string& trouble() const { return trouble_; } // the last one

 private:
  Progress progress_;
  int tries_; // that are made again after faults, at most
  std::string trouble_;
};

// The set-up that the plan works on. Error when it does not come to its end.
Result<Run> runOnSimulatedMachine(const Plan& plan, const Way& way, const Defects& defects,
                                  std::uint64_t seed, const Progress& progress = {});
// All of them, one after the other; the points of each as its own frame has them.
Result<Run> runEverySetup(const std::vector<SetupWay>& ways, const Defects& defects,
                          std::uint64_t seed, const Progress& progress = {});
// The noise of each set-up is its own; that of the first is `seed` itself.
std::uint64_t seedOfSetup(std::uint64_t seed, std::size_t place);
// Points and frames of a further set-up behind those of the ones before.
void appendRun(Run& all, Run next);

} // namespace alder
