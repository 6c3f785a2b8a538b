#include "document/document.h"

#include "base/files.h"
#include "plan/derived_feature.h"
#include "report/document.h"
#include "requirement/datum_targets.h"
#include "route/draft.h"
#include <QDateTime>
#include <QFileInfo>
#include <algorithm>

namespace alder::app {
namespace {

Result<Bench> benchFrom(const QString& path) {
  if (path.isEmpty()) return defaultBench();
  auto text = readFile(path.toStdString());
  if (!text) return pass(text.error());
  return readBench(*text, QFileInfo(path).fileName().toStdString());
}

// The part with its requirements; touches and ways follow in a job of their own, so that the part
// is seen at once.
Result<Project> beginProject(const QString& path, const QString& bench_path,
                             const Progress& progress) {
  auto bench = benchFrom(bench_path);
  if (!bench) return pass(bench.error());
  auto bytes = readFile(path.toStdString());
  if (!bytes) return pass(bytes.error());
  auto part = importStep(std::move(*bytes), QFileInfo(path).fileName().toStdString(), progress);
  if (!part) return pass(part.error());
  return Project{beginPlan(*part, std::move(*bench)), {}, {}};
}

} // namespace

Document::Document(QObject* parent)
    : QObject(parent) {}

void Document::open(const QString& path, const QString& bench) {
  const bool project_file = path.endsWith(".alder", Qt::CaseInsensitive);
  jobs_.start("Opening " + QFileInfo(path).fileName(),
              [=, this](const Progress& progress) -> JobRunner::Apply {
                auto project = std::make_shared<Result<Project>>(
                    project_file ? openProject(path.toStdString(), progress)
                                 : beginProject(path, bench, progress));
                return [=, this] {
                  if (!*project) {
                    emit message(QString::fromStdString(project->error().message), true);
                    return;
                  }
                  setProject(std::move(**project), project_file ? path : QString());
                  if (project_file)
                    startRouting();
                  else
                    completeDraft();
                };
              });
}

void Document::setProject(Project project, const QString& path) {
  project_ = std::move(project);
  path_ = path;
  open_ = true;
  history_.clear();
  runs_unsaved_ = false;
  routed_.reset();
  runs_.clear();
  run_index_ = -1;
  selection_ = {};
  playhead_ = 0;
  rejudge();
  emit opened();
  emit planChanged();
  emit routedChanged();
  emit runsChanged();
  emit selectionChanged();
  emit savedChanged();
}

// Cancelled, the part stays open without touches, and can be drafted later.
void Document::completeDraft() {
  const auto plan = std::make_shared<const Plan>(project_.plan);
  jobs_.start("Drafting", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto drafted = std::make_shared<Result<Plan>>(completePlan(*plan, progress));
    return [=, this] {
      if (!*drafted) return;
      project_.plan = std::move(**drafted);
      emit planChanged();
      startRouting();
    };
  });
}

namespace {

// Where the part stands and among what: moves keep their answers as long as this is the same.
std::string standing(const Plan& plan) {
  std::string text = plan.bench.json;
  for (int k = 0; k < 12; ++k)
    text += fmt::format(" {}", plan.placement.matrix()(k % 3, k / 3));
  return text + fmt::format(" {}", plan.on_pedestal);
}

} // namespace

void Document::startRouting() {
  const auto plan = std::make_shared<const Plan>(project_.plan);
  auto routed = std::make_shared<Routed>();
  routed->among = standing(project_.plan);
  if (routed_ && routed_->among == routed->among) routed->memory = routed_->memory;
  jobs_.start("Rehearsing", [=, this](const Progress& progress) -> JobRunner::Apply {
    routed->obstacles = obstaclesOf(*plan);
    auto way = routePlan(*plan, routed->obstacles, progress);
    if (!way) return [] {};
    routed->way = std::move(*way);
    auto rehearsal = rehearse(*plan, routed->obstacles, routed->way, progress, &routed->memory);
    if (!rehearsal) return [] {};
    routed->rehearsal = std::move(*rehearsal);
    return [=, this] {
      routed_ = std::move(*routed);
      playhead_ = std::clamp(playhead_, 0.0, routed_->rehearsal.seconds);
      if (selection_.step >= static_cast<int>(routed_->way.steps.size())) selection_.step = -1;
      emit routedChanged();
      emit playheadChanged();
      if (seconds_before_)
        emit message(QString("Ordered for time: %1 s before, %2 s now")
                         .arg(*seconds_before_, 0, 'f', 0)
                         .arg(routed_->rehearsal.seconds, 0, 'f', 0),
                     false);
      seconds_before_.reset();
    };
  });
}

