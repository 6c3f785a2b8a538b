// A tolerance indicator edited where it is drawn, compartment by compartment, from the keyboard.
// Left and right go from one to the next; what can be typed is said below. Enter or leaving hands
// the indicator over, Escape takes it back.
#pragma once

#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class IndicatorEdit : public QWidget {
  Q_OBJECT

 public:
  IndicatorEdit(const Theme& theme, Requirement requirement, QWidget* parent = nullptr);
  void showBy(ToleranceStandard standard) { standard_ = standard; }
  const Requirement& draft() const { return draft_; }
  bool isChanged() const { return !typed_.isEmpty() || !(draft_ == kept_); } // and not handed over
  int compartment() const { return cell_; } // 0 characteristic, 1 value, 2 ... datums
  void setCompartment(int cell);

 signals:
  void drafted(const alder::Requirement& draft); // at each keystroke
  void entered(const alder::Requirement& draft); // changed, and to be kept

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override; // letters are typed here, not shortcuts of the window

 private:
  int cellCount() const; // with the empty one for a further datum
  QString hint() const;
  bool typeCharacteristic(const QString& key, int step);
  bool typeValue(const QString& key, int step);
  bool typeDatum(const QString& key, int step);
  void erase();
  void change();
  void commit();

  const Theme& theme_;
  Requirement kept_, draft_;
  ToleranceStandard standard_ = ToleranceStandard::Iso;
  int cell_ = 1;
  QString typed_; // digits of the value so far
  std::vector<QRectF> cells_;
};

} // namespace alder::app
