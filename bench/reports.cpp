// Reports: a long one, many short ones, callouts round a picture; each over what a person notices.
#include "base/files.h"
#include "base/random.h"
#include "exchange/points/points_file.h"
#include "exchange/routine/project.h"
#include "judge/judge.h"
#include "paper/callout_layout.h"
#include "ratio.h"
#include "report/report_file.h"
#include "route/router.h"
#include "run/simulated_run.h"

namespace alder::bench {
namespace {

struct MeasuredPart {
  Project project;
  ReportModel report;
};
const MeasuredPart& measuredHeron() {
  static const MeasuredPart made = [] {
    auto project = *openProject((dataFolder() / "demo/data/heron.alder").string());
    const Plan& plan = project.plan;
    const Run run = *runOnSimulatedMachine(plan, *routePlan(plan, obstaclesOf(plan)), {}, 1);
    const Measurements measured = measurementsOf(run);
    ReportModel report = reportOf(plan, judgeAll(plan, measured), measured);
    return MeasuredPart{std::move(project), std::move(report)};
  }();
  return made;
}

double longReport() {
  const MeasuredPart& h = measuredHeron();
  constexpr int kRows = 300;
  ReportModel model = h.report;
  model.rows.clear();
  for (int i = 0; i < kRows; ++i) {
    model.rows.push_back(h.report.rows[static_cast<std::size_t>(i) % h.report.rows.size()]);
    model.rows.back().balloon = i + 1;
    model.rows.back().number = std::to_string(i + 1);
  }
  Layout layout = *shippedLayout("full");
  LayoutPage pictures = shippedLayout("failed")->pages.back();
  pictures.filter = {{}, "1-40", "", false};
  layout.pages.push_back(pictures);
  const auto setter = *TextSetter::create();
  std::size_t pages = 0;
  const double seconds = medianSeconds(
      [&] {
        const Composed composed = compose(layout, model, h.project.plan, *setter);
        pages = composed.pages.size();
        if (!reportPdf(composed, model, *setter)) pages = 0;
      },
      3);
  return pages > 50 ? seconds / 10 : 1e9;
}

double manyReports() {
  const MeasuredPart& h = measuredHeron();
  const Layout layout = *shippedLayout("short");
  const auto setter = *TextSetter::create();
  bool all = true;
  const double seconds = medianSeconds(
      [&] { all &= reportFile("a.pdf", layout, h.report, h.project.plan, *setter).has_value(); },
      15);
  return all ? 200 * seconds / 60 : 1e9;
}

double calloutLayouts() {
  Random random(1);
  double worst = 0;
  for (int view = 0; view < 200; ++view) {
    CalloutSpace space{{0, 0, 200, 140}, Area{0, 0, 200, 140}.inner(20), {}, 1};
    std::vector<CalloutAsked> asked;
    for (int i = 0; i < 40; ++i)
      asked.push_back({{random.uniform(20, 180), random.uniform(20, 120)}, 10, 5, {}});
    worst = std::max(worst, medianSeconds([&] { (void)placeCallouts(asked, space); }, 3));
  }
  return worst / 0.02;
}

} // namespace

std::vector<Ratio> reports() {
  return {{"reports/300 requirements and 40 pictures over 10 s", 1, longReport},
          {"reports/200 short ones over 60 s", 1, manyReports},
          {"reports/40 callouts, worst of 200 views, over 20 ms", 1, calloutLayouts}};
}

} // namespace alder::bench
