#include "exchange/dmis/dmis_reader.h"

#include "base/units.h"
#include "exchange/dmis/dmis_definitions.h"
#include "exchange/dmis/dmis_matching.h"
#include "exchange/dmis/dmis_requirements.h"
#include "exchange/dmis/dmis_systems.h"
#include "exchange/dmis/dmis_text.h"
#include "exchange/routine/frame_json.h"
#include "exchange/routine/frames_file.h"
#include "exchange/routine/step_json.h"
#include "plan/steps/step_edit.h"
#include "route/feature_router.h"
#include <algorithm>
#include <cstring>
#include <map>
#include <set>

namespace alder {
namespace {

using namespace dmis;

// Statements that set what the machine does by itself here, or that say nothing of the routine.
const std::set<std::string> kSilent{"DMISMN", "FILNAM", "PRCOMP", "TECOMP", "FLY",    "FEDRAT",
                                    "ACLRAT", "ENDFIL", "DECL",   "DATDEF", "ENDMES", "DISPLY"};

// The block of MEAS that is open.
struct Measuring {
  std::string label;
  int line = 0;
  std::vector<Touch> touches;
  std::vector<double> approach, retract; // as set for each of them, 0: not set
  Points after;                          // places since the last touch
  std::vector<Statement> raw;
  bool by_hand = false;
};

class Reader {
 public:
  Reader(const std::string& program, const std::string& label, Plan base)
      : statements_(statementsOf(program))
      , label_(label)
      , systems_(base.placement) {
    read_.plan = std::move(base);
    part_ = MeshTree(read_.plan.part->mesh);
    for (Feature& f : read_.plan.features)
      f.touches.clear(), f.why_not = "the program does not measure it";
    read_.plan.steps.clear();
    read_.plan.alignment.clear();
    read_.plan.frames.clear();
    for (const Feature& f : read_.plan.features) // as they were, for what the program leaves open
      if (f.access.valid()) access_of_[f.id] = f.access;
    for (Feature& f : read_.plan.features)
      f.access = {}, f.entry = HopMode::Proposed, f.waypoints.clear();
  }

  Result<ProgramRead> run() {
    const bool program = std::any_of(statements_.begin(), statements_.end(), [](const auto& s) {
      return s.word == "DMISMN" || s.word == "DMISMD" || s.word == "FILNAM";
    });
    if (!program) return fail("{}: holds no DMIS program; it would begin with DMISMN.", label_);
    for (const Statement& s : statements_) {
      if (s.comment) {
        comment(s);
        continue;
      }
      lines_[s.line] = {s.line, s.text};
      statement(s);
    }
    finish();
    return std::move(read_);
  }

 private:
  Plan& plan() { return read_.plan; }

  void remark(const Statement& s, const std::string& text) { remark(s.line, text); }
  void remark(int line, const std::string& text) {
    read_.remarks.push_back(fmt::format("{}: line {}: {}", label_, line, text));
    std::string& of = lines_[line].remark;
    of += (of.empty() ? "" : "; ") + text;
  }

  StepId addStep(StepBody body) {
    RoutineStep& step = plan().steps.emplace_back();
    step.id = StepId{static_cast<int>(plan().steps.size()) - 1};
    step.body = std::move(body);
    step.depth = depth_;
    if (measuring_ && traitsOf(step.body).between_touches) {
      // Between the touches: it stands within the measure step, which comes with the block's end.
      step.depth = 1;
      step.before = static_cast<int>(measuring_->touches.size());
      within_.push_back(step);
      plan().steps.pop_back();
    }
    return step.id;
  }

  void keep(const Statement& s) {
    ++read_.kept;
    lines_[s.line].taken = Taken::Note;
    addStep(noteOf(fmt::format("{}{}: {}", kDmisNote, s.line, s.text)));
  }

  // A step that stands as a comment; nothing where it is a comment, or does not fit here.
  std::optional<StepBody> ownStep(const std::string& text) {
    if (!text.starts_with(kDmisOwnStep)) return {};
    const Json json = Json::parse(text.substr(std::strlen(kDmisOwnStep)), nullptr, false);
    if (!json.is_object()) return {};
    const Json holder{{"steps", Json::array({json})}};
    const JsonFields fields(holder, label_);
    try {
      const Steps steps = readSteps(fields, "steps", plan().spec);
      if (!fields.done() || steps.size() != 1) return {};
      StepBody body = steps.front().body;
      const auto valid = std::visit([&](const auto& own) { return validate(plan(), own); }, body);
      if (!valid || traitsOf(body).in_programs || (needsGroup(body) && depth_ == 0)) return {};
      return body;
    } catch (const Json::exception&) {
      return {};
    }
  }

