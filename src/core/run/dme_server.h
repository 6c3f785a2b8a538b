// The machine's side of the protocol: commands in, answers out, over any machine.
#pragma once

#include "run/controller.h"
#include "run/dme_text.h"
#include <functional>

namespace alder {

class DmeServer {
 public:
  using Send = std::function<void(const std::string& line)>;

  explicit DmeServer(Controller& machine)
      : machine_(machine) {}

  // False where the connection is lost, or was ended: then it is to be closed, without a word.
  bool answer(const std::string& line, const Send& send);

 private:
  struct Reply {
    std::vector<DmeCall> data, event;
    std::optional<DmeCall> error;
    bool close = false, lost = false;
  };
  Reply perform(const DmeCall& command);
  Reply faulty(const Fault& fault, const std::string& command);
  Reply goTo(const DmeCall& command);
  Reply measure(const DmeCall& command, bool by_hand);
  Reply properties(const DmeCall& command);
  Reply where();

  Controller& machine_;
  bool session_ = false, errors_ = false;
  double approach_ = 2, search_ = 2, speed_ = 0;
};

} // namespace alder
