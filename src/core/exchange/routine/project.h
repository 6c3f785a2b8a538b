// The project file *.alder: a zip of plain JSON, the CAD file as given, the bench and the runs as
// CSV. Written to a new file which then replaces the old one.
#pragma once

#include "base/progress.h"
#include "exchange/qif/qif_kept.h"
#include "exchange/results/brought.h"
#include "exchange/routine/kept_verdicts.h"
#include "exchange/routine/plan_json.h"
#include "exchange/runs/result_record.h"

namespace alder {

struct StoredRun {
  std::string name; // "run-0001"
  std::string csv;
  std::vector<ResultRecord> then = {}; // as judged when it was measured; empty: nobody knows
  std::string operated_by = {};        // as was answered in the run
  KeptVerdicts kept = {};              // as judged when the file was written
};

struct Project {
  Plan plan;
  std::vector<StoredRun> runs;
  Json unknown;                // of the routine as it was read: what this version does not know
  BroughtResults brought = {}; // from files of results
  KeptQif qif = {};            // of the QIF file that it was read from
};

// Tells one state of a routine from another; the runs do not count.
std::string routineKey(const Plan& plan);
// The same with the model, as a sum that an approval can rest on (SHA-256); without the
// qualification of the tips, which is made anew for later parts, and without what a person has seen
// of the notes.
std::string routineDigest(const Plan& plan);

Done saveProject(const Project& project, const std::string& path);
// A damaged file gives one clear message and is not touched.
Result<Project> openProject(const std::string& path, const Progress& progress = {});

} // namespace alder