  // A frame of ours, for the LOCATE that follows; a place that the fixture of this routine has too.
  bool ownFrameOrPlace(const std::string& text) {
    for (const char* sign : {kDmisOwnFrame, kDmisOwnPlace}) {
      if (!text.starts_with(std::string(sign) + "{")) continue;
      const Json json = Json::parse(text.substr(std::strlen(sign)), nullptr, false);
      if (!json.is_object()) return false;
      if (sign == kDmisOwnFrame) {
        own_frame_ = json;
        return true;
      }
      const std::string name = JsonFields(json, label_).text("name", "");
      if (!plan().bench.fixture.frame(name)) return false;
      body_ = true;
      own_place_ = true;
      addStep(useFrame(name));
      return true;
    }
    return false;
  }

  // The frame that was said before, where it is found from these features.
  std::optional<std::pair<PartFrame, StepBody>> ownFrameOf(const std::vector<FeatureId>& features) {
    const Json json = std::exchange(own_frame_, Json());
    if (!json.is_object()) return {};
    const JsonFields f(json, label_);
    std::vector<FeatureId> used;
    PartFrame frame = readPartFrame(f, [&](const JsonFields& stage) {
      auto ids = featuresByName(stage, plan());
      used.insert(used.end(), ids.begin(), ids.end());
      return ids;
    });
    const StepBody step = useFrame(frame.name, f.number("until", 0), f.integer("most", 5));
    if (!f.done() || used != features) return {};
    return std::pair(std::move(frame), step);
  }

  // Names before definitions; in the body words of the programmer.
  void comment(const Statement& s) {
    if (ownFrameOrPlace(s.text)) return;
    if (s.text == kDmisPlanned) {
      own_place_ = true;
      return;
    }
    planned_way_ = false;
    if (!body_) {
      last_comment_ = s.text;
      return;
    }
    last_comment_ = s.text;
    if (s.text.starts_with("Use frame ") || s.text.starts_with("No feature finds") ||
        s.text.starts_with("not covered: "))
      return;
    if (s.text.ends_with("is not evaluated") ||
        s.text.find(" is not evaluated: ") != std::string::npos)
      return;
    if (s.text == kDmisOwnWay) {
      planned_way_ = true;
      return;
    }
    if (s.text == kDmisOwnWayEnd) return;
    if (s.text == kDmisGroupEnd && depth_ > 0) {
      --depth_;
      return;
    }
    if (auto own = ownStep(s.text)) {
      const bool group = traitsOf(*own).holds == StepTraits::Holds::All;
      addStep(std::move(*own));
      depth_ += group;
      return;
    }
    addStep(noteOf(noteText(s.text)));
  }

  void statement(const Statement& s) {
    const std::string name = std::exchange(last_comment_, {});
    if (macro_) { // what is not called is not done
      macro_ = s.word != "ENDMAC";
      lines_[s.line].taken = Taken::LeftOut;
      lines_[s.line].remark = "in a macro that is not called";
      ++read_.understood;
      return;
    }
    planned_way_ &= s.word == "TEXT" || s.word == "GOTO" || s.word == "RECALL";
    if (planned_way_) {
      ++read_.understood;
      return;
    }
    const int kept = read_.kept;
    own_place_ &= s.word == "TRANS" || s.word == "ROTATE" || s.word == "RECALL";
    if (s.word == "UNITS")
      units(s);
    else if (s.word == "MACRO")
      macro_ = true;
    else if (s.word == "SNSDEF")
      sensor(s);
    else if (s.word == "SNSLCT")
      select(s);
    else if (s.word == "FEAT" && s.kind == "F")
      feature(s, name);
    else if (s.word == "TOL" && s.kind == "T")
      tolerance(s);
    else if (s.word == "OUTPUT")
      output(s);
    else if (s.word == "MODE")
      mode(s);
    else if (s.word == "SNSET")
      setting(s);
    else if (s.word == "MEAS")
      measure(s);
    else if (s.word == "ENDMES") {
      if (measuring_) measuring_->raw.push_back(s);
      endMeasure();
    } else if (s.word == "PTMEAS")
      touch(s);
    else if (s.word == "GOTO")
      goTo(s);
    else if (s.word == "LOCATE")
      locate(s, name);
    else if (s.word == "TRANS" || s.word == "ROTATE" || s.word == "DATSET" || s.word == "SAVE" ||
             s.word == "RECALL")
      system(s);
    else if (s.word == "TEXT")
      text(s);
    else if (kSilent.count(s.word) == 0)
      keep(s);
    if (s.word == "DATDEF") datum(s);
    if (s.word == "PRCOMP") compensated_ = !s.is(0, "OFF");
    read_.understood += read_.kept == kept;
  }

