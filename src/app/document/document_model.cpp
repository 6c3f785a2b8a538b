#include "document/document.h"

#include "base/files.h"
#include "exchange/qif/qif_file.h"
#include "exchange/step/model_file.h"
#include <QFile>
#include <QFileInfo>

namespace alder::app {
namespace {

QString besidePath(const QString& path) {
  const QFileInfo file(path);
  return file.path() + "/" + file.completeBaseName() + "-not-written.txt";
}

// Of what is not in it, for a person; one of an earlier writing must not be taken for this one's.
Done writeTold(const QString& path, const std::vector<std::string>& told) {
  if (told.empty()) {
    QFile::remove(besidePath(path));
    return {};
  }
  std::string text;
  for (const std::string& line : told)
    text += line + "\n";
  return writeFile(besidePath(path).toStdString(), text);
}

} // namespace

void Document::writeModel(const QString& path) {
  const QString file = QFileInfo(path).fileName();
  emit message("Writing " + file + " and reading it back …", false);
  model_jobs_.start("Writing " + file, [=, this, plan = plan()](const Progress& progress) {
    auto written =
        std::make_shared<Result<StepExport>>(provedModel(plan, file.toStdString(), progress));
    Done done =
        *written ? writeFile(path.toStdString(), (*written)->bytes) : Done(pass(written->error()));
    if (done) done = writeTold(path, (*written)->told);
    return JobRunner::Apply([=, this] {
      if (!done) {
        emit message(QString::fromStdString(done.error().message), true);
        return;
      }
      const auto lines = (*written)->told.size();
      QString text = "Wrote " + file + ": " + QString::fromStdString(summary(**written));
      if (lines > 0)
        text +=
            QString("; what does not stand in it: %1").arg(QFileInfo(besidePath(path)).fileName());
      emit message(text, lines > 0);
    });
  });
}

void Document::writeQif(const QString& path) {
  if (!open_) return;
  finishNewParts();
  const QString file = QFileInfo(path).fileName();
  const auto project = std::make_shared<const Project>(project_);
  model_jobs_.start("Writing " + file, [=, this](const Progress&) -> JobRunner::Apply {
    const auto written = std::make_shared<const QifWritten>(qifDocument(*project, project->runs));
    Done done = writeFile(path.toStdString(), written->text);
    if (done) done = writeTold(path, written->told);
    return [=, this] {
      if (!done) {
        emit message(QString::fromStdString(done.error().message), true);
        return;
      }
      const auto parts = static_cast<int>(project->runs.size());
      QString text =
          QString("Wrote %1 with %2")
              .arg(file, parts == 0   ? QString("the plan")
                         : parts == 1 ? QString("the plan and the results of 1 part")
                                      : QString("the plan and the results of %1 parts").arg(parts));
      if (!written->told.empty())
        text +=
            QString("; what does not stand in it: %1").arg(QFileInfo(besidePath(path)).fileName());
      emit message(text, !written->told.empty());
    };
  });
}

} // namespace alder::app
