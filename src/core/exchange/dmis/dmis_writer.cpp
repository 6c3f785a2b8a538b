#include "exchange/dmis/dmis_writer.h"

#include "base/units.h"
#include "exchange/dmis/dmis_definitions.h"
#include "exchange/dmis/dmis_reader.h"
#include "exchange/dmis/dmis_text.h"
#include "exchange/routine/frame_json.h"
#include "exchange/routine/step_json.h"
#include "plan/repeats/repeat.h"
#include "plan/steps/step_edit.h"
#include "route/feature_router.h"
#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

using namespace dmis;

class Writer {
 public:
  Writer(const Plan& plan, const Way& way)
      : plan_(plan)
      , way_(way)
      , steps_(stepsDone(plan))
      , back_(plan.placement.inverse()) {
    for (const Position& p : way.positions)
      if (p.access.valid() &&
          std::find(accesses_.begin(), accesses_.end(), p.access) == accesses_.end())
        accesses_.push_back(p.access);
  }

  std::string write() {
    opening();
    systems();
    sensors();
    definitions();
    qualification();
    steps();
    datums();
    results();
    out_.add("ENDFIL");
    return out_.text();
  }

 private:
  void opening() {
    out_.add("DMISMN/" + quoted(plan_.name) + ",05.2");
    out_.add("FILNAM/" + quoted(plan_.name) + ",05.2");
    out_.note("Part " + plan_.part->name + " on " + plan_.bench.name + ".");
    for (const Note& n : way_.notes)
      out_.note("Not proved: " + n.text);
    out_.add("UNITS/MM,ANGDEC");
    out_.add("PRCOMP/ON");
    out_.add("TECOMP/OFF");
    out_.add("FLY/OFF");
    const Machine& m = plan_.bench.machine;
    out_.add("FEDRAT/POSVEL,MMPS," + figure(m.speed.minCoeff()));
    out_.add("FEDRAT/MESVEL,MMPS," + figure(m.touch_speed));
    out_.add("ACLRAT/POSACL,MMPSS," + figure(m.acceleration.minCoeff()));
    out_.add("DISPLY/TERM,DMIS,STOR,DMIS");
    out_.blank();
  }

  // What is found later is found from here, and what no feature finds stays as it is here.
  void systems() {
    out_.add("D(MACHINE)=DATSET/MCS");
    out_.note(kDmisPlanned);
    liesAt(plan_.placement, "PLANNED");
    out_.blank();
  }

  std::string sensorLabel(const Access& access) const {
    const auto at = std::find(accesses_.begin(), accesses_.end(), access) - accesses_.begin();
    return "S" + std::to_string(at + 1);
  }

  // One for each tip and pair of angles. The shank's direction is that from the mount to the tip.
  void sensors() {
    for (const Access& a : accesses_) {
      const Tip& tip = plan_.tip(a);
      out_.note(nameOf(plan_, a));
      // From the mount to the ball, also of a tip that stands aside: the angles are said too.
      const Vec3 offset = headTurn(a.a, a.b) * tip.pivot_to_ball;
      if (!tip.straight())
        out_.note("stands aside; along its own shank " + cosines(-shankDirection(tip, a.a, a.b)));
      out_.add(fmt::format("S({})=SNSDEF/PROBE,INDEX,POL,{},{},{},{},{}", sensorLabel(a),
                           figure(shownDegrees(a.a)), figure(shownDegrees(a.b)),
                           cosines(offset.normalized()), figure(offset.norm()),
                           figure(tip.ball_diameter)));
      if (tip.disc()) out_.note("A disc, " + figure(tip.disc_thickness) + " thick.");
    }
    out_.blank();
  }

  std::set<FeatureId> featuresSpokenOf() const {
    std::set<FeatureId> all;
    for (const Step& s : way_.steps)
      if (s.feature.valid() && !s.left_out) all.insert(s.feature);
    for (const Requirement& r : plan_.spec.requirements)
      all.insert(r.features.begin(), r.features.end());
    for (const Datum& d : plan_.spec.datums)
      all.insert(d.features.begin(), d.features.end());
    return all;
  }

  void definitions() {
    for (const FeatureId id : featuresSpokenOf()) {
      out_.note(plan_.nominal(id).name);
      out_.add(featureDefinition(plan_, id));
    }
    out_.blank();
    for (const Requirement& r : plan_.spec.requirements) {
      std::string why;
      out_.note(fmt::format("{}: {}", r.balloon, describe(plan_.spec, r)));
      if (const auto definition = toleranceDefinition(plan_, r, why))
        out_.add(*definition);
      else
        out_.note("not covered: " + why);
    }
    out_.blank();
  }

