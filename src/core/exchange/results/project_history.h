// What can be undone in a routine: edits of the plan, and results that were brought in, in the
// order in which they were done.
#pragma once

#include "exchange/results/bring_in.h"
#include "plan/edit.h"

namespace alder {

class ProjectHistory {
 public:
  Done apply(Project& project, const EditGroup& group);
  void apply(Project& project, const ResultsEdit& edit);
  // What was undone or done again, if anything was.
  enum class Step { None, Plan, Results };
  Step undo(Project& project);
  Step redo(Project& project);
  std::string undoText() const;
  std::string redoText() const;
  bool unsaved() const { return position() != saved_; }
  void markSaved() { saved_ = position(); }
  void clear() { *this = ProjectHistory{}; }

 private:
  // Nothing: the step is the last one of the plan's history.
  using Entry = std::optional<ResultsEdit>;
  long position() const { return static_cast<long>(done_.size()); }
  void add(Entry entry);

  EditHistory plan_;
  std::vector<Entry> done_, undone_;
  long saved_ = 0;
};

} // namespace alder