void Document::rehearseAgain() {
  if (open_) startRouting();
}

bool Document::save(const QString& path) {
  if (auto done = saveProject(project_, path.toStdString()); !done) {
    emit message(QString::fromStdString(done.error().message), true);
    return false;
  }
  path_ = path;
  history_.markSaved();
  runs_unsaved_ = false;
  emit savedChanged();
  emit message("Saved " + QFileInfo(path).fileName(), false);
  return true;
}

bool Document::edit(const QString& text, std::vector<Edit> edits) {
  if (!open_) return false;
  // The first draft replaces the plan when it is done; what is changed meanwhile would be lost.
  if (project_.plan.order.empty() && jobs_.busy()) {
    emit message("The first draft is still being made; change it when that is done.", true);
    return false;
  }
  // What is demanded and how it is judged moves nothing.
  const bool moves = std::any_of(edits.begin(), edits.end(), [](const Edit& e) {
    return !std::holds_alternative<SetRequirement>(e) &&
           !std::holds_alternative<SetSpecification>(e) && !std::holds_alternative<SetName>(e);
  });
  auto done = history_.apply(project_.plan, {text.toStdString(), std::move(edits)});
  if (!done) {
    if (done.error().message != "Nothing would change.")
      emit message(QString::fromStdString(done.error().message), true);
    return false;
  }
  dropStaleSelection();
  rejudge();
  emit planChanged();
  emit runsChanged();
  emit savedChanged();
  if (moves) startRouting();
  return true;
}

// What is no longer there cannot stay selected.
void Document::dropStaleSelection() {
  const auto& spec = plan().spec;
  const auto gone = [](const auto& ids, std::size_t count) {
    return std::any_of(ids.begin(), ids.end(),
                       [&](auto id) { return static_cast<std::size_t>(id.value) >= count; });
  };
  if (gone(selection_.requirements, spec.requirements.size()) ||
      gone(selection_.features, spec.features.size()))
    selection_ = {};
}

void Document::undo() {
  const QString text = undoText();
  if (!history_.undo(project_.plan)) return;
  dropStaleSelection();
  rejudge();
  emit planChanged();
  emit runsChanged();
  emit savedChanged();
  emit message("Undone: " + text, false);
  startRouting();
}

void Document::redo() {
  const QString text = redoText();
  if (!history_.redo(project_.plan)) return;
  dropStaleSelection();
  rejudge();
  emit planChanged();
  emit runsChanged();
  emit savedChanged();
  emit message("Done again: " + text, false);
  startRouting();
}

namespace {

// The difference between two plans of the same part as edits, so that a draft can be undone.
std::vector<Edit> differences(const Plan& from, const Plan& to) {
  std::vector<Edit> edits;
  // Derived features have no touches; some may have come or gone while the draft was made.
  for (std::size_t i = 0; i < std::min(from.features.size(), to.features.size()); ++i) {
    const Feature &a = from.features[i], &b = to.features[i];
    if (from.nominal(a.id).isDerived() || to.nominal(b.id).isDerived()) continue;
    if (!(a.access == b.access) || a.access_forced != b.access_forced)
      edits.push_back(SetAccess{a.id, b.access, b.access_forced});
    edits.push_back(SetRecipe{a.id, b.recipe, b.touches, b.why_not});
    edits.push_back(SetHop{a.id, b.entry, b.waypoints});
  }
  edits.push_back(SetOrder{to.order});
  return edits;
}

} // namespace

void Document::draftAgain() {
  if (!open_) return;
  if (project_.plan.order.empty()) return completeDraft(); // the first draft was cancelled
  const auto plan = std::make_shared<const Plan>(project_.plan);
  jobs_.start("Drafting", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto fresh = std::make_shared<Plan>(*plan);
    for (Feature& f : fresh->features) {
      if (fresh->nominal(f.id).isDerived()) continue;
      f.recipe = recipeFor(fresh->nominal(f.id), fresh->spec);
      f.entry = HopMode::Proposed;
      f.waypoints.clear();
    }
    const Obstacles obstacles = obstaclesOf(*fresh);
    if (!planAccess(*fresh, obstacles, progress)) return [] {};
    planOrder(*fresh);
    fresh->alignment = plan->alignment;
    return [=, this] {
      // Routing follows from the edit; a draft equal to what is there changes nothing.
      if (!edit("Draft from requirements", differences(project_.plan, *fresh))) startRouting();
      emit message("Drafted touches, styli and angles for all requirements", false);
    };
  });
}

