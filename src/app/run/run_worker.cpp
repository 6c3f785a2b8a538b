#include "run/run_worker.h"

#include "base/units.h"
#include "exchange/runs/run_output.h"
#include "link/machine_process.h"
#include "link/socket_channel.h"
#include "run/journal.h"
#include <chrono>

namespace alder::app {
namespace {

constexpr std::size_t kSeen = 6; // live touches

} // namespace

RunWorker::RunWorker(QObject* parent)
    : QObject(parent) {}

RunWorker::~RunWorker() {
  stop();
}

RunScene RunWorker::scene() const {
  const std::scoped_lock lock(mutex_);
  told_ = false;
  return scene_;
}

void RunWorker::show(const std::function<void(RunScene&)>& change) {
  const std::scoped_lock lock(mutex_);
  change(scene_);
  if (std::exchange(told_, true)) return;
  QMetaObject::invokeMethod(
      this, [this] { emit changed(); }, Qt::QueuedConnection);
}

void RunWorker::start(RunRequest request) {
  if (running_.exchange(true)) return;
  paused_ = stopping_ = false;
  reply_.reset();
  scene_ = {};
  scene_.headline = "Getting ready";
  thread_ = std::jthread([this, request = std::move(request)] { work(request); });
}

void RunWorker::reply(const RunReply& reply) {
  const std::scoped_lock lock(mutex_);
  if (reply.question != scene_.question || reply_) return;
  reply_ = reply;
  replied_.notify_all();
}

void RunWorker::pause(bool paused) {
  const std::scoped_lock lock(mutex_);
  paused_ = paused;
  replied_.notify_all();
}

void RunWorker::stop() {
  const std::scoped_lock lock(mutex_);
  stopping_ = true;
  if (client_) client_->abort();
  replied_.notify_all();
}

std::optional<RunReply> RunWorker::ask(RunScene::Phase phase, const QString& headline,
                                       const QString& detail) {
  show([&](RunScene& s) {
    s.phase = phase;
    s.headline = headline;
    s.detail = detail;
    ++s.question;
    reply_.reset();
  });
  std::unique_lock lock(mutex_);
  replied_.wait(lock, [this] { return reply_ || stopping_; });
  if (stopping_) return {};
  return std::exchange(reply_, std::nullopt);
}

bool RunWorker::proceed(const RunTask& wait) {
  const QString text = QString::fromStdString(wait.text);
  const StepBody* body = session_->bodyOf(wait.does);
  const std::string* shown = body ? pictureIn(*body) : nullptr;
  const StepPicture* picture = shown ? session_->plan().picture(*shown) : nullptr;
  show([&](RunScene& s) { s.picture = picture ? picture->bytes : nullptr; });
  const auto reply = ask(RunScene::Phase::Wait, text.startsWith("Wait: ") ? text.mid(6) : text,
                         "The machine stands clear and waits.");
  show([&](RunScene& s) { s.picture.reset(); });
  return reply && reply->yes;
}

std::optional<std::string> RunWorker::answer(const RunTask& task) {
  QString text = QString::fromStdString(task.text);
  if (text.startsWith("Ask: ")) text = text.mid(5);
  bool number = false;
  QString unit;
  if (const StepBody* body = session_->bodyOf(task.does))
    if (const Question* question = questionIn(*body)) {
      number = question->number;
      unit = QString::fromStdString(question->unit);
    }
  show([&](RunScene& s) { s.number = number; });
  const auto reply = ask(RunScene::Phase::Question, text, unit);
  if (!reply || !reply->yes) return {};
  return reply->text.toStdString();
}

bool RunWorker::moveClear(const std::string& why, bool) {
  const auto reply = ask(RunScene::Phase::Clear, "Move the machine clear of the part",
                         QString::fromStdString(why));
  return reply && reply->yes;
}

bool RunWorker::mayHome(const std::string& why) {
  const auto reply = ask(RunScene::Phase::Home, "Home the machine?", QString::fromStdString(why));
  return reply && reply->yes;
}

std::optional<std::string> RunWorker::toolFor(const ToolWanted& tool,
                                              const std::vector<std::string>& names) {
  QStringList words;
  for (const std::string& name : names)
    words << QString::fromStdString(name);
  show([&](RunScene& s) { s.names = words; });
  QString of = QString::fromStdString(tool.stylus + "/" + tool.tip);
  if (tool.posture)
    of += QString(" at A%1 B%2").arg(shownDegrees(tool.a)).arg(shownDegrees(tool.b));
  const auto reply = ask(RunScene::Phase::Tool, "Which tool is " + of + "?",
                         "The machine has no tool of this name. These are the ones that it lists; "
                         "the bench keeps the one that you choose.");
  if (!reply || !reply->yes || reply->text.isEmpty()) return {};
  ControllerTool named{tool.stylus, tool.tip, {}, {}, reply->text.toStdString()};
  if (tool.posture) named.a = tool.a, named.b = tool.b;
  named_.push_back(named);
  return named.name;
}

FaultChoice RunWorker::choose(const Fault& fault, const RunTask& during) {
  if (stopping_) return FaultChoice::Stop;
  const std::string_view what = name(fault.kind);
  QString headline = QString::fromUtf8(what.data(), static_cast<qsizetype>(what.size()));
  headline[0] = headline[0].toUpper();
  const QString detail = QString::fromStdString(
      during.text.empty() ? fault.message : during.text + ": " + fault.message);
  const auto reply = ask(RunScene::Phase::Fault, headline, detail);
  return reply ? reply->choice : FaultChoice::Stop;
}

bool RunWorker::goOnDespite(const std::string& trouble) {
  const auto reply =
      ask(RunScene::Phase::Despite, "Go on nevertheless?", QString::fromStdString(trouble));
  return reply && reply->yes;
}

bool RunWorker::warned(const std::string& words) {
  const auto reply = ask(RunScene::Phase::Wait, QString::fromStdString(words),
                         "The routine warns of it. The machine stands still.");
  return reply && reply->yes;
}

void RunWorker::evaluated(const std::vector<Evaluation>& evaluations) {
  QStringList lines;
  for (const Evaluation& e : evaluations) {
    const Requirement& r = session_->plan().spec.requirement(e.requirement);
    lines << QString("%1 %2").arg(r.balloon).arg(QString::fromUtf8(words(e.verdict).data()));
  }
  show([&](RunScene& s) { s.verdicts = lines.join(" · "); });
}

Done RunWorker::write(const Output& output, const RunSession& session) {
  const auto now = std::chrono::system_clock::now().time_since_epoch();
  return writeOutput(output, session, folder_,
                     std::chrono::duration_cast<std::chrono::seconds>(now).count());
}

void RunWorker::doing(const RunTask& task) {
  using enum RunTask::Kind;
  const bool by_hand = task.kind == TouchByHand;
  const QString name_of = task.feature.valid()
                              ? QString::fromStdString(session_->plan().nominal(task.feature).name)
                              : QString::fromStdString(task.text);
  const auto tell = [&](RunScene& s) {
    s.phase = by_hand ? RunScene::Phase::Touching : RunScene::Phase::Moving;
    s.headline = by_hand                ? "Touch " + name_of
                 : task.kind == Touch   ? "Measuring " + name_of
                 : task.feature.valid() ? "On the way to " + name_of
                                        : QString::fromStdString(task.text);
    s.detail = by_hand ? "at the place that is lit" : QString();
    s.feature = task.feature;
    s.touch = task.feature.valid() ? task.touch_index : -1;
    s.done = session_->touchesDone();
    s.left = session_->touchesLeft();
  };
  const bool waits = by_hand && touch_when_told_;
  show([&](RunScene& s) {
    tell(s);
    if (!waits) return;
    ++s.question;
    reply_.reset();
  });
  if (!waits) return;
  std::unique_lock lock(mutex_);
  replied_.wait(lock, [this] { return reply_ || stopping_; });
  reply_.reset();
}

void RunWorker::touched(const Touched& touched, double deviation) {
  show([&](RunScene& s) {
    s.live.push_front({touched.touch.feature, touched.touch.touch, deviation, touched.by_hand});
    if (s.live.size() > kSeen) s.live.pop_back();
    // A key pressed before the next place is lit is not one for it.
    if (touched.by_hand) s.phase = RunScene::Phase::Moving;
    s.done = session_->touchesDone();
    s.left = session_->touchesLeft();
  });
}

bool RunWorker::hold() {
  if (paused_ && !stopping_) {
    show([](RunScene& s) {
      s.phase = RunScene::Phase::Paused;
      s.detail = s.headline;
      s.headline = "Paused";
    });
    std::unique_lock lock(mutex_);
    replied_.wait(lock, [this] { return !paused_ || stopping_; });
  }
  return !stopping_;
}

RunEnd RunWorker::conductWith(const RunRequest& request, RunSession& session) {
  auto journal = request.goes_on
                     ? JournalFile::goOn(request.journal.toStdString())
                     : JournalFile::create(request.journal.toStdString(),
                                           {session.plan().name, request.key, request.kind,
                                            std::chrono::duration_cast<std::chrono::seconds>(
                                                std::chrono::system_clock::now().time_since_epoch())
                                                .count(),
                                            request.again});
  if (!journal) return {false, journal.error().message};
  std::unique_ptr<MachineProcess> process;
  std::string host = "127.0.0.1";
  int port = 0;
  if (request.machine.isEmpty()) {
    auto started = MachineProcess::start(request.routine, request.simulated);
    if (!started) return {false, started.error().message};
    process = std::move(*started);
    port = process->port();
  } else {
    const int colon = static_cast<int>(request.machine.lastIndexOf(':'));
    host = request.machine.left(colon).toStdString();
    port = request.machine.mid(colon + 1).toInt();
    if (colon <= 0 || port <= 0 || port > 65535)
      return {false, "The machine's address is written HOST:PORT, such as 127.0.0.1:1294."};
  }
  SocketChannel channel(host, port);
  ControllerNames names = session.plan().bench.controller;
  // Before those of the bench, which the machine did not know.
  names.tools.insert(names.tools.begin(), request.named.begin(), request.named.end());
  DmeClient client(channel, names);
  {
    const std::scoped_lock lock(mutex_);
    client_ = &client;
  }
  const RunEnd end =
      conduct(session, client, *this, [&](const RunEvent& e) { return journal->add(e); });
  if (end.finished) (void)client.end(); // all is measured, whatever it says to that
  const std::scoped_lock lock(mutex_);
  client_ = nullptr;
  return end;
}

void RunWorker::work(const RunRequest& request) {
  RunSession session(request.plan, request.way, request.kind);
  session_ = &session;
  named_.clear();
  folder_ = request.folder.toStdString();
  touch_when_told_ = request.machine.isEmpty() && !request.hand_by_itself;
  RunEnd end;
  try {
    if (auto done = replay(session, request.before); !done) {
      end.why = done.error().message;
    } else {
      show([&](RunScene& s) { // what a run that goes on has already
        s.done = session.touchesDone();
        s.left = session.touchesLeft();
      });
      end = conductWith(request, session);
    }
  } catch (const std::exception& e) {
    end = {false, fmt::format("The run broke off ({}); what was touched is kept, go on with it.",
                              e.what())};
  }
  run_ = session.run();
  answers_ = session.answers();
  qualified_ = session.plan().qualified;
  show([&](RunScene& s) {
    s.phase = RunScene::Phase::Ended;
    s.finished = end.finished;
    s.headline = end.finished ? "Done" : "Stopped";
    s.detail = QString::fromStdString(end.why);
    s.done = session.touchesDone();
    s.left = session.touchesLeft();
  });
  session_ = nullptr;
  QMetaObject::invokeMethod(
      this,
      [this, end] {
        thread_ = {};
        running_ = false;
        emit ended(end.finished, QString::fromStdString(end.why));
      },
      Qt::QueuedConnection);
}

} // namespace alder::app
