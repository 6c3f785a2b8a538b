// Fields of the card. They take arithmetic and units, are checked as they are typed and hand over a
// value on Enter or when left.
#pragma once

#include "base/units.h"
#include <QComboBox>
#include <QLineEdit>
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
  void setZeroText(const QString& text); // shown and accepted for 0, e.g. "auto"

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
  QString zero_text_;
};

} // namespace alder::app