void Document::orderForTime() {
  if (!open_) return;
  Plan copy = project_.plan;
  ::alder::orderForTime(copy);
  if (copy.order == project_.plan.order) {
    emit message("The order is already the shortest found", false);
    return;
  }
  if (routed_) seconds_before_ = routed_->rehearsal.seconds;
  edit("Order for time", {SetOrder{copy.order}});
}

void Document::changeBench(const QString& path) {
  if (!open_) return;
  const auto part = project_.plan.part;
  jobs_.start("Changing the bench", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto bench = benchFrom(path);
    auto plan = std::make_shared<Result<Plan>>(bench ? draftPlan(part, std::move(*bench), progress)
                                                     : Result<Plan>(pass(bench.error())));
    return [=, this] {
      if (!*plan) {
        emit message(QString::fromStdString(plan->error().message), true);
        return;
      }
      setProject(Project{std::move(**plan), {}, {}}, QString());
      startRouting();
      emit message("Drafted for bench " + QString::fromStdString(project_.plan.bench.name), false);
    };
  });
}

void Document::rejudge() {
  runs_.clear();
  for (const StoredRun& run : project_.runs) {
    auto measured = measurementsFromCsv(run.csv, run.name, project_.plan);
    if (!measured) continue;
    runs_.push_back({run.name, std::move(*measured), {}});
    runs_.back().evaluations = judgeAll(project_.plan, runs_.back().measured);
  }
  if (run_index_ < 0 || run_index_ >= static_cast<int>(runs_.size()))
    run_index_ = static_cast<int>(runs_.size()) - 1;
}

void Document::addRun(std::string csv) {
  project_.runs.push_back({fmt::format("part-{:04}", project_.runs.size() + 1), std::move(csv)});
  runs_unsaved_ = true;
  run_index_ = static_cast<int>(project_.runs.size()) - 1;
  rejudge();
  emit runsChanged();
  emit savedChanged();
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
    auto result = [&]() -> Result<Qualification> {
      auto way = qualifyWay(*plan, obstacles, tips);
      if (!way) return pass(way.error());
      auto checked = rehearse(*plan, obstacles, *way, progress);
      if (!checked) return pass(checked.error());
      if (!checked->clear()) {
        const Clash& c = checked->clashes.front();
        return fail("{}: the {} would meet the {}; move the sphere or the part.",
                    way->steps[static_cast<std::size_t>(c.step)].text, c.moving, c.still);
      }
      return qualifyOnSimulatedMachine(*plan, *way, plan->qualified, settings);
    }();
    auto shared = std::make_shared<Result<Qualification>>(std::move(result));
    return [=, this] {
      if (!*shared) {
        emit message(QString::fromStdString(shared->error().message), true);
        return;
      }
      edit(tips.size() == 1 ? "Qualify a tip" : "Qualify tips", {SetQualification{**shared}});
      emit message(QString("Qualified %1 tips").arg(tips.size()), false);
    };
  });
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
        if (result) result = runOnSimulatedMachine(*plan, *way, defects, seed, progress);
        auto shared = std::make_shared<Result<Run>>(std::move(result));
        return [=, this] {
          if (!*shared) {
            emit message(QString::fromStdString(shared->error().message), true);
            return;
          }
          addRun(pointsCsv(**shared));
          emit message(QString("Measured %1 points").arg((*shared)->points.size()), false);
        };
      });
}

void Document::judgeFile(const QString& path) {
  auto text = readFile(path.toStdString());
  auto measured =
      text ? measurementsFromCsv(*text, QFileInfo(path).fileName().toStdString(), project_.plan)
           : Result<Measurements>(pass(text.error()));
  if (!measured) {
    emit message(QString::fromStdString(measured.error().message), true);
    return;
  }
  addRun(std::move(*text));
}

