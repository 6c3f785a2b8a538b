// Round the work of the window: menu bar, recent files, help, work that a crash left behind.
#include "shell/main_window.h"

#include "shell/menus.h"
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenuBar>
#include <QSettings>

namespace alder::app {

bool MainWindow::menuWanted() const {
  return QSettings().value("menu", true).toBool();
}

void MainWindow::buildMenuBar() {
  recent_ = new QMenu("Open recent", this);
  recent_->setObjectName("menuRecent");
  connect(recent_, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
  views_ = new QMenu("Views", this);
  views_->setObjectName("menuViews");
  connect(views_, &QMenu::aboutToShow, this, &MainWindow::fillViews);
  fillMenuBar(*menuBar(), actions_, {{"open", recent_}, {"nextView", views_}});
  menuBar()->setFont(theme_.text(9.5));
  menuBar()->setVisible(menuWanted());
  // No letters of the menus: Alt with a letter belongs to actions. F10 opens the first.
  auto* open = new QAction(this);
  open->setShortcut(QKeySequence("F10"));
  connect(open, &QAction::triggered, this, [this] {
    if (!menuBar()->isVisible()) return;
    menuBar()->setFocus();
    menuBar()->setActiveAction(menuBar()->actions().first());
  });
  addAction(open);
}

void MainWindow::rememberRecent() {
  if (document_.path().isEmpty()) return;
  QSettings settings;
  QStringList files = settings.value("recent").toStringList();
  files.removeAll(document_.path());
  files.prepend(document_.path());
  constexpr int kMost = 10;
  while (files.size() > kMost)
    files.removeLast();
  settings.setValue("recent", files);
}

void MainWindow::fillRecent() {
  recent_->clear();
  for (const QString& file : QSettings().value("recent").toStringList())
    recent_->addAction(QFileInfo(file).fileName(), this, [this, file] {
      if (mayDiscard()) document_.open(file);
    })->setToolTip(file);
  if (recent_->isEmpty()) recent_->addAction("Nothing was saved or opened yet")->setEnabled(false);
}

void MainWindow::fillViews() {
  views_->clear();
  if (document_.isOpen()) {
    const auto& views = document_.plan().part->pmi.views;
    for (std::size_t i = 0; i < views.size(); ++i) {
      QAction* action = 
          views_->addAction(QString::fromStdString(views[i].name), this, [this, i] { showView(i); });
      action->setCheckable(true);
      action->setChecked(stage_->shownView() == i);
    }
    if (!views.empty() && !document_.plan().views.empty()) views_->addSeparator();
    for (std::size_t k = 0; k < document_.plan().views.size(); ++k) {
      const std::size_t i = views.size() + k;
      QAction* action = views_->addAction(QString::fromStdString(document_.plan().views[k].name),
                                          this, [this, i] { showView(i); });
      action->setCheckable(true);
      action->setChecked(stage_->shownView() == i);
    }
  }
  if (views_->isEmpty()) views_->addAction("Neither model nor routine has saved views")->setEnabled(false);
}

void MainWindow::showView(std::size_t view) {
  if (!document_.isOpen()) return;
  const auto& views = document_.plan().part->pmi.views;
  const auto& kept = document_.plan().views;
  const std::size_t all = views.size() + kept.size();
  if (all == 0)
    return showMessage("Neither model nor routine has saved views; Ctrl+9 keeps this one.", false);
  if (view >= all) {
    stage_->look(OcctView::Standard::Iso);
    return showMessage("The whole part.", false);
  }
  const bool of_model = view < views.size();
  if (of_model)
    stage_->showView(view);
  else
    stage_->showKept(kept[view - views.size()].name);
  const auto count = stage_->requirementsOfView().size();
  showMessage(QString("View %1 of %2: %3, %4 requirement%5%6")
                  .arg(view + 1)
                  .arg(all)
                  .arg(QString::fromStdString(of_model ? views[view].name
                                                       : kept[view - views.size()].name))
                  .arg(count)
                  .arg(count == 1 ? "" : "s")
                  .arg(of_model && views[view].cut && !views[view].section
                               ? "; its section planes are not drawn"
                               : ""),
              false);
}

// The page of the manual on the region with the keyboard, else on the desk.
void MainWindow::showHelp() {
  const QWidget* focus = focusWidget();
  const auto within = [&](const QWidget* region) {
    return focus && (focus == region || region->isAncestorOf(focus));
  };
  QString heading = kDeskNames[static_cast<std::size_t>(desk_)];
  if (operator_->isVisible())
    heading = "Operator";
  else if (!document_.isOpen() || within(sheet_) || within(command_box_))
    heading = document_.isOpen() && within(sheet_) ? "Part" : "The window";
  help_->showManual(heading);
  help_->show();
  help_->showManual(heading); // now that it has its width
  help_->setFocus();
}

// What a crash left behind, offered without standing in the way.
QWidget* MainWindow::buildOffer() {
  offer_ = new QWidget;
  offer_->setObjectName("offer");
  auto* layout = new QHBoxLayout(offer_);
  layout->setContentsMargins(16, 6, 16, 6);
  offer_words_ = new QLabel;
  offer_words_->setObjectName("offerWords");
  offer_words_->setWordWrap(true);
  auto* open = new QPushButton("Open it");
  open->setObjectName("openLeft");
  auto* drop = new QPushButton("Drop it");
  drop->setObjectName("dropLeft");
  connect(open, &QPushButton::clicked, this, [this] {
    if (!left_ || !mayDiscard()) return;
    const LeftWork left = *left_;
    const auto opened = std::make_shared<std::vector<QMetaObject::Connection>>();
    const auto done = [opened] {
      for (const auto& c : *opened)
        disconnect(c);
    };
    opened->push_back(connect(&document_, &Document::opened, this, [this, left, done] {
      done();
      recovery_.takeOver(left);
      offer_->hide();
    }));
    opened->push_back(connect(&document_, &Document::openFailed, this, done));
    document_.openLeft(left.file, left.path);
  });
  connect(drop, &QPushButton::clicked, this, [this] {
    if (left_) dropLeft(*left_);
    offerLeftWork();
  });
  layout->addWidget(offer_words_, 1);
  layout->addWidget(open);
  layout->addWidget(drop);
  offer_->hide();
  return offer_;
}

void MainWindow::offerLeftWork() {
  const auto all = leftWork();
  left_ = all.empty() ? std::nullopt : std::optional(all.front());
  offer_->setVisible(left_.has_value());
  if (!left_) return;
  QString words = QString("The program ended with unsaved work on %1, kept at %2")
                      .arg(left_->routine, left_->when.toString("hh:mm, d MMMM"));
  if (!left_->last_edit.isEmpty()) words += QString(" after “%1”").arg(left_->last_edit);
  words += left_->path.isEmpty() ? ". It was never saved." : ". The file is " + left_->path + ".";
  if (all.size() > 1) words += QString(" %1 more behind it.").arg(all.size() - 1);
  offer_words_->setText(words);
}

} // namespace alder::app
