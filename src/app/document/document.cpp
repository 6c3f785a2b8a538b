#include "document/document.h"

#include "part/cad_process.h"
#include "route/order.h"

#include "plan/steps/step_edit.h"

#include "base/files.h"
#include "route/draft.h"
#include "run/run_store.h"
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

bool isTemplate(const QString& path) {
  return path.endsWith(".alder-template", Qt::CaseInsensitive);
}

// The part with its requirements; touches and ways follow in a job of their own, so that the part
// is seen at once.
Result<Project> beginProject(const QString& path, const QString& bench_path,
                             std::optional<RoutineTemplate>& start, const Progress& progress) {
  auto bench = isTemplate(bench_path) ? Result<Bench>(Bench{}) : benchFrom(bench_path);
  if (isTemplate(bench_path)) {
    auto text = readFile(bench_path.toStdString());
    auto read = text ? templateFromText(*text, QFileInfo(bench_path).fileName().toStdString())
                     : Result<RoutineTemplate>(pass(text.error()));
    if (!read) return pass(read.error());
    start = std::move(*read);
  }
  if (!bench) return pass(bench.error());
  auto bytes = readFile(path.toStdString());
  if (!bytes) return pass(bytes.error());
  auto part = importCadApart(std::move(*bytes), QFileInfo(path).fileName().toStdString(), progress);
  if (!part) return pass(part.error());
  return Project{start ? beginPlan(*part, *start) : beginPlan(*part, std::move(*bench)), {}, {}};
}

} // namespace

Document::Document(QObject* parent)
    : QObject(parent) {
  for (JobRunner* jobs : {&jobs_, &reach_jobs_, &setup_jobs_, &store_jobs_, &coverage_jobs_,
                          &model_jobs_, &results_jobs_, &parts_.jobs()})
    connect(jobs, &JobRunner::broke, this, [this, jobs](const QString& words, JobKind kind) {
      // Other work that breaks off leaves a way that stands.
      if (jobs == &jobs_ && (!routed_ || kind == JobKind::Routing)) routingFailed(words);
      emit message(words, true);
    });
  connect(&jobs_, &JobRunner::cancelled, this, &Document::dropTyped); // before it is resumed
  connect(&jobs_, &JobRunner::busyChanged, this, &Document::resumeTyped, Qt::QueuedConnection);
  connect(&parts_, &MeasuredParts::judged, this, [this] {
    recordJudged();
    emit runsChanged();
  });
  connect(&parts_, &MeasuredParts::unreadable, this,
          [this](const QString& sentence) { emit message(sentence, true); });
  connect(this, &Document::selectionChanged, this,
          [this] { parts_.lookAt(selection_.requirement); });
}

void Document::open(const QString& path, const QString& bench) {
  const bool project_file = path.endsWith(".alder", Qt::CaseInsensitive);
  jobs_.start("Opening " + QFileInfo(path).fileName(),
              [=, this](const Progress& progress) -> JobRunner::Apply {
                auto start = std::make_shared<std::optional<RoutineTemplate>>();
                auto project = std::make_shared<Result<Project>>(
                    project_file ? openProject(path.toStdString(), progress)
                                 : beginProject(path, bench, *start, progress));
                return [=, this] {
                  if (!*project) {
                    emit message(QString::fromStdString(project->error().message), true);
                    emit openFailed();
                    return;
                  }
                  setProject(std::move(**project), project_file ? path : QString());
                  start_ = std::move(*start);
                  if (project_file)
                    startRouting();
                  else
                    completeDraft();
                };
              });
}

void Document::openLeft(const QString& copy, const QString& as) {
  jobs_.start("Opening unsaved work", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto project = std::make_shared<Result<Project>>(openProject(copy.toStdString(), progress));
    return [=, this] {
      if (!*project) {
        emit message(QString::fromStdString(project->error().message), true);
        emit openFailed();
        return;
      }
      const bool drafted = !(*project)->plan.steps.empty();
      setProject(std::move(**project), as);
      runs_unsaved_ = true; // it is not what the file holds
      emit savedChanged();
      if (drafted)
        startRouting();
      else
        completeDraft();
    };
  });
}

