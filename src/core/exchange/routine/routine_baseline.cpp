#include "exchange/routine/routine_baseline.h"

#include "base/local_time.h"
#include "exchange/points/points_file.h"
#include "exchange/routine/project.h"
#include "judge/judge.h"
#include <ctime>

namespace alder {

std::vector<RequirementId> outsideIn(const std::vector<Evaluation>& evaluations) {
  std::vector<RequirementId> outside;
  for (const Evaluation& e : evaluations)
    if (e.verdict == Verdict::Outside) outside.push_back(e.requirement);
  return outside;
}

Result<ArticleBaseline> baselineFrom(const std::string& path, const Plan& plan,
                                     const Progress& progress) {
  const auto other = openProject(path, progress);
  if (!other) return pass(other.error());
  std::vector<RequirementId> outside;
  if (!other->runs.empty()) {
    const StoredRun& last = other->runs.back();
    const auto measured = measurementsIn(last.csv, path + " (" + last.name + ")", other->plan);
    if (!measured) return pass(measured.error());
    outside = outsideIn(judgeAll(other->plan, *measured));
  }
  const std::string date = localTime(std::time(nullptr), "%Y-%m-%d");
  return carriedBaseline(plan, other->plan, baselineOf(other->plan, outside, date));
}

} // namespace alder
