// A line over the stage in which requirements are typed on what is picked, one after the other:
// drawn as they will stand, with what is not understood and what the model says against it.
#pragma once

#include "document/document.h"
#include "theme/theme.h"
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QStringList>

namespace alder::app {

class TypeLine : public QFrame {
  Q_OBJECT

 public:
  TypeLine(Document& document, const Theme& theme, QWidget* parent);
  void begin(); // shown, with the keyboard
  // With a text of a drawing, which the requirement remembers.
  void begin(const QString& text, const DrawingSpot& spot);

 signals:
  void left(); // by Escape

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool eventFilter(QObject* object, QEvent* event) override; // keys of the line

 private:
  void refresh();
  void enter();
  void recall(int step);
  void place();
  QString faultWords(const TextFault& fault) const;
  QString proposal(const Document::TypedPreview& preview) const;

  Document& document_;
  const Theme& theme_;
  QLabel *target_, *says_;
  QLineEdit* line_;
  std::optional<Requirement> drawn_;
  std::optional<DrawingSpot> spot_;
  QStringList typed_; // the latest last
  qsizetype recalled_ = 0;
};

} // namespace alder::app
