#include "results/results_window.h"

#include "base/files.h"
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QSplitter>
#include <QVBoxLayout>
#include <algorithm>
#include <array>

namespace alder::app {
namespace {

QString counted(std::size_t count, const char* one, const char* more) {
  return QString("%1 %2").arg(count).arg(count == 1 ? one : more);
}

// Requirements are dragged from here onto values, and values onto them.
class MissingList : public QListWidget {
 public:
  explicit MissingList(QWidget* parent = nullptr)
      : QListWidget(parent) {
    setDragDropMode(QAbstractItemView::DragOnly);
  }

 protected:
  QStringList mimeTypes() const override { return {kRequirementMime}; }
  QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override {
    auto* dragged = new QMimeData;
    if (!items.isEmpty())
      dragged->setData(kRequirementMime,
                       QByteArray::number(items.first()->data(Qt::UserRole).toInt()));
    return dragged;
  }
};

const std::vector<ResultRole>& rolesOffered() {
  static const std::vector<ResultRole> roles{
      ResultRole::Actual,         ResultRole::Nominal,        ResultRole::Name,
      ResultRole::Feature,        ResultRole::Axis,           ResultRole::Id,
      ResultRole::UpperDeviation, ResultRole::LowerDeviation, ResultRole::Upper,
      ResultRole::Lower,          ResultRole::Tolerance,      ResultRole::Deviation,
      ResultRole::Excess,         ResultRole::Status,         ResultRole::Unit,
      ResultRole::Datums,         ResultRole::Serial,         ResultRole::Date,
      ResultRole::Operator,       ResultRole::Machine,        ResultRole::None};
  return roles;
}

QString wordsOf(ResultRole role) {
  const auto w = words(role);
  return QString::fromUtf8(w.data(), static_cast<qsizetype>(w.size()));
}

} // namespace

ResultsWindow::ResultsWindow(Document& document, ResultFile file, const Theme& theme,
                             QWidget* parent)
    : QDialog(parent)
    , document_(document)
    , theme_(theme)
    , file_(std::move(file)) {
  setObjectName("results");
  setWindowTitle("Results to bring in");
  setAttribute(Qt::WA_DeleteOnClose);
  resize(1240, 760);
  QPalette colors = palette();
  colors.setColor(QPalette::Window, theme.color("paper"));
  colors.setColor(QPalette::Base, theme.color("panel"));
  setPalette(colors);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 14, 16, 14);
  layout->setSpacing(10);
  layout->addWidget(buildHead());
  auto* panes = new QSplitter(Qt::Vertical);
  panes->addWidget(buildText());
  panes->addWidget(buildValues());
  panes->setStretchFactor(0, 2);
  panes->setStretchFactor(1, 3);
  panes->setChildrenCollapsible(false);
  layout->addWidget(panes, 1);
  layout->addWidget(buildButtons());
  matchAll();
  showPart(0);
  table_->setFocus();
  connect(&document_, &Document::opening, this, &QWidget::close);
  // Requirements may come or go meanwhile; what was decided here stays decided.
  connect(&document_, &Document::planChanged, this, [this] {
    matchAll();
    refresh();
  });
}

QWidget* ResultsWindow::buildHead() {
  auto* head = new QWidget;
  auto* row = new QHBoxLayout(head);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  auto* name = new QLabel(QString::fromStdString(file_.name));
  name->setFont(theme_.strong(13));
  row->addWidget(name);
  row->addStretch(1);
  const auto labelled = [&](const QString& label, QWidget* field) {
    auto* words = new QLabel(label);
    words->setBuddy(field);
    row->addWidget(words);
    row->addWidget(field);
  };
  kinds_ = new QComboBox;
  kinds_->setObjectName("resultKinds");
  kinds_->setAccessibleName("Description of this kind of file");
  kinds_->setMinimumWidth(170);
  labelled("&Read as", kinds_);
  name_ = new QLineEdit;
  name_->setObjectName("resultKindName");
  name_->setPlaceholderText("name of this kind");
  name_->setMaximumWidth(170);
  labelled("ke&pt as", name_);
  decimal_ = new QComboBox;
  decimal_->setObjectName("resultDecimal");
  decimal_->addItem("1.5", '.');
  decimal_->addItem("1,5", ',');
  labelled("&Figures", decimal_);
  unit_ = new QComboBox;
  unit_->setObjectName("resultUnit");
  unit_->addItem("mm", static_cast<int>(FigureUnit::Millimetre));
  unit_->addItem("inch", static_cast<int>(FigureUnit::Inch));
  labelled("&in", unit_);
  auto* more = new QPushButton("Kind …");
  auto* menu = new QMenu(more);
  menu->addAction("Write the description to a file …", this, &ResultsWindow::saveKind);
  menu->addAction("Read by a description from a file …", this, &ResultsWindow::openKind);
  more->setMenu(menu);
  more->setAutoDefault(false);
  row->addWidget(more);
  fillKinds();
  connect(kinds_, &QComboBox::activated, this, &ResultsWindow::useKind);
  connect(decimal_, &QComboBox::activated, this, [this] {
    FileKind kind = file_.kind;
    kind.decimal = static_cast<char>(decimal_->currentData().toInt());
    readBy(std::move(kind));
  });
  connect(unit_, &QComboBox::activated, this, [this] {
    FileKind kind = file_.kind;
    kind.unit = static_cast<FigureUnit>(unit_->currentData().toInt());
    readBy(std::move(kind));
  });
  return head;
}

