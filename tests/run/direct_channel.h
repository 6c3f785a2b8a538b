// Client and machine in one thread: what is sent is answered at once.
#pragma once

#include "run/dme_client.h"
#include "run/dme_server.h"
#include "run/strict/strict_machine.h"
#include <deque>

namespace alder::test {

class DirectChannel : public LineChannel {
 public:
  explicit DirectChannel(LineServer& server)
      : server_(server) {}
  bool connect() override {
    lines_.clear();
    if (auto* strict = dynamic_cast<StrictMachine*>(&server_)) strict->connected();
    return open_ = true;
  }
  bool isOpen() const override { return open_; }
  bool send(const std::string& line) override {
    if (!open_) return false;
    sent.push_back(line);
    open_ = server_.answer(line, [this](const std::string& reply) { lines_.push_back(reply); });
    return true;
  }
  std::optional<std::string> receive(int) override {
    if (lines_.empty() && open_)
      open_ = server_.idle([this](const std::string& said) { lines_.push_back(said); });
    if (lines_.empty()) return {};
    auto line = lines_.front();
    lines_.pop_front();
    return line;
  }
  std::vector<std::string> sent;

 private:
  LineServer& server_;
  std::deque<std::string> lines_;
  bool open_ = false;
};

} // namespace alder::test
