// What a program of another would become: each statement with what is taken over, what stays a note
// and what is left out, before anything is changed.
#pragma once

#include "exchange/machine/program_file.h"
#include "theme/theme.h"
#include <QDialog>

class QCheckBox;
class QTableWidget;

namespace alder::app {

class ProgramProposal : public QDialog {
  Q_OBJECT

 public:
  ProgramProposal(const ProgramRead& read, const QString& name, const Theme& theme,
                  QWidget* parent = nullptr);

 private:
  void fill();
  void wrapRows();
  QString summary() const;

  const ProgramRead& read_;
  const Theme& theme_;
  QCheckBox* open_only_;
  QTableWidget* table_;
};

} // namespace alder::app
