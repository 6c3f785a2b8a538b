#include "card/fields.h"

#include <QKeyEvent>
#include <QStyle>
#include <cmath>

namespace alder::app {

QuantityEdit::QuantityEdit(Quantity quantity, int decimals, QWidget* parent)
    : QLineEdit(parent)
    , quantity_(quantity)
    , decimals_(decimals) {
  setAlignment(Qt::AlignRight);
  connect(this, &QLineEdit::textEdited, this, &QuantityEdit::check);
  connect(this, &QLineEdit::editingFinished, this, &QuantityEdit::commit);
}

QString QuantityEdit::shown(double value) const {
  if (value == worded_ && !word_.isEmpty()) return word_;
  const double v = quantity_ == Quantity::Angle ? shownDegrees(value) : value;
  QString text = QString::fromStdString(figure(v, decimals_));
  if (quantity_ == Quantity::Length) text += " mm";
  if (quantity_ == Quantity::Angle) text += "°";
  return text;
}

void QuantityEdit::setValue(double value) {
  value_ = value;
  setText(shown(value));
  check();
}

Result<double> QuantityEdit::parsed() const {
  const QString typed = text().trimmed();
  if (!word_.isEmpty() && (typed.isEmpty() || typed == word_)) return worded_;
  return parseQuantity(typed.toStdString(), quantity_);
}

void QuantityEdit::setWordFor(double value, const QString& word) {
  worded_ = value;
  word_ = word;
  setValue(value_);
}

void QuantityEdit::check() {
  const auto typed = parsed();
  const bool bad = !typed;
  if (property("bad").toBool() != bad) {
    setProperty("bad", bad);
    style()->unpolish(this);
    style()->polish(this);
  }
  setToolTip(bad ? QString::fromStdString(typed.error().message) : QString());
}

void QuantityEdit::commit() {
  const auto typed = parsed();
  if (!typed || text() == shown(value_)) return setValue(value_);
  const double before = value_;
  value_ = *typed;
  setText(shown(value_));
  if (std::abs(before - value_) > 1e-12) emit entered(value_);
}

void QuantityEdit::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) {
    setValue(value_);
    return selectAll();
  }
  if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
    const auto typed = parsed();
    if (!typed) return;
    double step = quantity_ == Quantity::Angle   ? radians(5)
                  : quantity_ == Quantity::Plain ? 1
                                                 : std::pow(10.0, -std::min(decimals_, 1));
    if (event->key() == Qt::Key_Down) step = -step;
    setText(shown(*typed + step));
    return commit();
  }
  QLineEdit::keyPressEvent(event);
}

TextEdit::TextEdit(const QString& text, QWidget* parent)
    : QPlainTextEdit(text, parent)
    , text_(text) {
  setTabChangesFocus(true);
  setFixedHeight(120);
}

void TextEdit::complain(const QString& what) {
  setProperty("bad", true);
  style()->unpolish(this);
  style()->polish(this);
  setToolTip(what);
}

void TextEdit::commit() {
  if (toPlainText() != text_) emit entered(toPlainText());
}

namespace {

bool takes(const QKeyEvent& key) {
  return key.modifiers() == Qt::ControlModifier &&
         (key.key() == Qt::Key_Return || key.key() == Qt::Key_Enter);
}

} // namespace

bool TextEdit::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride && takes(*static_cast<QKeyEvent*>(event))) {
    event->accept();
    return true;
  }
  return QPlainTextEdit::event(event);
}

void TextEdit::focusOutEvent(QFocusEvent* event) {
  QPlainTextEdit::focusOutEvent(event);
  commit();
}

void TextEdit::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) {
    setPlainText(text_);
    emit givenUp();
    return;
  }
  if (takes(*event)) return commit();
  QPlainTextEdit::keyPressEvent(event);
}

} // namespace alder::app
