// What a requirement was judged to be when its part was measured, kept with the points: settings
// may change since. Figures in mm and degrees, as reports show them.
#pragma once

#include "bench/json_fields.h"
#include "judge/verdict.h"
#include "plan/plan.h"

namespace alder {

struct ResultRecord {
  int balloon = 0;
  std::string requirement; // in words
  std::optional<double> actual;
  double lower = 0, upper = 0;
  double share = 0;
  std::string verdict;
  std::string how;
  RequirementId id = {}; // not valid where it was kept without
  friend bool operator==(const ResultRecord&, const ResultRecord&) = default;
};

std::vector<ResultRecord> resultsOf(const Plan& plan, const std::vector<Evaluation>& evaluations);

// The one that was made of it: by its id. Of those kept without, by number and words, by the words
// where the numbers are others now, by the number where it asks for something else now. Null: none.
const ResultRecord* recordOf(const Specification& spec, const Requirement& requirement,
                             const std::vector<ResultRecord>& records);

// The verdict or a figure is another one than it was; 1e-6 of a mm or degree counts for nothing.
bool differ(const ResultRecord& then, const ResultRecord& now);

Json toJson(const ResultRecord& result);
ResultRecord readResult(const JsonFields& f);

} // namespace alder
