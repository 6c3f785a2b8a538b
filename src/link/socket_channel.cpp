#include "link/socket_channel.h"

#include <QDeadlineTimer>

namespace alder {
namespace {

constexpr int kConnect = 5000; // ms

} // namespace

SocketChannel::SocketChannel(std::string host, int port)
    : host_(std::move(host))
    , port_(port) {}
SocketChannel::~SocketChannel() = default;

bool SocketChannel::connect() {
  socket_ = std::make_unique<QTcpSocket>();
  socket_->connectToHost(QString::fromStdString(host_), static_cast<quint16>(port_));
  if (!socket_->waitForConnected(kConnect)) return false;
  // Commands are short and each is waited for.
  socket_->setSocketOption(QAbstractSocket::LowDelayOption, 1);
  return true;
}

bool SocketChannel::isOpen() const {
  return socket_ && (socket_->state() == QAbstractSocket::ConnectedState || socket_->canReadLine());
}

bool SocketChannel::send(const std::string& line) {
  if (!isOpen()) return false;
  const std::string text = line + "\r\n";
  if (socket_->write(text.data(), static_cast<qint64>(text.size())) < 0) return false;
  while (socket_->bytesToWrite() > 0)
    if (!socket_->waitForBytesWritten(kConnect)) return false;
  return true;
}

std::optional<std::string> SocketChannel::receive(int milliseconds) {
  if (!socket_) return {};
  const QDeadlineTimer deadline(milliseconds);
  while (!socket_->canReadLine()) {
    const auto left = deadline.remainingTime();
    if (left <= 0 || !socket_->waitForReadyRead(static_cast<int>(left))) return {};
  }
  std::string line = socket_->readLine().toStdString();
  while (!line.empty() && (line.back() == '\n' || line.back() == '\r'))
    line.pop_back();
  return line;
}

} // namespace alder
