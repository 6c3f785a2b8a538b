// A run of a routine as it goes: what comes next, and what has come so far. It follows from the
// plan and from the events alone, in order, so that a journal of them brings back the same state.
// Machine frame, mm, radians.
#pragma once

#include "judge/verdict.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/repeats/repeat.h"
#include "route/router.h"
#include "run/controller.h"
#include "run/run.h"
#include <functional>
#include <memory>
#include <set>
#include <variant>

namespace alder {

enum class RunKind { Automatic, ByHand }; // by hand: every touch is the operator's
std::string_view name(RunKind kind);      // "automatic", "by hand"

struct Touched {
  RawTouch touch;
  bool by_hand = false;
  friend bool operator==(const Touched&, const Touched&) = default;
};
// A touch that is given up, or all that are left of a feature (touch -1).
struct Skipped {
  FeatureId feature;
  int touch = -1;
  friend bool operator==(const Skipped&, const Skipped&) = default;
};
struct Answered {
  StepId step;
  std::string what, value;
  QuestionRole role = QuestionRole::Other;
  friend bool operator==(const Answered&, const Answered&) = default;
};
// The last answer to a question of this role; empty: there was none.
std::string answerFor(QuestionRole role, const std::vector<Answered>& answers);
struct Waited {
  StepId step;
  friend bool operator==(const Waited&, const Waited&) = default;
};
// The reference sphere was met: centre of the ball as the machine believed it.
struct SphereTouched {
  StepId step;
  Access access;
  int touch = 0;
  Vec3 ball = Vec3::Zero();
  std::int64_t seconds = 0; // since 1970
  friend bool operator==(const SphereTouched&, const SphereTouched&) = default;
};
// A tip whose touches of the sphere are given up: what was known of it before goes on to count.
struct TipGivenUp {
  StepId step;
  Access access;
  friend bool operator==(const TipGivenUp&, const TipGivenUp&) = default;
};
// Whether the verdict was such that a branch is taken.
struct Branched {
  StepId step;
  bool taken = false;
  friend bool operator==(const Branched&, const Branched&) = default;
};
// The way goes on from here: the machine was moved, a feature was left out, or the part lies
// elsewhere than planned.
struct Rerouted {
  Vec3 ball = Vec3::Zero();
  Access access;
  friend bool operator==(const Rerouted&, const Rerouted&) = default;
};
// A frame was found, or given up because it cannot be.
struct Framed {
  std::string frame; // empty: the part frame
  bool given_up = false;
  friend bool operator==(const Framed&, const Framed&) = default;
};
using RunEvent = std::variant<Touched, Skipped, Answered, Waited, Rerouted, SphereTouched, Branched,
                              Framed, TipGivenUp>;

struct RunTask {
  // Deed: something that is worked out, told or written, while the machine stands; Waited says that
  // it is done, of a branch Branched, of a frame Framed.
  enum class Kind { TakeStylus, Turn, Move, Touch, TouchByHand, TouchSphere, Wait, Ask, Deed };
  Kind kind = Kind::Move;
  int step = 0, position = 0; // in the way
  Access access;
  Vec3 ball = Vec3::Zero(); // where it goes
  TouchCommand touch;
  FeatureId feature; // touched, or gone to
  int touch_index = -1;
  StepId does;      // of a wait or a question, see stepsDone
  std::string text; // what the step says
};

struct BranchSeen {
  std::vector<Evaluation> evaluations;
  bool taken = false;
  std::string warning; // to be told where it is taken; empty: it leaves something out
};

class RunSession {
 public:
  RunSession(std::shared_ptr<const Plan> plan, std::shared_ptr<const Way> way,
             RunKind kind = RunKind::Automatic);

  // Error when the event does not belong to this routine, a frame cannot be found from what was
  // touched, or `keep` fails, which is asked when all else is well; the session then stays as it
  // was.
  using Keep = std::function<Done(const RunEvent&)>;
  Done take(const RunEvent& event, const Keep& keep = {});
  // Something moved as the task said; nothing that a journal keeps.
  void moved(const RunTask& task);
  // The frame that is to be found next; nothing: the next task is none.
  std::optional<std::string> frameNext() const;
  // What comes next; nothing at the end.
  std::optional<RunTask> next() const;
  // Questions that come before anything is touched and are not answered yet: asked at once.
  std::vector<RunTask> questions() const;

  // The part was found elsewhere than planned by more than a little, or features of a frame are to
  // be measured again: the way is to be made anew from where the machine stands (Rerouted) before
  // it goes on. Until then nothing comes next.
  bool needsNewWay() const { return elsewhere_ || again_; }
  // Then the ball still is where the operator touched the part last.
  bool atHandTouch() const { return at_hand_touch_; }
  // The part frame is still being found by hand: the operator moves the machine.
  bool inHands() const;
  // Off the surface that was touched last, by hand, to where the machine can go by itself.
  Vec3 backOff() const;