  void qualification() {
    if (!plan_.bench.has_sphere) return;
    const ReferenceSphere& sphere = plan_.bench.sphere;
    out_.note("Reference sphere, in the machine system. QUALIFY is to be called where tips");
    out_.note("are not known, before anything is measured: the routine itself does not.");
    out_.add("RECALL/D(MACHINE)");
    out_.add("F(REFSPHERE)=FEAT/SPHERE,OUTER,CART," + figures(sphere.centre) + "," +
             figure(sphere.diameter));
    out_.add("RECALL/D(PLANNED)");
    out_.add("M(QUALIFY)=MACRO");
    out_.indent(1);
    out_.add("RECALL/D(MACHINE)");
    out_.add("MODE/AUTO,PROG,MAN");
    for (const Access& a : accesses_) {
      const QualifiedTip* known = plan_.qualified.find(a);
      out_.add("SNSLCT/S(" + sensorLabel(a) + ")");
      out_.add("CALIB/SENS,S(" + sensorLabel(a) + "),F(REFSPHERE)," +
               std::to_string(known && known->touches > 0 ? known->touches : 9));
      out_.add("ENDMES");
    }
    out_.add("MODE/PROG,MAN");
    out_.add("RECALL/D(PLANNED)");
    out_.indent(-1);
    out_.add("ENDMAC");
    out_.blank();
  }

  std::string place(const Vec3& ball) const { return figures(back_ * ball); }

  // A place of the machine stays where it is, wherever the part is found.
  void goTo(const Position& p) {
    if (p.fixed) out_.add("RECALL/D(MACHINE)");
    out_.add("GOTO/" + (p.fixed ? figures(p.ball) : place(p.ball)));
    if (p.fixed) out_.add("RECALL/D(" + system_ + ")");
  }

  bool isRackWay(std::size_t step) const {
    const auto bare = [&](std::size_t s) {
      return s < way_.steps.size() && way_.steps[s].kind == StepKind::Swap &&
             way_.steps[s].first <= way_.steps[s].last &&
             way_.positions[static_cast<std::size_t>(way_.steps[s].first)].bare;
    };
    const bool hops = way_.steps[step].kind == StepKind::Hop && !way_.steps[step].feature.valid();
    return hops && (bare(step + 1) || (step > 0 && bare(step - 1)));
  }

  // To above the rack, and up from it; what is below is the machine's own.
  void rackWay(const Step& step) {
    endMeasure();
    leaveHandForNow();
    if (std::exchange(manual_, false)) out_.add("MODE/PROG,MAN");
    double high = -1e300;
    for (int i = step.first; i <= step.last; ++i)
      high = std::max(high, way_.positions[static_cast<std::size_t>(i)].ball.z());
    out_.note(kDmisOwnWay);
    for (int i = step.first; i <= step.last; ++i)
      if (const Position& p = way_.positions[static_cast<std::size_t>(i)]; p.ball.z() > high - 1e-6)
        goTo(p);
    out_.note(kDmisOwnWayEnd);
  }

  // Without features to align by, the part lies where it was planned.
  void placed() {
    out_.note("No feature finds the part: it must lie as planned.");
    aligned_ = true;
  }

  // In the machine system.
  void liesAt(const Frame& placement, const std::string& label) {
    const Vec3 at = placement.translation();
    const Vec3 turned = placement.linear().eulerAngles(2, 1, 0);
    out_.add(fmt::format("D({})=TRANS/XORIG,{},YORIG,{},ZORIG,{}", label, figure(at.x()),
                         figure(at.y()), figure(at.z())));
    for (const auto& [axis, angle] :
         {std::pair{"ZAXIS", turned[0]}, {"YAXIS", turned[1]}, {"XAXIS", turned[2]}})
      if (std::abs(angle) > 1e-12)
        out_.add(fmt::format("D({})=ROTATE/{},{}", label, axis, fineFigure(degrees(angle))));
    system_ = label;
  }

  // How it is found, for the reader; and for how long.
  void ownFrame(const PartFrame& frame, const Step& step) {
    Json json = frameJson(frame, [&](FeatureId id) { return Json(plan_.nominal(id).name); });
    const std::size_t at = indexOf(steps_.steps, step.does);
    if (at < steps_.steps.size())
      if (const auto* use = useFrameIn(steps_.steps[at].body)) {
        json["until"] = use->until;
        json["most"] = use->most;
      }
    out_.note(kDmisOwnFrame + json.dump(-1, ' ', true));
  }