  void units(const Statement& s) {
    if (!readUnits(s, units_)) remark(s, "angles in degrees, minutes and seconds are not read");
  }

  void system(const Statement& s) {
    if (s.word != "SAVE") endMeasure();
    std::string why;
    const bool followed = systems_.take(s, units_, why);
    if (!why.empty())
      remark(s,
             why + (followed ? "" : "; places are left out until one that is known counts again"));
    const bool placed = s.word == "TRANS" || s.word == "ROTATE";
    if (followed && placed && !own_place_ && !moved_told_) {
      moved_told_ = true;
      remark(s, "places count in this system; the part is taken to lie as this routine has it");
    }
    if (!followed) keep(s);
  }

  // Numbers as they are meant now; false, and a note, where that is not known.
  bool meant(const Statement& s) {
    const auto system = systems_.toPart();
    if (system)
      units_.system = *system;
    else
      keep(s);
    return system.has_value();
  }

  void sensor(const Statement& s) {
    std::string why;
    if (const auto access = accessFor(plan(), s, units_, why)) sensors_[s.label] = *access;
    if (!why.empty()) remark(s, "sensor " + s.label + ": " + why);
  }

  void select(const Statement& s) {
    body_ = true;
    endMeasure();
    const auto ref = s.arguments.empty() ? std::nullopt : referenceIn(s.arguments[0]);
    const auto found = ref ? sensors_.find(ref->label) : sensors_.end();
    if (found != sensors_.end()) {
      access_ = found->second;
      return;
    }
    // Not the one before: what is measured with it is asked for.
    access_ = {};
    remark(s, "selects a sensor that is not defined; the tips of what follows are chosen here");
    keep(s);
  }

  void feature(const Statement& s, const std::string& name) {
    systems_.nominalsHere();
    if (!meant(s)) return;
    if (const auto id = featureFor(plan(), s, units_, name)) features_[s.label] = *id;
    // What is not found by its geometry may be by its touches.
  }

  std::optional<FeatureId> labelled(const std::string& argument) const {
    const auto ref = referenceIn(argument);
    if (!ref || (ref->kind != "F" && ref->kind != "FA")) return {};
    const auto found = features_.find(ref->label);
    return found == features_.end() ? std::nullopt : std::optional(found->second);
  }

  void tolerance(const Statement& s) {
    if (!requirements_.define(s, units_)) keep(s);
  }

  void datum(const Statement& s) {
    if (s.arguments.size() < 2) return;
    const auto letter = referenceIn(s.arguments.back());
    if (!letter || plan().spec.datum(letter->label)) return;
    std::vector<FeatureId> features;
    for (std::size_t i = 0; i + 1 < s.arguments.size(); ++i) {
      const auto id = labelled(s.arguments[i]);
      if (!id)
        return remark(s, "datum " + letter->label + " is of what is no feature of this part");
      features.push_back(*id);
    }
    plan().spec.datums.push_back({letter->label, features, {}});
  }

  void output(const Statement& s) {
    body_ = true;
    std::vector<FeatureId> ids;
    std::vector<std::string> tolerances;
    bool known = true;
    for (const std::string& a : s.arguments) {
      const auto ref = referenceIn(a);
      if (ref && (ref->kind == "TA" || ref->kind == "T")) {
        tolerances.push_back(ref->label);
        continue;
      }
      const auto id = labelled(a);
      known &= id.has_value();
      if (id) ids.push_back(*id);
    }
    for (const std::string& t : tolerances)
      known &= requirements_.knows(t);
    if (!known || tolerances.empty() || ids.empty()) return keep(s);
    for (const std::string& t : tolerances)
      requirements_.output(t, ids);
  }

  void mode(const Statement& s) {
    body_ = true;
    endMeasure();
    by_hand_ = s.is(0, "MAN");
  }

  void setting(const Statement& s) {
    const auto value = s.number(1);
    if (!value) return keep(s);
    if (s.is(0, "APPRCH"))
      approach_ = *value * units_.length;
    else if (s.is(0, "RETRCT"))
      retract_ = *value * units_.length;
    else if (s.is(0, "SEARCH"))
      search_ = *value * units_.length;
    else
      keep(s);
  }

