#include "document/measured_parts.h"

#include <algorithm>
#include <mutex>

namespace alder::app {

struct MeasuredParts::Basket {
  std::mutex mutex;
  std::vector<JudgingResult> found;
  std::map<RequirementId, std::string> keys;
};

namespace {

// Which touch a point belongs to, and by which name a file speaks of a feature.
bool readAlike(const Plan& a, const Plan& b) {
  return a.part == b.part && a.spec.features == b.spec.features &&
         std::equal(a.features.begin(), a.features.end(), b.features.begin(), b.features.end(),
                    [](const Feature& x, const Feature& y) { return x.touches == y.touches; });
}

} // namespace

const Measurements& JudgedRun::measured() const {
  static const Measurements none;
  return points ? *points : none;
}

MeasuredParts::MeasuredParts(QObject* parent)
    : QObject(parent) {
  connect(&jobs_, &JobRunner::progressed, this, [this] { take(); });
}

const JudgedRun* MeasuredParts::current() const {
  return current_ >= 0 && current_ < static_cast<int>(runs_.size())
             ? &runs_[static_cast<std::size_t>(current_)]
             : nullptr;
}

const JudgedRun* MeasuredParts::find(const std::string& name) const {
  const auto place = places_.find(name);
  return place == places_.end() ? nullptr : &runs_[place->second];
}
JudgedRun* MeasuredParts::known(const std::string& name) {
  return const_cast<JudgedRun*>(find(name));
}

void MeasuredParts::setCurrent(int index) {
  if (index == current_) return;
  current_ = index;
  if (plan_ && current() && !judgedInDetail(*current())) start();
}

void MeasuredParts::lookAt(std::optional<RequirementId> requirement) {
  if (first_ == requirement) return;
  first_ = requirement;
  if (jobs_.busy() && first_ && toJudge(*first_) > 0) start();
}

PartHistory MeasuredParts::historyOf(RequirementId requirement) const {
  std::vector<double> figures;
  for (const JudgedRun& run : runs_)
    if (const auto v = run.verdicts.find(requirement); v != run.verdicts.end() && v->second.actual)
      figures.push_back(*v->second.actual);
  return alder::historyOf(plan_->spec.requirement(requirement), figures);
}

std::size_t MeasuredParts::toJudge(RequirementId requirement) const {
  return static_cast<std::size_t>(
      std::count_if(runs_.begin(), runs_.end(),
                    [&](const JudgedRun& r) { return !r.verdicts.contains(requirement); }));
}

void MeasuredParts::clear() {
  jobs_.cancel();
  basket_.reset();
  plan_.reset();
  runs_.clear();
  places_.clear();
  fresh_.clear();
  keys_.clear();
  then_.clear();
  complaints_.clear();
  show_.clear();
  again_ = false;
  current_ = -1;
  first_.reset();
}

void MeasuredParts::follow(const Plan& plan, const std::vector<StoredRun>& stored,
                           std::optional<RequirementId> first) {
  take();
  basket_.reset(); // what is still found is of the routine as it was
  const auto now = std::make_shared<const Plan>(plan);
  const bool alike = plan_ && readAlike(*plan_, *now);
  const auto stand = plan_ ? verdictsThatStand(*plan_, *now) : std::set<RequirementId>{};
  const auto stale = [&](const auto& entry) { return !stand.contains(entry.first); };
  std::vector<JudgedRun> runs;
  runs.reserve(stored.size());
  for (const StoredRun& s : stored) {
    JudgedRun run;
    if (JudgedRun* before = known(s.name)) {
      run = std::move(*before);
      std::erase_if(run.verdicts, stale);
      std::erase_if(run.details, stale);
      run.outdated = run.outdated || !alike;
      if (!alike && !run.unreadable.empty())
        run.verdicts.clear(), run.details.clear(); // it may be readable now
    } else {
      run.name = s.name;
      run.csv = std::make_shared<const std::string>(s.csv);
      if (!s.kept.all.empty()) run.kept = std::make_shared<const KeptVerdicts>(s.kept);
    }
    runs.push_back(std::move(run));
  }
  runs_ = std::move(runs);
  places_.clear();
  for (std::size_t i = 0; i < runs_.size(); ++i)
    places_[runs_[i].name] = i;
  if (stand.size() != now->spec.requirements.size() || !alike) keys_.clear();
  plan_ = now;
  first_ = first;
  if (const auto shown = places_.find(std::exchange(show_, {})); shown != places_.end())
    current_ = static_cast<int>(shown->second);
  if (!current()) current_ = static_cast<int>(runs_.size()) - 1;
  start();
}

void MeasuredParts::isNew(const std::string& name) {
  fresh_.insert(name);
  show_ = name;
}

void MeasuredParts::pointsChanged(const std::string& name) {
  take();
  basket_.reset();
  jobs_.cancel();
  if (const auto place = places_.find(name); place != places_.end()) {
    runs_[place->second].name.clear(); // no longer known
    places_.erase(place);
  }
}

std::vector<RequirementId> MeasuredParts::missing(const JudgedRun& run, bool detailed) const {
  std::vector<RequirementId> ids;
  for (const Requirement& r : plan_->spec.requirements)
    if (detailed ? !run.details.contains(r.id) : !run.verdicts.contains(r.id)) ids.push_back(r.id);
  if (first_)
    std::stable_partition(ids.begin(), ids.end(), [&](RequirementId id) { return id == *first_; });
  return ids;
}

bool MeasuredParts::judgedInDetail(const JudgedRun& run) const {
  return run.points && !run.outdated && missing(run, true).empty();
}

JudgingTask MeasuredParts::taskOf(const JudgedRun& run, bool detailed) const {
  return {run.name,       run.csv,  run.outdated ? nullptr : run.points,
          run.points_key, run.kept, missing(run, detailed),
          detailed};
}

std::vector<JudgingTask> MeasuredParts::tasks() const {
  std::vector<JudgingTask> tasks;
  for (const JudgedRun& run : runs_) {
    JudgingTask t = taskOf(run, detailed(run));
    if (!t.wanted.empty() || t.points_key.empty() || (t.detailed && !t.points))
      tasks.push_back(std::move(t));
  }
  return tasks;
}

// A thread that is under way ends after the requirement it is at; what it finds then is not taken.
void MeasuredParts::start() {
  take();
  auto todo = std::make_shared<std::vector<JudgingTask>>(tasks());
  if (todo->empty()) {
    jobs_.cancel();
    return done();
  }
  basket_ = std::make_shared<Basket>();
  const auto work = [this, todo, plan = plan_, first = first_, keys = keys_,
                     basket = basket_](const Progress& progress) -> JobRunner::Apply {
    const auto known = judgeParts(
        *plan, std::move(*todo), first, keys,
        [&](JudgingResult found) {
          const std::lock_guard lock(basket->mutex);
          basket->found.push_back(std::move(found));
        },
        progress);
    const std::lock_guard lock(basket->mutex);
    basket->keys = known;
    return [this] {
      take();
      if (std::exchange(again_, false)) return start();
      emit judged();
      done();
    };
  };
  jobs_.start("Judging the parts", work);
}

void MeasuredParts::done() {
  sayUnreadable();
  for (auto& then : std::exchange(then_, {}))
    then();
}

void MeasuredParts::take() {
  if (!basket_) return;
  std::vector<JudgingResult> found;
  {
    const std::lock_guard lock(basket_->mutex);
    found.swap(basket_->found);
    if (!basket_->keys.empty()) keys_ = basket_->keys;
  }
  bool seen = false;
  for (const JudgingResult& f : found)
    seen |= take(f);
  // Views are drawn anew by this; the last word is said by the end of the job.
  constexpr int kOften = 400; // ms
  if (!seen || (since_told_.isValid() && since_told_.elapsed() < kOften)) return;
  since_told_.start();
  emit judged();
}

// Whether it is of something that is looked at.
bool MeasuredParts::take(const JudgingResult& found) {
  JudgedRun* run = known(found.name);
  if (!run) return false;
  if (!found.points_key.empty()) run->points_key = found.points_key;
  if (found.points) {
    if (run->unreadable != found.unreadable) {
      again_ |= !run->verdicts.empty() || !run->details.empty();
      run->verdicts.clear();
      run->details.clear();
      run->unreadable = found.unreadable;
      if (!found.unreadable.empty()) complaints_.push_back(found.unreadable);
    }
    run->points = found.points;
    run->outdated = false;
  }
  for (const auto& [id, verdict] : found.verdicts)
    run->verdicts[id] = verdict;
  for (const Evaluation& e : found.details)
    run->details[e.requirement] = e;
  return run == current() || (first_ && found.verdicts.contains(*first_));
}

// One sentence, however many they are.
void MeasuredParts::sayUnreadable() {
  const auto complaints = std::exchange(complaints_, {});
  if (complaints.empty()) return;
  const QString one = QString::fromStdString(complaints.front());
  if (complaints.size() == 1)
    emit unreadable(one + " It stays in the file.");
  else
    emit unreadable(QString("%1 parts cannot be read and stay in the file, such as: %2")
                        .arg(complaints.size())
                        .arg(one));
}

void MeasuredParts::finish(const std::string& name) {
  take();
  const JudgedRun* run = find(name);
  if (!run || judgedInDetail(*run)) return;
  again_ = false;
  do // once more where it turned out that it can be read, or cannot be any longer
    keys_ = judgeParts(*plan_, {taskOf(*run, true)}, {}, keys_,
                       [this](const JudgingResult& f) { take(f); }, {});
  while (std::exchange(again_, false));
  if (jobs_.busy()) start(); // the rest; this part is done
}

std::vector<Evaluation> MeasuredParts::evaluationsOf(const JudgedRun& run) const {
  std::vector<Evaluation> all;
  if (plan_)
    for (const Requirement& r : plan_->spec.requirements)
      if (const auto e = run.details.find(r.id); e != run.details.end()) all.push_back(e->second);
  return all;
}

void MeasuredParts::whenJudged(std::function<void()> then) {
  if (!jobs_.busy()) return then();
  then_.push_back(std::move(then));
}

KeptVerdicts MeasuredParts::keptOf(const std::string& name) const {
  const JudgedRun* run = find(name);
  if (!run || run->points_key.empty()) return {};
  KeptVerdicts kept{run->points_key, {}};
  for (const auto& [id, verdict] : run->verdicts)
    if (const auto key = keys_.find(id); key != keys_.end())
      kept.all.push_back({id, key->second, verdict});
  return kept;
}

} // namespace alder::app
