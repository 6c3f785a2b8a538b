#include "shell/help_pane.h"

#include "base/files.h"
#include "shell/menus.h"
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QScrollBar>
#include <QTextBlock>
#include <QTimer>
#include <QUrl>
#include <QVBoxLayout>

namespace alder::app {

namespace {

// What is done without an action of the window.
constexpr std::pair<const char*, const char*> kMore[]{
    {"Left button in the picture", "turn the view; a click selects, with Ctrl several"},
    {"Middle or right button, Shift and left", "move the view"},
    {"Wheel", "look nearer or from farther off"},
    {"Ctrl and drag at a feature", "lead the shaft of its stylus"},
    {"Up, Down in a field", "change the figure by a step"},
    {"Esc in a field", "take back what was typed"},
    {"F10", "menu bar"}};

} // namespace

HelpPane::HelpPane(const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , title_(new QLabel)
    , text_(new QTextBrowser) {
  setObjectName("help");
  setAttribute(Qt::WA_StyledBackground);
  title_->setFont(theme.strong(10));
  auto* close = new QPushButton("Close   Esc");
  close->setObjectName("closeHelp");
  close->setProperty("role", "link");
  connect(close, &QPushButton::clicked, this, &HelpPane::closed);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(16, 9, 8, 4);
  head->addWidget(title_, 1);
  head->addWidget(close);
  text_->setObjectName("helpText");
  text_->setAccessibleName("Help");
  text_->setFrameShape(QFrame::NoFrame);
  text_->setOpenLinks(false);
  text_->setFont(theme.text(9.5));
  text_->document()->setDocumentMargin(16);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addLayout(head);
  layout->addWidget(text_, 1);
  setFocusProxy(text_);
}

void HelpPane::showManual(const QString& heading) {
  title_->setText("Manual");
  const auto folder = dataFolder() / "docs";
  if (!manual_) {
    const auto manual = readFile(folder / "manual.md");
    text_->document()->setBaseUrl(QUrl::fromLocalFile(QString::fromStdString(folder.string()) + "/"));
    text_->setSearchPaths({QString::fromStdString(folder.string())});
    text_->setMarkdown(manual ? QString::fromStdString(*manual)
                              : QString::fromStdString(manual.error().message));
    manual_ = true;
    // Pictures no wider than the pane.
    QTextCursor cursor(text_->document());
    for (QTextBlock block = text_->document()->begin(); block.isValid(); block = block.next())
      for (auto part = block.begin(); !part.atEnd(); ++part) {
        QTextImageFormat image = part.fragment().charFormat().toImageFormat();
        if (!image.isValid()) continue;
        image.setWidth(340);
        cursor.setPosition(part.fragment().position());
        cursor.setPosition(part.fragment().position() + part.fragment().length(),
                           QTextCursor::KeepAnchor);
        cursor.setCharFormat(image);
      }
  }
  heading_ = {};
  text_->verticalScrollBar()->setValue(0);
  for (QTextBlock block = text_->document()->begin(); block.isValid(); block = block.next()) {
    if (block.blockFormat().headingLevel() == 0 ||
        !block.text().startsWith(heading, Qt::CaseInsensitive))
      continue;
    heading_ = QTextCursor(block);
    toHeading();
    return;
  }
}

// To the top of what is seen.
void HelpPane::toHeading() {
  if (heading_.isNull()) return;
  text_->setTextCursor(heading_);
  auto* bar = text_->verticalScrollBar();
  bar->setValue(bar->value() + text_->cursorRect().top() - 8);
}

// The lines break otherwise then.
void HelpPane::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (manual_) QTimer::singleShot(0, this, &HelpPane::toHeading);
}

QString HelpPane::headingInSight() const {
  const QTextCursor at = text_->cursorForPosition(QPoint(30, 40));
  for (QTextBlock block = at.block(); block.isValid(); block = block.previous())
    if (block.blockFormat().headingLevel() > 0) return block.text();
  return {};
}

void HelpPane::showKeys(const Actions& actions) {
  manual_ = false;
  title_->setText("Keys");
  QString rows;
  const auto head = [&](const QString& text) {
    rows += (rows.isEmpty() ? "" : "</table>") + QString("<h4>%1</h4><table width='100%'>").arg(text);
  };
  const auto row = [&](const QString& key, const QString& does) {
    rows += QString("<tr><td width='140'><span style='font-family:"
                    "\"JetBrains Mono\"'>%1</span></td><td>%2</td></tr>")
                .arg(key.toHtmlEscaped(), does.toHtmlEscaped());
  };
  for (const MenuPlan& plan : menuPlans()) {
    bool any = false;
    for (const char* id : plan.actions) {
      const QAction* action = actions.find(id);
      if (!action || action->shortcut().isEmpty()) continue;
      if (!std::exchange(any, true)) head(plan.title);
      row(action->shortcut().toString(QKeySequence::NativeText), action->text());
    }
  }
  head("Without a menu");
  for (const auto& [key, does] : kMore)
    row(key, does);
  text_->setHtml(rows + "</table>");
  text_->verticalScrollBar()->setValue(0);
}

void HelpPane::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return emit closed();
  QWidget::keyPressEvent(event);
}

} // namespace alder::app
