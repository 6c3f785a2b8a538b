#include "document/recovery.h"

#include "base/files.h"
#include <QCoreApplication>
#include <QDir>
#include <QStandardPaths>
#include <QUuid>
#include <algorithm>
#include <csignal>
#include <nlohmann/json.hpp>

namespace alder::app {

namespace {

using Json = nlohmann::json;

// When the process began, as the system counts it: the number of a process is given again.
std::string beginOf(long pid) {
  const auto text = readFile("/proc/" + std::to_string(pid) + "/stat");
  if (!text) return {};
  const auto name_end = text->rfind(')');
  QString rest =
      QString::fromStdString(text->substr(name_end == std::string::npos ? 0 : name_end + 1));
  const auto words = rest.split(' ', Qt::SkipEmptyParts);
  return words.size() > 19 ? words[19].toStdString() : std::string();
}

bool isRunning(const Json& note) {
  const long pid = note.value("pid", 0L);
  return pid > 0 && ::kill(static_cast<pid_t>(pid), 0) == 0 &&
         beginOf(pid) == note.value("began", std::string());
}

} // namespace

QString recoveryFolder() {
  const QString given = qEnvironmentVariable("ALDERPOINT_STATE");
  if (!given.isEmpty()) return given;
  QString state = qEnvironmentVariable("XDG_STATE_HOME");
  if (state.isEmpty()) state = QDir::homePath() + "/.local/state";
  return state + "/alderpoint/unsaved";
}

std::vector<LeftWork> leftWork() {
  std::vector<LeftWork> all;
  const QDir folder(recoveryFolder());
  for (const QString& name : folder.entryList({"*.json"}, QDir::Files, QDir::Time)) {
    LeftWork left;
    left.note = folder.filePath(name);
    left.file = left.note.left(left.note.size() - 5) + ".alder";
    const auto text = readFile(left.note.toStdString());
    const Json note = text ? Json::parse(*text, nullptr, false) : Json();
    if (!note.is_object() || !QFileInfo::exists(left.file) || isRunning(note)) continue;
    const auto said = [&](const char* key) {
      return QString::fromStdString(note.value(key, std::string()));
    };
    left.routine = said("routine");
    left.path = said("path");
    left.last_edit = said("last_edit");
    left.when = QDateTime::fromSecsSinceEpoch(note.value("seconds", std::int64_t{0}));
    all.push_back(std::move(left));
  }
  return all;
}

void dropLeft(const LeftWork& left) {
  QFile::remove(left.note);
  QFile::remove(left.file);
}

Recovery::Recovery(Document& document, int interval, QObject* parent)
    : QObject(parent)
    , document_(document) {
  const QDir folder(recoveryFolder());
  const QString base = folder.filePath(QUuid::createUuid().toString(QUuid::WithoutBraces));
  file_ = base + ".alder";
  note_ = base + ".json";
  timer_.setSingleShot(true);
  timer_.setInterval(interval);
  connect(&timer_, &QTimer::timeout, this, &Recovery::keepNow);
  for (auto signal : {&Document::planChanged, &Document::runsChanged, &Document::savedChanged})
    connect(&document_, signal, this, &Recovery::noticed);
  // Another routine: the one before was saved or given up.
  connect(&document_, &Document::opening, this, &Recovery::drop);
}

Recovery::~Recovery() {
  drop();
}

void Recovery::noticed() {
  if (!document_.isOpen() || !document_.unsaved()) return drop();
  if (!timer_.isActive()) timer_.start();
}

void Recovery::drop() {
  timer_.stop();
  thread_ = {}; // a copy that is being written is waited for
  if (const auto left = std::exchange(taken_over_, std::nullopt)) dropLeft(*left);
  if (!std::exchange(kept_, false)) return;
  QFile::remove(note_);
  QFile::remove(file_);
}

// Off the window's thread. The note comes last, so that it never speaks of half a copy.
void Recovery::keepNow() {
  timer_.stop();
  if (!document_.isOpen() || !document_.unsaved()) return;
  if (writing_) return timer_.start();
  QDir().mkpath(recoveryFolder());
  kept_ = true;
  writing_ = true;
  const auto project = std::make_shared<const Project>(document_.project());
  const long pid = static_cast<long>(QCoreApplication::applicationPid());
  const Json note{{"routine", project->plan.name},
                  {"path", document_.path().toStdString()},
                  {"last_edit", document_.undoText().toStdString()},
                  {"seconds", QDateTime::currentSecsSinceEpoch()},
                  {"pid", pid},
                  {"began", beginOf(pid)}};
  thread_ = std::jthread([=, this, file = file_.toStdString(), where = note_.toStdString()] {
    auto done = saveProject(*project, file);
    if (done) done = writeFile(where, note.dump(1));
    writing_ = false;
    QMetaObject::invokeMethod(
        this,
        [this, last = QString::fromStdString(note.value("last_edit", std::string())),
         why = done ? QString() : QString::fromStdString(done.error().message)] {
          if (!why.isEmpty()) {
            emit document_.message("Unsaved work is not kept aside: " + why, true);
            return;
          }
          if (const auto left = std::exchange(taken_over_, std::nullopt)) dropLeft(*left);
          emit kept(last);
        },
        Qt::QueuedConnection);
  });
}

} // namespace alder::app
