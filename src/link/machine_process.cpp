#include "link/machine_process.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>

namespace alder {

QString machineProgram() {
  const QString named = qEnvironmentVariable("ALDERPOINT_VCMM");
  if (!named.isEmpty()) return named;
  const QDir here(QCoreApplication::applicationDirPath());
  for (const char* place :
       {"alderpoint-vcmm", "../vcmm/alderpoint-vcmm", "../src/vcmm/alderpoint-vcmm"})
    if (QFileInfo::exists(here.filePath(place))) return here.filePath(place);
  return "alderpoint-vcmm";
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
