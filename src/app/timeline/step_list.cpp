#include "timeline/step_list.h"

#include "timeline/step_model.h"
#include <QClipboard>
#include <QGuiApplication>
#include <QHeaderView>
#include <QKeyEvent>
#include <QSignalBlocker>
#include <algorithm>

namespace alder::app {

StepList::StepList(Document& document, const Theme& theme, QWidget* parent)
    : QTableView(parent)
    , document_(document) {
  setModel(new StepModel(document, theme, this));
  setSelectionBehavior(SelectRows);
  setSelectionMode(ExtendedSelection);
  setEditTriggers(NoEditTriggers);
  setShowGrid(false);
  verticalHeader()->hide();
  verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
  verticalHeader()->setDefaultSectionSize(24);
  horizontalHeader()->setSectionResizeMode(StepModel::What, QHeaderView::Stretch);
  horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  for (int column : {StepModel::Number, StepModel::Starts, StepModel::Takes, StepModel::Touches})
    setColumnWidth(column, 84);
  setColumnWidth(StepModel::Clashes, 220);
  setAccessibleName("Steps");
  connect(model(), &QAbstractItemModel::modelReset, this, [this] { showSelection(); });
  connect(&document_, &Document::selectionChanged, this, [this] { showSelection(); });
  connect(selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { chosen(); });
}

void StepList::chosen() {
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
}

// The rows of the selected steps, seen.
void StepList::showSelection() {
  const QSignalBlocker blocker(selectionModel());
  const auto& selection = document_.selection();
  const Routed* routed = document_.routed();
  if (!routed) return;
  if (selection.step >= 0 && selection.step < model()->rowCount()) {
    selectRow(selection.step);
    viewport()->update(); // the signal that would do so is held back
    return;
  }
  if (selection.steps.empty()) return;
  clearSelection();
  for (int row = 0; row < model()->rowCount(); ++row) {
    const Step& s = routed->way.steps[static_cast<std::size_t>(row)];
    const bool own = s.left_out || (s.kind != StepKind::Hop && s.kind != StepKind::Manual);
    if (!own || std::count(selection.steps.begin(), selection.steps.end(), s.origin) == 0) continue;
    selectionModel()->select(model()->index(row, 0),
                             QItemSelectionModel::Select | QItemSelectionModel::Rows);
    scrollTo(model()->index(row, StepModel::What));
  }
  viewport()->update();
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
  QTableView::keyPressEvent(event);
}

} // namespace alder::app
