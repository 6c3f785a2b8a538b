// A first article inspection: what its forms hold, what they lack, what was asked of people.
#include "answers.h"
#include "commands.h"

#include "base/files.h"
#include "exchange/routine/article_json.h"
#include "exchange/routine/project.h"
#include "exchange/routine/routine_baseline.h"
#include "exchange/runs/report_source.h"
#include "plan/id_text.h"
#include "report/article/forms.h"
#include <cstdio>

namespace alder::batch {
namespace {

// What is to be changed in the routine, if anything.
Done taken(Plan& plan, const ReportSource& source, const ArticleOptions& o) {
  FirstArticle article = plan.article;
  if (!o.data.empty()) {
    const auto text = readFile(o.data);
    if (!text) return pass(text.error());
    auto read = articleFromFile(*text, o.data, plan.spec);
    if (!read) return pass(read.error());
    read->baseline = std::move(article.baseline);
    article = std::move(*read);
  }
  if (!o.baseline.empty()) {
    auto baseline = baselineFrom(o.baseline, plan);
    if (!baseline) return pass(baseline.error());
    article.baseline = std::move(*baseline);
  }
  plan.article = article;
  if (o.keep) plan.article.baseline = baselineNow(plan, source);
  return {};
}

} // namespace

Result<int> article(const ArticleOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  const auto source = reportSource(*project, o.points);
  if (!source) return pass(source.error());
  if (auto done = taken(project->plan, *source, o); !done) return pass(done.error());
  const Plan& plan = project->plan;
  const ReportModel model = reportOf(plan, *source);
  const auto gaps = articleGaps(plan, model);
  const auto entries = articleEntries(plan);
  if (o.json) {
    Json answer{{"scope", name(plan.article.scope)},
                {"nonconformance", hasNonconformance(plan, model)},
                {"characteristics", Json::array()},
                {"missing", gaps}};
    for (const ArticleEntry& entry : entries) {
      const Requirement& r = plan.spec.requirement(entry.requirement);
      answer["characteristics"].push_back(
          {{"requirement", idText(r.id)}, {"balloon", r.balloon}, {"why", entry.why}});
    }
    print(answer);
  } else {
    for (const ArticleEntry& entry : entries) {
      const Requirement& r = plan.spec.requirement(entry.requirement);
      std::printf("%4d  %s%s\n", r.balloon, describe(plan.spec, r).c_str(),
                  entry.why.empty() ? "" : ("  (" + entry.why + ")").c_str());
    }
    for (const std::string& gap : gaps)
      std::printf("%s\n", gap.c_str());
  }
  if (!o.output.empty())
    if (auto done = saveProject(*project, o.output); !done) return pass(done.error());
  return gaps.empty() ? 0 : 1;
}

} // namespace alder::batch
