#include "requirements/sheet.h"

#include "plan/numbering.h"
#include "requirement/member_numbers.h"
#include "requirements/progress_head.h"
#include "requirements/recognised_list.h"
#include "requirements/row_delegate.h"
#include <QHBoxLayout>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

namespace alder::app {

RequirementModel::RequirementModel(Document& document)
    : document_(document) {
  reset();
}

int RequirementModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(order_.size());
}

QVariant RequirementModel::data(const QModelIndex& index, int role) const {
  const auto& r = document_.plan().spec.requirement(idAt(index.row()));
  if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
    return QString("%1  %2%3")
        .arg(r.balloon)
        .arg(QString::fromStdString(describe(document_.plan().spec, r)),
             role == Qt::AccessibleTextRole && hasUnseenNotes(document_.plan(), r)
                 ? ", notes not yet seen"
                 : "");
  if (role == Qt::ToolTipRole) {
    const auto cells = document_.progressOf(r);
    QString text = QString::fromStdString(describe(document_.plan().spec, r));
    const bool pattern = !memberNumbers(r).empty();
    for (FeatureId f : r.features)
      text += "\n" + QString::fromStdString((pattern ? numberOf(r, f) + "  " : "") +
                                            document_.plan().nominal(f).name);
    for (std::size_t i = 0; i < cells.size(); ++i)
      text += QString("\n%1 %2").arg(cells[i] ? "■" : "□").arg(kProgressCells[i].done);
    const auto why = document_.whyNotCovered(r);
    if (!why.empty()) text += "\n" + QString::fromStdString(why);
    return text;
  }
  return {};
}

void RequirementModel::reset() {
  beginResetModel();
  order_ = document_.isOpen() ? inOrder(document_.plan().spec) : std::vector<RequirementId>{};
  endResetModel();
}

int RequirementModel::rowOf(RequirementId requirement) const {
  return static_cast<int>(std::find(order_.begin(), order_.end(), requirement) - order_.begin());
}

Qt::ItemFlags RequirementModel::flags(const QModelIndex& index) const {
  return QAbstractListModel::flags(index) | Qt::ItemIsDragEnabled;
}

bool RequirementModel::refresh() {
  const bool same = document_.isOpen() && order_ == inOrder(document_.plan().spec);
  if (!same) reset();
  if (rowCount() > 0) emit dataChanged(index(0), index(rowCount() - 1));
  return !same;
}

