// The menu bar: every action of the window in one menu, with its key.
#pragma once

#include "shell/actions.h"
#include <QMenu>
#include <QMenuBar>
#include <map>

namespace alder::app {

struct MenuPlan {
  const char* title;
  std::vector<const char*> actions; // by their names; "" parts groups
};
const std::vector<MenuPlan>& menuPlans();

// Each menu of `below` is put behind the action of that name.
void fillMenuBar(QMenuBar& bar, const Actions& actions, const std::map<QString, QMenu*>& below);

} // namespace alder::app
