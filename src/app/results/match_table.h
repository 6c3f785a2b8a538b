// The values that were read of a part, and which requirement each of them proves. Requirements are
// laid on values by typing a balloon number, by choosing, or by dragging them there.
#pragma once

#include "exchange/results/result_file.h"
#include "theme/theme.h"
#include <QAbstractTableModel>
#include <QTableView>

namespace alder::app {

class MatchModel : public QAbstractTableModel {
  Q_OBJECT

 public:
  enum Column { Line, Name, Nominal, Limits, Actual, For, Sure, Remark, kColumns };

  MatchModel(const Theme& theme, QObject* parent);
  // `spec` is kept by the caller until another is set; null: nothing is shown.
  void show(const Specification* spec, const ResultsOfPart* part, const PartMatches* matches);
  int rowCount(const QModelIndex& parent = {}) const override;
  int columnCount(const QModelIndex& parent = {}) const override;
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;
  QStringList mimeTypes() const override;
  QMimeData* mimeData(const QModelIndexList& indexes) const override;
  bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                    const QModelIndex& parent) override;
  Qt::DropActions supportedDropActions() const override { return Qt::MoveAction | Qt::CopyAction; }

  const Specification* spec() const { return spec_; }
  // Why, and what speaks against it.
  static QString remark(const ResultMatch& match);
  static QString wordsFor(const Specification& spec, RequirementId requirement);

 signals:
  void decided(std::size_t value, RequirementId requirement);

 private:
  QString shown(int row, int column) const;

  const Theme& theme_;
  const Specification* spec_ = nullptr;
  // Its own: the window reads and matches anew while they are shown.
  std::vector<StatedResult> values_;
  std::vector<ResultMatch> matches_;
};

class MatchTable : public QTableView {
  Q_OBJECT

 public:
  explicit MatchTable(const Theme& theme, QWidget* parent = nullptr);
  MatchModel& values() { return model_; }
  int currentRow() const { return currentIndex().row(); }

 signals:
  void letStand(int row); // what speaks against it was seen
  void provesNone(int row);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  MatchModel model_;
};

inline constexpr const char* kRequirementMime = "application/x-alderpoint-requirement";

} // namespace alder::app
