#include "results/match_table.h"

#include "base/units.h"
#include <QComboBox>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMimeData>
#include <QStyledItemDelegate>
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

// With the decimals that the file has.
QString figureOf(const std::optional<double>& v, double last_digit) {
  if (!v) return {};
  const int decimals =
      last_digit > 0 ? std::clamp(static_cast<int>(std::ceil(-std::log10(last_digit) - 1e-9)), 0, 6)
                     : 4;
  return text(figure(*v, decimals));
}

// Requirements by balloon and words; a balloon number that is typed picks one.
class RequirementChoice : public QStyledItemDelegate {
 public:
  RequirementChoice(MatchModel& model, QObject* parent)
      : QStyledItemDelegate(parent)
      , model_(model) {}

  QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem&,
                        const QModelIndex&) const override {
    auto* box = new QComboBox(parent);
    box->setObjectName("requirementChoice");
    box->setEditable(true);
    box->setInsertPolicy(QComboBox::NoInsert);
    box->addItem("none", -1);
    if (model_.spec())
      for (const Requirement& r : model_.spec()->requirements)
        box->addItem(MatchModel::wordsFor(*model_.spec(), r.id), r.id.value);
    box->view()->setMinimumWidth(320);
    return box;
  }
  void setEditorData(QWidget* editor, const QModelIndex& index) const override {
    auto* box = qobject_cast<QComboBox*>(editor);
    const int at = box->findData(index.data(Qt::EditRole));
    box->setCurrentIndex(std::max(at, 0));
    box->lineEdit()->selectAll();
  }
  void setModelData(QWidget* editor, QAbstractItemModel* model,
                    const QModelIndex& index) const override {
    auto* box = qobject_cast<QComboBox*>(editor);
    const QString typed = box->currentText().trimmed();
    int id = -2;
    bool number = false;
    if (const int balloon = typed.toInt(&number); number) {
      for (const Requirement& r : model_.spec()->requirements)
        if (r.balloon == balloon) id = r.id.value;
    } else if (typed.isEmpty() || typed == "none") {
      id = -1;
    } else if (const int at = box->findText(typed); at >= 0) {
      id = box->itemData(at).toInt();
    }
    if (id > -2) model->setData(index, id, Qt::EditRole);
  }

 private:
  MatchModel& model_;
};

} // namespace

MatchModel::MatchModel(const Theme& theme, QObject* parent)
    : QAbstractTableModel(parent)
    , theme_(theme) {}

void MatchModel::show(const Specification* spec, const ResultsOfPart* part,
                      const PartMatches* matches) {
  // While a cell is edited, and so that the selection stays, rows are only told to be other ones.
  const int rows = rowCount();
  const bool any = spec && part && matches;
  const bool same = any && static_cast<int>(matches->matches.size()) == rows;
  if (!same) beginResetModel();
  spec_ = spec;
  values_ = any ? part->values : std::vector<StatedResult>{};
  matches_ = any ? matches->matches : std::vector<ResultMatch>{};
  if (!same)
    endResetModel();
  else if (rows > 0)
    emit dataChanged(index(0, 0), index(rows - 1, kColumns - 1));
}

int MatchModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(matches_.size());
}

int MatchModel::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : kColumns;
}

QString MatchModel::wordsFor(const Specification& spec, RequirementId requirement) {
  const Requirement* r = spec.requirements.find(requirement);
  return r ? QString("%1  %2").arg(r->balloon).arg(text(describe(spec, *r))) : QString();
}

QString MatchModel::remark(const ResultMatch& match) {
  QStringList words;
  for (const std::string& c : match.conflicts)
    words << text(c);
  if (!match.conflicts.empty() && match.let_stand) words << "Seen, and let stand.";
  if (!match.why.empty()) words << text(match.why);
  return words.join(" ");
}

QString MatchModel::shown(int row, int column) const {
  const ResultMatch& m = matches_[static_cast<std::size_t>(row)];
  const StatedResult& v = values_[m.value];
  switch (column) {
  case Line:
    return QString::number(v.line);
  case Name:
    return text(calledIn(v));
  case Nominal:
    return figureOf(v.nominal, v.last_digit);
  case Limits:
    if (!v.lower && !v.upper) return figureOf(v.tolerance, v.last_digit);
    if (!v.lower) return "≤ " + figureOf(v.upper, v.last_digit);
    if (!v.upper) return "≥ " + figureOf(v.lower, v.last_digit);
    return figureOf(v.lower, v.last_digit) + " … " + figureOf(v.upper, v.last_digit);
  case Actual:
    return figureOf(v.actual, v.last_digit) + (v.degrees ? "°" : "");
  case For:
    if (m.coordinate_of.valid())
      return "coordinate of " + wordsFor(*spec_, m.coordinate_of).section(' ', 0, 0);
    return m.requirement.valid() ? wordsFor(*spec_, m.requirement) : "none";
  case Sure:
    if (m.coordinate_of.valid() || (!m.requirement.valid())) return m.decided ? "decided" : "";
    if (!m.settled()) return "waits";
    return m.decided ? "decided" : QString("%1 %").arg(static_cast<int>(100 * m.sure));
  default:
    return remark(m);
  }
}

