// Many measured parts judged in the order in which they are looked at: what is asked of each, and
// what is found.
#pragma once

#include "base/progress.h"
#include "exchange/routine/kept_verdicts.h"
#include <functional>
#include <memory>

namespace alder {

struct JudgingTask {
  std::string name;                           // of the part
  std::shared_ptr<const std::string> csv;     // its points as stored
  std::shared_ptr<const Measurements> points; // null: to be read from them first
  std::string points_key;                     // empty: asked for
  std::shared_ptr<const KeptVerdicts> kept;   // to be compared first; null: there are none
  std::vector<RequirementId> wanted;          // in this order
  bool detailed = false; // the points too, and whole evaluations, not their figures alone
};

struct JudgingResult {
  std::string name;
  std::shared_ptr<const Measurements> points; // null: not read by this
  std::string unreadable;                     // why it could not be; then `points` is empty
  std::string points_key;                     // empty: not asked for by this
  BriefVerdicts verdicts;
  std::vector<Evaluation> details;
};
using DeliverJudging = std::function<void(JudgingResult)>;
using KeysByRequirement = std::map<RequirementId, std::string>; // see VerdictKeys

// What was kept and still counts comes first, for all parts; then what is detailed; then `first`
// over all parts; then the rest. Cancelled: what was found so far was delivered. The keys of the
// routine are returned; `known`, if it is not empty, are those.
KeysByRequirement judgeParts(const Plan& plan, std::vector<JudgingTask> tasks,
                             std::optional<RequirementId> first, KeysByRequirement known,
                             const DeliverJudging& deliver, const Progress& progress);

} // namespace alder