void Document::setProject(Project project, const QString& path) {
  emit opening();
  finishNewParts();
  project_ = std::move(project);
  // The copy that a run keeps is not a file of the user.
  path_ = path.startsWith(runFolder()) ? QString() : path;
  open_ = true;
  history_.clear();
  runs_unsaved_ = false;
  routed_.reset();
  parts_.clear();
  comparison_ = {};
  selection_ = {};
  section_.reset();
  typed_.clear(), measuring_typed_ = false;
  waiting_.reset();
  bench_focus_ = {};
  mates_.clear();
  setup_.clear();
  setup_key_.clear();
  playhead_ = 0;
  tips_left_.clear();
  routing_failed_.clear();
  coverage_.clear();
  coverage_memory_ = std::make_shared<CoverageMemory>();
  reach_jobs_.cancel();
  reach_.reset();
  reach_key_.clear();
  checkSetupNow();
  checkCoverageNow();
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
  jobs_.start("Drafting", [=, this, start = start_](const Progress& progress) -> JobRunner::Apply {
    auto drafted = std::make_shared<Result<Plan>>(completePlan(*plan, progress));
    if (*drafted && start) {
      if (auto done = addTemplateSteps(**drafted, *start); !done) *drafted = pass(done.error());
    }
    return [=, this] {
      if (!*drafted) return;
      project_.plan = std::move(**drafted);
      checkSetupNow();
      checkCoverageNow();
      emit planChanged();
      startRouting();
    };
  });
}

namespace {

// Where the part stands and among what: moves keep their answers as long as this is the same.
std::string standing(const Plan& plan) {
  std::string text = plan.bench.json;
  text += fmt::format(" {}", static_cast<const void*>(plan.part.get()));
  for (const PairRule& p : plan.pairs)
    text += fmt::format(" {} {} {} {}", p.moving, p.still, p.off, p.margin);
  for (int k = 0; k < 12; ++k)
    text += fmt::format(" {}", plan.placement.matrix()(k % 3, k / 3));
  for (const Support& s : plan.supports)
    text += fmt::format(" {} {} {} {} {}", s.at.x(), s.at.y(), s.at.z(), s.length, s.width);
  return text;
}

} // namespace

void Document::checkSetupNow() {
  faults_.clear();
  std::string key = standing(plan());
  for (const Feature& f : plan().features)
    key += fmt::format(" {}", f.recipe.speed);
  if (key == setup_key_) return;
  setup_key_ = std::move(key);
  const auto copy = std::make_shared<const Plan>(plan());
  setup_jobs_.start("Checking the bench", [=, this](const Progress&) -> JobRunner::Apply {
    return [this, found = checkSetup(*copy)] {
      setup_ = found;
      emit setupChanged();
    };
  });
}

