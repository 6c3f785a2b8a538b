// The requirements sheet: the spine of the window. Each row shows balloon, callout, how far the
// requirement has come, and its verdict; in the Verdict desk the figure and the share of tolerance.
#pragma once

#include "document/document.h"
#include "requirements/row_list.h"
#include "shell/desk.h"
#include "theme/theme.h"
#include <QAbstractListModel>
#include <QLabel>
#include <QListView>
#include <QWidget>

namespace alder::app {

class RequirementModel : public QAbstractListModel {
  Q_OBJECT

 public:
  explicit RequirementModel(Document& document);
  int rowCount(const QModelIndex& parent = {}) const override;
  QVariant data(const QModelIndex& index, int role) const override;
  void reset();
  bool refresh(); // whether rows came, went or stand in another order
  // Rows stand in the order of their numbers.
  RequirementId idAt(int row) const { return order_[static_cast<std::size_t>(row)]; }
  int rowOf(RequirementId requirement) const;

  Qt::ItemFlags flags(const QModelIndex& index) const override; // rows can be dragged

 private:
  Document& document_;
  std::vector<RequirementId> order_; // as the list knows them
};

class RequirementSheet : public QWidget {
  Q_OBJECT

 public:
  RequirementSheet(Document& document, const Theme& theme, QWidget* parent = nullptr);
  void setDesk(Desk desk);
  QListView& list() { return *list_; }
  QString summary() const { return summary_->text(); }
  // Selects the next row for which the desk's question is open: not covered, or outside.
  void selectNext(bool outside);

 signals:
  void wanted(const QString& action); // of the window, by its name

 private:
  void refresh();
  QWidget* buildEmpty(const Theme& theme);
  void refreshEmpty();
  void syncSelection();

  Document& document_;
  RequirementModel model_;
  QWidget* empty_ = nullptr; // what fills the sheet
  QLabel* empty_words_ = nullptr;
  QWidget* cells_ = nullptr; // heads of the five cells
  RowList* list_;
  class RecognisedList* recognised_;
  QLabel* summary_;
  Desk desk_ = Desk::Part;
  class RowDelegate* delegate_;
};

} // namespace alder::app
