// A file of results before it is brought in: its lines as they stand there, what was read of them,
// which requirement each value proves. Nothing of the routine changes until it is taken.
#pragma once

#include "document/document.h"
#include "results/match_table.h"
#include "results/result_text_view.h"
#include <QDialog>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace alder::app {

class ResultsWindow : public QDialog {
  Q_OBJECT

 public:
  ResultsWindow(Document& document, ResultFile file, const Theme& theme, QWidget* parent = nullptr);

  const ResultFile& file() const { return file_; }
  const PartMatches& matches(std::size_t part) const { return matches_[part]; }

 protected:
  bool event(QEvent* event) override; // its keys come before those of the window below
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QWidget* buildHead();
  QWidget* buildText();
  QWidget* buildValues();
  QWidget* buildButtons();
  void fillKinds();
  void useKind(int index);
  void readBy(FileKind kind);
  void matchAll();
  void showPart(int part);
  void refresh();
  void askRole(const QPoint& where);
  void point(ResultRole role);
  void decideValue(std::size_t value, RequirementId requirement);
  void letStandOrWait(int row);
  void letStandAll();
  void nextWaiting();
  void tellRemark();
  void valueChosen(int row);
  void lineChosen(std::size_t line);
  void saveKind();
  void openKind();
  void take();

  Document& document_;
  const Theme& theme_;
  ResultFile file_;
  bool pointed_ = false; // by a person; the kind is another one then
  std::vector<Pointing> pointings_;
  std::vector<PartMatches> matches_;
  std::size_t part_ = 0;
  bool following_ = false;
  ResultTextView* text_ = nullptr;
  MatchTable* table_ = nullptr;
  QListWidget* missing_ = nullptr;
  QComboBox *kinds_ = nullptr, *decimal_ = nullptr, *unit_ = nullptr, *parts_ = nullptr;
  QLineEdit* name_ = nullptr;
  QLabel *summary_ = nullptr, *read_words_ = nullptr, *missing_words_ = nullptr, *remark_ = nullptr;
  QWidget* side_ = nullptr;
  QPushButton* take_ = nullptr;
};

} // namespace alder::app
