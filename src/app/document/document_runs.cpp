// Qualifying, running, judging and what comes of it.
#include "document/document.h"
#include "judge/judge.h"

#include "base/files.h"
#include "exchange/machine/program_file.h"
#include "exchange/points/points_file.h"
#include "exchange/runs/measured_again.h"
#include "exchange/runs/report_source.h"
#include "exchange/runs/run_frames.h"
#include "report/report_file.h"
#include "run/simulated_run.h"
#include <QDateTime>
#include <QFileInfo>
#include <algorithm>

namespace alder::app {

void Document::rejudge() {
  parts_.follow(plan(), project_.runs, selection_.requirement);
}

std::string Document::freeRunName(const std::string& wanted) const {
  const auto taken = [&](const std::string& n) {
    return std::any_of(project_.runs.begin(), project_.runs.end(),
                       [&](const StoredRun& r) { return r.name == n; });
  };
  std::string unique = wanted;
  for (int again = 2; taken(unique); ++again)
    unique = fmt::format("{}-{}", wanted, again);
  return unique;
}

void Document::addRun(std::string csv, std::string name) {
  if (name.empty()) name = fmt::format("part-{:04}", project_.runs.size() + 1);
  project_.runs.push_back({freeRunName(name), withId(csv, freshId())});
  runs_unsaved_ = true;
  comparison_.to.clear();
  new_parts_.push_back(project_.runs.back().name);
  parts_.isNew(project_.runs.back().name);
  rejudge();
  emit runsChanged();
  emit savedChanged();
}

// What a new part was judged to be when it was measured is kept with its points, and it itself in
// the database.
void Document::recordJudged() {
  for (const std::string& name : std::exchange(new_parts_, {})) {
    const JudgedRun* judged = parts_.find(name);
    StoredRun* stored = storedRun(name);
    if (!judged || !stored) continue;
    if (!parts_.judgedInDetail(*judged)) {
      new_parts_.push_back(name);
      continue;
    }
    const auto evaluations = parts_.evaluationsOf(*judged);
    stored->then = resultsOf(plan(), evaluations);
    keepRun(*stored, evaluations, changed_parts_.erase(name) > 0);
  }
}

void Document::finishNewParts() {
  // What is found is recorded, and so taken from the list, meanwhile.
  const std::vector<std::string> all = new_parts_;
  for (const std::string& name : all)
    parts_.finish(name);
  recordJudged();
}

StoredRun* Document::storedRun(const std::string& name) {
  const auto found = std::find_if(project_.runs.begin(), project_.runs.end(),
                                  [&](const StoredRun& r) { return r.name == name; });
  return found == project_.runs.end() ? nullptr : &*found;
}

QString Document::takeRun(const Run& run, const std::vector<Answered>& answers,
                          const Qualification& qualified) {
  // What was told stands above the points; a name of a file holds no odd signs.
  std::string head, serial;
  for (const Answered& a : answers) {
    std::string value = a.value;
    std::replace(value.begin(), value.end(), '\n', ' ');
    head += "# " + a.what + ": " + value + "\n";
  }
  for (const char c : answerFor(QuestionRole::SerialNumber, answers))
    serial += std::isalnum(static_cast<unsigned char>(c)) || c == '-' || c == '_' ? c : '-';
  addRun(head + frameLines(run) + pointsText(run), serial);
  project_.runs.back().operated_by = answerFor(QuestionRole::Operator, answers);
  finishNewParts(); // the operator is told at once
  if (qualified != plan().qualified) edit("Qualified in a run", {SetQualification{qualified}});
  return QString::fromStdString(project_.runs.back().name);
}

TipState Document::tipState(const Access& access) const {
  return stateOf(plan().qualified, access, plan().bench, QDateTime::currentSecsSinceEpoch());
}

std::vector<Access> Document::tipsToQualify() const {
  if (!open_ || !plan().bench.has_sphere) return {};
  std::vector<Access> tips = accessesUsed(plan());
  std::erase_if(tips, [&](const Access& a) { return tipState(a) == TipState::Qualified; });
  return tips;
}

void Document::qualify(const std::vector<Access>& tips, bool sphere_moved) {
  if (!open_ || jobs_.busy()) {
    emit message("The routine is still being rehearsed; qualify when that is done.", true);
    return;
  }
  const auto plan = std::make_shared<const Plan>(project_.plan);
  const QualifyRun settings{static_cast<std::uint64_t>(project_.runs.size()) + 1,
                            QDateTime::currentSecsSinceEpoch(), sphere_moved, Vec3::Zero()};
  jobs_.start("Qualifying tips", [=, this](const Progress& progress) -> JobRunner::Apply {
    const Obstacles obstacles = obstaclesOf(*plan);
    std::vector<Unreached> left;
    auto result = [&]() -> Result<Qualification> {
      auto each = qualifyEach(*plan, obstacles, tips);
      if (!each) return pass(each.error());
      left = each->left;
      auto checked = rehearse(*plan, obstacles, each->way, progress);
      if (!checked) return pass(checked.error());
      if (!checked->clear()) {
        const Clash& c = checked->clashes.front();
        return fail("{}: the {} would meet the {}; move the sphere or the part.",
                    each->way.steps[static_cast<std::size_t>(c.step)].text, c.moving, c.still);
      }
      return qualifyOnSimulatedMachine(*plan, each->way, plan->qualified, settings);
    }();
    auto shared = std::make_shared<Result<Qualification>>(std::move(result));
    return [=, this] {
      if (!*shared) {
        emit message(QString::fromStdString(shared->error().message), true);
        return;
      }
      tips_left_ = left;
      const auto done = tips.size() - left.size();
      if (done > 0)
        edit(done == 1 ? "Qualify a tip" : "Qualify tips", {SetQualification{**shared}});
      else
        emit planChanged();
      QString words = QString("Qualified %1 of %2 tips").arg(done).arg(tips.size());
      if (!left.empty())
        words += QString::fromStdString("; " + nameOf(*plan, left.front().access) +
                                        " cannot be: " + left.front().why);
      emit message(words, !left.empty());
    };
  });
}

std::string Document::whyTipLeft(const Access& access) const {
  for (const Unreached& u : tips_left_)
    if (u.access == access) return u.why;
  return {};
}

void Document::run(const QString& defects_path, std::uint64_t seed) {
  // A way that is being replaced may speak of touches that are no longer there.
  if (!routed_ || jobs_.busy()) {
    emit message("The routine is still being rehearsed; run it when that is done.", true);
    return;
  }
  const auto plan = std::make_shared<const Plan>(project_.plan);
  const auto way = std::make_shared<const Way>(routed_->way);
  jobs_.start(
      "Running on the simulated machine", [=, this](const Progress& progress) -> JobRunner::Apply {
        Result<Run> result = Run{};
        Defects defects;
        if (!defects_path.isEmpty()) {
          auto text = readFile(defects_path.toStdString());
          auto read =
              text ? readDefects(*text, QFileInfo(defects_path).fileName().toStdString(), *plan)
                   : Result<Defects>(pass(text.error()));
          if (read)
            defects = std::move(*read);
          else
            result = pass(read.error());
        }
        if (result && setupCount(*plan) == 1) {
          result = runOnSimulatedMachine(*plan, *way, defects, seed, progress);
        } else if (result) {
          auto ways = setupWays(*plan, progress);
          result = ways ? runEverySetup(*ways, defects, seed, progress)
                        : Result<Run>(pass(ways.error()));
        }
        auto shared = std::make_shared<Result<Run>>(std::move(result));
        return [=, this] {
          if (!*shared) {
            emit message(QString::fromStdString(shared->error().message), true);
            return;
          }
          addRun(frameLines(**shared) + pointsText(**shared));
          emit message(QString("Measured %1 points").arg((*shared)->points.size()), false);
        };
      });
}

void Document::readProgramFile(const QString& path) {
  if (!open_) return;
  const QString name = QFileInfo(path).fileName();
  results_jobs_.start(
      "Reading " + name,
      [=, this, plan = std::make_shared<const Plan>(plan())](const Progress&) -> JobRunner::Apply {
        auto text = readFile(path.toStdString());
        auto read = std::make_shared<Result<ProgramRead>>(
            text ? readProgram(*text, name.toStdString(), *plan)
                 : Result<ProgramRead>(pass(text.error())));
        return [=, this] {
          if (*read)
            emit programRead(**read, name);
          else
            emit message(QString::fromStdString(read->error().message), true);
        };
      });
}

void Document::takeProgram(ProgramRead read) {
  const int understood = read.understood, kept = read.kept;
  setProject({std::move(read.plan), {}, {}, {}, std::move(read.qif)}, {});
  startRouting();
  emit message(
      QString("%1 statements understood%2")
          .arg(understood)
          .arg(kept > 0 ? QString(", %1 kept as notes with their lines").arg(kept) : QString()),
      kept > 0);
}

void Document::judgeFile(const QString& path) {
  auto text = readFile(path.toStdString());
  auto measured =
      text ? measurementsIn(*text, QFileInfo(path).fileName().toStdString(), project_.plan)
           : Result<Measurements>(pass(text.error()));
  if (!measured) {
    emit message(QString::fromStdString(measured.error().message), true);
    return;
  }
  addRun(std::move(*text));
}

bool Document::exportTo(const QString& path, const std::string& layout) {
  Result<std::string> bytes = std::string();
  QString told;
  const std::string target = path.toStdString();
  if (isMachineFile(target)) {
    if (!routed_ || jobs_.busy()) {
      emit message("The routine is still being rehearsed; write it when that is done.", true);
      return false;
    }
    bytes = machineFile(target, plan(), routed_->way, routed_->rehearsal.times);
    if (plan().setups.size() > 1)
      told = QString(", for %1 alone; work on the others to write theirs")
                 .arg(QString::fromStdString(nameOfSetup(plan(), plan().setup)));
  } else {
    const ReportModel model = reportOf(plan(), reportSource());
    auto report = reportFile(target, model, plan(), layout);
    bytes = report ? Result<std::string>(std::move(report->bytes))
                   : Result<std::string>(pass(report.error()));
    for (const std::string& line : report ? report->told : std::vector<std::string>{})
      told += ". " + QString::fromStdString(line);
  }
  Done done = bytes ? writeFile(target, *bytes) : Done(pass(bytes.error()));
  if (!done) {
    emit message(QString::fromStdString(done.error().message), true);
    return false;
  }
  emit message("Wrote " + QFileInfo(path).fileName() + told, !told.isEmpty());
  return true;
}

ReportSource Document::reportSource(bool with_sums) {
  ReportSource source;
  const JudgedRun* run = currentRun();
  if (!run) {
    source.evaluations = judgeAll(plan(), {});
    return source;
  }
  const std::string name = run->name;
  parts_.finish(name);
  run = currentRun();
  source.evaluations = parts_.evaluationsOf(*run);
  source.measured = run->measured();
  source.serial = name;
  if (const StoredRun* stored = currentStored()) {
    source.operated_by = stored->operated_by;
    if (with_sums || approvalOf(plan().approvals, name)) takeSums(source, plan(), stored->csv);
  }
  source.again = measuredAgain();
  for (int i = 0; i <= currentRunIndex(); ++i) {
    const JudgedRun& part = runs()[static_cast<std::size_t>(i)];
    source.parts.push_back({part.name, "", part.verdicts, {}});
  }
  return source;
}

std::string Document::currentRunName() const {
  const auto* run = currentRun();
  return run ? run->name : std::string();
}

const StoredRun* Document::currentStored() const {
  for (const StoredRun& run : project_.runs)
    if (currentRun() && run.name == currentRun()->name) return &run;
  return nullptr;
}

QStringList Document::verdictsChanged() const {
  QStringList balloons;
  for (const Requirement& r : plan().spec.requirements)
    if (verdictThen(r.id)) balloons << QString::number(r.balloon);
  return balloons;
}

std::vector<std::string> Document::measuredAgain() const {
  const StoredRun* run = currentStored();
  return run ? measuredAgainIn(run->csv) : std::vector<std::string>{};
}

const ResultRecord* Document::verdictThen(RequirementId requirement) const {
  const Evaluation* now = evaluation(requirement);
  const StoredRun* run = currentStored();
  if (!now || !run) return nullptr;
  const Specification& spec = plan().spec;
  const ResultRecord* then = recordOf(spec, spec.requirement(requirement), run->then);
  return then && differ(*then, resultsOf(plan(), {*now}).front()) ? then : nullptr;
}

void Document::setCurrentRun(int index) {
  if (index == currentRunIndex() || index < 0 || index >= static_cast<int>(runs().size())) return;
  parts_.setCurrent(index);
  comparison_.to.clear(); // the one that is looked at
  emit runsChanged();
}

const Evaluation* Document::evaluation(RequirementId requirement) const {
  const JudgedRun* run = currentRun();
  if (!run) return nullptr;
  const auto found = run->details.find(requirement);
  return found == run->details.end() ? nullptr : &found->second;
}

const BriefVerdict* Document::verdict(RequirementId requirement) const {
  const JudgedRun* run = currentRun();
  if (!run) return nullptr;
  const auto found = run->verdicts.find(requirement);
  return found == run->verdicts.end() ? nullptr : &found->second;
}

std::array<bool, 5> Document::progressOf(const Requirement& r) const {
  std::array<bool, 5> cells{};
  const auto needed = featuresNeeded(plan().spec, r);
  if (r.kind == Characteristic::Value) { // computed: only the formula is needed
    cells.fill(!r.formula.empty());
    const auto* v = verdict(r.id);
    cells[4] = v && v->actual.has_value();
    return cells;
  }
  cells[0] = !r.features.empty();
  cells[1] = cells[0] && std::all_of(needed.begin(), needed.end(), [&](FeatureId f) {
               return !plan().feature(f).touches.empty();
             });
  cells[2] = cells[1] && whyNotCovered(r).empty();
  if (routed_ && cells[2]) {
    // What is touched in another set-up is rehearsed when that one is worked on.
    cells[3] = std::all_of(needed.begin(), needed.end(),
                           [&](FeatureId f) { return isOfSetup(plan(), plan().feature(f)); });
    for (const Clash& c : routed_->rehearsal.clashes) {
      const FeatureId f = routed_->way.steps[static_cast<std::size_t>(c.step)].feature;
      if (std::find(needed.begin(), needed.end(), f) != needed.end()) cells[3] = false;
    }
  }
  const auto* v = verdict(r.id);
  cells[4] = v && v->actual.has_value();
  return cells;
}

} // namespace alder::app
