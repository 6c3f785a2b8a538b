#include "document/job.h"

#include <QMetaObject>
#include <chrono>
#include <string>

namespace alder::app {
namespace {

// Each report has the window drawn; the work may make thousands a second, on several threads.
class Rate {
 public:
  bool passes(std::string_view text) {
    constexpr std::chrono::milliseconds kSeen(100);
    const std::lock_guard lock(mutex_);
    const auto now = std::chrono::steady_clock::now();
    if (text == said_ && now - last_ < kSeen) return false;
    last_ = now;
    said_ = text;
    return true;
  }

 private:
  std::mutex mutex_;
  std::chrono::steady_clock::time_point last_;
  std::string said_;
};

} // namespace

JobRunner::JobRunner(QObject* parent)
    : QObject(parent) {}

JobRunner::~JobRunner() {
  for (Worker& w : workers_)
    w.thread.request_stop();
}

void JobRunner::start(const QString& what, Work work, JobKind kind) {
  if (!workers_.empty()) workers_.back().thread.request_stop();
  what_ = what;
  kind_ = kind;
  const int number = ++number_;
  if (!busy_) {
    busy_ = true;
    emit busyChanged(true);
  }
  emit progressed(0, what);
  auto ended = std::make_shared<std::atomic<bool>>(false);
  auto body = [this, number, ended, work = std::move(work)](std::stop_token stop) {
    Progress progress;
    progress.stop = stop;
    progress.report = [this, number, rate = std::make_shared<Rate>()](double fraction,
                                                                      std::string_view text) {
      if (!rate->passes(text)) return;
      const QString shown = QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
      QMetaObject::invokeMethod(
          this,
          [this, number, fraction, shown] {
            if (number == number_ && busy_) emit progressed(fraction, shown);
          },
          Qt::QueuedConnection);
    };
    auto apply = std::make_shared<Apply>();
    try {
      *apply = work(progress);
    } catch (const std::exception& e) {
      *apply = [this, why = QString::fromUtf8(e.what())] { tellBroken(why); };
    } catch (...) {
      *apply = [this] { tellBroken("unknown"); };
    }
    QMetaObject::invokeMethod(
        this, [this, number, apply] { finished(number, apply); }, Qt::QueuedConnection);
    *ended = true;
  };
  workers_.push_back({ended, std::jthread(std::move(body))});
}

void JobRunner::finished(int number, const std::shared_ptr<Apply>& apply) {
  // One that does not heed its cancelling soon is not waited for here.
  std::erase_if(workers_, [](const Worker& w) { return w.ended->load(); });
  if (number != number_ || !busy_) return;
  busy_ = false;
  emit busyChanged(false);
  if (*apply) (*apply)();
}

void JobRunner::tellBroken(const QString& why) {
  emit broke(
      QString("%1 broke off (%2); nothing was changed. Save, and try it again.").arg(what_, why),
      kind_);
}

void JobRunner::cancel() {
  if (!busy_) return;
  if (!workers_.empty()) workers_.back().thread.request_stop();
  ++number_;
  busy_ = false;
  emit cancelled();
  emit busyChanged(false);
}

} // namespace alder::app
