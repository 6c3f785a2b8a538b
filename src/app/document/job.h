// Long work off the window's thread: snapshot, compute, apply. One job at a time; a new one cancels
// the one before. The result is delivered on the window's thread.
#pragma once

#include "base/progress.h"
#include <QObject>
#include <QString>
#include <atomic>
#include <functional>
#include <memory>
#include <mutex>
#include <thread>

namespace alder::app {

// What the owner must know of a job that breaks off.
enum class JobKind { Other, Routing };

class JobRunner : public QObject {
  Q_OBJECT

 public:
  explicit JobRunner(QObject* parent = nullptr);
  ~JobRunner() override;

  // `work` runs on a thread of its own; what it returns is called back here, unless the job was
  // cancelled meanwhile. What it throws is told, and ends the job, not the program.
  using Apply = std::function<void()>;
  using Work = std::function<Apply(const Progress&)>;
  void start(const QString& what, Work work, JobKind kind = JobKind::Other);
  void cancel();
  bool busy() const { return busy_; }

 signals:
  // Ten times a second at most, and as the words change.
  void progressed(double fraction, const QString& what);
  void busyChanged(bool busy);
  void cancelled(); // by a person; another job that takes its place does not
  // The work of this job threw; nothing of it was applied.
  void broke(const QString& words, JobKind kind);

 private:
  void tellBroken(const QString& why);
  void finished(int number, const std::shared_ptr<Apply>& apply);

  struct Worker {
    std::shared_ptr<std::atomic<bool>> ended; // or is about to: joining is short
    std::jthread thread;
  };
  std::vector<Worker> workers_; // the current one last; earlier ones are winding down
  QString what_;
  JobKind kind_ = JobKind::Other;
  int number_ = 0;
  bool busy_ = false;
};

} // namespace alder::app
