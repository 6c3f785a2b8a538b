// The simulated machine behind a controller that takes I++ DME at its word: what the protocol does
// not allow is refused, what it leaves to the controller is done otherwise than our client would
// like it. Nothing is forgiven, and nothing of ours is known to it. For tests, and for
// `alderpoint-machine --strict`.
//
// - Its tools have names of its own, T1, T2, ..., and each begins with touch parameters of its own.
// - It is not homed when it is switched on.
// - A session begins in the coordinate system of a part that lay 500 mm further along X, and
// reports
//   nothing of a touch but what it was asked to report.
// - After an error of severity 3 it does nothing until the errors are cleared.
// - While its operator may move it, it does not move by itself.
// - It says things unasked: keys, temperatures, information; data come in one line or in several.
#pragma once

#include "base/random.h"
#include "bench/bench.h"
#include "run/line_server.h"
#include "run/simulated_controller.h"
#include "run/strict/strict_line.h"
#include <deque>
#include <map>

namespace alder {

class StrictMachine : public LineServer {
 public:
  StrictMachine(SimulatedController& machine, const Bench& bench, std::uint64_t seed);

  bool answer(const std::string& line, const Send& send) override;
  bool idle(const Send& send) override;
  void connected(); // anew: a session is to be started

  // Its operator, who reads what the program shows: done when the client lets the operator move it.
  void operatorTouches(const TouchCommand& about) { hand_.push_back({about, {}}); }
  void operatorPresses(const std::string& key) { hand_.push_back({{}, key}); }
  void operatorForgets() { hand_.clear(); }
  void operatorDrivesClear();
  // Asked where nobody told the operator anything.
  std::function<std::optional<TouchCommand>()> next_by_hand;

  // Commands that the protocol does not allow, each with why. Faults of the machine are not here.
  const std::vector<std::string>& refused() const { return refused_; }
  const std::vector<TouchCommand>& touched() const {
    return touched_;
  } // by PtMeas, as it was asked
  std::vector<std::string> toolNames() const;

 private:
  struct Tool {
    std::string name, stylus, tip;
  };
  struct Reply {
    std::vector<std::string> data;
    int severity = 0, number = 0;
    std::string where, error;
    bool close = false;
  };
  struct HandDeed {
    TouchCommand touch;
    std::string key;
  };
  using Item = strict::Item;

  Reply perform(const Item& call);
  Reply session(const Item& call);
  Reply motion(const Item& call);
  Reply goTo(const Item& call);
  Reply measure(const Item& call);
  Reply changeTool(const Item& call);
  Reply setProp(const Item& call);
  Reply getProp(const Item& call);
  Reply get(const Item& call);
  Reply report(const Item& call);
  Reply refuse(int number, const std::string& where, const std::string& why);
  template <class T> Reply outcome(const Answer<T>& answer, const std::string& where);
  void unasked(const Send& send);
  void defaultPars();
  Vec3 shift() const; // of the coordinate system in use
  std::string axis(const std::string& name, const Vec3& ball) const;

  SimulatedController& machine_;
  const Bench& bench_;
  Random random_;
  std::vector<Tool> tools_;
  std::string line_, last_tag_, tool_;
  bool session_ = false, homed_ = false, error_ = false, user_ = false, machine_axes_ = false;
  std::vector<std::string> report_;
  std::map<std::string, double> pars_;
  bool has_touched_ = false; // since the operator may
  std::deque<HandDeed> hand_;
  std::vector<std::string> refused_;
  std::vector<TouchCommand> touched_;
};

} // namespace alder
