#include "shell/menus.h"

#include <string_view>

namespace alder::app {

const std::vector<MenuPlan>& menuPlans() {
  static const std::vector<MenuPlan> plans{
      {"File",
       {"open",
        "startFromTemplate",
        "",
        "save",
        "saveAs",
        "saveTemplate",
        "",
        "readProgram",
        "writeProgram",
        "path",
        "writeModel",
        "writeQif",
        "",
        "report",
        "layoutReport",
        "history",
        "correction",
        "",
        "readFrames",
        "writeFrames",
        "",
        "quit"}},
      {"Edit",
       {"undo", "redo", "", "removeRequirements", "removeSteps", "", "clearSelection", "find"}},
      {"View", {"Part",      "Bench",          "Routine",     "Rehearsal", "Verdict",    "",
                "fitStage",  "frameSelection", "follow",      "",          "viewIso",    "viewTop",
                "viewFront", "viewRight",      "viewBack",    "viewLeft",  "viewBottom", "nextView",
                "",          "stepList",       "fitTimeline", "",          "menuBar"}},
      {"Part",
       {"nextUncovered",
        "pickLargest",
        "addFirst",
        "measureFaces",
        "",
        "typeRequirement",
        "construct",
        "addValue",
        "",
        "readList",
        "pasteList",
        "tieToPicked",
        "",
        "addDrawing",
        "showDrawing",
        "takeAllSure",
        "writeBallooned",
        "removeDrawing",
        "",
        "takeTitle",
        "attachDocument",
        "",
        "openRevision",
        "finishRevision",
        "giveUpRevision",
        "",
        "numberAsMeasured",
        "numberOnDrawing",
        "numberEarlier",
        "numberLater"}},
      {"Bench", {"bench", "quarterTurn", "", "qualify"}},
      {"Routine",
       {"draft",
        "order",
        "",
        "addTouch",
        "moveTouch",
        "removeTouch",
        "pointAlong",
        "",
        "hopProposed",
        "hopOver",
        "hopClose",
        "",
        "leaveOutSteps",
        "groupSteps",
        "ungroupSteps",
        "repeatSteps",
        "stepsOn",
        "stepsBack",
        "",
        "insertMoveStep",
        "insertTurnStep",
        "insertWaitStep",
        "insertAskStep",
        "insertNoteStep",
        "insertFrame",
        "insertQualifyStep",
        "insertEvaluateStep",
        "insertOutputStep",
        "",
        "pictureFromStage",
        "pictureFromFile"}},
      {"Rehearsal",
       {"rehearse", "nextClash", "", "play", "faster", "slower", "nextMove", "lastMove"}},
      {"Verdict",
       {"run",
        "runAnyway",
        "runDefects",
        "",
        "operate",
        "goOnWithRun",
        "measureAgain",
        "",
        "bringResults",
        "bringCloud",
        "resultsAgain",
        "judgeFile",
        "bringRuns",
        "",
        "nextSection",
        "sectionOn",
        "sectionBack",
        "leaveOutOfMap",
        "leaveOutAbout",
        "allOnMap",
        "",
        "nextOutside"}},
      {"Help", {"help", "keys"}}};
  return plans;
}

void fillMenuBar(QMenuBar& bar, const Actions& actions, const std::map<QString, QMenu*>& below) {
  for (const MenuPlan& plan : menuPlans()) {
    QMenu* menu = bar.addMenu(plan.title);
    menu->setObjectName(QString("menu") + plan.title);
    menu->setToolTipsVisible(true);
    for (const char* id : plan.actions) {
      if (std::string_view(id).empty()) {
        menu->addSeparator();
        continue;
      }
      if (QAction* action = actions.find(id)) menu->addAction(action);
      if (const auto found = below.find(id); found != below.end()) menu->addMenu(found->second);
    }
  }
}

} // namespace alder::app