QVariant MatchModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const ResultMatch& m = matches_[static_cast<std::size_t>(index.row())];
  const int column = index.column();
  switch (role) {
  case Qt::DisplayRole:
    return shown(index.row(), column);
  case Qt::ToolTipRole:
    return shown(index.row(), column);
  case Qt::EditRole:
    return m.requirement.valid() ? m.requirement.value : -1;
  case Qt::FontRole:
    if (column == Line || (column >= Nominal && column <= Actual)) return theme_.figures(9);
    if (column == Sure && m.requirement.valid() && !m.settled()) return theme_.strong(9.5);
    return theme_.text(9.5);
  case Qt::ForegroundRole:
    if (column == Remark && !m.conflicts.empty() && !m.let_stand) return theme_.color("outside");
    if (!m.requirement.valid() || column == Remark || column == Line) return theme_.color("second");
    return theme_.color("ink");
  case Qt::BackgroundRole:
    if (m.requirement.valid() && !m.settled()) return theme_.color("wait");
    return {};
  case Qt::TextAlignmentRole:
    return int(column == Line || (column >= Nominal && column <= Actual) ? Qt::AlignRight
                                                                         : Qt::AlignLeft) |
           int(Qt::AlignVCenter);
  default:
    return {};
  }
}

QVariant MatchModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole)
    return int(section == Line || (section >= Nominal && section <= Actual) ? Qt::AlignRight
                                                                            : Qt::AlignLeft) |
           int(Qt::AlignVCenter);
  if (role != Qt::DisplayRole) return {};
  static const QStringList kTitles{"Line",   "In the file", "Nominal", "Limits",
                                   "Actual", "Requirement", "Sure",    "Why"};
  return kTitles.value(section);
}

Qt::ItemFlags MatchModel::flags(const QModelIndex& index) const {
  Qt::ItemFlags flags = Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsDropEnabled;
  if (!index.isValid()) return Qt::NoItemFlags;
  const ResultMatch& m = matches_[static_cast<std::size_t>(index.row())];
  if (m.requirement.valid()) flags |= Qt::ItemIsDragEnabled;
  if (index.column() == For) flags |= Qt::ItemIsEditable;
  return flags;
}

bool MatchModel::setData(const QModelIndex& index, const QVariant& value, int role) {
  if (role != Qt::EditRole || index.column() != For) return false;
  emit decided(matches_[static_cast<std::size_t>(index.row())].value, RequirementId{value.toInt()});
  return true;
}

QStringList MatchModel::mimeTypes() const {
  return {kRequirementMime};
}

QMimeData* MatchModel::mimeData(const QModelIndexList& indexes) const {
  auto* data = new QMimeData;
  if (!indexes.isEmpty())
    data->setData(kRequirementMime, QByteArray::number(indexes.first().data(Qt::EditRole).toInt()));
  return data;
}

bool MatchModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int,
                              const QModelIndex& parent) {
  const int at = parent.isValid() ? parent.row() : row;
  if (!data->hasFormat(kRequirementMime) || at < 0 || at >= rowCount()) return false;
  emit decided(matches_[static_cast<std::size_t>(at)].value,
               RequirementId{data->data(kRequirementMime).toInt()});
  return false; // nothing is to be removed where it came from
}

MatchTable::MatchTable(const Theme& theme, QWidget* parent)
    : QTableView(parent)
    , model_(theme, this) {
  setObjectName("resultMatches");
  setAccessibleName("Values and what they prove");
  setModel(&model_);
  setItemDelegateForColumn(MatchModel::For, new RequirementChoice(model_, this));
  setSelectionBehavior(QAbstractItemView::SelectRows);
  setSelectionMode(QAbstractItemView::SingleSelection);
  setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
  setDragDropMode(QAbstractItemView::DragDrop);
  setDropIndicatorShown(true);
  setDragDropOverwriteMode(true);
  setShowGrid(false);
  setTabKeyNavigation(false);
  setWordWrap(true);
  verticalHeader()->hide();
  verticalHeader()->setDefaultSectionSize(24);
  horizontalHeader()->setStretchLastSection(true);
  horizontalHeader()->setHighlightSections(false);
  const int widths[]{46, 196, 82, 162, 86, 226, 68};
  for (int i = 0; i < 7; ++i)
    setColumnWidth(i, widths[i]);
}

void MatchTable::keyPressEvent(QKeyEvent* event) {
  const int row = currentRow();
  const bool plain = !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
  if (row >= 0 && plain && state() != EditingState) {
    switch (event->key()) {
    case Qt::Key_Space:
      emit letStand(row);
      return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      emit provesNone(row);
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      edit(model_.index(row, MatchModel::For));
      return;
    default:
      break;
    }
    // A balloon number typed begins the choice with it.
    const QString typed = event->text();
    if (!typed.isEmpty() && typed[0].isDigit()) {
      edit(model_.index(row, MatchModel::For));
      if (auto* box = findChild<QComboBox*>("requirementChoice")) box->setEditText(typed);
      return;
    }
  }
  QTableView::keyPressEvent(event);
}

} // namespace alder::app
