// The routine as a plain list of steps with the same content as the timeline, for the keyboard.
#pragma once

#include "document/document.h"
#include "theme/theme.h"
#include <QTableView>

namespace alder::app {

class StepList : public QTableView {
  Q_OBJECT

 public:
  StepList(Document& document, const Theme& theme, QWidget* parent = nullptr);

 protected:
  void keyPressEvent(QKeyEvent* event) override; // moves, removes, copies steps

 private:
  void chosen();
  void showSelection();
  void selectRows(const QModelIndexList& rows);

  Document& document_;
};

} // namespace alder::app
