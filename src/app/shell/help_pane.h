// Help inside the window, beside the card: the manual at the place that is asked for, or all keys.
#pragma once

#include "shell/actions.h"
#include "theme/theme.h"
#include <QLabel>
#include <QTextBrowser>
#include <QTextCursor>

namespace alder::app {

class HelpPane : public QWidget {
  Q_OBJECT

 public:
  explicit HelpPane(const Theme& theme, QWidget* parent = nullptr);
  // The manual that ships, at the heading that begins so; its beginning where there is none.
  void showManual(const QString& heading);
  void showKeys(const Actions& actions);
  QString shownText() const { return text_->toPlainText(); }
  QString headingInSight() const; // the one at the top of what is seen

 signals:
  void closed();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void toHeading();
  QLabel* title_;
  QTextBrowser* text_;
  QTextCursor heading_; // that is to be seen
  bool manual_ = false; // is what the text shows
};

} // namespace alder::app
