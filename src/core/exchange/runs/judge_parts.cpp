#include "exchange/runs/judge_parts.h"

#include "exchange/points/points_file.h"
#include "judge/judge.h"
#include <algorithm>

namespace alder {
namespace {

class Judging {
 public:
  Judging(const Plan& plan, std::vector<JudgingTask> tasks, const DeliverJudging& deliver,
          const Progress& progress)
      : plan_(plan)
      , tasks_(std::move(tasks))
      , deliver_(deliver)
      , progress_(progress) {
    for (const JudgingTask& t : tasks_)
      all_ += t.wanted.size();
  }

  void run(std::optional<RequirementId> first, const KeysByRequirement& keys) {
    for (JudgingTask& t : tasks_) {
      if (progress_.cancelled()) return;
      takeKept(t, keys);
    }
    progress_.step(0, "Judging the parts");
    for (JudgingTask& t : tasks_)
      if (t.detailed) judgeAllOf(t);
    if (first)
      for (JudgingTask& t : tasks_)
        if (std::erase(t.wanted, *first) > 0) judgeOne(t, *first);
    for (JudgingTask& t : tasks_)
      judgeAllOf(t);
  }

 private:
  void takeKept(JudgingTask& t, const KeysByRequirement& keys) {
    JudgingResult found;
    found.name = t.name;
    if (t.points_key.empty()) t.points_key = pointsKey(*t.csv);
    found.points_key = t.points_key;
    if (t.kept && !t.detailed && t.kept->points == t.points_key)
      for (const KeptVerdict& k : t.kept->all) {
        const auto key = keys.find(k.requirement);
        if (key == keys.end() || key->second != k.basis) continue;
        if (std::erase(t.wanted, k.requirement) > 0)
          found.verdicts[k.requirement] = k.verdict, ++done_;
      }
    deliver_(std::move(found));
  }

  void judgeAllOf(JudgingTask& t) {
    if (t.detailed && !t.points && !progress_.cancelled()) {
      JudgingResult found;
      found.name = t.name;
      read(t, found);
      deliver_(std::move(found));
    }
    while (!t.wanted.empty() && !progress_.cancelled()) {
      const RequirementId id = t.wanted.front();
      t.wanted.erase(t.wanted.begin());
      judgeOne(t, id);
    }
  }

  void judgeOne(JudgingTask& t, RequirementId id) {
    if (progress_.cancelled()) return;
    JudgingResult found;
    found.name = t.name;
    if (!t.points) read(t, found);
    Evaluation e = judge(plan_, plan_.spec.requirement(id), *t.points);
    found.verdicts[id] = brief(e);
    if (t.detailed) found.details.push_back(std::move(e));
    deliver_(std::move(found));
    progress_.step(static_cast<double>(++done_) / static_cast<double>(all_), "Judging the parts");
  }

  void read(JudgingTask& t, JudgingResult& found) const {
    auto read = measurementsIn(*t.csv, t.name, plan_);
    if (!read) found.unreadable = read.error().message;
    t.points = std::make_shared<const Measurements>(read ? std::move(*read) : Measurements{});
    found.points = t.points;
  }

  const Plan& plan_;
  std::vector<JudgingTask> tasks_;
  const DeliverJudging& deliver_;
  const Progress& progress_;
  std::size_t done_ = 0, all_ = 0;
};

} // namespace

KeysByRequirement judgeParts(const Plan& plan, std::vector<JudgingTask> tasks,
                             std::optional<RequirementId> first, KeysByRequirement known,
                             const DeliverJudging& deliver, const Progress& progress) {
  if (known.empty()) {
    const VerdictKeys keys(plan);
    for (const Requirement& r : plan.spec.requirements)
      known[r.id] = keys.of(r);
  }
  Judging(plan, std::move(tasks), deliver, progress).run(first, known);
  return known;
}

} // namespace alder
