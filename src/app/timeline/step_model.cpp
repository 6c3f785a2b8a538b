#include "timeline/step_model.h"

#include "base/units.h"
#include <algorithm>
#include <array>

namespace alder::app {

StepModel::StepModel(Document& document, const Theme& theme, QObject* parent)
    : QAbstractTableModel(parent)
    , document_(document)
    , theme_(theme) {
  connect(&document_, &Document::routedChanged, this, &StepModel::takeOver);
  takeOver();
}

void StepModel::takeOver() {
  beginResetModel();
  clashes_.clear();
  if (const Routed* routed = document_.routed())
    for (const Clash& c : routed->rehearsal.clashes)
      clashes_[c.step] = QString::fromStdString(
          fmt::format("{} meets {}, {} mm", c.moving, c.still, figure(c.depth, 2)));
  endResetModel();
}

int StepModel::rowCount(const QModelIndex& parent) const {
  const Routed* routed = document_.routed();
  return routed && !parent.isValid() ? static_cast<int>(routed->way.steps.size()) : 0;
}

int StepModel::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : kColumns;
}

QVariant StepModel::headerData(int section, Qt::Orientation orientation, int role) const {
  static constexpr std::array<const char*, kColumns> kWords{"Step",  "What",    "Starts at",
                                                            "Takes", "Touches", "Clash"};
  if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
  return kWords[static_cast<std::size_t>(section)];
}

QString StepModel::cell(const Step& s, int row, int column) const {
  const Routed& routed = *document_.routed();
  const auto& times = routed.rehearsal.times;
  const double start =
      s.first > 0 ? times[std::min(static_cast<std::size_t>(s.first), times.size()) - 1] : 0;
  const double end = s.last >= s.first ? times[static_cast<std::size_t>(s.last)] : start;
  switch (column) {
  case Number:
    return QString::number(row + 1);
  case What:
    return QString(4 * s.depth, ' ') + QString::fromStdString(s.text);
  case Starts:
    return QString::fromStdString(figure(start, 1)) + " s";
  case Takes:
    return QString::fromStdString(figure(end - start, 1)) + " s";
  case Touches: {
    int touches = 0;
    for (int i = s.first; i <= s.last; ++i)
      touches += routed.way.positions[static_cast<std::size_t>(i)].contact;
    return touches ? QString::number(touches) : QString();
  }
  default: {
    const auto found = clashes_.find(row);
    return found == clashes_.end() ? QString() : found->second;
  }
  }
}

QFont StepModel::font(const Step& s, int column) const {
  QFont font = column != What && column != Clashes ? theme_.figures(8.5)
               : (s.kind == StepKind::Group || s.kind == StepKind::Repeat) && column == What
                   ? theme_.strong(9)
                   : theme_.text(9);
  if (s.left_out && column == What) font.setStrikeOut(true);
  return font;
}

QVariant StepModel::data(const QModelIndex& index, int role) const {
  const Routed* routed = document_.routed();
  if (!routed || !index.isValid() || index.row() >= rowCount()) return {};
  const Step& s = routed->way.steps[static_cast<std::size_t>(index.row())];
  if (role == Qt::DisplayRole) return cell(s, index.row(), index.column());
  if (role == Qt::FontRole) return font(s, index.column());
  if (role != Qt::ForegroundRole) return {};
  if (s.left_out) return theme_.color("unmeasured");
  return index.column() == Clashes ? QVariant(theme_.color("outside")) : QVariant();
}

} // namespace alder::app
