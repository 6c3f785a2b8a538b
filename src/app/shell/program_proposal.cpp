#include "shell/program_proposal.h"

#include "plan/steps/step_edit.h"
#include <QCheckBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace alder::app {
namespace {

QString words(std::string_view text) {
  return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

QString counted(long count, const char* one, const char* more) {
  return QString("%1 %2").arg(count).arg(count == 1 ? one : more);
}

bool isOpen(const ProgramLine& line) {
  return line.taken != Taken::Over || !line.remark.empty();
}

} // namespace

ProgramProposal::ProgramProposal(const ProgramRead& read, const QString& name, const Theme& theme,
                                 QWidget* parent)
    : QDialog(parent)
    , read_(read)
    , theme_(theme)
    , open_only_(new QCheckBox("Only what is not taken over, or has a remark"))
    , table_(new QTableWidget) {
  setWindowTitle("A program read");
  setObjectName("programProposal");
  resize(980, 620);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 18, 20, 18);
  layout->setSpacing(10);
  auto* head = new QLabel(name);
  head->setFont(theme.strong(13));
  auto* told = new QLabel(summary());
  told->setObjectName("proposalSummary");
  told->setWordWrap(true);
  layout->addWidget(head);
  layout->addWidget(told);
  layout->addWidget(open_only_);
  open_only_->setObjectName("proposalOpenOnly");
  const bool any = std::any_of(read.lines.begin(), read.lines.end(), isOpen);
  open_only_->setChecked(any);
  open_only_->setEnabled(any);
  connect(open_only_, &QCheckBox::toggled, this, [this] { fill(); });
  table_->setObjectName("proposalLines");
  table_->setAccessibleName("Statements of the program");
  table_->setColumnCount(4);
  table_->setHorizontalHeaderLabels({"Line", "Statement", "Becomes", "Remark"});
  table_->verticalHeader()->hide();
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setShowGrid(false);
  table_->setTabKeyNavigation(false);
  table_->horizontalHeader()->setStretchLastSection(true);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  connect(table_->horizontalHeader(), &QHeaderView::sectionResized, this, [this] { wrapRows(); });
  layout->addWidget(table_, 1);
  auto* buttons = new QHBoxLayout;
  auto* take = new QPushButton("Take it as the routine");
  take->setProperty("role", "primary");
  take->setObjectName("proposalTake");
  take->setDefault(true);
  auto* leave = new QPushButton("Leave it");
  leave->setObjectName("proposalLeave");
  buttons->addStretch(1);
  buttons->addWidget(leave);
  buttons->addWidget(take);
  layout->addLayout(buttons);
  connect(take, &QPushButton::clicked, this, &QDialog::accept);
  connect(leave, &QPushButton::clicked, this, &QDialog::reject);
  fill();
  table_->setFocus();
}

QString ProgramProposal::summary() const {
  long over = 0, notes = 0, left_out = 0;
  for (const ProgramLine& l : read_.lines)
    ++(l.taken == Taken::Over ? over : l.taken == Taken::Note ? notes : left_out);
  const auto features = static_cast<long>(measuringOrder(read_.plan.steps).size());
  long touches = 0;
  for (const FeatureId id : measuringOrder(read_.plan.steps))
    touches += static_cast<long>(read_.plan.feature(id).touches.size());
  QStringList frame;
  for (const FeatureId id : read_.plan.alignment)
    frame << QString::fromStdString(read_.plan.nominal(id).name);
  return QString("It measures %1 with %2; %3. Of its statements %4 taken over, %5, %6 left out. "
                 "Nothing is changed until you take it: it takes the place of the steps and "
                 "touches of this routine.")
      .arg(counted(features, "feature", "features"))
      .arg(counted(touches, "touch", "touches"))
      .arg(frame.isEmpty() ? QString("no features find the part")
                           : "the part is found by " + frame.join(", "))
      .arg(over == 1 ? QString("1 is") : QString("%1 are").arg(over))
      .arg(counted(notes, "stays as a note", "stay as notes"))
      .arg(left_out == 1 ? QString("1 is") : QString("%1 are").arg(left_out));
}

// Remarks are read whole; each row is looked at, which takes long where there are very many.
void ProgramProposal::wrapRows() {
  constexpr int kMostWrapped = 2000;
  if (table_->rowCount() <= kMostWrapped) table_->resizeRowsToContents();
}

void ProgramProposal::fill() {
  std::vector<const ProgramLine*> shown;
  for (const ProgramLine& l : read_.lines)
    if (!open_only_->isChecked() || isOpen(l)) shown.push_back(&l);
  table_->setRowCount(static_cast<int>(shown.size()));
  int row = 0;
  for (const ProgramLine* l : shown) {
    const auto put = [&](int column, const QString& text, bool figures = false) {
      auto* item = new QTableWidgetItem(text);
      item->setToolTip(text);
      if (figures) item->setFont(theme_.figures(9));
      table_->setItem(row, column, item);
    };
    put(0, QString::number(l->line), true);
    put(1, QString::fromStdString(l->statement), true);
    put(2, words(alder::name(l->taken)));
    put(3, QString::fromStdString(l->remark));
    ++row;
  }
  table_->setColumnWidth(0, 60);
  table_->setColumnWidth(1, 330);
  table_->setColumnWidth(2, 100);
  wrapRows();
  if (!shown.empty()) table_->selectRow(0);
}

} // namespace alder::app