QWidget* ResultsWindow::buildText() {
  auto* pane = new QWidget;
  auto* layout = new QVBoxLayout(pane);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(4);
  text_ = new ResultTextView(theme_);
  text_->setMinimumHeight(140);
  layout->addWidget(text_, 1);
  read_words_ = new QLabel;
  read_words_->setObjectName("resultReadWords");
  read_words_->setWordWrap(true);
  layout->addWidget(read_words_);
  connect(text_, &ResultTextView::pointedAt, this, &ResultsWindow::askRole);
  connect(text_, &ResultTextView::lineChosen, this, &ResultsWindow::lineChosen);
  return pane;
}

QWidget* ResultsWindow::buildValues() {
  auto* pane = new QWidget;
  auto* layout = new QHBoxLayout(pane);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  auto* left = new QVBoxLayout;
  left->setSpacing(4);
  table_ = new MatchTable(theme_);
  left->addWidget(table_, 1);
  remark_ = new QLabel;
  remark_->setObjectName("resultRemark");
  remark_->setWordWrap(true);
  remark_->setMinimumHeight(QFontMetrics(theme_.text(9.5)).height() * 2 + 4);
  remark_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  left->addWidget(remark_);
  layout->addLayout(left, 1);
  side_ = new QWidget;
  side_->setFixedWidth(230);
  auto* column = new QVBoxLayout(side_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  parts_ = new QComboBox;
  parts_->setObjectName("resultParts");
  parts_->setAccessibleName("Measured part");
  column->addWidget(parts_);
  missing_words_ = new QLabel;
  missing_words_->setWordWrap(true);
  column->addWidget(missing_words_);
  missing_ = new MissingList;
  missing_->setObjectName("resultMissing");
  missing_->setAccessibleName("Requirements without a value");
  column->addWidget(missing_, 1);
  layout->addWidget(side_);
  connect(parts_, &QComboBox::activated, this, &ResultsWindow::showPart);
  connect(&table_->values(), &MatchModel::decided, this, &ResultsWindow::decideValue);
  connect(table_, &MatchTable::letStand, this, &ResultsWindow::letStandOrWait);
  connect(table_, &MatchTable::provesNone, this, [this](int row) {
    decideValue(matches_[part_].matches[static_cast<std::size_t>(row)].value, {});
  });
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
          [this](const QModelIndex& now) { valueChosen(now.row()); });
  return pane;
}

QWidget* ResultsWindow::buildButtons() {
  auto* foot = new QWidget;
  auto* row = new QHBoxLayout(foot);
  row->setContentsMargins(0, 0, 0, 0);
  summary_ = new QLabel;
  summary_->setObjectName("resultSummary");
  summary_->setWordWrap(true);
  row->addWidget(summary_, 1);
  const auto button = [&](const QString& words, const char* name, auto act) {
    auto* b = new QPushButton(words);
    b->setObjectName(name);
    b->setAutoDefault(false);
    row->addWidget(b);
    connect(b, &QPushButton::clicked, this, act);
    return b;
  };
  auto* next = button("Next that waits", "resultNext", [this] { nextWaiting(); });
  next->setToolTip("Ctrl+J");
  button("Let all stand", "resultLetStand", [this] {
    letStandAll();
  })->setToolTip("All that wait count, with what speaks against them told");
  button("Leave it", "resultLeave", [this] { reject(); });
  take_ = button("Take", "resultTake", [this] { take(); });
  take_->setProperty("role", "primary");
  take_->setToolTip("Ctrl+Return");
  return foot;
}

