// Serves one client after the other over a socket on this computer.
#pragma once

#include "base/random.h"
#include "run/line_server.h"
#include <QTcpServer>
#include <optional>
#include <vector>

namespace alder::machine {

class Service {
 public:
  // `port` 0: any that is free.
  bool listen(int port);
  int port() const { return server_.serverPort(); }
  // What is sent comes late and in pieces, as it may over a network.
  void sendInPieces(std::uint64_t seed) { pieces_.emplace(seed); }
  // Until it is told to end; `after_last`: when the first client has gone.
  void serve(const std::function<LineServer&()>& forNewClient, bool after_last);
  // While the machine moves: looks whether the client breaks off, as long as the move takes.
  bool moving(double seconds);

 private:
  bool lineWaits();
  void write(const std::string& line);
  void flush();
  void serveOne(LineServer& server);

  QTcpServer server_;
  QTcpSocket* client_ = nullptr;
  bool aborted_ = false;
  std::vector<std::string> waiting_; // lines that came while the machine moved
  std::optional<Random> pieces_;
  std::string unsent_;
};

} // namespace alder::machine
