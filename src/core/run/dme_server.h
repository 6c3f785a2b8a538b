// The machine's side of the protocol: commands in, answers out, over any machine.
#pragma once

#include "bench/bench.h"
#include "run/controller.h"
#include "run/dme_text.h"
#include "run/line_server.h"
#include <map>

namespace alder {

class DmeServer : public LineServer {
 public:
  // Its tools are the tips of the bench: each as "stylus/tip", and as the bench's controller has
  // it.
  DmeServer(Controller& machine, const Bench& bench);

  bool answer(const std::string& line, const Send& send) override;

 private:
  struct Reply {
    std::vector<DmeCall> data, event;
    std::vector<std::string> tools;
    std::optional<DmeCall> error;
    bool close = false, lost = false;
  };
  Reply perform(const DmeCall& command);
  static Reply refusal(int number, const std::string& where, const std::string& what);
  Reply done(const Answer<void>& answer, const std::string& command);
  Reply start();
  Reply faulty(const Fault& fault, const std::string& command);
  void resetPars();
  Reply changeTool(const DmeCall& command);
  std::string plainName(const std::string& stylus, const std::string& tip) const;
  std::string toolName(const Posture& posture) const;
  Reply goTo(const DmeCall& command);
  Reply measure(const DmeCall& command, bool by_hand);
  Reply setProperties(const DmeCall& command);
  Reply tell(const DmeCall& command, bool properties);

  Controller& machine_;
  std::vector<ControllerTool> tools_;
  ControllerNames names_;
  double touch_speed_ = 0;
  std::string tool_; // taken last
  bool session_ = false, errors_ = false;
  std::map<std::string, double> pars_; // of touches, by property
};

} // namespace alder
