// Verdicts on a measured part as they are kept beside its points, so that a file of many parts
// shows their history at once. One counts only where it would come out the same now: the points,
// the requirement with all that it is judged by, and the judge's own source are those of then.
#pragma once

#include "bench/json_fields.h"
#include "judge/verdict.h"
#include "judge/verdict_basis.h"

namespace alder {

struct KeptVerdict {
  RequirementId requirement;
  std::string basis; // see VerdictKeys
  BriefVerdict verdict;
  friend bool operator==(const KeptVerdict&, const KeptVerdict&) = default;
};
struct KeptVerdicts {
  std::string points; // pointsKey of what they were judged on
  std::vector<KeptVerdict> all;
  friend bool operator==(const KeptVerdicts&, const KeptVerdicts&) = default;
};

std::string pointsKey(const std::string& csv);

// Tells one state of all that a verdict is based on from another, the points apart. The routine
// outlives it.
class VerdictKeys {
 public:
  explicit VerdictKeys(const Plan& plan);
  std::string of(const Requirement& requirement) const;

 private:
  const Plan& plan_;
  std::uint64_t before_;
};

// Figures in mm and radians, as the judge has them.
Json toJson(const KeptVerdicts& kept);
KeptVerdicts readKeptVerdicts(const JsonFields& f);

} // namespace alder