bool Document::exportTo(const QString& path) {
  Result<std::string> bytes = std::string();
  const auto* run = currentRun();
  if (path.endsWith("path.csv")) {
    if (!routed_ || jobs_.busy()) {
      emit message("The routine is still being rehearsed; write it when that is done.", true);
      return false;
    }
    bytes = pathCsv(plan(), routed_->way, routed_->rehearsal.times);
  } else {
    const auto evaluations = run ? run->evaluations : judgeAll(plan(), {});
    ReportModel model = reportOf(plan(), evaluations);
    if (run) model.part_serial = run->name;
    bytes =
        path.endsWith(".csv") ? Result<std::string>(reportCsv(model)) : reportPdf(model, plan());
  }
  Done done = bytes ? writeFile(path.toStdString(), *bytes) : Done(pass(bytes.error()));
  if (!done) {
    emit message(QString::fromStdString(done.error().message), true);
    return false;
  }
  emit message("Wrote " + QFileInfo(path).fileName(), false);
  return true;
}

const JudgedRun* Document::currentRun() const {
  return run_index_ >= 0 && run_index_ < static_cast<int>(runs_.size())
             ? &runs_[static_cast<std::size_t>(run_index_)]
             : nullptr;
}

void Document::setCurrentRun(int index) {
  if (index == run_index_ || index < 0 || index >= static_cast<int>(runs_.size())) return;
  run_index_ = index;
  emit runsChanged();
}

const Evaluation* Document::evaluation(RequirementId requirement) const {
  const auto* run = currentRun();
  if (!run || !requirement.valid() ||
      static_cast<std::size_t>(requirement.value) >= run->evaluations.size())
    return nullptr;
  return &run->evaluations[static_cast<std::size_t>(requirement.value)];
}

std::array<bool, 5> Document::progressOf(const Requirement& r) const {
  std::array<bool, 5> cells{};
  const auto needed = featuresNeeded(plan().spec, r);
  if (r.kind == Characteristic::Value) { // computed: only the formula is needed
    cells.fill(!r.formula.empty());
    const auto* e = evaluation(r.id);
    cells[4] = e && e->actual.has_value();
    return cells;
  }
  cells[0] = !r.features.empty();
  cells[1] = cells[0] && std::all_of(needed.begin(), needed.end(), [&](FeatureId f) {
               return !plan().feature(f).touches.empty();
             });
  cells[2] = cells[1] && isCovered(plan(), r);
  if (routed_ && cells[2]) {
    cells[3] = true;
    for (const Clash& c : routed_->rehearsal.clashes) {
      const FeatureId f = routed_->way.steps[static_cast<std::size_t>(c.step)].feature;
      if (std::find(needed.begin(), needed.end(), f) != needed.end()) cells[3] = false;
    }
  }
  const auto* e = evaluation(r.id);
  cells[4] = e && e->actual.has_value();
  return cells;
}

void Document::select(Selection selection) {
  if (selection == selection_) return;
  selection_ = std::move(selection);
  emit selectionChanged();
}

void Document::selectRequirement(RequirementId requirement) {
  if (!requirement.valid()) return clearSelection();
  select({requirement, {requirement}, plan().spec.requirement(requirement).features, -1});
}

void Document::selectRequirements(const std::vector<RequirementId>& requirements,
                                  RequirementId current) {
  if (requirements.size() < 2) return selectRequirement(current);
  Selection s{current, requirements, {}, -1};
  for (RequirementId id : requirements)
    for (FeatureId f : plan().spec.requirement(id).features)
      if (std::find(s.features.begin(), s.features.end(), f) == s.features.end())
        s.features.push_back(f);
  select(std::move(s));
}

bool Document::derive(const Construction& construction) {
  auto spec = withDerived(plan(), construction);
  if (!spec) {
    emit message(QString::fromStdString(spec.error().message), true);
    return false;
  }
  const NominalFeature& added = spec->features.back();
  const FeatureId id = added.id;
  const QString what = "Derive " + QString::fromStdString(added.name);
  if (!edit(what, {SetSpecification{std::move(*spec)}})) return false;
  selectFeatures({id});
  return true;
}

void Document::require(Requirement requirement) {
  Specification spec = withRequirement(plan().spec, std::move(requirement));
  const RequirementId id = spec.requirements.back().id;
  const QString what = QString("Add requirement %1").arg(spec.requirements.back().balloon);
  if (edit(what, {SetSpecification{std::move(spec)}})) selectRequirement(id);
}

void Document::addValue() {
  if (!open_) return;
  Requirement r;
  r.kind = Characteristic::Value;
  r.unit = "mm";
  r.lower = -0.1, r.upper = 0.1, r.tolerance = 0.2;
  require(std::move(r));
}

