// Every action once: name, shortcut, the desk whose bar offers it, what it does. The command box
// lists them all.
#pragma once

#include "shell/desk.h"
#include <QAction>
#include <QObject>
#include <functional>
#include <optional>
#include <vector>

namespace alder::app {

struct ActionEntry {
  QAction* action = nullptr;
  std::optional<Desk> desk; // on this desk's bar; none: command box and shortcut only
};

class Actions {
 public:
  explicit Actions(QWidget& window)
      : window_(window) {}
  QAction* add(const char* id, const QString& text, const QString& shortcut,
               std::optional<Desk> desk, const std::function<void()>& run);
  QAction* find(const QString& id) const;
  const std::vector<ActionEntry>& all() const { return entries_; }

 private:
  QWidget& window_;
  std::vector<ActionEntry> entries_;
};

} // namespace alder::app
