// The article that a delta article stands on, from a routine with its results.
#pragma once

#include "base/progress.h"
#include "plan/article/article_scope.h"
#include "report/report_model.h"

namespace alder {

// The routine as it is now, by the results of a part: what was outside, the identifier filled in.
ArticleBaseline baselineNow(const Plan& plan, const ReportSource& source);

// Of the routine in the file, by its last run, carried over to `plan`; see carriedBaseline. Without
// a day: nobody knows when its article was made.
Result<ArticleBaseline> baselineFrom(const std::string& path, const Plan& plan,
                                     const Progress& progress = {});

} // namespace alder
