// One box that finds every action, requirement, view, feature and step by any part of its name.
#pragma once

#include "document/document.h"
#include "shell/actions.h"
#include <QLineEdit>
#include <QListWidget>

namespace alder::app {

class CommandBox : public QLineEdit {
  Q_OBJECT

 public:
  CommandBox(Document& document, const Actions& actions, QWidget* parent = nullptr);
  QListWidget& results() { return *results_; }

 signals:
  void viewWanted(std::size_t view) const; // of the model, then of the routine

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  struct Hit {
    QString text, kind;
    std::function<void()> run;
  };
  std::vector<Hit> hitsFor(const QString& words) const;
  void showHits();
  void runCurrent();

  Document& document_;
  const Actions& actions_;
  QListWidget* results_;
  std::vector<Hit> hits_;
};

} // namespace alder::app