void ResultsWindow::fillKinds() {
  const QSignalBlocker quiet(kinds_);
  kinds_->clear();
  if (file_.fixed) {
    kinds_->addItem(QString::fromStdString(file_.kind.name) + " (standard)");
  } else {
    kinds_->addItem("a new kind, as proposed");
    for (const FileKind& k : document_.resultKinds())
      kinds_->addItem(QString::fromStdString(k.name));
    const int at =
        file_.known && !pointed_ ? kinds_->findText(QString::fromStdString(file_.kind.name)) : 0;
    kinds_->setCurrentIndex(std::max(at, 0));
  }
  kinds_->setEnabled(!file_.fixed);
  name_->setEnabled(!file_.fixed);
  const QSignalBlocker quiet_decimal(decimal_), quiet_unit(unit_);
  decimal_->setEnabled(!file_.fixed && !file_.text.spreadsheet);
  unit_->setEnabled(!file_.fixed);
  decimal_->setCurrentIndex(file_.kind.decimal == ',' ? 1 : 0);
  unit_->setCurrentIndex(file_.kind.unit == FigureUnit::Inch ? 1 : 0);
  if (name_->text().isEmpty())
    name_->setText(file_.kind.name.empty()
                       ? QFileInfo(QString::fromStdString(file_.name)).completeBaseName()
                       : QString::fromStdString(file_.kind.name));
}

void ResultsWindow::useKind(int index) {
  pointings_.clear();
  pointed_ = false;
  if (index == 0) {
    file_.known = false;
    name_->clear();
    readBy(proposeKind(file_.text).kind);
    return;
  }
  const auto kinds = document_.resultKinds();
  if (index > static_cast<int>(kinds.size())) return;
  file_.known = true;
  name_->setText(QString::fromStdString(kinds[static_cast<std::size_t>(index) - 1].name));
  readBy(kinds[static_cast<std::size_t>(index) - 1]);
}

void ResultsWindow::readBy(FileKind kind) {
  readAgain(file_, std::move(kind));
  matchAll();
  fillKinds();
  showPart(0);
}

void ResultsWindow::matchAll() {
  const auto before = std::move(matches_);
  matches_.clear();
  for (std::size_t p = 0; p < file_.read.parts.size(); ++p)
    matches_.push_back(document_.matchesOf(file_, p));
  for (std::size_t p = 0; p < std::min(before.size(), matches_.size()); ++p)
    decideAsBefore(document_.plan().spec, file_.read.parts[p], before[p], matches_[p]);
}

void ResultsWindow::showPart(int part) {
  part_ = static_cast<std::size_t>(std::max(part, 0));
  const QSignalBlocker quiet(parts_);
  parts_->clear();
  const std::vector<std::string> names = document_.runNamesOf(file_);
  const std::size_t count = names.size();
  for (std::size_t p = 0; p < count; ++p) {
    const QString run = QString::fromStdString(names[p]);
    parts_->addItem(count == 1 ? run : QString("%1  (%2 of %3)").arg(run).arg(p + 1).arg(count));
  }
  parts_->setCurrentIndex(static_cast<int>(part_));
  refresh();
  if (table_->values().rowCount() > 0) table_->selectRow(0);
}

