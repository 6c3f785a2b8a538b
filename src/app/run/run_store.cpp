#include "run/run_store.h"

#include "base/files.h"
#include <QDateTime>
#include <QDir>
#include <QStandardPaths>
#include <algorithm>

namespace alder::app {

QString runFolder() {
  QString folder = qEnvironmentVariable("ALDERPOINT_RUNS");
  if (folder.isEmpty())
    folder =
        QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/alderpoint/runs";
  return folder;
}

OpenRun runFor(const std::string& key) {
  const QDir folder(runFolder());
  const QString base = QString::fromStdString(key);
  return {folder.filePath(base + ".journal"), folder.filePath(base + ".alder"), {}, 0};
}

OpenRun openedBefore(const std::string& key) {
  OpenRun run = runFor(key);
  const std::string path = run.journal.toStdString();
  const auto text = readFile(path);
  const auto journal = text ? readJournal(*text, path) : Result<RunJournal>(pass(text.error()));
  if (!journal || journal->head.key != key) return run;
  run.head = journal->head;
  for (const RunEvent& e : journal->events)
    run.touches += std::holds_alternative<Touched>(e);
  return run;
}

std::vector<OpenRun> brokenOffRuns() {
  std::vector<OpenRun> runs;
  const QDir folder(runFolder());
  for (const QString& file : folder.entryList({"*.journal"}, QDir::Files, QDir::Time)) {
    const OpenRun run = openedBefore(QFileInfo(file).completeBaseName().toStdString());
    if (!run.head.key.empty() && run.head.again.empty()) runs.push_back(run);
  }
  return runs;
}

void forget(const OpenRun& run) {
  QFile::remove(run.journal);
  QFile::remove(run.routine);
}

void setAside(const OpenRun& run) {
  const QString stamp = QDateTime::currentDateTime().toString("yyyyMMdd-hhmmss-zzz");
  QFile::rename(run.journal, run.journal + ".given-up-" + stamp);
  QFile::remove(run.routine);
}

} // namespace alder::app
