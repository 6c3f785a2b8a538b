#include "exchange/results/project_history.h"

namespace alder {

void ProjectHistory::add(Entry entry) {
  if (saved_ > position()) saved_ = -1; // the saved state can no longer be reached by redo
  undone_.clear();
  done_.push_back(std::move(entry));
}

Done ProjectHistory::apply(Project& project, const EditGroup& group) {
  if (auto done = plan_.apply(project.plan, group); !done) return done;
  add({});
  return {};
}

void ProjectHistory::apply(Project& project, const ResultsEdit& edit) {
  add(alder::apply(project, edit));
}

ProjectHistory::Step ProjectHistory::undo(Project& project) {
  if (done_.empty()) return Step::None;
  Entry entry = std::move(done_.back());
  if (!entry && !plan_.undo(project.plan)) return Step::None;
  done_.pop_back();
  if (entry) entry = alder::apply(project, *entry);
  const Step step = entry ? Step::Results : Step::Plan;
  undone_.push_back(std::move(entry));
  return step;
}

ProjectHistory::Step ProjectHistory::redo(Project& project) {
  if (undone_.empty()) return Step::None;
  Entry entry = std::move(undone_.back());
  if (!entry && !plan_.redo(project.plan)) return Step::None;
  undone_.pop_back();
  if (entry) entry = alder::apply(project, *entry);
  const Step step = entry ? Step::Results : Step::Plan;
  done_.push_back(std::move(entry));
  return step;
}

std::string ProjectHistory::undoText() const {
  if (done_.empty()) return {};
  return done_.back() ? done_.back()->text : plan_.undoText();
}

std::string ProjectHistory::redoText() const {
  if (undone_.empty()) return {};
  return undone_.back() ? undone_.back()->text : plan_.redoText();
}

} // namespace alder
