#include "report/layout_card.h"

#include "report/approval_state.h"
#include "report/article_rows.h"
#include "report/item_form.h"
#include <QApplication>
#include <QFileDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QTableWidget>
#include <QTimer>

namespace alder::app {

namespace {

constexpr int kCardWidth = 360, kCardRim = 14;

} // namespace

void NewItemButton::mousePressEvent(QMouseEvent* event) {
  from_ = event->pos();
  dragging_ = false;
  QPushButton::mousePressEvent(event);
}

void NewItemButton::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  if ((event->pos() - from_).manhattanLength() >= QApplication::startDragDistance())
    dragging_ = true;
  if (dragging_) emit dragged(event->globalPosition().toPoint());
}

void NewItemButton::mouseReleaseEvent(QMouseEvent* event) {
  if (!dragging_) return QPushButton::mouseReleaseEvent(event);
  dragging_ = false;
  setDown(false);
  emit dropped(event->globalPosition().toPoint());
}

LayoutCard::LayoutCard(ReportEditor& editor, PagesView& pages, const Theme& theme)
    : editor_(editor)
    , pages_(pages)
    , theme_(theme) {
  setObjectName("layoutCard");
  setAccessibleName("Report layout");
  setWidgetResizable(true);
  setFrameShape(QFrame::NoFrame);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setMinimumWidth(kCardWidth);
  connect(&editor, &ReportEditor::changed, this, &LayoutCard::rebuildSoon);
  connect(&editor, &ReportEditor::composedAnew, this, &LayoutCard::rebuildSoon);
  connect(&pages, &PagesView::editWanted, this, &LayoutCard::focusFields);
}

// After the editor that has made the change is done with it.
void LayoutCard::rebuildSoon() {
  if (std::exchange(pending_, true)) return;
  QTimer::singleShot(0, this, [this] {
    pending_ = false;
    rebuild();
  });
}

void LayoutCard::rebuild() {
  const QWidget* focused = QApplication::focusWidget();
  QString name = focused && isAncestorOf(focused) ? focused->objectName() : QString();
  int row = 0, column = 0; // where a table is being filled in
  for (auto* table : widget() ? widget()->findChildren<QTableWidget*>() : QList<QTableWidget*>())
    if (focused && (table == focused || table->isAncestorOf(focused)))
      name = table->objectName(), row = table->currentRow(), column = table->currentColumn();
  const int at = verticalScrollBar()->value();
  auto* content = new QWidget;
  content->setObjectName("card");
  content->setAttribute(Qt::WA_StyledBackground);
  auto* layout = new QVBoxLayout(content);
  layout->setContentsMargins(kCardRim, 14, kCardRim, 14);
  layout->setSpacing(7);
  addLayoutRows(*layout);
  if (editor_.selectedItem()) {
    addItemRows(*layout);
  } else {
    addPageRows(*layout);
    addNewItems(*layout);
  }
  layout->addStretch(1);
  for (QWidget* w : content->findChildren<QWidget*>())
    w->installEventFilter(this);
  if (QWidget* old = takeWidget()) old->deleteLater();
  setWidget(content);
  verticalScrollBar()->setValue(at);
  if (name.isEmpty()) return;
  auto* again = content->findChild<QWidget*>(name);
  if (!again) return;
  again->setFocus();
  if (auto* table = qobject_cast<QTableWidget*>(again)) table->setCurrentCell(row, column);
}

QLabel* LayoutCard::head(QVBoxLayout& layout, const QString& words) {
  auto* label = new QLabel(words);
  label->setProperty("role", "head");
  layout.addSpacing(6);
  layout.addWidget(label);
  return label;
}

