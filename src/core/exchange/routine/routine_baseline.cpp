#include "exchange/routine/routine_baseline.h"

#include "exchange/runs/report_source.h"
#include "report/layout/fields.h"

namespace alder {

ArticleBaseline baselineNow(const Plan& plan, const ReportSource& source) {
  std::vector<RequirementId> outside;
  for (const Evaluation& e : source.evaluations)
    if (e.verdict == Verdict::Outside) outside.push_back(e.requirement);
  const ReportModel model = reportOf(plan, source);
  ArticleBaseline baseline = baselineOf(plan, outside, model.date);
  baseline.identifier = filled(baseline.identifier, model);
  return baseline;
}

Result<ArticleBaseline> baselineFrom(const std::string& path, const Plan& plan,
                                     const Progress& progress) {
  const auto other = openProject(path, progress);
  if (!other) return pass(other.error());
  const auto source = reportSource(*other, "");
  if (!source) return fail("{}: {}", path, source.error().message);
  ArticleBaseline baseline = baselineNow(other->plan, *source);
  baseline.date.clear();
  return carriedBaseline(plan, other->plan, std::move(baseline));
}

} // namespace alder
