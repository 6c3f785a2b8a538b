// The routine as a document: everything that a person decided, or that was drafted for them. What
// follows from it (path, times, clashes) is computed by route and rehearse and is not stored.
#pragma once

#include "bench/bench.h"
#include "plan/access.h"
#include "plan/approval.h"
#include "plan/article/first_article.h"
#include "plan/frames/part_frame.h"
#include "plan/kept_layout.h"
#include "plan/kept_view.h"
#include "plan/part_header.h"
#include "plan/qualification.h"
#include "plan/setups/setup.h"
#include "plan/steps/step_picture.h"
#include "plan/steps/steps.h"
#include "plan/touches/recipe_book.h"
#include "plan/touches/touch_planner.h"
#include "sheet/drawing_file.h"

namespace alder {

// The way to a feature: as the router proposes (close where that is proved free and shorter, else
// over the shell); over the safe shell; straight from the feature before; by own waypoints.
enum class HopMode { Proposed, Over, Close, Led };
std::string_view name(HopMode mode); // "proposed", "over", "close", "led"

// Sides of the safe shell by the machine's axes, or by those of a shell that is turned.
enum class ShellSide { Left, Front, Right, Back, Top };
std::string_view name(ShellSide side); // "left", "front", "right", "back", "top"
std::optional<ShellSide> shellSideNamed(std::string_view name);

struct Feature {
  FeatureId id;
  Recipe recipe;
  std::vector<Touch> touches;
  Access access;
  bool access_forced = false;
  HopMode entry = HopMode::Proposed;
  bool pinned = false; // stays behind the feature before it when the order is made anew
  Points waypoints;    // of a led hop: places of the ball, CAD frame
  // By which side of the shell it is entered and left; none: the one nearest along the stylus.
  std::optional<ShellSide> through;
  std::string why_not; // why it has no touches, or fewer than the recipe asks for
  SetupId setup{0};    // in which it is touched
  bool covered() const { return !touches.empty() && access.valid(); }
};

// Two bodies that are checked against each other otherwise than all others. An empty name stands
// for all.
struct PairRule {
  std::string moving, still;
  bool off = false;  // not checked at all, for a reason
  double margin = 0; // else they must keep apart by this, mm
  std::string reason;
  friend bool operator==(const PairRule&, const PairRule&) = default;
};

struct Plan {
  std::string name;
  PartPtr part;
  Bench bench;
  Frame placement = Frame::Identity(); // CAD frame of the part in the machine frame
  Supports supports; // what the part stands on where the bench names no place for it
  Specification spec;
  Table<Feature> features;          // those of the specification, in its order
  Steps steps;                      // alignment features are measured first
  std::vector<FeatureId> alignment; // features of the part frame, primary first; lead the order
  // In the order in which they are run; none: the routine is one. What is said above of placement,
  // fixture, steps, alignment, and below of the shell, is of `setup`.
  std::vector<Setup> setups;
  SetupId setup{0};
  std::vector<PartFrame> frames;     // by name, beside that one
  std::vector<StepPicture> pictures; // by name, for the steps that show them
  std::vector<DrawingFile> drawings; // by name
  PartHeader header;
  std::vector<KeptLayout> layouts; // of reports, by name
  std::vector<KeptView> views;     // by name
  FirstArticle article;
  std::vector<Approval> approvals; // of reports, by part
  Shell shell;
  RecipeBook book;
  std::vector<PairRule> pairs;
  Qualification qualified;
  std::vector<Note> notes;

  Feature& feature(FeatureId id) { return features.at(id); }
  const Feature& feature(FeatureId id) const { return features.at(id); }
  const PartFrame* frame(const std::string& name) const;
  const StepPicture* picture(const std::string& name) const;
  const NominalFeature& nominal(FeatureId id) const { return spec.feature(id); }
  const Tip& tip(const Access& access) const {
    return bench.styli[static_cast<std::size_t>(access.stylus)]
        .tips[static_cast<std::size_t>(access.tip)];
  }
};

// Axes of the safe shell in the machine frame, as columns; Z is up.
Mat3 shellAxes(const Plan& plan);

// Frame of a feature for places counted from it, CAD frame: at the middle of a face with Z out of
// it; else at an end of its axis with Z along it, to where its stylus comes from (without a stylus,
// away from the middle of the part).
Frame placesFrame(const Plan& plan, FeatureId feature);

// "ram and clamp 1: not checked (it is lowered)", "ball and plate: 5 mm apart".
std::string describe(const PairRule& rule);

// Tips and angles that the routine touches with, in the order in which they are used first.
std::vector<Access> accessesUsed(const Plan& plan);
// "short ø3 at A90 B30", of a star "star ø2 +X at A0 B0".
std::string nameOf(const Plan& plan, const Access& access);

// Touches that it is measured by: its own, and of portions that are judged with it; ascending.
std::vector<FeatureId> withPortions(const Specification& spec, FeatureId feature);
// Those that join a set-up to the ones before it.
std::vector<FeatureId> joiningIn(const Plan& plan, SetupId setup);
// Touched in the set-up that is worked on.
inline bool isOfSetup(const Plan& plan, const Feature& f) {
  return f.setup == plan.setup;
}

// Features of the part; they stand before the constructed ones.
std::size_t touchedCount(const Plan& plan);

// All features that must be touched for a requirement: its own, those of its datums, what the
// constructed ones among them stand on, and the portions of these; ascending, once each.
std::vector<FeatureId> featuresNeeded(const Specification& spec, const Requirement& requirement);

// Covered, or the reason why not in one sentence.
std::string whyNotCovered(const Plan& plan, const Requirement& requirement);
// What the model says of it and was not taken over.
std::vector<const Note*> notesOn(const Plan& plan, const Requirement& requirement);
bool hasUnseenNotes(const Plan& plan, const Requirement& requirement);
// The plan's notes when a person has seen those on this requirement, or takes that back.
std::vector<Note> notesSeen(const Plan& plan, const Requirement& requirement, bool seen);
inline bool isCovered(const Plan& plan, const Requirement& r) {
  return whyNotCovered(plan, r).empty();
}

} // namespace alder
