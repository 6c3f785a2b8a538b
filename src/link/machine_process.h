// The simulated machine's program, started and stopped by this one.
#pragma once

#include "base/error.h"
#include <QProcess>
#include <QStringList>
#include <memory>

namespace alder {

// Beside this program, or where ALDERPOINT_MACHINE says.
QString machineProgram();

class MachineProcess {
 public:
  // Starts it and waits until it listens. Error says what it complained of.
  static Result<std::unique_ptr<MachineProcess>> start(const QString& routine,
                                                       const QStringList& options = {});
  ~MachineProcess();
  int port() const { return port_; }
  QProcess& process() { return process_; }

 private:
  MachineProcess() = default;
  QProcess process_;
  int port_ = 0;
};

} // namespace alder
