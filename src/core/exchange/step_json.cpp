#include "exchange/step_json.h"

#include "base/units.h"

namespace alder {
namespace {

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
    return {{"kind", "wait"},
            {"text", s.text},
            {"clamp", s.clamp},
            {"opens", s.opens},
            {"seconds", s.seconds}};
  }
  Json operator()(const AskStep& s) const {
    return {{"kind", "ask"}, {"what", s.what}, {"number", s.number}, {"unit", s.unit}};
  }
  Json operator()(const UseFrameStep& s) const {
    return {{"kind", "use frame"}, {"frame", s.frame}};
  }
  Json operator()(const NoteStep& s) const { return {{"kind", "note"}, {"text", s.text}}; }
  Json operator()(const GroupStep& s) const { return {{"kind", "group"}, {"name", s.name}}; }
};

FeatureId readFeatureOf(const JsonFields& f, std::size_t features) {
  const int id = f.integer("feature", -1);
  if (id < 0 || static_cast<std::size_t>(id) >= features)
    f.complain("feature", "names a feature that is not there");
  return FeatureId{id};
}

MoveStep readMove(const JsonFields& f, std::size_t features) {
  MoveStep s;
  const std::string from = f.text("from", "part");
  bool known = false;
  for (const CountFrom c : {CountFrom::Machine, CountFrom::Part, CountFrom::Feature})
    if (from == name(c)) s.from = c, known = true;
  if (!known) f.complain("from", "is not one of machine, part, feature");
  s.place = f.vector("place");
  if (s.from == CountFrom::Feature) s.feature = readFeatureOf(f, features);
  return s;
}

StepBody readStepBody(const JsonFields& f, std::size_t features) {
  const std::string kind = f.text("kind");
  if (kind == "measure") return MeasureStep{readFeatureOf(f, features)};
  if (kind == "move") return readMove(f, features);
  if (kind == "turn") return TurnStep{radians(f.number("a_deg")), radians(f.number("b_deg"))};
  if (kind == "swap") return SwapStep{f.text("stylus"), f.text("tip", "")};
  if (kind == "wait")
    return WaitStep{f.text("text", ""), f.text("clamp", ""), f.flag("opens", true),
                    f.number("seconds", 20)};
  if (kind == "ask") return AskStep{f.text("what"), f.flag("number", false), f.text("unit", "")};
  if (kind == "use frame") return UseFrameStep{f.text("frame")};
  if (kind == "note") return NoteStep{f.text("text", "")};
  if (kind == "group") return GroupStep{f.text("name")};
  f.complain("kind", "is not a kind of step; expected measure, move, turn, swap, wait, ask, note, "
                     "group or use frame");
  return NoteStep{};
}

} // namespace

Json toJson(const Steps& steps) {
  Json list = Json::array();
  for (const RoutineStep& s : steps) {
    Json json = std::visit(Writer{}, s.body);
    json["id"] = s.id.value;
    if (s.depth > 0) json["depth"] = s.depth;
    if (!s.enabled) json["left_out"] = true;
    if (s.before > 0) json["before"] = s.before;
    list.push_back(std::move(json));
  }
  return list;
}

Steps readSteps(const JsonFields& fields, const char* key, std::size_t features) {
  Steps steps;
  for (const auto& f : fields.list(key))
    steps.push_back({StepId{f.integer("id", static_cast<int>(steps.size()))}, f.integer("depth", 0),
                     !f.flag("left_out", false), f.integer("before", 0),
                     readStepBody(f, features)});
  return steps;
}

} // namespace alder