void Document::deriveLikeliest() {
  if (!open_) return;
  const auto proposals = proposeConstructions(plan(), selection_.features);
  if (proposals.empty())
    emit message("Nothing can be derived from this; select features, several with Ctrl", true);
  else
    derive(proposals.front().construction);
}

void Document::setDatum(const std::vector<FeatureId>& features, const std::string& letter) {
  const bool good = letter.size() <= 2 && std::all_of(letter.begin(), letter.end(),
                                                      [](char c) { return c >= 'A' && c <= 'Z'; });
  if (!good) {
    emit message("A datum is named by one or two capital letters", true);
    return;
  }
  Specification spec = plan().spec;
  std::vector<DatumTarget> targets; // stay with the features
  for (const Datum& d : spec.datums)
    if (d.features == features) targets = d.targets;
  std::erase_if(spec.datums,
                [&](const Datum& d) { return d.features == features || d.letter == letter; });
  if (!letter.empty()) spec.datums.push_back({letter, features, std::move(targets)});
  const QString what = letter.empty() ? QString("Take the datum away")
                                      : "Make it datum " + QString::fromStdString(letter);
  edit(what, {SetSpecification{std::move(spec)}});
}

void Document::setTargets(const std::string& letter, const std::string& text) {
  auto targets = targetsFromText(text);
  if (!targets) {
    emit message(QString::fromStdString(targets.error().message), true);
    return;
  }
  const Datum* datum = plan().spec.datum(letter);
  if (!datum) return;
  std::vector<Edit> edits;
  std::vector<std::size_t> touched(targets->size(), 0);
  for (FeatureId id : datum->features) {
    const Feature& f = plan().feature(id);
    const NominalFeature& n = plan().nominal(id);
    if (n.isDerived()) continue;
    const double ball = f.access.valid() ? plan().tip(f.access).ball_diameter / 2 : 1.5;
    for (std::size_t t = 0; t < targets->size(); ++t)
      touched[t] += touchesAt(*plan().part, n, (*targets)[t], ball, 0).size();
    edits.push_back(SetRecipe{
        id, f.recipe, withTargets(*plan().part, n, f.touches, ball, datum->targets, *targets),
        f.why_not});
  }
  for (std::size_t t = 0; t < touched.size(); ++t)
    if (touched[t] == 0) {
      emit message(
          QString("Datum target %1%2 lies on no material of the datum, or too near an edge")
              .arg(QString::fromStdString(letter))
              .arg(t + 1),
          true);
      return;
    }
  Specification spec = plan().spec;
  for (Datum& d : spec.datums)
    if (d.letter == letter) d.targets = *targets;
  edits.insert(edits.begin(), SetSpecification{std::move(spec)});
  edit("Change the targets of datum " + QString::fromStdString(letter), std::move(edits));
}

void Document::addTouchWherePicked() {
  if (!selection_.picked || selection_.features.empty()) {
    emit message("Click the place on the part where the touch is to be", true);
    return;
  }
  const Feature& f = plan().feature(selection_.features.back());
  const double ball = f.access.valid() ? plan().tip(f.access).ball_diameter / 2 : 1.5;
  auto touch =
      touchAtPlace(*plan().part, plan().nominal(f.id), f.touches, *selection_.picked, ball);
  if (!touch) {
    emit message(QString::fromStdString(touch.error().message), true);
    return;
  }
  // Behind the touch next to it, so that the way stays short.
  std::vector<Touch> touches = f.touches;
  const auto next =
      std::min_element(touches.begin(), touches.end(), [&](const Touch& a, const Touch& b) {
        return (a.point - touch->point).norm() < (b.point - touch->point).norm();
      });
  touches.insert(next == touches.end() ? next : next + 1, *touch);
  edit("Add a touch", {SetRecipe{f.id, f.recipe, std::move(touches), f.why_not}});
}

void Document::removeTouchWherePicked() {
  if (!selection_.picked || selection_.features.empty()) {
    emit message("Click the touch on the part that is to go", true);
    return;
  }
  const Feature& f = plan().feature(selection_.features.back());
  std::vector<Touch> touches = f.touches;
  const auto next =
      std::min_element(touches.begin(), touches.end(), [&](const Touch& a, const Touch& b) {
        return (a.point - *selection_.picked).norm() < (b.point - *selection_.picked).norm();
      });
  if (next == touches.end()) return;
  touches.erase(next);
  if (!touchesSuffice(plan().nominal(f.id).ideal, touches)) {
    emit message(QString("%1 would have too few touches to be judged")
                     .arg(QString::fromStdString(plan().nominal(f.id).name)),
                 true);
    return;
  }
  edit("Remove a touch", {SetRecipe{f.id, f.recipe, std::move(touches), f.why_not}});
}