  // Places of the way as they are now that the frame is known.
  Vec3 placeOf(std::size_t position) const;
  // Where on the way the machine stands: the move on which `ball` lies to within `near`, among
  // those since the last event up to the next touch. Nothing: it was taken elsewhere.
  std::optional<std::size_t> moveAt(const Vec3& ball, double near) const;
  void goOnAt(std::size_t position); // that the next task goes to, but for deeds before

  const Plan& plan() const { return *plan_; } // as found: placed where the part lies
  const Way& way() const { return *way_; }
  const StepBody* bodyOf(StepId does) const; // nothing: no such step is done
  // What a branch finds now; nothing where the step is none.
  std::optional<BranchSeen> branchAt(StepId does) const;
  RunKind kind() const { return kind_; }
  const Frame& frame() const { return frame_; }
  const std::vector<RawTouch>& touches() const { return raw_; } // under the part frame
  const std::vector<RawTouch>& byHand() const { return hand_; } // of the rough alignment
  const std::vector<UsedFrame>& framesUsed() const { return frames_used_; }
  const std::vector<Answered>& answers() const { return answers_; }
  const std::vector<Skipped>& skipped() const { return skipped_; }
  int touchesDone() const { return static_cast<int>(raw_.size() + hand_.size()); }
  int touchesLeft() const;
  // How far the surface lies off nominal there, outward, in the frame known now.
  double deviation(const RawTouch& touch) const;
  // What was measured so far.
  Run run() const;
  // These requirements on what was measured so far; none: all whose features were.
  std::vector<Evaluation> evaluate(const std::vector<RequirementId>& requirements) const;
  // A constructed feature from what was measured so far; error says what is missing.
  Result<Shaped> constructed(FeatureId feature) const;
  // Why the routine ended before its last step, by a branch; empty: it did not.
  const std::string& endedBy() const { return ended_by_; }
  // A touch as it counts: corrected by what is known of the tip at these angles.
  RawTouch corrected(FeatureId feature, int touch, const Vec3& ball, const Access& access) const;

 private:
  bool isPlain(const RunEvent& event) const;
  Done check(const RunEvent& event) const;
  Done apply(const RunEvent& event);
  void touched(const Touched& touched);
  void skipped(const Skipped& skipped);
  bool isOpen(std::size_t position) const; // a touch that is still to come
  Done settle();
  Done useFrame(const std::string& what, bool rough);
  Done framed(const Framed& framed);
  bool isDeed(const Step& step) const;
  Done useNamedFrame(const PartFrame& frame, StepId does);
  void useKeptFrame(const KeptFrame& frame, StepId does);
  void measureAgain(const PartFrame& frame);
  void findHandTouches();
  Done reroute(const Rerouted& from);
  Done touchedSphere(const SphereTouched& touched);
  Done tipGivenUp(const TipGivenUp& given_up);
  std::vector<std::size_t> sphereContacts(StepId step) const; // still to come, in the way
  Done branched(const Branched& branched);
  std::optional<RunTask> taskAt(std::size_t position) const;
  std::optional<RunTask> sphereTask(RunTask task, std::size_t position) const;
  bool leftOut(StepId does) const { return left_out_.count(does) > 0; }
  bool gone(FeatureId feature, int touch) const { return done_.count({feature, touch}) > 0; }
  std::optional<std::size_t> contactOf(FeatureId feature, int touch) const;

  std::shared_ptr<const Plan> plan_;
  std::shared_ptr<const Way> way_;
  std::shared_ptr<const StepsDone> steps_;
  RunKind kind_;
  Frame frame_; // CAD frame in the machine frame, as known so far
  std::vector<RawTouch> hand_, raw_;
  std::set<std::pair<FeatureId, int>> done_; // touched under program, or given up
  std::set<std::pair<FeatureId, int>> hand_done_;
  std::set<StepId> steps_done_; // all but those that move and touch the part
  std::set<StepId> left_out_;   // by a branch
  // Of the tip that is being qualified.
  std::map<int, Vec3> sphere_touches_;
  std::set<int> sphere_given_up_; // touches of tips, in the way as it is now
  std::set<StepId> sphere_found_; // steps for which a moved sphere was found
  std::vector<Answered> answers_;
  std::vector<Skipped> skipped_;
  std::vector<UsedFrame> frames_used_;
  std::size_t step_ = 0, position_ = 0, since_ = 0; // the last: position of the last event
  std::optional<std::size_t> last_by_hand_;   // the last touch for the rough frame, in the way
  bool rough_used_ = false, aligned_ = false; // the part frame: by hand, by program
  bool elsewhere_ = false, again_ = false, at_hand_touch_ = false; // see needsNewWay()
  std::map<StepId, int> rounds_; // how often the frames of steps were found
  bool deed_ = false;            // the step is to be done, at the place where the machine stands
  std::string ended_by_;
  // Touches still to come, as counted last.
  struct Left {
    std::shared_ptr<const Way> way;
    std::size_t skipped = 0; // so many were given up then
    std::size_t from = 0;    // position from which on it was counted
    int count = 0;
    std::vector<bool> open; // positions that were counted
  };
  mutable Left left_;
};

} // namespace alder
