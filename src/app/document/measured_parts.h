// The measured parts of the open routine and how they are judged under it as it is now. Judging is
// a job: the part on screen comes first, of the others the requirement that is selected. What a
// change of the routine leaves as it was is not judged again.
#pragma once

#include "document/job.h"
#include "exchange/routine/project.h"
#include "exchange/runs/judge_parts.h"
#include "judge/part_history.h"
#include <QElapsedTimer>
#include <set>

namespace alder::app {

struct JudgedRun {
  std::string name;
  std::shared_ptr<const std::string> csv;      // as stored
  std::shared_ptr<const Measurements> points;  // null: not read yet
  std::string unreadable;                      // why nothing of it could be read
  std::string points_key;                      // empty: not known yet
  std::shared_ptr<const KeptVerdicts> kept;    // from the file; null: none
  BriefVerdicts verdicts;                      // those that are known by now
  std::map<RequirementId, Evaluation> details; // of parts that were on screen, or are new
  bool outdated = false; // `points` were read for another state of the routine

  const Measurements& measured() const; // empty: not read yet, or unreadable
};

class MeasuredParts : public QObject {
  Q_OBJECT

 public:
  explicit MeasuredParts(QObject* parent = nullptr);

  const std::vector<JudgedRun>& all() const { return runs_; }
  const JudgedRun* current() const;
  int currentIndex() const { return current_; }
  void setCurrent(int index); // judged in detail then
  PartHistory historyOf(RequirementId requirement) const;
  std::size_t toJudge(RequirementId requirement) const; // parts of which its verdict is not known
  bool busy() const { return jobs_.busy(); }
  JobRunner& jobs() { return jobs_; }

  void clear();
  // The routine as it is now, the parts it has and the requirement that is looked at. A part is
  // known by its name: its points are those of before, unless `pointsChanged` was told.
  void follow(const Plan& plan, const std::vector<StoredRun>& stored,
              std::optional<RequirementId> first);
  void lookAt(std::optional<RequirementId> requirement);
  void pointsChanged(const std::string& name);
  // A new part, which the next `follow` puts on screen. It is judged in detail wherever it stands.
  void isNew(const std::string& name);
  bool judgedInDetail(const JudgedRun& run) const;
  // Judges the part here and now, for what cannot wait.
  void finish(const std::string& name);
  // In the order of requirements, as far as they are judged in detail.
  std::vector<Evaluation> evaluationsOf(const JudgedRun& run) const;
  const JudgedRun* find(const std::string& name) const;
  // When nothing is left to judge, which may be at once. Dropped with the routine.
  void whenJudged(std::function<void()> then);
  KeptVerdicts keptOf(const std::string& name) const; // to be kept in the file

 signals:
  void judged();                            // something that is looked at, or the last of all
  void unreadable(const QString& sentence); // found just now

 private:
  struct Basket; // what the job found and this thread has not taken yet

  void start();
  void take();
  bool take(const JudgingResult& found);
  void done();
  JudgingTask taskOf(const JudgedRun& run, bool detailed) const;
  std::vector<JudgingTask> tasks() const;
  std::vector<RequirementId> missing(const JudgedRun& run, bool detailed) const;
  bool detailed(const JudgedRun& run) const {
    return &run == current() || fresh_.contains(run.name);
  }
  JudgedRun* known(const std::string& name);
  void sayUnreadable();

  std::shared_ptr<const Plan> plan_;
  std::vector<JudgedRun> runs_;
  std::map<std::string, std::size_t> places_; // of runs_, by name
  int current_ = -1;
  std::optional<RequirementId> first_;
  std::set<std::string> fresh_;
  std::string show_;                          // name of the part to be put on screen
  std::map<RequirementId, std::string> keys_; // for plan_; empty: not known yet
  std::vector<std::string> complaints_;
  QElapsedTimer since_told_;
  bool again_ = false; // something was found to be judged anew
  std::shared_ptr<Basket> basket_;
  std::vector<std::function<void()>> then_;
  JobRunner jobs_;
};

} // namespace alder::app