void LayoutCard::addLayoutRows(QVBoxLayout& layout) {
  auto* title = new QLabel("Report layout");
  title->setFont(theme_.strong(12));
  layout.addWidget(title);
  auto* name = new ChoiceBox;
  name->setObjectName("layoutName");
  name->setAccessibleName("Layout");
  const auto names = editor_.names();
  for (const std::string& n : names)
    name->addItem(QString::fromStdString(n));
  name->setCurrentText(QString::fromStdString(editor_.name()));
  connect(name, &QComboBox::activated, this,
          [this, names](int i) { editor_.choose(names[static_cast<std::size_t>(i)]); });
  layout.addWidget(name);
  auto* says = new QLabel(editor_.isOwn() ? "Kept in this routine."
                          : editor_.isShops()
                              ? "The shop's; the routine keeps what you change."
                              : "Comes with the program; the routine keeps what you change.");
  says->setObjectName("layoutSays");
  says->setWordWrap(true);
  says->setProperty("role", "second");
  layout.addWidget(says);
  for (const std::string& line : editor_.composed().told) {
    auto* told = new QLabel(QString::fromStdString(line));
    told->setWordWrap(true);
    told->setProperty("role", "error");
    layout.addWidget(told);
  }
  auto* buttons = new QGridLayout;
  const auto button = [&](const char* id, const QString& words, int place, const auto& does) {
    auto* b = new QPushButton(words);
    b->setObjectName(id);
    connect(b, &QPushButton::clicked, this, does);
    buttons->addWidget(b, place / 2, place % 2);
    return b;
  };
  button("writeReport", "Write report …", 0, [this] {
    emit writeWanted();
  })->setProperty("role", "primary");
  button("printLayout", "Print …", 1, [this] { emit printWanted(); });
  button("leaveLayout", "Back to the stage", 4, [this] { emit left(); });
  button("saveLayout", "Save as a template …", 2, [this] {
    const QString folder = editor_.shopFolder();
    QString path =
        QFileDialog::getSaveFileName(window(), "Report layout",
                                     (folder.isEmpty() ? "" : folder + "/") +
                                         QString::fromStdString(editor_.name()) + ".alder-report",
                                     "Report layouts (*.alder-report)");
    if (path.isEmpty()) return;
    if (!path.endsWith(".alder-report")) path += ".alder-report";
    editor_.saveAs(path);
  });
  button("openLayout", "Open …", 3, [this] {
    const QString path =
        QFileDialog::getOpenFileName(window(), "Report layout, or a workbook that is filled in", {},
                                     "Report layouts and workbooks (*.alder-report *.xlsx)");
    if (!path.isEmpty()) editor_.open(path);
  });
  if (editor_.isOwn())
    button("removeLayout", "Remove from the routine", 5, [this] { editor_.removeOwn(); });
  layout.addLayout(buttons);
  addShopRows(layout);
  addApprovalRows(layout);
  for (const std::string& workbook : editor_.workbooks()) {
    const QString words = QString::fromStdString(workbook);
    auto* label = new QLabel("Workbook " + words +
                             ": filled in where it is chosen to write a "
                             "report.");
    label->setWordWrap(true);
    label->setProperty("role", "second");
    layout.addWidget(label);
    auto* remove = new QPushButton("Remove " + words);
    remove->setObjectName("removeWorkbook");
    connect(remove, &QPushButton::clicked, this, [this, workbook] { editor_.remove(workbook); });
    layout.addWidget(remove);
  }
}

// Layouts for all routines lie in a folder that the shop shares.
void LayoutCard::addShopRows(QVBoxLayout& layout) {
  const QString folder = editor_.shopFolder();
  auto* row = new QHBoxLayout;
  auto* says = new QLabel(folder.isEmpty() ? "No folder of the shop's layouts"
                                           : "Shop: " + QFileInfo(folder).fileName());
  says->setToolTip(folder);
  says->setProperty("role", "second");
  row->addWidget(says, 1);
  auto* choose = new QPushButton("Folder …");
  choose->setObjectName("shopFolder");
  connect(choose, &QPushButton::clicked, this, [this, folder] {
    const QString chosen =
        QFileDialog::getExistingDirectory(window(), "Folder of the shop's layouts", folder);
    if (!chosen.isEmpty()) editor_.setShopFolder(chosen);
  });
  row->addWidget(choose);
  if (!folder.isEmpty()) {
    auto* none = new QPushButton("None");
    none->setObjectName("noShopFolder");
    connect(none, &QPushButton::clicked, this, [this] { editor_.setShopFolder({}); });
    row->addWidget(none);
  }
  layout.addLayout(row);
}

void LayoutCard::addApprovalRows(QVBoxLayout& layout) {
  if (!editor_.hasPart()) return;
  const ApprovalState& state = editor_.composedApproval();
  auto* says = new QLabel;
  says->setObjectName("approvalSays");
  says->setWordWrap(true);
  says->setProperty("role", state.given() && !state.holds() ? "error" : "second");
  says->setText(QString::fromStdString(approvalWords(state)));
  layout.addWidget(says);
  auto* row = new QHBoxLayout;
  auto* by = new QLineEdit(QString::fromStdString(state.given() ? state.by : editor_.approver()));
  by->setObjectName("approvedBy");
  by->setAccessibleName("Approved by");
  by->setPlaceholderText("Name");
  auto* approve = new QPushButton(state.given() ? "Approve anew" : "Approve");
  approve->setObjectName("approve");
  connect(approve, &QPushButton::clicked, this,
          [this, by] { editor_.approve(by->text().trimmed().toStdString()); });
  row->addWidget(by, 1);
  row->addWidget(approve);
  if (state.given()) {
    auto* withdraw = new QPushButton("Withdraw");
    withdraw->setObjectName("withdrawApproval");
    connect(withdraw, &QPushButton::clicked, this, [this] { editor_.withdrawApproval(); });
    row->addWidget(withdraw);
  }
  layout.addLayout(row);
}