void Document::removeFeature(FeatureId feature) {
  auto spec = withoutDerived(plan().spec, feature);
  if (!spec) {
    emit message(QString::fromStdString(spec.error().message), true);
    return;
  }
  const auto name = QString::fromStdString(plan().nominal(feature).name);
  clearSelection();
  edit("Remove " + name, {SetSpecification{std::move(*spec)}});
}

void Document::removeRequirements() {
  Specification spec = plan().spec;
  auto gone = selection_.requirements;
  std::sort(gone.begin(), gone.end());
  for (auto id = gone.rbegin(); id != gone.rend(); ++id) { // later ones do not move earlier ones
    auto rest = withoutRequirement(spec, *id);
    if (!rest) {
      emit message(QString::fromStdString(rest.error().message), true);
      return;
    }
    spec = std::move(*rest);
  }
  if (gone.empty()) return;
  clearSelection();
  const QString what = gone.size() == 1 ? "Remove requirement" : "Remove requirements";
  edit(what, {SetSpecification{std::move(spec)}});
}

void Document::setExaggeration(double factor) {
  if (factor == exaggeration_) return;
  exaggeration_ = factor;
  emit selectionChanged(); // the stage shows the selection anew
}

void Document::selectFeatures(std::vector<FeatureId> features, std::optional<Vec3> picked) {
  Selection s;
  s.picked = picked;
  s.features = std::move(features);
  if (s.features.empty()) return clearSelection();
  // Keep the requirement if it is about this feature, else take the first that is.
  const auto about = [&](const Requirement& r) {
    return std::find(r.features.begin(), r.features.end(), s.features.front()) != r.features.end();
  };
  if (selection_.requirement && about(plan().spec.requirement(*selection_.requirement)))
    s.requirement = selection_.requirement;
  else
    for (const Requirement& r : plan().spec.requirements)
      if (about(r) && !s.requirement) s.requirement = r.id;
  if (s.requirement) s.requirements = {*s.requirement};
  select(std::move(s));
}

const ReachMap* Document::reachOf(FeatureId id) {
  const Feature& f = plan().feature(id);
  if (f.touches.empty() || plan().bench.styli.empty()) return nullptr;
  const int stylus = f.access.valid() ? f.access.stylus : 0,
            tip = f.access.valid() ? f.access.tip : 0;
  // The same touches, tip and obstacles give the same map.
  std::string key =
      fmt::format("{} {} {} {} {}", id.value, stylus, tip, f.recipe.approach, plan().bench.name);
  for (const Touch& t : f.touches)
    key += fmt::format(" {} {} {}", t.point.x(), t.point.y(), t.point.z());
  key += standing(plan());
  if (reach_ && key == reach_key_) return &*reach_;
  if (key == reach_key_ && reach_jobs_.busy()) return nullptr;
  reach_key_ = key;
  reach_.reset();
  const auto copy = std::make_shared<const Plan>(plan());
  reach_jobs_.start("Trying head angles", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto maps = reachMaps(*copy, obstaclesOf(*copy), {id}, stylus, tip, 1, progress);
    if (!maps) return {};
    return [=, this, map = std::move(maps->front())] {
      reach_ = map;
      emit reachChanged();
    };
  });
  return nullptr;
}

void Document::selectStep(int step) {
  if (!routed_ || step < 0 || step >= static_cast<int>(routed_->way.steps.size())) return;
  const FeatureId f = routed_->way.steps[static_cast<std::size_t>(step)].feature;
  if (f.valid()) selectFeatures({f});
  Selection s = selection_;
  s.step = step;
  if (!f.valid()) s.features.clear(), s.requirement.reset(), s.requirements.clear();
  select(std::move(s));
}

void Document::clearSelection() {
  select({});
}

void Document::setPlayhead(double seconds) {
  const double end = routed_ ? routed_->rehearsal.seconds : 0;
  const double next = std::clamp(seconds, 0.0, end);
  if (next == playhead_) return;
  playhead_ = next;
  emit playheadChanged();
}

} // namespace alder::app