RequirementSheet::RequirementSheet(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , model_(document)
    , list_(new RowList(theme))
    , summary_(new QLabel)
    , delegate_(new RowDelegate(document, theme, this)) {
  setObjectName("sheet");
  setAttribute(Qt::WA_StyledBackground);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(16, 4, 0, 2);
  auto* words = new QVBoxLayout;
  words->setContentsMargins(0, 5, 0, 4);
  words->setSpacing(2);
  auto* title = new QLabel("Requirements");
  title->setFont(theme.strong(10));
  summary_->setProperty("role", "second");
  summary_->setFont(theme.text(8.5));
  words->addWidget(title);
  words->addWidget(summary_);
  cells_ = new ProgressHead(*list_, theme);
  head->addLayout(words, 1);
  head->addWidget(cells_);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addLayout(head);
  layout->addWidget(buildEmpty(theme));
  layout->addWidget(list_, 3);
  recognised_ = new RecognisedList(document_, theme);
  layout->addWidget(recognised_, 2);
  connect(recognised_, &RecognisedList::typeWanted, this,
          [this] { emit wanted("typeRequirement"); });
  list_->setObjectName("requirementList");
  list_->setAccessibleName("Requirements");
  list_->setModel(&model_);
  list_->setItemDelegate(delegate_);
  list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  list_->setUniformItemSizes(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  connect(list_, &RowList::dropped, this, [this](int row) {
    document_.renumberBefore(row < model_.rowCount() ? model_.idAt(row) : RequirementId{});
  });
  connect(list_, &RowList::shifted, &document_, &Document::shiftNumbers);
  connect(list_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
    const QModelIndex now = list_->currentIndex();
    std::vector<RequirementId> all;
    const auto idOf = [this](const QModelIndex& i) { return model_.idAt(i.row()); };
    for (const QModelIndex& i : list_->selectionModel()->selectedIndexes())
      all.push_back(idOf(i));
    std::sort(all.begin(), all.end());
    if (now.isValid() && !all.empty()) document_.selectRequirements(all, idOf(now));
  });
  connect(&document_, &Document::opened, this, [this] { model_.reset(); });
  for (auto signal : {&Document::planChanged, &Document::routedChanged, &Document::runsChanged})
    connect(&document_, signal, this, &RequirementSheet::refresh);
  connect(&document_, &Document::coverageChanged, this, &RequirementSheet::refresh);
  connect(&document_, &Document::selectionChanged, this, &RequirementSheet::syncSelection);
}

// What fills the sheet, where nothing does.
QWidget* RequirementSheet::buildEmpty(const Theme& theme) {
  empty_ = new QWidget;
  empty_->setObjectName("sheetEmpty");
  auto* layout = new QVBoxLayout(empty_);
  layout->setContentsMargins(16, 4, 14, 8);
  layout->setSpacing(4);
  empty_words_ = new QLabel;
  empty_words_->setFont(theme.text(8.5));
  empty_words_->setProperty("role", "second");
  empty_words_->setWordWrap(true);
  layout->addWidget(empty_words_);
  for (const auto& [id, words] :
       {std::pair{"open", "Open a part or a routine …"},
        {"addFirst", "Add sizes of all bores, flatness of the largest plane"},
        {"pickLargest", "Pick the largest face and choose"},
        {"addValue", "Add a value by formula"}}) {
    auto* button = new QPushButton(words);
    button->setObjectName(QString("empty_") + id);
    button->setProperty("role", "link");
    connect(button, &QPushButton::clicked, this, [this, id = QString(id)] { emit wanted(id); });
    layout->addWidget(button);
  }
  return empty_;
}

void RequirementSheet::refreshEmpty() {
  const bool open = document_.isOpen();
  const bool empty = !open || document_.plan().spec.requirements.empty();
  recognised_->refresh(desk_ == Desk::Part);
  empty_->setVisible(empty);
  list_->setVisible(!empty || recognised_->isHidden()); // of what is not there nothing is shown
  constexpr int kBelow = 150; // px: the requirements come first where there are some
  recognised_->setMaximumHeight(empty ? QWIDGETSIZE_MAX : kBelow);
  cells_->setVisible(!empty && desk_ != Desk::Verdict);
  if (!empty) return;
  empty_words_->setText(
      open ? "The model holds no tolerances that can be read. Pick a face in the picture: the card "
             "offers what can be asked of it. Or begin with all at once:"
           : "What the part must prove stands here, with how far each requirement has come.");
  for (QPushButton* button : empty_->findChildren<QPushButton*>())
    button->setVisible((button->objectName() == "empty_open") == !open);
}

void RequirementSheet::setDesk(Desk desk) {
  desk_ = desk;
  delegate_->setDesk(desk);
  refresh();
}

void RequirementSheet::refresh() {
  refreshEmpty();
  if (model_.refresh()) syncSelection();
  list_->viewport()->update();
  if (!document_.isOpen()) return summary_->clear();
  const auto& requirements = document_.plan().spec.requirements;
  int covered = 0, unseen = 0, within = 0, near = 0, not_proved = 0, outside = 0;
  for (const Requirement& r : requirements) {
    covered += document_.whyNotCovered(r).empty();
    unseen += hasUnseenNotes(document_.plan(), r);
    if (const auto* e = document_.verdict(r.id)) {
      within += e->verdict == Verdict::Within;
      near += e->verdict == Verdict::Near;
      not_proved += e->verdict == Verdict::NotProved;
      outside += e->verdict == Verdict::Outside;
    }
  }
  summary_->setText(
      desk_ == Desk::Verdict && document_.currentRun()
          ? QString("%1 within · %2 near · %3%4 outside")
                .arg(within)
                .arg(near)
                .arg(not_proved > 0 ? QString("%1 not proved · ").arg(not_proved) : QString())
                .arg(outside)
          : QString("%1 of %2 covered%3")
                .arg(covered)
                .arg(requirements.size())
                .arg(unseen > 0 ? QString(" · %1 with notes").arg(unseen) : QString()));
}

void RequirementSheet::syncSelection() {
  recognised_->syncSelection();
  const auto& selected = document_.selection().requirement;
  const QSignalBlocker blocker(list_->selectionModel());
  if (selected) {
    const auto indexOf = [this](RequirementId id) { return model_.index(model_.rowOf(id)); };
    const auto index = indexOf(*selected);
    list_->selectionModel()->setCurrentIndex(index, QItemSelectionModel::ClearAndSelect);
    for (RequirementId id : document_.selection().requirements)
      list_->selectionModel()->select(indexOf(id), QItemSelectionModel::Select);
    list_->scrollTo(index);
  } else {
    list_->clearSelection();
    list_->setCurrentIndex({});
  }
  list_->viewport()->update();
}

void RequirementSheet::selectNext(bool outside) {
  if (!document_.isOpen()) return;
  const int count = model_.rowCount();
  const auto& selected = document_.selection().requirement;
  const int start = selected ? model_.rowOf(*selected) + 1 : 0;
  for (int k = 0; k < count; ++k) {
    const Requirement& r = document_.plan().spec.requirement(model_.idAt((start + k) % count));
    const BriefVerdict* v = document_.verdict(r.id);
    const bool wanted =
        outside ? v && v->verdict == Verdict::Outside : !document_.whyNotCovered(r).empty();
    if (wanted) return document_.selectRequirement(r.id);
  }
  emit document_.message(outside ? "No requirement is outside" : "Every requirement is covered",
                         false);
}

} // namespace alder::app
