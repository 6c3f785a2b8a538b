#include "timeline/step_list.h"

#include "base/units.h"
#include <QClipboard>
#include <QGuiApplication>
#include <QHeaderView>
#include <QKeyEvent>
#include <QSignalBlocker>
#include <algorithm>

namespace alder::app {

StepList::StepList(Document& document, const Theme& theme, QWidget* parent)
    : QTableWidget(parent)
    , document_(document)
    , theme_(theme) {
  setColumnCount(6);
  setHorizontalHeaderLabels({"Step", "What", "Starts at", "Takes", "Touches", "Clash"});
  setSelectionBehavior(SelectRows);
  setSelectionMode(ExtendedSelection);
  setEditTriggers(NoEditTriggers);
  setShowGrid(false);
  verticalHeader()->hide();
  verticalHeader()->setDefaultSectionSize(24);
  horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  for (int column : {0, 2, 3, 4})
    setColumnWidth(column, 84);
  setAccessibleName("Steps");
  connect(&document_, &Document::routedChanged, this, &StepList::rebuild);
  connect(&document_, &Document::selectionChanged, this, [this] { showSelection(); });
  connect(this, &QTableWidget::itemSelectionChanged, this, [this] {
    const auto rows = selectionModel()->selectedRows();
    if (rows.size() > 1) return selectRows(rows);
    if (rows.empty()) return;
    const int row = rows.front().row();
    document_.selectStep(row);
    if (const Routed* routed = document_.routed(); routed && row >= 0) {
      const Step& s = routed->way.steps[static_cast<std::size_t>(row)];
      if (s.first > 0)
        document_.setPlayhead(routed->rehearsal.times[static_cast<std::size_t>(s.first) - 1]);
    }
  });
}

void StepList::rebuild() {
  const QSignalBlocker blocker(this);
  const Routed* routed = document_.routed();
  setRowCount(routed ? static_cast<int>(routed->way.steps.size()) : 0);
  if (!routed) return;
  const auto& times = routed->rehearsal.times;
  for (int row = 0; row < rowCount(); ++row) {
    const Step& s = routed->way.steps[static_cast<std::size_t>(row)];
    const double start =
        s.first > 0 ? times[std::min(static_cast<std::size_t>(s.first), times.size()) - 1] : 0;
    const double end = s.last >= s.first ? times[static_cast<std::size_t>(s.last)] : start;
    int touches = 0;
    for (int i = s.first; i <= s.last; ++i)
      touches += routed->way.positions[static_cast<std::size_t>(i)].contact;
    QString clash;
    for (const Clash& c : routed->rehearsal.clashes)
      if (c.step == row)
        clash = QString::fromStdString(
            fmt::format("{} meets {}, {} mm", c.moving, c.still, figure(c.depth, 2)));
    const QString cells[]{QString::number(row + 1),
                          QString(4 * s.depth, ' ') + QString::fromStdString(s.text),
                          QString::fromStdString(figure(start, 1)) + " s",
                          QString::fromStdString(figure(end - start, 1)) + " s",
                          touches ? QString::number(touches) : QString(),
                          clash};
    for (int column = 0; column < 6; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      if (column != 1 && column != 5) item->setFont(theme_.figures(8.5));
      if (column == 5) item->setForeground(theme_.color("outside"));
      if (s.left_out) {
        QFont struck = item->font();
        struck.setStrikeOut(column == 1);
        item->setFont(struck);
        item->setForeground(theme_.color("unmeasured"));
      }
      if (s.kind == StepKind::Group && column == 1) item->setFont(theme_.strong(9));
      setItem(row, column, item);
    }
  }
  resizeColumnToContents(5);
  showSelection();
}

// The rows of the selected steps, seen.
void StepList::showSelection() {
  const QSignalBlocker blocker(this);
  const auto& selection = document_.selection();
  const Routed* routed = document_.routed();
  if (!routed) return;
  if (selection.step >= 0 && selection.step < rowCount()) {
    selectRow(selection.step);
    return;
  }
  if (selection.steps.empty()) return;
  clearSelection();
  for (int row = 0; row < rowCount(); ++row) {
    const Step& s = routed->way.steps[static_cast<std::size_t>(row)];
    const bool own = s.left_out || (s.kind != StepKind::Hop && s.kind != StepKind::Manual);
    if (!own || std::count(selection.steps.begin(), selection.steps.end(), s.origin) == 0) continue;
    selectionModel()->select(model()->index(row, 0),
                             QItemSelectionModel::Select | QItemSelectionModel::Rows);
    scrollToItem(item(row, 1));
  }
}

void StepList::selectRows(const QModelIndexList& rows) {
  const Routed* routed = document_.routed();
  if (!routed) return;
  std::vector<StepId> steps;
  for (const QModelIndex& i : rows) {
    const StepId id = routed->way.steps[static_cast<std::size_t>(i.row())].origin;
    if (id.valid() && std::find(steps.begin(), steps.end(), id) == steps.end()) steps.push_back(id);
  }
  document_.selectSteps(std::move(steps));
}

void StepList::keyPressEvent(QKeyEvent* event) {
  if (event->modifiers() & Qt::AltModifier && event->key() == Qt::Key_Up)
    return document_.shiftSteps(-1);
  if (event->modifiers() & Qt::AltModifier && event->key() == Qt::Key_Down)
    return document_.shiftSteps(1);
  if (event->key() == Qt::Key_Delete) return document_.removeSteps();
  if (event->matches(QKeySequence::Copy) || event->matches(QKeySequence::Cut)) {
    QGuiApplication::clipboard()->setText(document_.copySteps());
    if (event->matches(QKeySequence::Cut)) document_.removeSteps();
    return;
  }
  if (event->matches(QKeySequence::Paste))
    return document_.pasteSteps(QGuiApplication::clipboard()->text());
  QTableWidget::keyPressEvent(event);
}

} // namespace alder::app
