// Who answers the lines of a client of the machine protocol.
#pragma once

#include <functional>
#include <string>

namespace alder {

class LineServer {
 public:
  using Send = std::function<void(const std::string& line)>; // without an end of line
  virtual ~LineServer() = default;
  // False where the connection is lost, or was ended: then it is to be closed, without a word.
  virtual bool answer(const std::string& line, const Send& send) = 0;
  // Nothing comes from the client: what the machine says unasked. False as above.
  virtual bool idle(const Send&) { return true; }
};

} // namespace alder