  void measure(const Statement& s) {
    body_ = true;
    endMeasure();
    const auto ref = s.arguments.size() > 1 ? referenceIn(s.arguments[1]) : std::nullopt;
    if (!ref || ref->kind != "F") return keep(s);
    measuring_.emplace();
    measuring_->label = ref->label;
    measuring_->line = s.line;
    measuring_->by_hand = by_hand_;
    measuring_->raw.push_back(s);
  }

  std::optional<Vec3> placeIn(const Statement& s, std::size_t from, double scale) const {
    const auto x = s.number(from), y = s.number(from + 1), z = s.number(from + 2);
    if (!x || !y || !z) return {};
    return Vec3(scale * Vec3(*x, *y, *z));
  }

  void touch(const Statement& s) {
    const auto point = s.is(0, "CART") ? placeIn(s, 1, units_.length) : std::nullopt;
    const auto normal = s.is(0, "CART") ? placeIn(s, 4, 1) : std::nullopt;
    if (!measuring_ || !point || !normal || normal->norm() < 1e-6) return keep(s);
    if (!compensated_ && !access_.valid()) return keep(s);
    if (!meant(s)) return;
    const Vec3 out = (units_.system.linear() * *normal).normalized();
    // Without compensation the place is that of the ball.
    const double ball = compensated_ ? 0 : plan().tip(access_).ball_diameter / 2;
    measuring_->raw.push_back(s);
    // Places before the first touch lead in, others between touches are the router's.
    if (!measuring_->touches.empty()) measuring_->after.clear();
    measuring_->approach.push_back(approach_);
    measuring_->retract.push_back(retract_);
    measuring_->touches.push_back({units_.system * *point - ball * out, out, FaceId{}, 0});
  }

  void goTo(const Statement& s) {
    const auto place = placeIn(s, s.is(0, "CART") ? 1 : 0, units_.length);
    if (!place) return keep(s);
    body_ = true;
    if (!meant(s)) return;
    const Vec3 at = units_.system * *place;
    if (measuring_) measuring_->raw.push_back(s);
    if (measuring_ && !measuring_->touches.empty())
      measuring_->after.push_back(at);
    else
      led_.push_back(at);
  }

  void leaveOut(const Measuring& m, const std::string& why) {
    for (const Statement& raw : m.raw) {
      lines_[raw.line].taken = Taken::LeftOut;
      if (!why.empty()) lines_[raw.line].remark = why;
    }
  }

  void endMeasure() {
    if (!measuring_) return;
    Measuring m = std::move(*measuring_);
    measuring_.reset();
    auto within = std::exchange(within_, {});
    Points led = std::exchange(led_, {});
    auto found = features_.find(m.label);
    Points points;
    for (const Touch& t : m.touches)
      points.push_back(t.point);
    if (found == features_.end()) {
      if (const auto id = featureTouchedAt(plan(), points))
        found = features_.emplace(m.label, *id).first;
    }
    const bool known = found != features_.end() && !m.touches.empty() &&
                       (m.by_hand || settleTouches(plan(), part_, found->second, m.touches));
    if (!known) {
      remark(m.line, m.label + " is no feature of this part; its statements are kept as notes");
      for (const Statement& raw : m.raw)
        keep(raw);
      led_ = led;
      return;
    }
    if (m.by_hand) // which features, the frame says
      return leaveOut(m, "touches by hand are chosen here");
    const FeatureId id = found->second;
    Feature& f = plan().feature(id);
    if (!f.touches.empty()) {
      remark(m.line, plan().nominal(id).name + " is measured again; the first time counts");
      return leaveOut(m, "");
    }
    f.touches = m.touches;
    f.why_not.clear();
    f.access = access_.valid()        ? access_
               : access_of_.count(id) ? access_of_[id]
                                      : Access{0, 0, 0, 0};
    f.access_forced = access_.valid();
    if (!asPlanned(f, m)) {
      const double approach = *std::max_element(m.approach.begin(), m.approach.end());
      const double retract = *std::max_element(m.retract.begin(), m.retract.end());
      if (approach > 0) f.recipe.approach = approach; // 0: the program does not set it
      if (retract > 0) f.recipe.retract = retract == f.recipe.approach ? 0 : retract;
    }
    if (search_ > 0) f.recipe.search = search_;
    // To the first one the operator has brought the machine.
    if (!led.empty() && !measuringOrder(plan().steps).empty()) {
      f.entry = HopMode::Led;
      f.waypoints = led;
    }
    led_ = m.after;
    addStep(measureSteps({id}).front().body);
    for (RoutineStep& step : within) {
      step.id = StepId{static_cast<int>(plan().steps.size())};
      step.depth += depth_;
      plan().steps.push_back(std::move(step));
    }
  }

