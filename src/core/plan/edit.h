// Undoable edits as data. Applying an edit changes the plan and returns the edit that takes it
// back; edits that change nothing are refused, so that undo never does nothing.
#pragma once

#include "plan/plan.h"
#include <memory>
#include <optional>
#include <type_traits>

namespace alder {

// Touches are planned anew unless given.
struct SetRecipe {
  FeatureId feature;
  Recipe recipe;
  std::optional<std::vector<Touch>> touches;
  std::optional<std::string> why_not;
};
struct SetAccess {
  FeatureId feature;
  Access access;
  bool forced = true;
};
struct SetHop {
  FeatureId feature;
  HopMode entry;
  std::optional<Points> waypoints; // else they stay
};
// By which side of the shell it is entered and left.
struct SetThrough {
  FeatureId feature;
  std::optional<ShellSide> side;
};
// A feature that was not in the routine so far. Its id is one that the table has not given yet
// (`spec.features.next()`), or its own from before it was taken away.
struct AddFeature {
  NominalFeature nominal;
  Feature feature;
  std::optional<std::size_t> place = {}; // in the order; else behind the last of its kind
};
// Error when a step, a requirement, a datum, the part frame or a constructed feature stands on it.
struct RemoveFeature {
  FeatureId feature;
};
// Stays right behind the feature before it when the order is made anew.
struct SetPinned {
  FeatureId feature;
  bool pinned;
};
// Steps in place of others: so many from an index on. What a person does to steps is in
// plan/steps/step_edit.h.
struct SpliceSteps {
  std::size_t at = 0, remove = 0;
  Steps insert;
};
struct SetRequirement {
  Requirement requirement;
};
// Features constructed, requirements and datums added or removed, how all is judged. The touched
// features stay as they are.
struct SetSpecification {
  Specification spec;
};
struct SetPlacement {
  Frame placement;
};
struct SetShell {
  Shell shell;
};
// All set-ups with their content, and the one that is worked on.
struct SetSetups {
  std::vector<Setup> setups;
  SetupId setup;
};
struct SetQualification {
  Qualification qualified;
};
// Another bench, or this one changed. Features keep their tips by name; those whose tip is gone are
// left without one. What is known of tips stays for those that are the same as before.
struct SetBench {
  Bench bench;
  Supports supports = {}; // see Plan; they stand under the part as it is placed
  struct Following {
    std::vector<std::pair<Access, bool>> accesses; // by feature, and whether forced
    Qualification qualified;
  };
  std::optional<Following> following = {}; // else worked out
};
struct SetBook {
  RecipeBook book;
};
struct SetPairs {
  std::vector<PairRule> pairs;
};
struct SetFrames {
  std::vector<PartFrame> frames;
};
struct SetPictures {
  std::vector<StepPicture> pictures;
};
struct SetDrawings {
  std::vector<DrawingFile> drawings;
};
struct SetHeader {
  PartHeader header;
};
struct SetLayouts {
  std::vector<KeptLayout> layouts;
};
struct SetViews {
  std::vector<KeptView> views;
};
struct SetApprovals {
  std::vector<Approval> approvals;
};
struct SetArticle {
  FirstArticle article;
};
// All that is measured in place of what was: where a routine begins from a specification, or goes
// over to another model of its part.
struct SetRoutine {
  Specification spec;
  Table<Feature> features;
  Steps steps;
  std::vector<FeatureId> alignment;
  PartPtr part = {}; // null: it stays
};
// What of the model was not taken over, with what a person has seen of it.
struct SetNotes {
  std::vector<Note> notes;
};
struct SetName {
  std::string name;
};
template <class... Kinds> struct KindsOfEdit {
  static constexpr std::size_t count = sizeof...(Kinds);
  template <class Kind> static constexpr bool have = (std::is_same_v<Kind, Kinds> || ...);
  template <template <class...> class List> using In = List<Kinds...>;
};
using EditKinds =
    KindsOfEdit<SetRecipe, SetAccess, SetHop, SetThrough, AddFeature, RemoveFeature, SetPinned,
                SpliceSteps, SetRequirement, SetSpecification, SetPlacement, SetShell, SetSetups,
                SetQualification, SetBench, SetBook, SetPairs, SetFrames, SetPictures, SetDrawings,
                SetHeader, SetLayouts, SetViews, SetArticle, SetApprovals, SetRoutine, SetNotes,
                SetName>;
template <class Kind>
concept EditKind = EditKinds::have<Kind>;

// Any of them; copies share what they hold. What it is made of is compiled once, in edit.cpp, and
// not wherever edits are handed on.
class Edit {
 public:
  template <EditKind Kind> Edit(Kind kind); // NOLINT(google-explicit-constructor): each is an edit
  template <EditKind Kind> const Kind* as() const; // null: it is another one
  std::size_t kind() const;                        // place in EditKinds

 private:
  friend Result<Edit> applyEdit(Plan& plan, const Edit& edit);
  struct Any;
  std::shared_ptr<const Any> any_;
};

// One step of undo: a short text for the menu and the edits in order.
struct EditGroup {
  std::string text;
  std::vector<Edit> edits;
};

// Error when the edit is not valid here or would change nothing; the plan is then unchanged.
Result<Edit> applyEdit(Plan& plan, const Edit& edit);
// All or none. Edits that change nothing are dropped; error when none is left.
Result<EditGroup> applyEdits(Plan& plan, const EditGroup& group);

// What steps speak of is there, the features of the part frame come first, and none is measured
// twice.
Done validSteps(const Plan& plan);

// Undo and redo over a plan owned by the caller.
class EditHistory {
 public:
  Done apply(Plan& plan, const EditGroup& group);
  bool undo(Plan& plan);
  bool redo(Plan& plan);
  std::string undoText() const { return done_.empty() ? "" : done_.back().text; }
  std::string redoText() const { return undone_.empty() ? "" : undone_.back().text; }
  bool unsaved() const { return position() != saved_; }
  void markSaved() { saved_ = position(); }
  void clear() { *this = EditHistory{}; }

 private:
  long position() const { return base_ + static_cast<long>(done_.size()); }
  std::vector<EditGroup> done_, undone_; // inverse edits of what was done, forward ones of undone
  long base_ = 0, saved_ = 0;
};

} // namespace alder
