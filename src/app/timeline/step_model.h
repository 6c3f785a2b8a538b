// The steps of the routed way as rows: made when they are looked at, so that a hundred thousand
// cost nothing.
#pragma once

#include "document/document.h"
#include "theme/theme.h"
#include <QAbstractTableModel>

namespace alder::app {

class StepModel : public QAbstractTableModel {
  Q_OBJECT

 public:
  enum Column { Number, What, Starts, Takes, Touches, Clashes, kColumns };

  StepModel(Document& document, const Theme& theme, QObject* parent = nullptr);

  int rowCount(const QModelIndex& parent = {}) const override;
  int columnCount(const QModelIndex& parent = {}) const override;
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  void takeOver();
  QString cell(const Step& step, int row, int column) const;
  QFont font(const Step& step, int column) const;

  Document& document_;
  const Theme& theme_;
  std::map<int, QString> clashes_; // by row
};

} // namespace alder::app