void LayoutCard::addItemRows(QVBoxLayout& layout) {
  const LayoutItem item = *editor_.selectedItem();
  head(layout, QString::fromUtf8(titleOf(item.body).data()))->setObjectName("itemTitle");
  auto* form = new QFormLayout;
  form->setVerticalSpacing(5);
  form->setFieldGrowthPolicy(QFormLayout::ExpandingFieldsGrow);
  const auto length = [&](const char* id, const QString& caption, double Area::*part) {
    auto* edit = new QuantityEdit(Quantity::Length, 2);
    edit->setObjectName(id);
    edit->setAccessibleName(caption);
    edit->setValue(item.area.*part);
    connect(edit, &QuantityEdit::entered, this, [this, part](double v) {
      editor_.changeItem("Move in the report", [&](LayoutItem& i) { i.area.*part = v; });
    });
    form->addRow(caption, edit);
  };
  if (const auto* article = std::get_if<FormItem>(&item.body))
    addArticleRows(article->form, editor_, layout);
  QStringList views;
  for (const KeptView& v : editor_.plan().views)
    views << QString::fromStdString(v.name);
  ItemForm(item, *form, views, [this](const ItemBody& body) {
    editor_.changeItem("Change the report", [&](LayoutItem& i) { i.body = body; });
  });
  length("item.x", "From the left, mm", &Area::x);
  length("item.y", "From the top, mm", &Area::y);
  length("item.w", "Width, mm", &Area::w);
  length("item.h", "Height, mm", &Area::h);
  auto* every = new QCheckBox;
  every->setObjectName("item.every_page");
  every->setChecked(item.every_page);
  connect(every, &QCheckBox::toggled, this, [this](bool on) {
    editor_.changeItem("On every page", [&](LayoutItem& i) { i.every_page = on; });
  });
  form->addRow("On every page", every);
  layout.addLayout(form);
  auto* row = new QHBoxLayout;
  const auto button = [&](const char* id, const QString& words, const auto& does) {
    auto* b = new QPushButton(words);
    b->setObjectName(id);
    connect(b, &QPushButton::clicked, this, does);
    row->addWidget(b);
  };
  button("duplicateItem", "Duplicate   D", [this] { editor_.duplicateSelected(); });
  button("removeItem", "Remove   Del", [this] { editor_.removeSelected(); });
  layout.addLayout(row);
}

std::size_t LayoutCard::pageShown() const {
  const auto& pages = editor_.layout().pages;
  return pages.empty() ? 0 : std::min(page_, pages.size() - 1);
}

