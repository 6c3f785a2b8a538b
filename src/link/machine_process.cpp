#include "link/machine_process.h"

#include "base/files.h"

namespace alder {

QString machineProgram() {
  const QString named = qEnvironmentVariable("ALDERPOINT_MACHINE");
  if (!named.isEmpty()) return named;
  return QString::fromStdString(programBeside("alderpoint-machine").string());
}

Result<std::unique_ptr<MachineProcess>> MachineProcess::start(const QString& routine,
                                                              const QStringList& options) {
  std::unique_ptr<MachineProcess> machine(new MachineProcess);
  QProcess& p = machine->process_;
  p.start(machineProgram(), QStringList{routine} + options);
  constexpr int kStart = 60000; // ms; it reads the part first
  while (!p.canReadLine())
    if (!p.waitForReadyRead(kStart)) {
      const std::string said = p.readAllStandardError().trimmed().toStdString();
      return fail("The simulated machine does not start{}{}.", said.empty() ? "" : ": ", said);
    }
  const QList<QByteArray> words = p.readLine().trimmed().split(' ');
  machine->port_ = words.isEmpty() ? 0 : words.last().toInt();
  if (machine->port_ <= 0) return fail("The simulated machine does not say where it listens.");
  return machine;
}

MachineProcess::~MachineProcess() {
  process_.terminate();
  if (!process_.waitForFinished(2000)) {
    process_.kill();
    process_.waitForFinished(2000);
  }
}

} // namespace alder
