// The window's part in reports: their pages in the place of the stage, and files of them.
#include "report/page_printer.h"
#include "report/report_file.h"
#include "shell/main_window.h"

#include <QFileDialog>
#include <QPrintDialog>
#include <QPrinter>
#include <algorithm>

namespace alder::app {

void MainWindow::buildReport() {
  pages_ = new PagesView(report_editor_, theme_);
  pages_->hide();
  layout_card_ = new LayoutCard(report_editor_, *pages_, theme_);
  layout_card_->hide();
  connect(pages_, &PagesView::left, this, [this] { setComposing(false); });
  connect(layout_card_, &LayoutCard::left, this, [this] { setComposing(false); });
  connect(layout_card_, &LayoutCard::writeWanted, this, &MainWindow::writeReport);
  connect(layout_card_, &LayoutCard::printWanted, this, &MainWindow::printReport);
  connect(&report_editor_, &ReportEditor::message, this, &MainWindow::showMessage);
  connect(&document_, &Document::opening, this, [this] { setComposing(false); });
}

void MainWindow::addReportActions() {
  actions_.add("report", "Report …", "Ctrl+P", Desk::Verdict, [this] { writeReport(); });
  actions_.add("printReport", "Print the report …", "Ctrl+Alt+P", Desk::Verdict,
               [this] { printReport(); });
  actions_.add("layoutReport", "Lay out the report", "Ctrl+Shift+P", Desk::Verdict,
               [this] { setComposing(!report_editor_.active()); });
}

void MainWindow::printReport() {
  if (!document_.isOpen()) return;
  QPrinter printer(QPrinter::HighResolution);
  QPrintDialog dialog(&printer, this);
  dialog.setWindowTitle("Print the report");
  dialog.setOption(QAbstractPrintDialog::PrintPageRange);
  if (dialog.exec() == QDialog::Accepted) printOn(printer);
}

// As the pages are seen while they are laid out, else by the layout that was chosen last.
void MainWindow::printOn(QPrinter& printer) {
  const auto setter = TextSetter::create();
  if (!setter) return showMessage(QString::fromStdString(setter.error().message), true);
  const auto pages = report_editor_.pagesNow(**setter);
  if (!pages) return showMessage(QString::fromStdString(pages.error().message), true);
  const auto printed = printPages(printer, *pages, **setter);
  if (!printed) return showMessage(QString::fromStdString(printed.error().message), true);
  showMessage(QString("Printed: %1 page%2").arg(*printed).arg(*printed == 1 ? "" : "s"), false);
}

void MainWindow::setComposing(bool composing) {
  if (composing == report_editor_.active()) return;
  if (composing && !document_.isOpen()) return showMessage("Open a routine first", true);
  if (composing) setDesk(Desk::Verdict);
  for (QWidget* w : {static_cast<QWidget*>(stage_), static_cast<QWidget*>(card_),
                     static_cast<QWidget*>(bottom_)})
    w->setVisible(!composing);
  pages_->setVisible(composing);
  layout_card_->setVisible(composing);
  if (composing) {
    report_editor_.begin();
    pages_->setFocus();
  } else {
    report_editor_.end();
    stage_->setFocus();
  }
}

void MainWindow::writeReport() {
  if (!document_.isOpen()) return;
  struct Form {
    QString filter, ending;
    std::string layout;
  };
  std::vector<Form> forms;
  const auto add = [&](const QString& words, const QString& ending, const std::string& layout) {
    forms.push_back({QString("%1 (*%2)").arg(words, ending), ending, layout});
  };
  const auto layouts = layoutsFor(document_.plan());
  // The full one first, as it is when nothing is chosen.
  for (const bool full : {true, false})
    for (const std::string& layout : layouts)
      if ((layout == "full") == full && !isWorkbookTemplate(document_.plan(), layout))
        add("PDF, " + QString::fromStdString(layout), ".pdf", layout);
  for (const std::string& layout : layouts) {
    add("Workbook, " + QString::fromStdString(layout), ".xlsx", layout);
    if (isWorkbookTemplate(document_.plan(), layout)) continue;
    add("Web page, " + QString::fromStdString(layout), ".html", layout);
  }
  add("Table", ".csv", {});
  QStringList filters;
  for (const Form& form : forms)
    filters << form.filter;
  QString chosen;
  QString path =
      QFileDialog::getSaveFileName(this, "Report", suggested(".pdf"), filters.join(";;"), &chosen);
  if (path.isEmpty()) return;
  const auto found = std::find_if(forms.begin(), forms.end(),
                                  [&](const Form& form) { return form.filter == chosen; });
  const Form& form = found == forms.end() ? forms.front() : *found;
  if (!isReportFile(path.toStdString())) path += form.ending;
  document_.exportTo(path, form.layout);
}

} // namespace alder::app
