// A run as it is kept for good: what was measured, of which part, by whom, with what, and what it
// was judged to be then.
#pragma once

#include "exchange/routine/project.h"

namespace alder {

struct RunRecord {
  std::string id; // the same wherever the run is kept
  std::string routine;
  std::string part;   // serial number or name of the run
  std::string person; // who ran it; empty: nobody said
  std::string bench;
  std::int64_t seconds = 0;  // since 1970, when it ended
  std::string qualification; // what was known of the tips, JSON
  std::string points;        // CSV, as the project file keeps it
  std::vector<ResultRecord> results;
};

// A line above the points of a stored run tells its id, so that it is known again.
std::string idOf(const StoredRun& run); // empty: it has none
std::string freshId();
std::string withId(const std::string& csv, const std::string& id);
// What was answered to a question whose words hold this one; empty: nobody asked.
std::string answerIn(const std::string& csv, std::string_view word);

RunRecord recordOf(const Plan& plan, const StoredRun& run,
                   const std::vector<Evaluation>& evaluations, std::int64_t now);

} // namespace alder
