// The menu bar: every action of the window in one menu, with its key.
#pragma once

#include "shell/actions.h"
#include <QMenu>
#include <QMenuBar>

namespace alder::app {

struct MenuPlan {
  const char* title;
  std::vector<const char*> actions; // by their names; "" parts groups
};
const std::vector<MenuPlan>& menuPlans();

// `recent` is put behind Open.
void fillMenuBar(QMenuBar& bar, const Actions& actions, QMenu* recent);

} // namespace alder::app
