// A machine at the other end of a line, spoken to in I++ DME.
#pragma once

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

class DmeClient : public Controller {
 public:
  explicit DmeClient(LineChannel& channel)
      : channel_(channel) {}

  Answer<void> begin() override;
  Answer<Posture> posture() override;
  Answer<void> take(const std::string& stylus, const std::string& tip) override;
  Answer<void> turn(double a, double b) override;
  Answer<void> goTo(const Vec3& ball) override;
  Answer<Vec3> touch(const TouchCommand& command) override;
  // A machine that has a simulated operator is told where to touch; any other answers that it does
  // not know the command, and the operator is waited for.
  Answer<Vec3> touchByHand(const TouchCommand& about) override;
  Answer<void> clearByHand() override;
  Answer<void> end(); // of the session

  // From another thread: the machine is to stop what it does.
  void abort() { abort_ = true; }

 private:
  struct Said {
    std::vector<DmeCall> data, event;
  };
  Answer<Said> command(const DmeCall& call);
  Answer<Said> listen(const std::string& tag, bool for_event);
  static Answer<Vec3> placeIn(const std::vector<DmeCall>& data);
  tl::unexpected<Fault> lost();
  Answer<void> setPar(const TouchCommand& command);

  LineChannel& channel_;
  std::atomic<bool> abort_ = false;
  int tag_ = 0;
  int last_error_ = 0;
  std::optional<TouchCommand> par_; // as the machine has it
};

} // namespace alder
