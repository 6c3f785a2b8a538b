// Serves one client after the other over a socket on this computer.
#pragma once

#include "run/dme_server.h"
#include <QTcpServer>

namespace alder::machine {

class Service {
 public:
  // `port` 0: any that is free.
  bool listen(int port);
  int port() const { return server_.serverPort(); }
  // Until it is told to end; `after_last`: when the first client has gone.
  void serve(Controller& machine, bool after_last);
  // While the machine moves: looks whether the client breaks off, as long as the move takes.
  bool moving(double seconds);

 private:
  bool lineWaits();

  QTcpServer server_;
  QTcpSocket* client_ = nullptr;
  bool aborted_ = false;
  std::vector<std::string> waiting_; // lines that came while the machine moved
};

} // namespace alder::machine