void ResultsWindow::refresh() {
  text_->show(file_.text, file_.read);
  const int row = table_->currentRow();
  const bool any = part_ < matches_.size();
  table_->values().show(any ? &document_.plan().spec : nullptr,
                        any ? &file_.read.parts[part_] : nullptr, any ? &matches_[part_] : nullptr);
  if (row >= 0 && row < table_->values().rowCount()) table_->selectRow(row);
  missing_->clear();
  if (any)
    for (const RequirementId id : matches_[part_].missing) {
      auto* item = new QListWidgetItem(MatchModel::wordsFor(document_.plan().spec, id));
      item->setData(Qt::UserRole, id.value);
      item->setToolTip(item->text());
      missing_->addItem(item);
    }
  missing_words_->setText(missing_->count() == 0
                              ? QString("Every requirement has a value.")
                              : QString("%1 without a value; drag one onto a line:")
                                    .arg(counted(static_cast<std::size_t>(missing_->count()),
                                                 "requirement", "requirements")));
  side_->setVisible(missing_->count() > 0 || file_.read.parts.size() > 1);
  tellRemark();
  const MatchCounts counts = countsOf(matches_);
  const QString told =
      QString("%1 of %2: %3 settled, %4, %5 without requirement%6.")
          .arg(counted(file_.read.values(), "value", "values"))
          .arg(counted(file_.read.parts.size(), "part", "parts"))
          .arg(counts.settled)
          .arg(counts.waiting == 1 ? QString("1 waits") : QString("%1 wait").arg(counts.waiting))
          .arg(counts.left)
          .arg(counts.coordinates > 0
                   ? ", " + counted(counts.coordinates, "coordinate", "coordinates")
                   : QString());
  summary_->setText(told);
  QStringList words;
  words << (file_.fixed ? QString("Read by the standard.")
                        : QString("Click a word, or choose it with the arrow keys and press "
                                  "Return, to say what it is."));
  if (const std::size_t not_read = file_.read.notRead(); not_read > 0)
    words << QString("%1 with figures passed over (red at the left; Ctrl+L goes to the next).")
                 .arg(counted(not_read, "line", "lines"));
  for (std::size_t i = 0; i < std::min<std::size_t>(file_.read.remarks.size(), 2); ++i)
    words << QString::fromStdString(file_.read.remarks[i]);
  if (file_.read.remarks.size() > 2)
    words << QString("%1 more remarks like this.").arg(file_.read.remarks.size() - 2);
  read_words_->setText(words.join(" "));
  take_->setText(counts.settled == 1 ? QString("Take the 1 settled value")
                                     : QString("Take the %1 settled values").arg(counts.settled));
  take_->setEnabled(counts.settled > 0);
}

bool ResultsWindow::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(event);
    constexpr std::array kOwn{Qt::Key_J, Qt::Key_L, Qt::Key_Return, Qt::Key_Enter};
    if (key->modifiers() == Qt::ControlModifier &&
        std::find(kOwn.begin(), kOwn.end(), key->key()) != kOwn.end()) {
      event->accept();
      return true;
    }
  }
  return QDialog::event(event);
}

void ResultsWindow::keyPressEvent(QKeyEvent* event) {
  if (event->modifiers() & Qt::ControlModifier) switch (event->key()) {
    case Qt::Key_J:
      return nextWaiting();
    case Qt::Key_L:
      text_->setFocus();
      if (!text_->nextNotRead()) summary_->setText("No line with figures was passed over.");
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (take_->isEnabled()) take();
      return;
    default:
      break;
    }
  QDialog::keyPressEvent(event);
}

void ResultsWindow::askRole(const QPoint& where) {
  if (file_.fixed) return;
  QMenu menu(this);
  menu.setObjectName("resultRoles");
  const Pointing chosen = text_->chosen(ResultRole::None);
  const std::string words =
      file_.text.lines[chosen.line].substr(chosen.from, chosen.to - chosen.from);
  auto* title = menu.addAction(QString("“%1” is").arg(QString::fromStdString(words).left(40)));
  title->setEnabled(false);
  for (const ResultRole role : rolesOffered()) {
    if (role == ResultRole::Serial || role == ResultRole::None) menu.addSeparator();
    auto* action = menu.addAction(wordsOf(role));
    action->setObjectName(
        QString::fromUtf8(name(role).data(), static_cast<qsizetype>(name(role).size())));
    connect(action, &QAction::triggered, this, [this, role] { point(role); });
  }
  menu.exec(where);
}

void ResultsWindow::point(ResultRole role) {
  const Pointing pointing = text_->chosen(role);
  const std::size_t line = text_->line();
  pointed_ = true;
  if (file_.known) {
    readBy(withPointing(file_.kind, file_.text, pointing));
  } else {
    // What one thing is often tells what the others are.
    pointings_.push_back(pointing);
    FileKind kind = proposeKind(file_.text, pointings_).kind;
    kind.name = file_.kind.name;
    readBy(std::move(kind));
  }
  text_->setLine(line);
  text_->setFocus();
}

