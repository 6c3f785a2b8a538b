// Lines of the machine protocol over a socket. To be used in one thread, that of the run.
#pragma once

#include "run/dme_client.h"
#include <QTcpSocket>
#include <memory>

namespace alder {

class SocketChannel : public LineChannel {
 public:
  SocketChannel(std::string host, int port);
  ~SocketChannel() override;
  bool connect() override;
  bool isOpen() const override;
  bool send(const std::string& line) override;
  std::optional<std::string> receive(int milliseconds) override;

 private:
  std::string host_;
  int port_;
  std::unique_ptr<QTcpSocket> socket_;
};

} // namespace alder
