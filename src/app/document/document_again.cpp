// Features of a part that was measured, measured once more.
#include "document/document.h"

#include "exchange/points/points_file.h"
#include "exchange/runs/measured_again.h"
#include "exchange/runs/run_frames.h"
#include "run/measure_again.h"
#include <QDateTime>
#include <algorithm>

namespace alder::app {

// Selected features; else all that the selected requirement is about, but not its datums.
std::vector<FeatureId> Document::featuresForAgain() const {
  std::vector<FeatureId> wanted = selection_.features;
  if (wanted.empty() && selection_.requirement)
    wanted = plan().spec.requirement(*selection_.requirement).features;
  std::vector<FeatureId> touched = touchedFor(plan().spec, wanted);
  const auto measured = measuringOrder(plan().steps, false);
  std::erase_if(touched, [&](FeatureId id) {
    return !plan().feature(id).covered() ||
           std::find(measured.begin(), measured.end(), id) == measured.end();
  });
  return touched;
}

void Document::routeAgain(const std::vector<FeatureId>& features, bool still_lies,
                          std::function<void(Result<AgainRoutine>)> begin) {
  const auto run = std::find_if(project_.runs.begin(), project_.runs.end(),
                                [&](const StoredRun& r) { return r.name == currentRunName(); });
  if (run == project_.runs.end()) return begin(fail("Measure a part first."));
  std::optional<Frame> lies;
  if (still_lies) {
    const auto found = partFrameOf(plan(), run->csv, run->name);
    if (!found) return begin(pass(found.error()));
    lies = *found;
  }
  auto again = planToMeasureAgain(plan(), features, lies);
  if (!again) return begin(pass(again.error()));
  const auto shared = std::make_shared<const Plan>(std::move(*again));
  jobs_.start("Finding the way", [=](const Progress& progress) -> JobRunner::Apply {
    auto routine = [&]() -> Result<AgainRoutine> {
      const Obstacles obstacles = obstaclesOf(*shared);
      auto way = routePlan(*shared, obstacles, progress);
      if (!way) return pass(way.error());
      auto checked = rehearse(*shared, obstacles, *way, progress);
      if (!checked) return pass(checked.error());
      if (!checked->clear()) {
        const Clash& c = checked->clashes.front();
        return fail("{}: the {} would meet the {}. Measure the whole part.",
                    way->steps[static_cast<std::size_t>(c.step)].text, c.moving, c.still);
      }
      return AgainRoutine{shared, std::make_shared<const Way>(std::move(*way))};
    }();
    return [begin, routine = std::move(routine)] { begin(routine); };
  });
}

QString Document::takeAgain(const std::string& run_name, const Run& measured,
                            const std::vector<FeatureId>& features,
                            const Qualification& qualified) {
  const auto run = std::find_if(project_.runs.begin(), project_.runs.end(),
                                [&](const StoredRun& r) { return r.name == run_name; });
  if (run == project_.runs.end())
    return QString("There is no part %1 any more.").arg(QString::fromStdString(run_name));
  auto csv = withMeasuredAgain(plan(), run->csv, run->name, measured, features,
                               QDateTime::currentSecsSinceEpoch());
  if (!csv) return QString::fromStdString(csv.error().message);
  const auto judged = [&] {
    parts_.finish(run_name);
    const JudgedRun* found = parts_.find(run_name);
    return found ? parts_.evaluationsOf(*found) : std::vector<Evaluation>{};
  };
  const auto before = resultsOf(plan(), judged());
  run->csv = std::move(*csv);
  runs_unsaved_ = true;
  parts_.pointsChanged(run_name);
  parts_.isNew(run_name);
  rejudge();
  const auto evaluations = judged();
  const auto after = resultsOf(plan(), evaluations);
  run->then = after;
  keepRun(*run, evaluations, true);
  emit runsChanged();
  emit savedChanged();
  if (qualified != plan().qualified) edit("Qualified in a run", {SetQualification{qualified}});
  QStringList changed;
  for (std::size_t i = 0; i < after.size(); ++i)
    if (after[i].verdict != before[i].verdict)
      changed << QString("%1 %2, was %3")
                     .arg(after[i].balloon)
                     .arg(QString::fromStdString(after[i].verdict))
                     .arg(QString::fromStdString(before[i].verdict));
  return changed.isEmpty() ? QString("No verdict has changed.") : changed.join("; ") + ".";
}

} // namespace alder::app
