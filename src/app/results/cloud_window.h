// A point cloud before it is brought in: in which unit, how it is placed, what of it counts; then
// how it lies on the part and what it says of the requirements. Nothing of the routine changes
// until it is taken.
#pragma once

#include "document/document.h"
#include "exchange/clouds/cloud_run.h"
#include "theme/theme.h"
#include <QDialog>

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace alder::app {

// A file in memory may be so many points large that it is held once, by all who need it.
using CloudPtr = std::shared_ptr<const CloudFile>;

class CloudWindow : public QDialog {
  Q_OBJECT

 public:
  // Begins to read the file.
  CloudWindow(Document& document, const QString& path, const Theme& theme,
              QWidget* parent = nullptr);

  bool busy() const { return jobs_.busy(); }
  const PlacedCloud* placed() const { return placed_.get(); }

 protected:
  bool event(QEvent* event) override; // its keys come before those of the window below
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QWidget* buildHead();
  QWidget* buildSettings();
  QWidget* buildTables();
  QWidget* buildButtons();
  void read(const QString& path);
  void wasRead();
  void fillFits();
  void place();
  void judgeAgain();
  void wasPlaced();
  void showFeatures(const Measurements& measured);
  void showVerdicts();
  void tellProgress();
  std::optional<CloudSettings> settings();
  void take();

  Document& document_;
  const Theme& theme_;
  JobRunner jobs_;
  CloudPtr file_; // in mm by `unit_used_` once it is placed
  std::shared_ptr<PlacedCloud> placed_;
  PartPtr part_;       // on which it was placed
  CloudSettings used_; // with which it was placed
  std::string unit_used_;
  bool stale_ = false; // the routine changed while something ran
  std::vector<Evaluation> verdicts_;
  QLabel *about_ = nullptr, *remarks_ = nullptr, *summary_ = nullptr;
  QComboBox *unit_ = nullptr, *fit_ = nullptr;
  QLineEdit *edge_ = nullptr, *reach_ = nullptr, *name_ = nullptr;
  QTableWidget *features_ = nullptr, *requirements_ = nullptr;
  QProgressBar* progress_ = nullptr;
  QPushButton *place_ = nullptr, *take_ = nullptr, *stop_ = nullptr;
};

} // namespace alder::app