  void steps() {
    out_.add("MODE/PROG,MAN");
    if (std::none_of(way_.steps.begin(), way_.steps.end(),
                     [](const Step& s) { return s.kind == StepKind::UseFrame; }))
      placed();
    for (std::size_t s = 0; s < way_.steps.size(); ++s) {
      const Step& step = way_.steps[s];
      endGroups(step.depth);
      if (step.left_out) {
        out_.note("left out: " + step.text);
        continue;
      }
      if (step.does.valid() && saidOwn(step)) {
        if (qualifies(step)) sphereWay(step, s);
        continue;
      }
      if (step.access.valid() && !(step.access == selected_)) select(step.access);
      if (manual_ != (step.kind == StepKind::Manual) && step.kind != StepKind::Hop) {
        manual_ = step.kind == StepKind::Manual;
        out_.add(manual_ ? "MODE/MAN" : "MODE/PROG,MAN");
      }
      one(step, s);
    }
    endMeasure();
    out_.blank();
  }

  // Those that a step of this depth no longer stands in.
  void endGroups(int depth) {
    for (; !groups_.empty() && depth <= groups_.back(); groups_.pop_back()) {
      endMeasure();
      out_.note(kDmisGroupEnd);
    }
  }

  bool qualifies(const Step& step) const {
    return std::any_of(way_.steps.begin(), way_.steps.end(), [&](const Step& other) {
      return other.kind == StepKind::Qualify && other.does == step.does;
    });
  }

  // To the reference sphere, about it and away, as it was proved: what comes then begins from
  // there. The touches themselves are those of the macro.
  void sphereWay(const Step& step, std::size_t index) {
    if (step.access.valid() && !(step.access == selected_)) select(step.access);
    if (isRackWay(index)) return rackWay(step);
    if (step.kind != StepKind::Hop && step.kind != StepKind::Qualify) return;
    leaveHandForNow();
    if (std::exchange(manual_, false)) out_.add("MODE/PROG,MAN");
    out_.note(kDmisOwnWay);
    for (int i = step.first; i <= step.last; ++i)
      if (const Position& p = way_.positions[static_cast<std::size_t>(i)]; !p.contact && !p.bare)
        goTo(p);
    out_.note(kDmisOwnWayEnd);
  }

  // What DMIS has no statement for, as a comment that the reader takes for the step that it is.
  bool saidOwn(const Step& step) {
    const std::size_t at = indexOf(steps_.steps, step.does);
    if (at == steps_.steps.size()) return false;
    const RoutineStep& own = steps_.steps[at];
    if (traitsOf(own.body).in_programs) return false;
    if (std::exchange(said_, step.does) == step.does) return true;
    endMeasure();
    Json json = toTravellingJson({own}, plan_.spec).front();
    json.erase("feature_name");
    json.erase("id");
    json.erase("depth");
    out_.note(kDmisOwnStep + json.dump(-1, ' ', true));
    if (step.kind == StepKind::Group) groups_.push_back(step.depth);
    return true;
  }

  void one(const Step& step, std::size_t index) {
    switch (step.kind) {
    case StepKind::Manual:
    case StepKind::Measure:
      return measure(step);
    case StepKind::UseFrame:
      return useFrame(step);
    case StepKind::Hop:
    case StepKind::Move:
      // By hand the operator finds the way.
      if (isRackWay(index))
        rackWay(step);
      else if (aligned_)
        hops(step);
      return;
    case StepKind::Wait:
    case StepKind::Ask:
    case StepKind::Note:
    case StepKind::Repeat:
      return spoken(step);
    case StepKind::Group: // said before
    case StepKind::Construct:
    case StepKind::Evaluate:
    case StepKind::Branch:
    case StepKind::Output:
    case StepKind::Turn:
    case StepKind::Swap:
    case StepKind::Qualify:
      return; // the sensor is selected
    }
  }

  void select(const Access& access) {
    endMeasure();
    leaveHandForNow();
    out_.add("SNSLCT/S(" + sensorLabel(access) + ")");
    selected_ = access;
  }

  // The head turns, and the machine goes to its rack, from where the operator left it.
  void leaveHandForNow() {
    if (aligned_ || !by_hand_ || std::exchange(driven_clear_, true)) return;
    askToDriveClear("Drive the probe clear of the part: its stylus or angles change.");
  }

