// What the operator sees: one thing at a time, large, beside the stage in which the place is lit.
// Everything goes with the keyboard: Return does what is asked, Space pauses, Escape stops.
#pragma once

#include "document/document.h"
#include "document/job.h"
#include "run/run_store.h"
#include "run/run_worker.h"
#include "theme/theme.h"
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <map>

namespace alder::app {

class LiveGauge;

class OperatorView : public QWidget {
  Q_OBJECT

 public:
  OperatorView(Document& document, const Theme& theme, QWidget* parent = nullptr);
  ~OperatorView() override;

  // What the operator reads of a part: outside, unmeasured, not proved, near and within are five
  // things.
  static QString outcomeOf(const std::map<Verdict, int>& count);
  void enter(); // shows how the run begins, or that one was broken off
  // The same for features of the current run that are measured again.
  void enterAgain(const std::vector<FeatureId>& features);
  bool running() const { return worker_.running(); }
  RunWorker& worker() { return worker_; }
  // Options of the simulated machine, besides its pace; for tests and demonstrations.
  void setSimulated(const QStringList& options) { simulated_ = options; }

 signals:
  void left(); // back to the desks

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  enum class Page { Begin, BrokenOff, Run, Ended };
  struct Choice {
    QString words;
    std::function<void()> does;
  };
  // What of a part is measured again, and with which routine once its way is known.
  struct Again {
    std::string part;
    std::vector<FeatureId> features;
    Document::AgainRoutine routine;
    bool next_setup = false; // measured for the first time, the part turned meanwhile
  };
  void showBegin(const QString& headline, const QString& detail, std::vector<Choice> choices);
  void findAgain(bool still_lies);
  void foundAgain(const Result<Document::AgainRoutine>& routine);
  bool offerToGoOn(const std::string& key);
  void begin(bool go_on);
  void refresh();
  void showScene(const RunScene& scene);
  void offer(std::vector<Choice> choices); // the first is what Return does
  void say(const QString& headline, const QString& detail);
  void finished(bool done, const QString& why);
  void answer();
  void answerTool();
  void keepNames();
  bool prepare(RunRequest& request, bool go_on);
  bool prepareRoutine(RunRequest& request);
  void sayOutcome(const QString& part);
  bool turnToNextSetup(const QString& part);
  void showTurn(const Frame& before);
  bool beginWithFirstSetup();

  Document& document_;
  const Theme& theme_;
  RunWorker worker_;
  Page page_ = Page::Begin;
  OpenRun open_run_;
  std::optional<Again> again_;
  QStringList simulated_;
  std::vector<ControllerTool> named_; // until a run has come to its end
  QString asked_tool_;
  RunScene::Phase shown_ = RunScene::Phase::Ended;
  int question_ = 0; // the one that is shown
  QLabel *routine_, *headline_, *detail_, *picture_, *counted_;
  QLineEdit* answer_;
  QComboBox* tool_;
  QWidget* settings_;
  QComboBox *kind_, *machine_, *pace_, *hand_;
  LiveGauge* gauge_;
  QProgressBar* progress_;
  std::array<QPushButton*, 3> buttons_{};
  std::vector<Choice> choices_;
  JobRunner painter_; // beside the window: a part may have millions of triangles
};

} // namespace alder::app
