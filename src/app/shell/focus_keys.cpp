#include "shell/focus_keys.h"

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QFocusEvent>
#include <QKeyEvent>
#include <QTreeWidget>

namespace alder::app {
namespace {

constexpr const char* kByMouse = "focusByMouse";

} // namespace

FocusKeys::FocusKeys(QWidget& window)
    : QObject(&window)
    , window_(window) {
  qApp->installEventFilter(this);
}

bool FocusKeys::eventFilter(QObject* object, QEvent* event) {
  if (event->type() != QEvent::FocusIn && event->type() != QEvent::ShortcutOverride) return false;
  auto* widget = qobject_cast<QWidget*>(object);
  if (!widget || widget->window() != &window_) return false;
  // In a tree it marks what is current, however one came there.
  if (qobject_cast<QTreeWidget*>(widget) && event->type() == QEvent::ShortcutOverride &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space) {
    event->accept();
    return true;
  }
  if (!(qobject_cast<QAbstractButton*>(widget) || qobject_cast<QComboBox*>(widget))) return false;
  if (event->type() == QEvent::FocusIn) {
    widget->setProperty(kByMouse,
                        static_cast<QFocusEvent*>(event)->reason() == Qt::MouseFocusReason);
    return false;
  }
  const auto* key = static_cast<QKeyEvent*>(event);
  if (key->key() != Qt::Key_Space || key->modifiers() != Qt::NoModifier ||
      widget->property(kByMouse).toBool())
    return false;
  event->accept();
  return true;
}

} // namespace alder::app
