// Help inside the window, beside the card: the manual at the place that is asked for, or all keys.
#pragma once

#include "shell/actions.h"
#include "theme/theme.h"
#include <QLabel>
#include <QTextBrowser>

namespace alder::app {

class HelpPane : public QWidget {
  Q_OBJECT

 public:
  explicit HelpPane(const Theme& theme, QWidget* parent = nullptr);
  // The manual that ships, at the heading that begins so; its beginning where there is none.
  void showManual(const QString& heading);
  void showKeys(const Actions& actions);
  QString shownText() const { return text_->toPlainText(); }
  QString headingInSight() const; // the last one above the middle of what is seen

 signals:
  void closed();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  const Theme& theme_;
  QLabel* title_;
  QTextBrowser* text_;
  bool manual_ = false; // is what the text shows
};

} // namespace alder::app