  // What is set for each touch is what the recipe comes to there, or nothing is set.
  bool asPlanned(const Feature& f, const Measuring& m) {
    const double radius = plan().tip(f.access).ball_diameter / 2;
    for (std::size_t i = 0; i < m.touches.size(); ++i) {
      const TouchMove move = touchMove(plan(), f, m.touches[i], radius);
      const auto same = [](double said, double planned) {
        return said <= 0 || std::abs(said - planned) < 1e-5;
      };
      if (!same(m.approach[i], (move.approach - move.contact).norm()) ||
          !same(m.retract[i], (move.retract - move.contact).norm()))
        return false;
    }
    return true;
  }

  void locate(const Statement& s, const std::string& name) {
    body_ = true;
    endMeasure();
    std::vector<FeatureId> ids;
    bool known = !s.arguments.empty();
    for (const std::string& a : s.arguments) {
      if (!referenceIn(a)) continue;
      const auto id = labelled(a);
      known &= id.has_value();
      if (id) ids.push_back(*id);
    }
    std::string why;
    systems_.take(s, units_, why);
    if (!known || ids.empty()) return keep(s);
    if (plan().alignment.empty()) {
      plan().alignment = ids;
      return;
    }
    if (plan().alignment == ids && !name.starts_with("Use frame ")) return; // the precise one
    if (auto own = ownFrameOf(ids)) {
      if (!plan().frame(own->first.name)) plan().frames.push_back(own->first);
      addStep(own->second);
      return;
    }
    PartFrame frame;
    frame.name = name.starts_with("Use frame ") ? name.substr(10) : s.label;
    for (FeatureId id : ids)
      frame.stages.push_back({{id}, ""});
    if (!plan().frame(frame.name)) plan().frames.push_back(frame);
    addStep(useFrame(frame.name));
  }

  void text(const Statement& s) {
    body_ = true;
    const auto words = s.arguments.empty() ? std::nullopt : unquoted(s.arguments.back());
    if (s.is(0, "OPER") && words) {
      addStep(waitFrom(*words));
    } else if (s.is(0, "QUERY") && words) {
      const bool number = s.arguments.size() > 3 && s.is(3, "N");
      addStep(asking({*words, number, "", likelyRole(*words)}));
    } else {
      keep(s);
    }
  }

  // "Wait: take it off (open clamp 1)" names what happens to the fixture.
  StepBody waitFrom(const std::string& words) {
    std::vector<std::string> clamps, names;
    for (const FixtureBody& body : plan().bench.fixture.bodies)
      if (body.can_open) clamps.push_back(ascii(body.name)), names.push_back(body.name);
    return waitOf(words, clamps, names);
  }

  void finish() {
    endMeasure();
    for (auto& [line, of] : lines_)
      read_.lines.push_back(std::move(of));
    requirements_.addTo(plan());
    // A part frame of features that are not measured could not be found.
    std::erase_if(plan().alignment, [&](FeatureId id) { return !plan().feature(id).covered(); });
    for (const std::string& remark : read_.remarks)
      plan().notes.push_back({0, remark});
  }

  std::vector<Statement> statements_;
  std::string label_;
  ProgramRead read_;
  MeshTree part_; // CAD frame
  Units units_;
  int depth_ = 0;  // groups that are open
  Json own_frame_; // said by a comment
  Systems systems_;
  bool compensated_ = true, moved_told_ = false;
  bool own_place_ = false; // the same; TRANS and ROTATE behind it say it once more
  bool body_ = false, by_hand_ = false, macro_ = false, planned_way_ = false;
  std::map<int, ProgramLine> lines_;
  std::string last_comment_;
  std::map<std::string, FeatureId> features_;
  std::map<std::string, Access> sensors_;
  std::map<FeatureId, Access> access_of_;
  ProgramRequirements requirements_;
  Access access_;
  double approach_ = 0, retract_ = 0, search_ = 0;
  std::optional<Measuring> measuring_;
  Steps within_;
  Points led_;
};

} // namespace

Result<ProgramRead> readDmis(const std::string& program, const std::string& label, Plan base) {
  return Reader(program, label, std::move(base)).run();
}

} // namespace alder