  void hops(const Step& step) {
    if (!between(step)) endMeasure();
    for (int i = step.first; i <= step.last; ++i)
      goTo(way_.positions[static_cast<std::size_t>(i)]);
  }

  // Within the measuring of a feature, which goes on afterwards.
  bool between(const Step& step) const {
    if (!open_.valid()) return false;
    for (std::size_t s = static_cast<std::size_t>(&step - way_.steps.data()); s < way_.steps.size();
         ++s)
      if (way_.steps[s].kind == StepKind::Measure && !way_.steps[s].left_out)
        return way_.steps[s].feature == open_;
    return false;
  }

  static int contactsOf(const Way& way, const Step& step) {
    int count = 0;
    for (int i = step.first; i <= step.last; ++i)
      count += way.positions[static_cast<std::size_t>(i)].contact;
    return count;
  }

  void measure(const Step& step) {
    const Feature& f = plan_.feature(step.feature);
    if (open_ != step.feature || manual_) {
      endMeasure();
      int touches = 0;
      if (manual_)
        touches = contactsOf(way_, step);
      else
        for (const Step& other : way_.steps)
          if (other.kind == StepKind::Measure && !other.left_out && other.feature == step.feature)
            touches += contactsOf(way_, other);
      out_.add(fmt::format("MEAS/{},F({}),{}", featureWord(plan_.nominal(f.id).ideal),
                           featureLabel(f.id), touches));
      open_ = step.feature;
    }
    out_.indent(1);
    for (int i = step.first; i <= step.last; ++i) {
      const Position& p = way_.positions[static_cast<std::size_t>(i)];
      if (p.contact) {
        const Touch& t = f.touches[static_cast<std::size_t>(p.touch)];
        settings(f, t, p.access);
        out_.add("PTMEAS/CART," + figures(t.point) + "," + cosines(t.normal));
      } else if (p.kind == MoveKind::Hop && aligned_) {
        goTo(p);
      }
    }
    out_.indent(-1);
    if (!manual_) return;
    endMeasure();
    by_hand_ = &step;
    driven_clear_ = false;
  }

  void askToDriveClear(const std::string& words) {
    out_.note(kDmisOwnWay);
    out_.add("TEXT/OPER," + quoted(words));
  }

  // After the last touch by hand the operator drives clear; from there over everything to the place
  // where the proved way goes on.
  void leaveAfterHand() {
    if (!by_hand_) return;
    const Position& end = way_.positions[static_cast<std::size_t>(by_hand_->last)];
    Vec3 high = end.ball;
    for (const Position& p : way_.positions)
      if (p.access == end.access) high.z() = std::max(high.z(), p.ball.z());
    askToDriveClear("Drive the probe clear of the part, above all that stands round it.");
    out_.add("GOTO/" + place(high));
    if ((end.ball - high).norm() > 1e-9) out_.add("GOTO/" + place(end.ball));
    out_.note(kDmisOwnWayEnd);
    by_hand_ = nullptr;
  }

  void endMeasure() {
    if (open_.valid()) out_.add("ENDMES");
    open_ = {};
  }

  // As planned for this touch, where there is less room than the recipe asks for; only what
  // changes.
  void settings(const Feature& f, const Touch& t, const Access& access) {
    const double radius = plan_.tip(access).ball_diameter / 2;
    const TouchMove move = touchMove(plan_, f, t, radius);
    const auto set = [&](const char* what, double value, double& now) {
      if (value == now) return;
      now = value;
      out_.add(fmt::format("SNSET/{},{}", what, figure(value)));
    };
    set("APPRCH", rounded((move.approach - move.contact).norm()), approach_);
    set("RETRCT", rounded((move.retract - move.contact).norm()), retract_);
    set("SEARCH", f.recipe.search, search_);
  }

  static double rounded(double mm) { return std::round(mm * 1e6) / 1e6; }

