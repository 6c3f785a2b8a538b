#include "service.h"

#include <QDeadlineTimer>
#include <QTcpSocket>

namespace alder::machine {

bool Service::listen(int port) {
  return server_.listen(QHostAddress::LocalHost, static_cast<quint16>(port));
}

// A line that came; that to break off is done at once.
bool Service::lineWaits() {
  while (client_ && client_->canReadLine()) {
    std::string line = client_->readLine().toStdString();
    while (!line.empty() && (line.back() == '\n' || line.back() == '\r'))
      line.pop_back();
    if (line.empty()) continue;
    if (line.find("AbortE()") != std::string::npos) {
      aborted_ = true;
      client_->write((line.substr(0, 5) + " &\r\n" + line.substr(0, 5) + " %\r\n").c_str());
      continue;
    }
    waiting_.push_back(std::move(line));
  }
  return !waiting_.empty();
}

bool Service::moving(double seconds) {
  const QDeadlineTimer end(static_cast<qint64>(seconds * 1000));
  do {
    if (!client_ || client_->state() != QAbstractSocket::ConnectedState) return true; // it goes on
    if (end.hasExpired())
      client_->waitForReadyRead(0);
    else
      client_->waitForReadyRead(static_cast<int>(std::min<qint64>(end.remainingTime(), 20)));
    lineWaits();
    if (std::exchange(aborted_, false)) return false;
  } while (!end.hasExpired());
  return true;
}

void Service::serve(Controller& machine, bool after_last) {
  while (true) {
    if (!server_.hasPendingConnections() && !server_.waitForNewConnection(-1)) continue;
    client_ = server_.nextPendingConnection();
    if (!client_) continue;
    client_->setSocketOption(QAbstractSocket::LowDelayOption, 1);
    waiting_.clear();
    aborted_ = false;
    DmeServer session(machine);
    bool open = true;
    while (open) {
      if (!lineWaits()) {
        if (client_->state() != QAbstractSocket::ConnectedState) break;
        client_->waitForReadyRead(1000);
        continue;
      }
      const std::string line = waiting_.front();
      waiting_.erase(waiting_.begin());
      open = session.answer(line, [&](const std::string& reply) {
        client_->write((reply + "\r\n").c_str());
        while (client_->bytesToWrite() > 0 && client_->waitForBytesWritten(1000)) {
        }
      });
    }
    client_->disconnectFromHost();
    client_->deleteLater();
    client_ = nullptr;
    if (after_last) return;
  }
}

} // namespace alder::machine
