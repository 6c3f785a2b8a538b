// The steps of a routine, in the order in which the machine and its operator do them: a tree,
// written as a list in which each step stands before those within it. Lengths mm, angles radians.
#pragma once

#include "base/boxed.h"
#include "base/error.h"
#include "base/id.h"
#include "geometry/vec.h"
#include "plan/pattern.h"
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace alder {

// Touches a feature, as its recipe and touches say. May hold waits that come in between.
struct MeasureStep {
  FeatureId feature;
  friend bool operator==(const MeasureStep&, const MeasureStep&) = default;
};

// What a place is counted from: the machine, the part, or a feature (its point and axis or normal,
// so that (0, 0, 100) is 100 mm above a hole).
enum class CountFrom { Machine, Part, Feature };
std::string_view name(CountFrom from); // "machine", "part", "feature"

// The ball goes to a place; over the shell as far as it lies inside.
struct MoveStep {
  CountFrom from = CountFrom::Part;
  FeatureId feature; // where counted from one
  Vec3 place = Vec3::Zero();
  friend bool operator==(const MoveStep&, const MoveStep&) = default;
};

struct TurnStep {
  double a = 0, b = 0;
  friend bool operator==(const TurnStep&, const TurnStep&) = default;
};

// At the rack where there are ports, else by hand.
struct SwapStep {
  std::string stylus, tip; // by name
  friend bool operator==(const SwapStep&, const SwapStep&) = default;
};

// The machine stands clear and waits for its operator, who may open or close a clamp meanwhile.
struct WaitStep {
  std::string text;
  Boxed<std::string> clamp;   // a body of the fixture; empty: none. Boxed: steps are many
  bool opens = true;          // else closes it
  double seconds = 20;        // that it takes, for the time of the routine
  Boxed<std::string> picture; // of the routine's, that is shown; empty: none
  friend bool operator==(const WaitStep&, const WaitStep&) = default;
};

// What the answer to a question is for, beside being kept with the run.
enum class QuestionRole { Other, SerialNumber, Operator };
std::string_view name(QuestionRole role); // "other", "serial number", "operator"
std::optional<QuestionRole> questionRoleNamed(std::string_view name);
// For questions of files that do not say it: those that speak of a serial number ask for it.
QuestionRole likelyRole(std::string_view what);

// The operator tells a value: a serial number, a name, a temperature.
struct AskStep {
  std::string what;    // "Serial number"
  bool number = false; // else any text
  std::string unit;
  QuestionRole role = QuestionRole::Other;
  friend bool operator==(const AskStep&, const AskStep&) = default;
};

struct NoteStep {
  std::string text;
  friend bool operator==(const NoteStep&, const NoteStep&) = default;
};

struct GroupStep {
  std::string name;
  friend bool operator==(const GroupStep&, const GroupStep&) = default;
};

// From here on the part lies where the frame of this name says: one of the routine, found from what
// was touched, or one that is kept with the fixture. After a rough beginning its features are
// measured again, and it is found again, until it moves the part by less than `until`.
struct UseFrameStep {
  std::string frame;
  double until = 0; // 0: found once
  int most = 5;     // times that it is found
  friend bool operator==(const UseFrameStep&, const UseFrameStep&) = default;
};

// What a copy of a repeat touches in place of its originals, ascending by these. What has no like
// on the part at that place is not measured there.
struct RepeatCopy {
  bool skipped = false;
  std::vector<std::pair<FeatureId, FeatureId>> features;
  FeatureId of(FeatureId original) const; // not valid: none
  friend bool operator==(const RepeatCopy&, const RepeatCopy&) = default;
};

// All within it is done, and then again in each other place of the pattern. See plan/repeat.h.
struct RepeatStep {
  std::string name;
  Boxed<Pattern> pattern;         // steps are many, repeats few
  bool requirements = true;       // on the originals alone are laid on the copies too
  std::vector<RepeatCopy> copies; // by motionsOf(pattern)
  friend bool operator==(const RepeatStep&, const RepeatStep&) = default;
};

// A constructed feature is worked out from what was measured so far; told where it cannot be.
struct ConstructStep {
  FeatureId feature;
  friend bool operator==(const ConstructStep&, const ConstructStep&) = default;
};

// Tips touch the reference sphere; from here on what is found of them counts.
struct QualifyStep {
  bool all = false;          // that the routine uses; else those that are not qualified now
  bool sphere_moved = false; // then all are, and the first of them finds the sphere again
  bool reported = true;
  friend bool operator==(const QualifyStep&, const QualifyStep&) = default;
};

// Requirements are judged on what was measured so far, and told; none: all whose features were
// measured.
struct EvaluateStep {
  std::vector<RequirementId> requirements;
  friend bool operator==(const EvaluateStep&, const EvaluateStep&) = default;
};

// Depending on the verdict on a requirement as it is here the operator is warned, the rest of the
// group in which this stands is left out, or the routine ends.
enum class BranchWhen { Outside, NearOrOutside, Within };
std::string_view name(BranchWhen when); // "outside", "near or outside", "within"
enum class BranchDoes { Warn, LeaveGroup, Stop };
std::string_view name(BranchDoes does); // "warn", "leave the group", "stop"
struct BranchStep {
  RequirementId requirement;
  BranchWhen when = BranchWhen::Outside;
  BranchDoes does = BranchDoes::Warn;
  friend bool operator==(const BranchStep&, const BranchStep&) = default;
};

// What was measured so far is written to a file. Of the name what stands in braces is filled in:
// {routine}, {time}, and {...} of each question what was answered.
enum class OutputKind { TouchedPoints, Verdicts, Report };
std::string_view name(OutputKind kind); // "points", "verdicts", "report"
struct OutputStep {
  OutputKind kind = OutputKind::TouchedPoints;
  std::string file = "{routine} {time}.csv";
  friend bool operator==(const OutputStep&, const OutputStep&) = default;
};

using StepBody = std::variant<MeasureStep, MoveStep, TurnStep, SwapStep, WaitStep, AskStep,
                              NoteStep, GroupStep, UseFrameStep, RepeatStep, ConstructStep,
                              QualifyStep, EvaluateStep, BranchStep, OutputStep>;

struct RoutineStep {
  StepId id; // unique in the routine
  int depth = 0;
  bool enabled = true; // else left out, with all within it
  int before = 0;      // within a measure step: comes before this touch, from 0
  StepBody body;
  friend bool operator==(const RoutineStep&, const RoutineStep&) = default;
};

using Steps = std::vector<RoutineStep>;

// Index, or the size of the list.
std::size_t indexOf(const Steps& steps, StepId id);
// Index behind the last step within this one.
std::size_t endOf(const Steps& steps, std::size_t index);
// Whether a step of this kind may stand within the other.
bool mayHold(const StepBody& outer, const StepBody& inner);

// Index of the next step that is done, from `index` on; what is left out is passed over.
std::size_t nextActive(const Steps& steps, std::size_t index);

// Features in the order in which they are measured, copies behind what they are copies of; those
// left out on request, but never copies that are skipped.
std::vector<FeatureId> measuringOrder(const Steps& steps, bool left_out_too = true);
// A measure step for each, ids from 0.
Steps measureSteps(const std::vector<FeatureId>& features);
StepId freeId(const Steps& steps);

// Each depth fits the one before, ids are there once, what holds steps may hold them.
Done validate(const Steps& steps);

} // namespace alder