void LayoutCard::addPageRows(QVBoxLayout& layout) {
  const auto& pages = editor_.layout().pages;
  if (pages.empty()) return;
  head(layout, "Page");
  const std::size_t shown = pageShown();
  const LayoutPage page = pages[shown];
  auto* form = new QFormLayout;
  form->setVerticalSpacing(5);
  const auto change = [this, shown](const auto& how) {
    editor_.change("Change a page of the report", [&](Layout& l) { how(l.pages[shown]); });
  };
  auto* which = new ChoiceBox;
  which->setObjectName("pageShown");
  for (std::size_t i = 0; i < pages.size(); ++i)
    which->addItem(QString("%1  %2").arg(i + 1).arg(QString::fromStdString(pages[i].name)));
  which->setCurrentIndex(static_cast<int>(shown));
  connect(which, &QComboBox::activated, this, [this](int i) {
    page_ = static_cast<std::size_t>(i);
    rebuildSoon();
  });
  form->addRow("Page", which);
  auto* name = new QLineEdit(QString::fromStdString(page.name));
  name->setObjectName("page.name");
  connect(name, &QLineEdit::editingFinished, this, [=, now = page.name] {
    if (name->text().toStdString() != now)
      change([&](LayoutPage& p) { p.name = name->text().toStdString(); });
  });
  form->addRow("Name", name);
  const auto choice = [&](const char* id, const QString& caption, const QStringList& names, int now,
                          const std::function<void(LayoutPage&, int)>& set) {
    auto* box = new ChoiceBox;
    box->setObjectName(id);
    box->addItems(names);
    box->setCurrentIndex(now);
    connect(box, &QComboBox::activated, this,
            [=](int i) { change([&](LayoutPage& p) { set(p, i); }); });
    form->addRow(caption, box);
  };
  choice("page.format", "Format", {"A4", "A3", "Letter"}, static_cast<int>(page.format),
         [](LayoutPage& p, int i) { p.format = static_cast<PageFormat>(i); });
  choice("page.landscape", "Turned", {"upright", "landscape"}, page.landscape,
         [](LayoutPage& p, int i) { p.landscape = i == 1; });
  choice("page.repeats", "There is", {"one", "one for each requirement"},
         static_cast<int>(page.repeats),
         [](LayoutPage& p, int i) { p.repeats = static_cast<Repeats>(i); });
  auto* margin = new QuantityEdit(Quantity::Length, 1);
  margin->setObjectName("page.margin");
  margin->setValue(page.margin);
  connect(margin, &QuantityEdit::entered, this,
          [=](double v) { change([&](LayoutPage& p) { p.margin = v; }); });
  form->addRow("Margin, mm", margin);
  if (page.repeats == Repeats::EachRequirement)
    addFilterRows(*form, page.filter, [=](const RequirementFilter& f) {
      change([&](LayoutPage& p) { p.filter = f; });
    });
  layout.addLayout(form);
  auto* row = new QHBoxLayout;
  auto* more = new QPushButton("Add a page");
  more->setObjectName("addPage");
  connect(more, &QPushButton::clicked, this, [this, shown] {
    const std::size_t at = shown + 1;
    if (editor_.change("Add a page to the report", [&](Layout& l) {
          LayoutPage fresh;
          fresh.name = "Page " + std::to_string(l.pages.size() + 1);
          fresh.format = l.pages[shown].format, fresh.landscape = l.pages[shown].landscape;
          fresh.empty_too = true;
          l.pages.insert(l.pages.begin() + static_cast<std::ptrdiff_t>(at), fresh);
        }))
      page_ = at;
  });
  row->addWidget(more);
  auto* less = new QPushButton("Remove the page");
  less->setObjectName("removePage");
  less->setEnabled(pages.size() > 1);
  connect(less, &QPushButton::clicked, this, [this, shown] {
    editor_.change("Remove a page of the report", [&](Layout& l) {
      l.pages.erase(l.pages.begin() + static_cast<std::ptrdiff_t>(shown));
    });
  });
  row->addWidget(less);
  layout.addLayout(row);
}

void LayoutCard::addNewItems(QVBoxLayout& layout) {
  head(layout, "Add: click, or drag onto the page");
  auto* grid = new QGridLayout;
  grid->setSpacing(4);
  int place = 0;
  for (const ItemBody& body : freshItems()) {
    auto* button = new NewItemButton(QString::fromUtf8(titleOf(body).data()));
    button->setFont(theme_.text(8.8));
    button->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed); // both columns alike
    button->setObjectName(QString("new.%1").arg(QString::fromUtf8(kindOf(body).data())));
    connect(button, &QPushButton::clicked, this, [this, body] { editor_.add(body, pageShown()); });
    const auto over = [this](const QPoint& global) {
      return pages_.toPage(pages_.viewport()->mapFromGlobal(QPointF(global)));
    };
    connect(button, &NewItemButton::dragged, this, [this, body](const QPoint& global) {
      const auto& pages = editor_.layout().pages;
      if (pages.empty()) return;
      pages_.showDropAt(pages_.viewport()->mapFromGlobal(QPointF(global)),
                        freshArea(pages.front(), body));
    });
    connect(button, &NewItemButton::dropped, this, [this, body, over](const QPoint& global) {
      pages_.showDropAt({}, {});
      if (const auto there = over(global))
        editor_.add(body, pages_.layoutPageOf(there->first), there->second);
    });
    grid->addWidget(button, place / 2, place % 2);
    ++place;
  }
  layout.addLayout(grid);
}

void LayoutCard::focusFields() {
  rebuild();
  for (QWidget* w : widget()->findChildren<QWidget*>())
    if (w->objectName().startsWith("item.") && w->focusPolicy() != Qt::NoFocus) {
      w->setFocus();
      return;
    }
}

bool LayoutCard::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
    // What is typed and not taken is given up; the fields are made anew from the layout.
    watched->blockSignals(true);
    if (auto* box = qobject_cast<QSpinBox*>(watched->parent())) box->blockSignals(true);
    pages_.setFocus();
    rebuildSoon();
    return true;
  }
  return QScrollArea::eventFilter(watched, event);
}

} // namespace alder::app
