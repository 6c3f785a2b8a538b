// Fields of the card. They take arithmetic and units, are checked as they are typed and hand over a
// value on Enter or when left.
#pragma once

#include "base/units.h"
#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QWheelEvent>
#include <functional>

namespace alder::app {

// A choice that the mouse wheel scrolls past: it changes nothing.
class ChoiceBox : public QComboBox {
 public:
  using QComboBox::QComboBox;

 protected:
  void wheelEvent(QWheelEvent* event) override { event->ignore(); }
};

class QuantityEdit : public QLineEdit {
  Q_OBJECT

 public:
  // Shows `value` (mm, radians or plain) with `decimals`.
  QuantityEdit(Quantity quantity, int decimals, QWidget* parent = nullptr);
  void setValue(double value);
  // Shown and accepted for that value, as is an empty field: "auto" for 0.
  void setWordFor(double value, const QString& word);

 signals:
  void entered(double value); // changed and valid; mm, radians or plain

 protected:
  void keyPressEvent(QKeyEvent* event) override; // Escape restores, arrows step

 private:
  void check();
  void commit();
  QString shown(double value) const;
  Result<double> parsed() const;
  Quantity quantity_;
  int decimals_;
  double value_ = 0;
  double worded_ = 0;
  QString word_;
};

// Several lines; taken when it is left or by Ctrl+Return, as before by Escape.
class TextEdit : public QPlainTextEdit {
  Q_OBJECT

 public:
  explicit TextEdit(const QString& text, QWidget* parent = nullptr);
  // Marked as wrong; it stays as it is typed.
  void complain(const QString& what);

 signals:
  void entered(const QString& text); // changed
  void givenUp();                    // by Escape

 protected:
  bool event(QEvent* event) override; // Ctrl+Return is an action of the window elsewhere
  void focusOutEvent(QFocusEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void commit();
  QString text_;
};

} // namespace alder::app