void ResultsWindow::decideValue(std::size_t value, RequirementId requirement) {
  decide(document_.plan().spec, file_.read.parts[part_], matches_[part_], value, requirement);
  refresh();
}

// Once more: it waits again.
void ResultsWindow::letStandOrWait(int row) {
  ResultMatch& m = matches_[part_].matches[static_cast<std::size_t>(row)];
  letStand(m, !m.settled());
  refresh();
}

void ResultsWindow::letStandAll() {
  for (PartMatches& p : matches_)
    for (ResultMatch& m : p.matches)
      if (m.state() == MatchState::Waits) letStand(m, true);
  refresh();
}

void ResultsWindow::nextWaiting() {
  if (part_ >= matches_.size()) return;
  for (std::size_t step = 0; step <= matches_.size(); ++step) {
    const std::size_t p = (part_ + step) % matches_.size();
    const auto& all = matches_[p].matches;
    const std::size_t from =
        step == 0 ? static_cast<std::size_t>(std::max(table_->currentRow() + 1, 0)) : 0;
    for (std::size_t i = from; i < all.size(); ++i)
      if (all[i].state() == MatchState::Waits) {
        if (p != part_) showPart(static_cast<int>(p));
        table_->selectRow(static_cast<int>(i));
        table_->setFocus();
        return;
      }
  }
}

void ResultsWindow::valueChosen(int row) {
  if (part_ >= matches_.size() || row < 0 ||
      row >= static_cast<int>(matches_[part_].matches.size()))
    return;
  tellRemark();
  const ResultMatch& m = matches_[part_].matches[static_cast<std::size_t>(row)];
  const int line = file_.read.parts[part_].values[m.value].line;
  if (line > 0 && !following_) text_->setLine(static_cast<std::size_t>(line) - 1);
  if (m.requirement.valid() && document_.selection().requirement != m.requirement)
    document_.selectRequirement(m.requirement);
}

void ResultsWindow::tellRemark() {
  const int row = table_->currentRow();
  const bool any =
      part_ < matches_.size() && row >= 0 && row < static_cast<int>(matches_[part_].matches.size());
  remark_->setText(any ? MatchModel::remark(matches_[part_].matches[static_cast<std::size_t>(row)])
                       : QString());
}

void ResultsWindow::lineChosen(std::size_t line) {
  const auto of_line = [&](const StatedResult& v) { return v.line == static_cast<int>(line) + 1; };
  for (std::size_t p = 0; p < file_.read.parts.size(); ++p) {
    const auto& values = file_.read.parts[p].values;
    const auto first = std::find_if(values.begin(), values.end(), of_line);
    if (first == values.end()) continue;
    following_ = true; // the words that are chosen in the line stay
    if (p != part_) showPart(static_cast<int>(p));
    table_->selectRow(static_cast<int>(first - values.begin()));
    following_ = false;
    return;
  }
}

void ResultsWindow::saveKind() {
  const QString path = QFileDialog::getSaveFileName(this, "Description of this kind of file",
                                                    name_->text() + ".json", "Kind (*.json)");
  if (path.isEmpty()) return;
  FileKind kind = file_.kind;
  kind.name = name_->text().trimmed().toStdString();
  const Done done = writeFile((path.endsWith(".json") ? path : path + ".json").toStdString(),
                              toJson(kind).dump(1));
  summary_->setText(done ? "Written to " + QFileInfo(path).fileName()
                         : QString::fromStdString(done.error().message));
}

void ResultsWindow::openKind() {
  const QString path =
      QFileDialog::getOpenFileName(this, "Description of a kind of file", {}, "Kind (*.json)");
  if (path.isEmpty()) return;
  auto text = readFile(path.toStdString());
  auto kind = text ? fileKindFromText(*text, QFileInfo(path).fileName().toStdString())
                   : Result<FileKind>(pass(text.error()));
  if (!kind) {
    summary_->setText(QString::fromStdString(kind.error().message));
    return;
  }
  file_.known = true;
  name_->setText(QString::fromStdString(kind->name));
  readBy(std::move(*kind));
}

void ResultsWindow::take() {
  if (!file_.fixed) {
    const QString name = name_->text().trimmed();
    file_.kind.name = name.isEmpty() ? file_.name : name.toStdString();
  }
  document_.bringIn(file_, matches_);
  accept();
}

} // namespace alder::app
