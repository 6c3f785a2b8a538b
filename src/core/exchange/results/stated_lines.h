// Values of other machines in the text of a stored run: a line each above its table of points, so
// that they go wherever the points go (file, database, report).
#pragma once

#include "judge/measurement.h"
#include "plan/plan.h"
#include <optional>

namespace alder {

struct StatedLine {
  RequirementId requirement;
  double value = 0; // mm or degrees
  std::string file, name;
  int line = 0; // of the file, from 1
  friend bool operator==(const StatedLine&, const StatedLine&) = default;
};

// Of one line of the text; nothing where it says no value.
std::optional<StatedLine> statedLine(std::string_view line);
// In the order in which they stand; what cannot be read is passed over.
std::vector<StatedLine> statedIn(const std::string& csv);
// The text with these in place of those that it holds.
std::string withStated(const std::string& csv, const std::vector<StatedLine>& lines);
// A run that nobody touched: no points, and its id.
std::string runWithoutPoints(const std::string& id);
bool holdsPoints(const std::string& csv);

// For the judge, by requirements that the routine still has.
std::map<RequirementId, std::vector<StatedFigure>> statedFigures(const Plan& plan,
                                                                 const std::string& csv);

} // namespace alder
