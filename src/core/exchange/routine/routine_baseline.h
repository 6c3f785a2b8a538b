// The article that a delta article stands on, from a routine with its results.
#pragma once

#include "base/progress.h"
#include "judge/verdict.h"
#include "plan/article/article_scope.h"

namespace alder {

// Requirements that are outside their limits: documented nonconformances of an article.
std::vector<RequirementId> outsideIn(const std::vector<Evaluation>& evaluations);

// Of the routine in the file, by its last run, carried over to `plan`; see carriedBaseline.
Result<ArticleBaseline> baselineFrom(const std::string& path, const Plan& plan,
                                     const Progress& progress = {});

} // namespace alder
