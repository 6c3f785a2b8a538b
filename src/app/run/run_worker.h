// A run under way: conducts it on a thread of its own, and brings what it asks to the window and
// the answers back.
#pragma once

#include "run/driver.h"
#include <QObject>
#include <QStringList>
#include <condition_variable>
#include <deque>
#include <filesystem>
#include <mutex>
#include <thread>

namespace alder {
class DmeClient;
}

namespace alder::app {

struct RunRequest {
  std::shared_ptr<const Plan> plan;
  std::shared_ptr<const Way> way;
  RunKind kind = RunKind::Automatic;
  QString machine;            // HOST:PORT; empty: the simulated one
  QStringList simulated;      // its options
  bool hand_by_itself = true; // the simulated operator touches without being told to
  QString routine;            // file that the simulated machine reads
  QString journal;
  QString folder;                    // for what the routine writes
  std::vector<ControllerTool> named; // tips that the controller has by another name
  std::string key;
  std::string again;            // see RunHead
  std::vector<RunEvent> before; // of a run that goes on
  bool goes_on = false;
};

// What there is to be seen.
struct RunScene {
  enum class Phase {
    Preparing,
    Moving,   // the machine does something
    Touching, // the operator does
    Question, // reply with a text
    Wait,     // reply with yes, or no to stop
    Clear,    // the same: the machine is to be moved clear
    Fault,    // reply with a choice
    Despite,  // yes or no
    Home,     // the same
    Tool,     // reply with one of `names`
    Paused,
    Ended
  };
  struct Live {
    FeatureId feature;
    int touch = 0;
    double deviation = 0; // mm, outward
    bool by_hand = false;
  };
  Phase phase = Phase::Preparing;
  int question = 0; // counts what was asked; a reply says which one it answers
  QString headline, detail;
  std::shared_ptr<const std::string> picture; // of a wait, the bytes of a file
  QString verdicts;                           // "3 within · 7 outside", those told last
  FeatureId feature;
  int touch = -1;
  bool number = false; // asked for
  QStringList names;   // of tools
  int done = 0, left = 0;
  std::deque<Live> live; // the newest first, a few
  bool finished = false;
};

struct RunReply {
  int question = 0; // see RunScene
  bool yes = true;
  QString text;
  FaultChoice choice = FaultChoice::Retry;
};

class RunWorker : public QObject, private Operator {
  Q_OBJECT

 public:
  explicit RunWorker(QObject* parent = nullptr);
  ~RunWorker() override;

  void start(RunRequest request);
  bool running() const { return running_; }
  RunScene scene() const;
  // The first reply to what is asked now; any other is none.
  void reply(const RunReply& reply);
  void pause(bool paused);
  bool paused() const { return paused_; }
  void stop();
  // After the end: what was measured, and what was told.
  const Run& run() const { return run_; }
  const std::vector<Answered>& answers() const { return answers_; }
  const Qualification& qualified() const { return qualified_; }       // after the run
  const std::vector<ControllerTool>& named() const { return named_; } // tools, by the operator

 signals:
  void changed(); // comes at most once before the scene is looked at
  void ended(bool finished, const QString& why);

 private:
  bool proceed(const RunTask& wait) override;
  std::optional<std::string> answer(const RunTask& ask) override;
  bool moveClear(const std::string& why, bool foreseen) override;
  bool mayHome(const std::string& why) override;
  std::optional<std::string> toolFor(const ToolWanted& tool,
                                     const std::vector<std::string>& names) override;
  FaultChoice choose(const Fault& fault, const RunTask& during) override;
  bool goOnDespite(const std::string& trouble) override;
  bool warned(const std::string& words) override;
  void evaluated(const std::vector<Evaluation>& evaluations) override;
  Done write(const Output& output, const RunSession& session) override;
  void doing(const RunTask& task) override;
  void touched(const Touched& touched, double deviation) override;
  bool hold() override;

  void work(const RunRequest& request);
  RunEnd conductWith(const RunRequest& request, RunSession& session);
  void show(const std::function<void(RunScene&)>& change);
  // Shows the question and waits; nothing where the run is stopped.
  std::optional<RunReply> ask(RunScene::Phase phase, const QString& headline,
                              const QString& detail);

  mutable std::mutex mutex_;
  std::condition_variable replied_;
  RunScene scene_;
  mutable bool told_ = false;
  std::optional<RunReply> reply_;
  std::atomic<bool> running_ = false, paused_ = false, stopping_ = false;
  DmeClient* client_ = nullptr; // while it is connected
  const RunSession* session_ = nullptr;
  bool touch_when_told_ = false;
  Run run_;
  std::vector<Answered> answers_;
  Qualification qualified_;
  std::vector<ControllerTool> named_;
  std::filesystem::path folder_; // for what the routine writes
  std::jthread thread_;
};

} // namespace alder::app
