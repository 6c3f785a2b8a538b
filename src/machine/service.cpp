#include "service.h"

#include <QDeadlineTimer>
#include <QTcpSocket>
#include <QThread>

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

void Service::flush() {
  client_->write(unsent_.data(), static_cast<qint64>(unsent_.size()));
  unsent_.clear();
  while (client_->bytesToWrite() > 0 && client_->waitForBytesWritten(1000)) {
  }
}

void Service::write(const std::string& line) {
  unsent_ += line + "\r\n";
  if (!pieces_) return flush();
  // Cut anywhere, held back for some milliseconds, or sent together with the next line.
  while (unsent_.size() > 3 && pieces_->uniform() < 0.6) {
    const auto length = static_cast<std::size_t>(
        pieces_->uniform(1, static_cast<double>(std::min<std::size_t>(unsent_.size(), 40))));
    client_->write(unsent_.data(), static_cast<qint64>(length));
    unsent_.erase(0, length);
    client_->waitForBytesWritten(1000);
    if (pieces_->uniform() < 0.1) QThread::msleep(2);
  }
}

void Service::serveOne(LineServer& server) {
  const auto send = [this](const std::string& line) { write(line); };
  while (true) {
    bool open = true;
    if (lineWaits()) {
      const std::string line = waiting_.front();
      waiting_.erase(waiting_.begin());
      open = server.answer(line, send);
    } else {
      if (client_->state() != QAbstractSocket::ConnectedState) return;
      open = server.idle(send);
    }
    if (!unsent_.empty()) flush();
    if (!open) return;
    constexpr int kIdle = 20; // ms between looks at what the operator does
    if (waiting_.empty() && !client_->canReadLine()) client_->waitForReadyRead(kIdle);
  }
}

void Service::serve(const std::function<LineServer&()>& forNewClient, bool after_last) {
  while (true) {
    if (!server_.hasPendingConnections() && !server_.waitForNewConnection(-1)) continue;
    client_ = server_.nextPendingConnection();
    if (!client_) continue;
    client_->setSocketOption(QAbstractSocket::LowDelayOption, 1);
    waiting_.clear();
    aborted_ = false;
    unsent_.clear();
    serveOne(forNewClient());
    client_->disconnectFromHost();
    client_->deleteLater();
    client_ = nullptr;
    if (after_last) return;
  }
}

} // namespace alder::machine
