// A machine at the other end of a line, spoken to in I++ DME.
#pragma once

#include "bench/controller_names.h"
#include "run/controller.h"
#include "run/dme_text.h"
#include <atomic>

namespace alder {

// Lines to and fro; without an end of line.
class LineChannel {
 public:
  virtual ~LineChannel() = default;
  virtual bool connect() = 0; // anew; true when there is a connection
  virtual bool isOpen() const = 0;
  virtual bool send(const std::string& line) = 0;
  // The next line; nothing when none came in that time, or the connection is gone.
  virtual std::optional<std::string> receive(int milliseconds) = 0;
};

// How long it is waited, ms. The tests have it shorter.
struct DmePatience {
  int command = 120000; // without a word from the machine, then it is told to stop (AbortE)
  int abort = 10000;    // for the answer to that
  int slice = 50;       // between looks at whether to stop
};

class DmeClient : public Controller {
 public:
  explicit DmeClient(LineChannel& channel, ControllerNames names = {}, DmePatience patience = {})
      : channel_(channel)
      , names_(std::move(names))
      , patience_(patience) {}

  Answer<void> begin() override;
  Answer<void> home() override;
  std::vector<ToolWanted> unknownTools(const std::vector<ToolWanted>& wanted) override;
  std::vector<std::string> toolNames() override { return known_; }
  void nameTool(const ToolWanted& tool, const std::string& name) override;
  Answer<Posture> posture() override;
  Answer<void> take(const std::string& stylus, const std::string& tip) override;
  Answer<void> turn(double a, double b) override;
  Answer<void> goTo(const Vec3& ball) override;
  Answer<Vec3> touch(const TouchCommand& command) override;
  // A machine that said it has a simulated operator is told where to touch; else the operator is
  // waited for.
  Answer<Vec3> touchByHand(const TouchCommand& about) override;
  Answer<void> clearByHand() override;
  Answer<void> end(); // of the session

  // From another thread: the machine is to stop what it does.
  void abort() { abort_ = true; }

 private:
  using Calls = std::vector<DmeCall>;
  struct Said {
    Calls data;
    std::vector<std::string> texts;
    Calls events; // unasked, while the command was under way
  };
  Answer<Said> command(const DmeCall& call);
  Answer<Said> listen(const std::string& tag);
  Answer<Vec3> waitForHand(const Calls& before);
  // Nothing: it is none that ends the wait.
  static std::optional<Answer<Vec3>> handEvent(const DmeCall& event);
  static Answer<Vec3> placeIn(const Calls& data);
  tl::unexpected<Fault> lost();
  tl::unexpected<Fault> silent(const std::string& tag);
  void sendAbort();
  Answer<void> openSession();
  Answer<void> change(const std::string& tool);
  Answer<void> setPar(const TouchCommand& command);
  Answer<void> readOwnSpeed();
  std::string nameFor(const std::string& stylus, const std::string& tip, double a, double b) const;

  LineChannel& channel_;
  ControllerNames names_;
  DmePatience patience_;
  std::atomic<bool> abort_ = false;
  int tag_ = 0, event_tag_ = 0;
  std::vector<std::string> known_;  // tools of the controller, as it lists them
  bool lists_tools_ = false;        // else it is left to the names of the bench
  int last_error_ = 0;              // number of the fault told last
  bool set_up_ = false;             // coordinate system, report and tools of this session
  bool user_on_ = false;            // the operator may move it
  bool has_operator_ = false;       // a simulated one, which the machine told of
  std::string tool_;                // taken last; empty: not known
  std::string stylus_, tip_;        // asked for last
  std::optional<TouchCommand> par_; // as the machine has it for its tool
  double own_speed_ = 0;            // touch speed of the tool before it was set, mm/s; 0: not known
};

} // namespace alder
