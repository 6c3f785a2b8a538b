// Conducts a run: the machine does what comes next, the operator is asked where a person is needed,
// and every event is kept before the next command is given.
#pragma once

#include "base/progress.h"
#include "run/session.h"

namespace alder {

enum class FaultChoice { Retry, Skip, Stop };

// Who stands at the machine. All are called from where conduct() runs, and may wait.
class Operator {
 public:
  virtual ~Operator() = default;
  virtual bool proceed(const RunTask& wait) = 0;                     // false: stop
  virtual std::optional<std::string> answer(const RunTask& ask) = 0; // nothing: stop
  // The machine is to be moved clear of everything, for the reason told. `foreseen` by the routine,
  // between touches by hand; else something went otherwise than planned.
  virtual bool moveClear(const std::string& why, bool foreseen) = 0;
  virtual bool mayHome(const std::string& why) = 0; // it moves; false: stop
  // One of the controller's names for a tip that it knows by none that was told; nothing: stop.
  virtual std::optional<std::string> toolFor(const ToolWanted& tool,
                                             const std::vector<std::string>& names) = 0;
  virtual FaultChoice choose(const Fault& fault, const RunTask& during) = 0;
  // Something is not as it should be (where the part lies the way would clash, a tip is out of
  // limits, a file cannot be written): go on nevertheless?
  virtual bool goOnDespite(const std::string& trouble) = 0;
  virtual bool warned(const std::string& words) = 0; // the routine warns; false: stop
  virtual void evaluated(const std::vector<Evaluation>&) {}
  // What was measured so far is to be written.
  virtual Done write(const Output&, const RunSession&) = 0;
  virtual void doing(const RunTask&) {}
  virtual void touched(const Touched&, double /*deviation*/) {}
  virtual bool hold() { return true; } // between commands, as long as paused; false: stop
};

// "The machine knows no tool for ...; it knows ...".
std::string unknownTool(const ToolWanted& tool, const std::vector<std::string>& names);

// Keeps an event for good; an error stops the run.
using KeepEvent = std::function<Done(const RunEvent&)>;

struct RunEnd {
  bool finished = false;
  std::string why; // not finished: stopped by whom, or what went wrong; finished early by a branch
};

// A session that was begun before goes on where the machine stands on its way; where it was taken
// elsewhere, the operator moves it clear first.
RunEnd conduct(RunSession& session, Controller& machine, Operator& who, const KeepEvent& keep);

} // namespace alder
