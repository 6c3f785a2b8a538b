#include "exchange/step_json.h"

#include "exchange/named.h"

#include "base/units.h"
#include <algorithm>

namespace alder {
namespace {

Json patternJson(const Pattern& p) {
  Json json{{"kind", name(p.kind)}};
  using enum PatternKind;
  if (p.kind == Linear || p.kind == Grid || p.kind == Rotary) json["count"] = p.count;
  if (p.kind == Linear || p.kind == Grid) json["step"] = toJson(p.step);
  if (p.kind == Grid) json["rows"] = p.rows, json["to_row"] = toJson(p.to_row);
  if (p.kind == Linear || p.kind == Grid) return json;
  json["point"] = toJson(p.point);
  json["axis"] = toJson(p.axis);
  if (p.kind == Rotary) json["angle_deg"] = shownDegrees(p.angle);
  if (p.kind != Listed) return json;
  json["places"] = Json::array();
  for (const ListedPlace& place : p.places)
    json["places"].push_back(
        {{"shift", toJson(place.shift)}, {"turn_deg", shownDegrees(place.turn)}});
  return json;
}

Pattern readPattern(const JsonFields& f) {
  Pattern p;
  const std::string kind = f.text("kind", "linear");
  bool known = false;
  for (const PatternKind k : {PatternKind::Linear, PatternKind::Grid, PatternKind::Rotary,
                              PatternKind::Mirrored, PatternKind::Listed})
    if (kind == name(k)) p.kind = k, known = true;
  if (!known) f.complain("kind", "is not one of linear, grid, rotary, mirrored, listed");
  p.count = f.integer("count", p.count);
  if (f.has("step")) p.step = f.vector("step");
  p.rows = f.integer("rows", p.rows);
  if (f.has("to_row")) p.to_row = f.vector("to_row");
  if (f.has("point")) p.point = f.vector("point");
  if (f.has("axis")) p.axis = f.vector("axis");
  p.angle = radians(f.number("angle_deg", 0));
  if (f.has("places"))
    for (const auto& place : f.list("places"))
      p.places.push_back({place.vector("shift"), radians(place.number("turn_deg", 0))});
  if (auto valid = validate(p); !valid) f.complain("kind", valid.error().message);
  return p;
}

// The fields of each kind, written and read side by side.
struct Writer {
  Json operator()(const MeasureStep& s) const {
    return {{"kind", "measure"}, {"feature", s.feature.value}};
  }
  Json operator()(const MoveStep& s) const {
    Json json{{"kind", "move"}, {"from", name(s.from)}, {"place", toJson(s.place)}};
    if (s.from == CountFrom::Feature) json["feature"] = s.feature.value;
    return json;
  }
  Json operator()(const TurnStep& s) const {
    return {{"kind", "turn"}, {"a_deg", shownDegrees(s.a)}, {"b_deg", shownDegrees(s.b)}};
  }
  Json operator()(const SwapStep& s) const {
    return {{"kind", "swap"}, {"stylus", s.stylus}, {"tip", s.tip}};
  }
  Json operator()(const WaitStep& s) const {
    return {{"kind", "wait"},   {"text", s.text},       {"clamp", *s.clamp},
            {"opens", s.opens}, {"seconds", s.seconds}, {"picture", *s.picture}};
  }
  Json operator()(const AskStep& s) const {
    return {{"kind", "ask"},
            {"what", s.what},
            {"number", s.number},
            {"unit", s.unit},
            {"role", name(s.role)}};
  }
  Json operator()(const UseFrameStep& s) const {
    return {{"kind", "use frame"}, {"frame", s.frame}, {"until", s.until}, {"most", s.most}};
  }
  Json operator()(const RepeatStep& s) const {
    Json copies = Json::array();
    for (const RepeatCopy& c : s.copies) {
      Json copy{{"features", Json::array()}, {"skipped", c.skipped}};
      for (const auto& [original, id] : c.features)
        copy["features"].push_back({{"original", original.value}, {"copy", id.value}});
      copies.push_back(std::move(copy));
    }
    return {{"kind", "repeat"},
            {"name", s.name},
            {"pattern", patternJson(s.pattern)},
            {"requirements", s.requirements},
            {"copies", copies}};
  }
  Json operator()(const ConstructStep& s) const {
    return {{"kind", "construct"}, {"feature", s.feature.value}};
  }
  Json operator()(const QualifyStep& s) const {
    return {{"kind", "qualify"},
            {"all", s.all},
            {"sphere_moved", s.sphere_moved},
            {"reported", s.reported}};
  }
  Json operator()(const EvaluateStep& s) const {
    Json ids = Json::array();
    for (RequirementId id : s.requirements)
      ids.push_back(id.value);
    return {{"kind", "evaluate"}, {"requirements", ids}};
  }
  Json operator()(const BranchStep& s) const {
    return {{"kind", "branch"},
            {"requirement", s.requirement.value},
            {"when", name(s.when)},
            {"does", name(s.does)}};
  }
  Json operator()(const OutputStep& s) const {
    return {{"kind", "output"}, {"what", name(s.kind)}, {"file", s.file}};
  }
  Json operator()(const NoteStep& s) const { return {{"kind", "note"}, {"text", s.text}}; }
  Json operator()(const GroupStep& s) const { return {{"kind", "group"}, {"name", s.name}}; }
};

FeatureId readFeatureOf(const JsonFields& f, const Specification& spec) {
  const int id = f.integer("feature", -1);
  if (!spec.features.holds(FeatureId{id}))
    f.complain("feature", "names a feature that is not there");
  return FeatureId{id};
}

MoveStep readMove(const JsonFields& f, const Specification& spec) {
  MoveStep s;
  s.from = readNamed(f, "from", 3, CountFrom::Part);
  s.place = f.vector("place");
  if (s.from == CountFrom::Feature) s.feature = readFeatureOf(f, spec);
  return s;
}

RepeatStep readRepeat(const JsonFields& f, const Specification& spec) {
  RepeatStep s;
  s.name = f.text("name");
  if (f.has("pattern")) s.pattern = readPattern(f.object("pattern"));
  s.requirements = f.flag("requirements", true);
  if (!f.has("copies")) return s;
  for (const auto& c : f.list("copies")) {
    RepeatCopy copy;
    copy.skipped = c.flag("skipped", false);
    for (const auto& pair : c.list("features")) {
      const FeatureId original{pair.integer("original", -1)}, id{pair.integer("copy", -1)};
      for (const auto& [key, value] : {std::pair{"original", original}, std::pair{"copy", id}})
        if (!spec.features.holds(value)) pair.complain(key, "names a feature that is not there");
      copy.features.emplace_back(original, id);
    }
    std::sort(copy.features.begin(), copy.features.end());
    s.copies.push_back(std::move(copy));
  }
  return s;
}

// By id, or in text that goes from one routine to another, and in older files, by number.
std::optional<RequirementId> requirementIn(const Json& value, bool by_number,
                                           const Specification& spec) {
  if (!value.is_number_integer()) return {};
  const int number = value.get<int>();
  for (const Requirement& r : spec.requirements)
    if (number == (by_number ? r.balloon : r.id.value)) return r.id;
  return {};
}

// Older files may ask for a number that no requirement has: the step then is a note that says so.
NoteStep asksForNone(const std::string& step) {
  return {step + " is left out: it asks for a requirement that is not there"};
}

StepBody readEvaluate(const JsonFields& f, const Specification& spec) {
  EvaluateStep s;
  const bool by_number = !f.has("requirements");
  const char* key = by_number ? "balloons" : "requirements";
  const Json wanted = f.has(key) ? f.json().at(key) : Json::array();
  bool whole = true;
  for (const Json& value : wanted)
    if (const auto id = requirementIn(value, by_number, spec))
      s.requirements.push_back(*id);
    else if (by_number && value.is_number_integer())
      whole = false;
    else
      f.complain(key, "must be requirements of the routine");
  if (!whole) {
    std::string numbers;
    for (const Json& value : wanted)
      numbers += (numbers.empty() ? "" : ", ") + value.dump();
    return asksForNone("Evaluate " + numbers);
  }
  return s;
}

StepBody readBranch(const JsonFields& f, const Specification& spec) {
  BranchStep s{{}, readNamed<BranchWhen>(f, "when", 3), readNamed<BranchDoes>(f, "does", 3)};
  const bool by_number = !f.has("requirement");
  const Json value = f.json().value(by_number ? "balloon" : "requirement", Json());
  if (const auto id = requirementIn(value, by_number, spec))
    s.requirement = *id;
  else if (by_number)
    return asksForNone(fmt::format("If {} is {}: {}", value.dump(), name(s.when), name(s.does)));
  else
    f.complain("requirement", "must be a requirement of the routine");
  return s;
}

AskStep readAsk(const JsonFields& f) {
  AskStep s{f.text("what"), f.flag("number", false), f.text("unit", "")};
  s.role = readNamed(f, "role", 3, likelyRole(s.what));
  return s;
}

StepBody readStepBody(const JsonFields& f, const Specification& spec) {
  const std::string kind = f.text("kind");
  if (kind == "measure") return MeasureStep{readFeatureOf(f, spec)};
  if (kind == "move") return readMove(f, spec);
  if (kind == "turn") return TurnStep{radians(f.number("a_deg")), radians(f.number("b_deg"))};
  if (kind == "swap") return SwapStep{f.text("stylus"), f.text("tip", "")};
  if (kind == "wait")
    return WaitStep{f.text("text", ""), f.text("clamp", ""), f.flag("opens", true),
                    f.number("seconds", 20), f.text("picture", "")};
  if (kind == "ask") return readAsk(f);
  if (kind == "use frame")
    return UseFrameStep{f.text("frame"), f.number("until", 0), f.integer("most", 5)};
  if (kind == "note") return NoteStep{f.text("text", "")};
  if (kind == "construct" || kind == "derive") // "derive" in older files
    return ConstructStep{readFeatureOf(f, spec)};
  if (kind == "qualify")
    return QualifyStep{f.flag("all", false), f.flag("sphere_moved", false),
                       f.flag("reported", true)};
  if (kind == "evaluate") return readEvaluate(f, spec);
  if (kind == "branch") return readBranch(f, spec);
  if (kind == "output") return OutputStep{readNamed<OutputKind>(f, "what", 3), f.text("file")};
  if (kind == "repeat") return readRepeat(f, spec);
  if (kind == "group") return GroupStep{f.text("name")};
  f.complain("kind", "is not a kind of step; expected measure, move, turn, swap, wait, ask, note, "
                     "group, repeat, use frame, construct, qualify, evaluate, branch or output");
  return NoteStep{};
}

} // namespace

Json toJson(const Steps& steps) {
  Json list = Json::array();
  for (const RoutineStep& s : steps) {
    Json json = std::visit(Writer{}, s.body);
    json["id"] = s.id.value;
    // Always written: what is missing would be taken for a field of a newer version and kept.
    json["depth"] = s.depth;
    json["left_out"] = !s.enabled;
    json["before"] = s.before;
    list.push_back(std::move(json));
  }
  return list;
}

Json toTravellingJson(const Steps& steps, const Specification& spec) {
  Json list = toJson(steps);
  const auto number = [&](const Json& id) {
    return spec.requirement(RequirementId{id.get<int>()}).balloon;
  };
  for (Json& step : list) {
    if (step.contains("feature"))
      step["feature_name"] = spec.feature(FeatureId{step["feature"].get<int>()}).name;
    if (step["kind"] == "branch") {
      step["balloon"] = number(step["requirement"]);
      step.erase("requirement");
    }
    if (step["kind"] == "evaluate") {
      step["balloons"] = Json::array();
      for (const Json& id : step["requirements"])
        step["balloons"].push_back(number(id));
      step.erase("requirements");
    }
  }
  return list;
}

Steps readSteps(const JsonFields& fields, const char* key, const Specification& spec) {
  Steps steps;
  for (const auto& f : fields.list(key))
    steps.push_back({StepId{f.integer("id", static_cast<int>(steps.size()))}, f.integer("depth", 0),
                     !f.flag("left_out", false), f.integer("before", 0), readStepBody(f, spec)});
  return steps;
}

} // namespace alder
