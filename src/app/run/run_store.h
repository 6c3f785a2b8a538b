// Where runs that are under way are kept: a journal each, and the routine as it was when the run
// was begun. Both go when the run is done.
#pragma once

#include "run/journal.h"
#include <QString>

namespace alder::app {

struct OpenRun {
  QString journal; // file
  QString routine; // the copy, *.alder
  RunHead head;
  int touches = 0; // that are in it
};

// Folder of the user, or the one that ALDERPOINT_RUNS names.
QString runFolder();
OpenRun runFor(const std::string& key); // where it is to be kept
// Those of whole parts that were broken off, newest first; what cannot be read is left alone.
std::vector<OpenRun> brokenOffRuns();
// That run, with its head where it was begun before and broken off.
OpenRun openedBefore(const std::string& key);
void forget(const OpenRun& run);   // done
void setAside(const OpenRun& run); // given up; the journal is kept under another name

} // namespace alder::app
