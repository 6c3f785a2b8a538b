// Files of results of other machines.
#include "document/document.h"

#include "base/files.h"
#include "exchange/clouds/cloud_run.h"
#include "exchange/points/points_file.h"
#include "exchange/results/joined_results.h"
#include "run/run_store.h"
#include <QDir>
#include <QFileInfo>
#include <algorithm>

namespace alder::app {
namespace {

// Kinds of files that this user met, whatever the routine.
QString kindFolder() {
  return runFolder() + "/result-kinds";
}

std::vector<FileKind> keptKinds() {
  std::vector<FileKind> kinds;
  const QDir folder(kindFolder());
  for (const QString& file : folder.entryList({"*.json"}, QDir::Files, QDir::Name)) {
    const auto text = readFile(folder.filePath(file).toStdString());
    auto kind =
        text ? fileKindFromText(*text, file.toStdString()) : Result<FileKind>(pass(text.error()));
    if (kind) kinds.push_back(std::move(*kind)); // what is damaged is not offered
  }
  return kinds;
}

void keepKind(const FileKind& kind) {
  QString name;
  for (const QChar c : QString::fromStdString(kind.name))
    name += c.isLetterOrNumber() || c == '-' ? c : QChar('-');
  QDir().mkpath(kindFolder());
  // The routine keeps it in any case.
  (void)writeFile((kindFolder() + "/" + name + ".json").toStdString(), toJson(kind).dump(1));
}

} // namespace

std::vector<FileKind> Document::resultKinds() const {
  std::vector<FileKind> kinds = project_.brought.kinds;
  for (FileKind& k : keptKinds())
    if (std::none_of(kinds.begin(), kinds.end(),
                     [&](const FileKind& own) { return own.name == k.name; }))
      kinds.push_back(std::move(k));
  return kinds;
}

void Document::readResults(const QString& path) {
  if (!open_) return;
  results_jobs_.start(
      "Reading the results",
      [=, this, kinds = resultKinds(), kept = project_.qif,
       plan = std::make_shared<const Plan>(project_.plan)](const Progress&) -> JobRunner::Apply {
        auto bytes = resultBytes(path.toStdString());
        // Points of a run of our own are judged.
        if (bytes && isRunOfPoints(*bytes)) return [=, this] { judgeFile(path); };
        auto file = std::make_shared<Result<ResultFile>>(
            bytes
                ? readResultFile(std::move(*bytes), QFileInfo(path).fileName().toStdString(), kinds)
                : Result<ResultFile>(pass(bytes.error())));
        if (*file) joinToRoutine(*plan, kept, **file);
        return [=, this] {
          if (*file)
            emit resultsRead(**file);
          else
            emit message(QString::fromStdString(file->error().message), true);
        };
      });
}

void Document::readKeptResults(const KeptResultFile& kept) {
  if (!kept.bytes) return;
  auto file = readResultFile(*kept.bytes, kept.name, resultKinds());
  if (file) joinToRoutine(plan(), project_.qif, *file);
  if (file)
    emit resultsRead(*file);
  else
    emit message(QString::fromStdString(file.error().message), true);
}

std::vector<std::string> Document::runNamesOf(const ResultFile& file) const {
  return runNamesFor(project_, file);
}

PartMatches Document::matchesOf(const ResultFile& file, std::size_t part) const {
  std::map<RequirementId, double> known;
  if (const JudgedRun* run = parts_.find(runNamesOf(file)[part]))
    known = knownFigures(plan().spec, run->verdicts);
  return matchResults(plan().spec, file.read.parts[part], file.kind.name,
                      project_.brought.decisions, std::move(known));
}

void Document::bringIn(const ResultFile& file, const std::vector<PartMatches>& matches) {
  if (!open_ || matches.size() != file.read.parts.size()) return;
  finishNewParts();
  const ResultsEdit edit = bringingIn(project_, file, matches);
  const std::vector<std::string> runs = runsOf(edit);
  for (const std::string& run : runs) {
    if (storedRun(run)) changed_parts_.insert(run);
    new_parts_.push_back(run);
  }
  history_.apply(project_, edit);
  if (!file.fixed) keepKind(file.kind);
  for (const std::string& run : runs)
    parts_.isNew(run);
  for (const std::string& run : runs)
    parts_.pointsChanged(run);
  partsChanged();
  const MatchCounts counts = countsOf(matches);
  emit message(QString("%1 values of %2%3 brought in%4")
                   .arg(counts.settled)
                   .arg(runs.size())
                   .arg(runs.size() == 1 ? " part" : " parts")
                   .arg(counts.waiting > 0 ? QString("; %1 wait").arg(counts.waiting) : QString()),
               counts.waiting > 0);
}

void Document::bringInCloud(const std::string& csv, const std::string& file,
                            const std::string& asked) {
  if (!open_) return;
  finishNewParts();
  const std::string name = cloudRunName(project_, file, asked);
  if (storedRun(name)) changed_parts_.insert(name);
  new_parts_.push_back(name);
  history_.apply(project_, bringingInCloud(project_, csv, file, name));
  parts_.isNew(name);
  parts_.pointsChanged(name);
  partsChanged();
  emit message(QString("The cloud was brought in as %1").arg(QString::fromStdString(name)), false);
}

// Runs came, went or hold other values.
void Document::partsChanged() {
  comparison_.to.clear();
  std::erase_if(new_parts_, [&](const std::string& name) { return !storedRun(name); });
  rejudge();
  emit runsChanged();
  emit savedChanged();
}

} // namespace alder::app