void Document::startRouting() {
  auto copy = std::make_shared<Plan>(project_.plan);
  // Steps that qualify what needs it know what is stale.
  copy->qualified = withoutStale(copy->qualified, copy->bench, QDateTime::currentSecsSinceEpoch());
  const std::shared_ptr<const Plan> plan = std::move(copy);
  auto routed = std::make_shared<Routed>();
  routed->among = standing(project_.plan);
  if (routed_ && routed_->among == routed->among) routed->memory = routed_->memory;
  const auto work = [=, this](const Progress& progress) -> JobRunner::Apply {
    routed->obstacles = obstaclesOf(*plan);
    auto way = routePlan(*plan, routed->obstacles, progress);
    const auto failed = [=, this](const std::string& why) -> JobRunner::Apply {
      if (progress.cancelled()) return {};
      return [=, this] {
        routingFailed(QString::fromStdString(why));
        emit message(routing_failed_, true);
      };
    };
    if (!way) return failed(way.error().message);
    routed->way = std::move(*way);
    auto rehearsal = rehearse(*plan, routed->obstacles, routed->way, progress, &routed->memory);
    if (!rehearsal) return failed(rehearsal.error().message);
    routed->rehearsal = std::move(*rehearsal);
    return [=, this] {
      routing_failed_.clear();
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
  };
  jobs_.start("Rehearsing", work, JobKind::Routing);
}

void Document::routingFailed(const QString& why) {
  routing_failed_ = why;
  emit routedChanged();
}

std::string Document::whyNotCovered(const Requirement& r) const {
  if (auto why = ::alder::whyNotCovered(plan(), r); !why.empty()) return why;
  const auto found = coverage_.find(r.id);
  return found == coverage_.end() ? std::string() : found->second.why;
}

double Document::noiseShare(RequirementId id) const {
  const auto found = coverage_.find(id);
  return found == coverage_.end() ? 0 : found->second.noise;
}

// On a copy, aside: what follows changes words and marks only.
void Document::checkCoverageNow() {
  const auto copy = std::make_shared<const Plan>(plan());
  const auto work = [=, this, memory = coverage_memory_](const Progress& progress) {
    // What is not touched is seen at once from the plan as it is then; kept, it would be told of
    // touches that have come meanwhile.
    Coverage tried = coverageOf(copy, *memory, progress);
    std::erase_if(tried, [&](const auto& one) {
      return !::alder::whyNotCovered(*copy, copy->spec.requirement(one.first)).empty();
    });
    return JobRunner::Apply([=, this, found = std::move(tried)] {
      if (found == coverage_) return;
      coverage_ = found;
      emit coverageChanged();
    });
  };
  coverage_jobs_.start("Trying the verdicts", work);
}

void Document::rehearseAgain() {
  if (open_) startRouting();
}

bool Document::save(const QString& path) {
  finishNewParts();
  for (StoredRun& run : project_.runs)
    if (KeptVerdicts kept = parts_.keptOf(run.name); !kept.all.empty()) run.kept = std::move(kept);
  if (auto done = saveProject(project_, path.toStdString()); !done) {
    emit message(QString::fromStdString(done.error().message), true);
    return false;
  }
  path_ = path;
  history_.markSaved();
  runs_unsaved_ = false;
  emit savedChanged();
  emit saved();
  emit message("Saved " + QFileInfo(path).fileName(), false);
  return true;
}

bool Document::edit(const QString& text, std::vector<Edit> edits) {
  if (!open_) return false;
  // The first draft replaces the plan when it is done; what is changed meanwhile would be lost.
  if (project_.plan.steps.empty() && jobs_.busy()) {
    emit message("The first draft is still being made; change it when that is done.", true);
    return false;
  }
  // What is demanded and how it is judged moves nothing.
  const bool moves = std::any_of(edits.begin(), edits.end(), [](const Edit& e) {
    return !e.as<SetRequirement>() && !e.as<SetSpecification>() && !e.as<SetDrawings>() &&
           !e.as<SetName>() && !e.as<SetHeader>() && !e.as<SetLayouts>() && !e.as<SetArticle>() &&
           !e.as<SetApprovals>() && !e.as<SetViews>();
  });
  finishNewParts();
  auto group = withCopies(plan(), {text.toStdString(), std::move(edits)});
  const Done done = group ? history_.apply(project_, *group) : Done(pass(group.error()));
  if (!done) {
    if (done.error().code != ErrorCode::NothingChanges)
      emit message(QString::fromStdString(done.error().message), true);
    return false;
  }
  afterEdit();
  if (moves) startRouting();
  return true;
}

void Document::afterEdit() {
  const bool selection_gone = dropStaleSelection();
  const auto gone = [&](FeatureId id) { return id.valid() && !plan().features.holds(id); };
  if (routed_ && std::any_of(routed_->way.positions.begin(), routed_->way.positions.end(),
                             [&](const Position& p) { return gone(p.feature); })) {
    routed_.reset(); // it touches what is no longer there
    selection_.step = -1;
    emit routedChanged();
  }
  if (selection_gone) emit selectionChanged();
  checkSetupNow();
  checkCoverageNow();
  rejudge();
  emit planChanged();
  emit runsChanged();
  emit savedChanged();
}

// What is no longer there cannot stay selected.
bool Document::dropStaleSelection() {
  const auto& spec = plan().spec;
  if (section_ && section_->feature.valid() && !spec.features.holds(section_->feature))
    section_.reset();
  const auto gone = [](const auto& ids, const auto& table) {
    return std::any_of(ids.begin(), ids.end(), [&](auto id) { return !table.holds(id); });
  };
  const bool other_part = !selection_.faces.empty() && selected_in_ != plan().part;
  if (other_part || gone(selection_.requirements, spec.requirements) ||
      gone(selection_.features, spec.features) ||
      (selection_.requirement && !spec.requirements.holds(*selection_.requirement))) {
    selection_ = {};
    return true;
  }
  return false;
}

void Document::undo() {
  stepBack("Undone: " + undoText(), [this] { return history_.undo(project_); });
}

void Document::redo() {
  stepBack("Done again: " + redoText(), [this] { return history_.redo(project_); });
}

void Document::stepBack(const QString& words, const std::function<ProjectHistory::Step()>& step) {
  finishNewParts();
  std::map<std::string, std::string> before;
  for (const StoredRun& r : project_.runs)
    before[r.name] = r.csv;
  switch (step()) {
  case ProjectHistory::Step::None:
    return;
  case ProjectHistory::Step::Plan:
    afterEdit();
    break;
  case ProjectHistory::Step::Results:
    for (const StoredRun& r : project_.runs)
      if (const auto was = before.find(r.name); was == before.end() || was->second != r.csv) {
        parts_.pointsChanged(r.name);
        parts_.isNew(r.name);
        new_parts_.push_back(r.name);
        changed_parts_.insert(r.name);
      }
    partsChanged();
    emit message(words, false);
    return;
  }
  emit message(words, false);
  startRouting();
}

namespace {

// The difference between two plans of the same part as edits, so that a draft can be undone.
std::vector<Edit> differences(const Plan& from, const Plan& to) {
  std::vector<Edit> edits;
  // Constructed features have no touches; some may have come or gone while the draft was made.
  for (const Feature& a : from.features) {
    if (from.nominal(a.id).isConstructed() || !to.features.holds(a.id)) continue;
    const Feature& b = to.feature(a.id);
    if (!(a.access == b.access) || a.access_forced != b.access_forced)
      edits.push_back(SetAccess{a.id, b.access, b.access_forced});
    edits.push_back(SetRecipe{a.id, b.recipe, b.touches, b.why_not});
    edits.push_back(SetHop{a.id, b.entry, b.waypoints});
    edits.push_back(SetThrough{a.id, b.through});
  }
  if (auto steps = stepsBecome(from, to.steps)) edits.push_back(std::move(*steps));
  return edits;
}

} // namespace

void Document::draftAgain() {
  if (!open_) return;
  if (project_.plan.steps.empty()) return completeDraft(); // the first draft was cancelled
  const auto plan = std::make_shared<const Plan>(project_.plan);
  jobs_.start("Drafting", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto fresh = std::make_shared<Plan>(*plan);
    for (Feature& f : fresh->features) {
      if (fresh->nominal(f.id).isConstructed() || !isOfSetup(*fresh, f)) continue;
      f.recipe = recipeFor(fresh->nominal(f.id), fresh->spec, fresh->book);
      f.entry = HopMode::Proposed;
      f.waypoints.clear();
      f.through.reset();
    }
    const Obstacles obstacles = obstaclesOf(*fresh);
    AccessCount count;
    if (!planAccess(*fresh, obstacles, progress, &count)) return [] {};
    ::alder::orderForTime(*fresh);
    return [=, this] {
      // Routing follows from the edit; a draft equal to what is there changes nothing.
      if (!edit("Draft from requirements", differences(project_.plan, *fresh))) startRouting();
      emit message(
          QString("Drafted touches for all requirements; what is not reached from straight "
                  "above takes %1 tips and angles, at least %2")
              .arg(count.used)
              .arg(count.least),
          false);
    };
  });
}

void Document::orderForTime() {
  if (!open_) return;
  Plan copy = project_.plan;
  ::alder::orderForTime(copy);
  auto steps = stepsBecome(project_.plan, copy.steps);
  if (!steps) {
    emit message("The order is already the shortest found", false);
    return;
  }
  if (routed_) seconds_before_ = routed_->rehearsal.seconds;
  edit("Order for time", {std::move(*steps)});
}

const ReachMap* Document::reachOf(FeatureId id) {
  // The card may still ask for what was there before another part was opened.
  if (!plan().features.holds(id)) return nullptr;
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

} // namespace alder::app
