// The window: top bar with desks and command box, action bar, four regions round the stage, and one
// line at the bottom for messages and progress.
#pragma once

#include "card/card.h"
#include "document/recovery.h"
#include "drawing/drawing_pane.h"
#include "report/layout_card.h"
#include "requirements/sheet.h"
#include "revision/revision_pane.h"
#include "run/operator_view.h"
#include "shell/command_box.h"
#include "shell/help_pane.h"
#include "stage/stage.h"
#include "stage/type_line.h"
#include "timeline/parts_chart.h"
#include "timeline/step_list.h"
#include "timeline/timeline.h"
#include <QDialog>
#include <QElapsedTimer>
#include <QMainWindow>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTimer>

class QPrinter;

namespace alder::app {

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  explicit MainWindow(const Theme& theme);
  ~MainWindow() override;

  Document& document() { return document_; }
  Actions& actions() { return actions_; }
  Recovery& recovery() { return recovery_; }
  Stage& stage() { return *stage_; }
  const QString& lastTold() const { return last_told_; } // whatever the foot shows since then
  Timeline& timeline() { return *timeline_; }
  RequirementSheet& sheet() { return *sheet_; }
  OperatorView& operatorView() { return *operator_; }
  OpenDrawings& drawings() { return drawings_; }
  DrawingView& drawingView() { return drawing_->view(); }
  // The operator's view instead of the desks, and back.
  void setOperating(bool operating);
  // The pages of the report instead of the stage, and back.
  void setComposing(bool composing);
  ReportEditor& reportEditor() { return report_editor_; }
  void printOn(QPrinter& printer); // the report
  PagesView& pagesView() { return *pages_; }
  void setDesk(Desk desk);
  Desk desk() const { return desk_; }
  void bringIn(const QString& path); // results of a machine, or a cloud, by the name's ending
  OpenRevision& revision() { return revision_; }
  RevisionPane& revisionPane() { return *revision_pane_; }
  void addDrawing(const QString& path);
  void openRevision(const QStringList& paths); // a newer model, drawings, or both
  void openCloud(const QString& path);         // of a scanner; looked at before it is brought in
  QString messageText() const { return message_->text(); }

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  // Blocks a run with tips that are not qualified, and says how to go on.
  void pictureFromStage(); // for the selected wait
  void writeReport();      // asks for the file, by its kind and layout
  void printReport();      // asks for the printer
  void measureAgain();     // features of what is selected, in the current run
  void runIfQualified(const QString& defects);
  void buildTopBar();
  void buildRegions();
  void buildBottom();
  void buildReport();
  QWidget* buildFoot();
  void addActions();
  void addPartActions();
  void addDrawingActions();
  void placeBeside(); // the drawing or the revision, where there is one
  void addBenchActions();
  void addStepActions();
  void addRehearsalActions();
  void addPartsActions();
  void addReportActions();
  void addViewActions();
  void buildMenuBar();
  bool menuWanted() const;
  void rememberRecent();
  void fillRecent();
  void fillViews();
  void showView(std::size_t view); // of the model; behind the last comes the whole part
  void showHelp();
  QWidget* buildOffer(); // of work that a crash left behind
  void offerLeftWork();
  void fillActionBar();
  void sizeTimeline(bool bench);
  void refreshTitle();
  void refreshActions();
  bool save(bool ask_for_name);
  bool mayDiscard(); // asks about unsaved work
  void openWithDialog();
  QString suggested(const QString& ending) const;
  void showMessage(const QString& text, bool bad);
  void tellOfBrokenOffRuns();
  void goOnWithRun();

  const Theme& theme_;
  Document document_;
  Recovery recovery_{document_};
  OpenDrawings drawings_{document_};
  OpenRevision revision_{document_};
  ReportEditor report_editor_{document_};
  Actions actions_;
  Desk desk_ = Desk::Part;
  QWidget* top_bar_;
  QWidget* action_bar_;
  QLabel* name_;
  QLabel* state_;
  std::array<QPushButton*, 5> desks_{};
  CommandBox* command_box_ = nullptr;
  RequirementSheet* sheet_ = nullptr;
  Stage* stage_ = nullptr;
  DrawingPane* drawing_ = nullptr;
  RevisionPane* revision_pane_ = nullptr;
  PagesView* pages_ = nullptr;
  LayoutCard* layout_card_ = nullptr;
  bool drawing_wanted_ = true;
  TypeLine* type_line_ = nullptr;
  Card* card_ = nullptr;
  OperatorView* operator_ = nullptr;
  QStackedWidget* bottom_ = nullptr;
  Timeline* timeline_ = nullptr;
  HelpPane* help_ = nullptr;
  QMenu* recent_ = nullptr;
  QMenu* views_ = nullptr;
  QWidget* offer_ = nullptr;
  QLabel* offer_words_ = nullptr;
  std::optional<LeftWork> left_; // that is offered
  StepList* steps_ = nullptr;
  PartsChart* parts_ = nullptr;
  QPointer<QDialog> results_; // of another machine, before they are brought in
  QPointer<QDialog> cloud_;   // of a scanner, the same
  QString last_told_;
  QElapsedTimer told_; // since the window was at rest after the last message
  bool told_bad_ = false;
  std::optional<RequirementId> again_of_; // selected again when what is measured again is done
  std::optional<std::pair<QString, bool>> told_before_job_;
  QLabel* message_;
  QSplitter* down_ = nullptr;   // stage over timeline
  QSplitter* middle_ = nullptr; // stage beside drawing
  int height_elsewhere_ = 0;    // of the timeline in other desks, while the Bench desk is shown
  QProgressBar* progress_;
  QTimer progress_soon_;
  QPushButton* cancel_;
  std::uint64_t seed_ = 1;
  std::string going_on_with_; // key of the routine whose run is gone on with when it is routed
};

} // namespace alder::app
