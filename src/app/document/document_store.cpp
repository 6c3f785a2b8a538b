// Runs kept for good, beside those in the file of the routine.
#include "document/document.h"

#include "base/files.h"
#include "report/history_table.h"
#include "run/run_store.h"
#include "store/run_database.h"
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSettings>
#include <algorithm>

namespace alder::app {
namespace {

QSettings settings() {
  return {runFolder() + "/settings.ini", QSettings::IniFormat};
}

} // namespace

QString Document::runsWhere() const {
  const QString own = settings().value("runs").toString();
  return own.isEmpty() ? runFolder() + "/runs.sqlite" : own;
}

void Document::setRunsWhere(const QString& where) {
  QDir().mkpath(runFolder());
  auto kept = settings();
  if (where.trimmed().isEmpty())
    kept.remove("runs");
  else
    kept.setValue("runs", where.trimmed());
  kept.sync();
  // A place may hold a password.
  QFile::setPermissions(kept.fileName(), QFileDevice::ReadOwner | QFileDevice::WriteOwner);
  // That it can be reached is told now, not after the next part.
  store_jobs_.start("Opening the runs",
                    [=, this, at = runsWhere().toStdString()](const Progress&) -> JobRunner::Apply {
                      const auto opened = RunDatabase::open(at);
                      const QString words = opened
                                                ? "Runs are kept in " + QString::fromStdString(at)
                                                : QString::fromStdString(opened.error().message);
                      return [=, this, bad = !opened.has_value()] { emit message(words, bad); };
                    });
}

void Document::keepRun(const StoredRun& run, const std::vector<Evaluation>& evaluations,
                       bool instead) {
  const RunRecord record = recordOf(plan(), run, evaluations, QDateTime::currentSecsSinceEpoch());
  store_jobs_.start("Keeping the run",
                    [=, this, at = runsWhere().toStdString()](const Progress&) -> JobRunner::Apply {
                      auto database = RunDatabase::open(at);
                      const Done done = !database ? pass(database.error())
                                        : instead ? database->replace(record)
                                                  : database->add(record);
                      if (done) return [] {};
                      // It is in the routine's file in any case.
                      return [this, words = QString::fromStdString(done.error().message)] {
                        emit message(words, true);
                      };
                    });
}

void Document::bringRuns() {
  if (!open_) return;
  // Not among the jobs on the plan: a rehearsal that is under way goes on.
  store_jobs_.start("Looking for runs",
                    [=, this, at = runsWhere().toStdString(),
                     routine = plan().name](const Progress&) -> JobRunner::Apply {
                      auto database = RunDatabase::open(at);
                      auto runs = database ? database->runsOf(routine, true)
                                           : Result<std::vector<RunRecord>>(pass(database.error()));
                      return [this, routine, runs = std::move(runs)] {
                        if (routine != plan().name) return; // another one was opened meanwhile
                        if (runs)
                          takeRuns(*runs);
                        else
                          emit message(QString::fromStdString(runs.error().message), true);
                      };
                    });
}

// Those that the routine does not hold yet and whose points belong to it, the oldest first.
void Document::takeRuns(const std::vector<RunRecord>& runs) {
  int taken = 0, foreign = 0;
  for (const RunRecord& r : runs) {
    const bool there = std::any_of(project_.runs.begin(), project_.runs.end(),
                                   [&](const StoredRun& s) { return idOf(s) == r.id; });
    if (there) continue;
    if (!measurementsIn(r.points, r.part, plan())) {
      ++foreign;
      continue;
    }
    project_.runs.push_back({freeRunName(r.part), r.points, r.results});
    ++taken;
  }
  if (taken > 0) {
    runs_unsaved_ = true;
    rejudge();
    setCurrentRun(static_cast<int>(parts_.all().size()) - 1);
    emit runsChanged();
    emit savedChanged();
  }
  QString words =
      taken > 0
          ? QString("%1 more %2 of this routine").arg(taken).arg(taken == 1 ? "part" : "parts")
          : QString("There are no other parts of this routine");
  if (foreign > 0)
    words += QString("; %1 %2 of the routine as it was before")
                 .arg(foreign)
                 .arg(foreign == 1 ? "is" : "are");
  emit message(words, foreign > 0);
}

void Document::saveTemplate(const QString& path) {
  const RoutineTemplate t = templateOf(plan());
  const Done done = writeFile(path.toStdString(), templateText(t));
  emit message(done ? QString("Wrote %1, with %2 opening and %3 closing steps")
                          .arg(QFileInfo(path).fileName())
                          .arg(t.opening.size())
                          .arg(t.closing.size())
                    : QString::fromStdString(done.error().message),
               !done);
}

void Document::writeHistory(const QString& path) {
  if (parts_.all().empty()) {
    emit message("No part is measured yet", true);
    return;
  }
  if (judging())
    emit message(QFileInfo(path).fileName() + " is written when all parts are judged", false);
  parts_.whenJudged([=, this] {
    for (const Requirement& r : plan().spec.requirements)
      if (const auto left = parts_.toJudge(r.id); left > 0) // its job broke off
        return emit message(QString("%1 was not written: requirement %2 is not judged on %3 parts")
                                .arg(QFileInfo(path).fileName())
                                .arg(r.balloon)
                                .arg(left),
                            true);
    std::vector<JudgedPart> parts;
    for (const JudgedRun& run : parts_.all())
      parts.push_back({run.name, "", run.verdicts, {}});
    const Done done = writeFile(path.toStdString(), historyTable(plan(), parts));
    emit message(done ? "Wrote " + QFileInfo(path).fileName()
                      : QString::fromStdString(done.error().message),
                 !done);
  });
}

} // namespace alder::app
