#include "shell/actions.h"

#include <QWidget>

namespace alder::app {

QAction* Actions::add(const char* id, const QString& text, const QString& shortcut,
                      std::optional<Desk> desk, const std::function<void()>& run) {
  auto* action = new QAction(text, &window_);
  action->setObjectName(id);
  if (!shortcut.isEmpty()) action->setShortcut(QKeySequence(shortcut));
  QObject::connect(action, &QAction::triggered, &window_, [run] { run(); });
  window_.addAction(action);
  entries_.push_back({action, desk});
  return action;
}

QAction* Actions::find(const QString& id) const {
  for (const auto& e : entries_)
    if (e.action->objectName() == id) return e.action;
  return nullptr;
}

} // namespace alder::app