  // By the features of the part frame, roughly at first.
  void useFrame(const Step& step) {
    endMeasure();
    std::string features;
    if (const PartFrame* frame = step.frame.empty() ? nullptr : plan_.frame(step.frame)) {
      if (frame->fit != FrameFit::InOrder)
        out_.note(fmt::format("not covered: all together by {}", name(frame->fit)));
      for (const FrameStage& stage : frame->stages)
        for (FeatureId id : stage.features)
          features += ",FA(" + featureLabel(id) + ")";
      ownFrame(*frame, step);
      out_.note("Use frame " + frame->name);
      system_ = fmt::format("FRAME{}", ++named_frames_);
      out_.add("D(" + system_ + ")=LOCATE/XYZDIR,XYZAXS" + features);
      aligned_ = true;
      return;
    }
    if (const KeptFrame* kept =
            step.frame.empty() ? nullptr : plan_.bench.fixture.frame(step.frame)) {
      out_.note(kDmisOwnPlace + toJson(*kept).dump(-1, ' ', true));
      out_.add("RECALL/D(MACHINE)");
      liesAt(kept->placement, fmt::format("PLACE{}", ++named_places_));
      aligned_ = true;
      return;
    }
    const std::string label = step.rough ? "ROUGH" : "PART";
    for (FeatureId id : plan_.alignment)
      if (plan_.feature(id).covered()) features += ",FA(" + featureLabel(id) + ")";
    out_.add("D(" + label + ")=LOCATE/XYZDIR,XYZAXS" + features);
    system_ = label;
    aligned_ = true;
    if (step.rough) leaveAfterHand();
  }

  // Of what is measured, before what refers to it.
  void datums() {
    for (const Datum& d : plan_.spec.datums) {
      std::string features;
      for (FeatureId f : d.features)
        if (plan_.feature(f).covered()) features += "FA(" + featureLabel(f) + "),";
      if (features.empty())
        out_.note("Datum " + d.letter + " is not measured.");
      else
        out_.add("DATDEF/" + features + "DAT(" + d.letter + ")");
    }
  }

  void spoken(const Step& step) {
    if (!between(step)) endMeasure();
    const std::size_t at = indexOf(steps_.steps, step.does);
    if (at == steps_.steps.size()) return;
    const StepBody& body = steps_.steps[at].body;
    // Where the operator still has the machine, it is the operator who drives.
    if (aligned_ && step.kind == StepKind::Wait && step.last >= step.first)
      goTo(way_.positions[static_cast<std::size_t>(step.last)]);
    if (const Question* ask = questionIn(body)) {
      ++asked_;
      const std::string name = "ANSWER" + std::to_string(asked_);
      out_.add("DECL/" + std::string(ask->number ? "DOUBLE," : "CHAR,80,") + name);
      out_.add("TEXT/QUERY,(" + name + "),80," + (ask->number ? "N" : "A") + ",L," +
               quoted(ask->what + (ask->unit.empty() ? "" : " in " + ask->unit)));
    } else if (step.kind == StepKind::Wait) {
      out_.add("TEXT/OPER," + quoted(step.text));
    } else {
      // Statements of another's program too: here they would act in other units, systems and names.
      out_.note(step.text);
    }
  }

  void results() {
    for (const Requirement& r : plan_.spec.requirements) {
      std::string why;
      if (!toleranceDefinition(plan_, r, why) || !whyNotCovered(plan_, r).empty()) {
        out_.note(fmt::format("{} is not evaluated: {}", r.balloon,
                              why.empty() ? whyNotCovered(plan_, r) : why));
        continue;
      }
      const std::string label = toleranceLabel(r);
      const bool two = (r.kind == Characteristic::Distance || r.kind == Characteristic::Angle) &&
                       r.features.size() > 1;
      if (two) {
        out_.add(fmt::format("OUTPUT/FA({}),FA({}),TA({})", featureLabel(r.features[0]),
                             featureLabel(r.features[1]), label));
        continue;
      }
      if (r.features.size() > 1) out_.note(kDmisAsOne + label);
      for (FeatureId f : r.features)
        out_.add(fmt::format("OUTPUT/FA({}),TA({})", featureLabel(f), label));
    }
  }

  const Plan& plan_;
  const Way& way_;
  StepsDone steps_;
  Frame back_;
  Program out_;
  std::vector<Access> accesses_;
  Access selected_;
  FeatureId open_;                // being measured
  const Step* by_hand_ = nullptr; // the last, not left yet
  std::vector<int> groups_;       // depths of those that are open
  int named_frames_ = 0, named_places_ = 0, asked_ = 0;
  StepId said_; // of those that stand as comments
  bool aligned_ = false, manual_ = false;
  bool driven_clear_ = false; // since the last touch by hand
  std::string system_;        // that counts now
  double approach_ = -1, retract_ = -1, search_ = -1;
};

} // namespace

std::string dmisProgram(const Plan& plan, const Way& way) {
  return Writer(plan, way).write();
}

} // namespace alder
