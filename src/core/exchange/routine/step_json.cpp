#include "exchange/routine/step_json.h"

#include "exchange/routine/named.h"

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

Json copiesJson(const std::vector<RepeatCopy>& all) {
  Json copies = Json::array();
  for (const RepeatCopy& c : all) {
    Json copy{{"features", Json::array()}, {"skipped", c.skipped}};
    for (const auto& [original, id] : c.features)
      copy["features"].push_back({{"original", original.value}, {"copy", id.value}});
    copies.push_back(std::move(copy));
  }
  return copies;
}

std::vector<RepeatCopy> readCopies(const std::vector<JsonFields>& list, const Specification& spec) {
  std::vector<RepeatCopy> copies;
  for (const auto& c : list) {
    RepeatCopy copy;
    copy.skipped = c.flag("skipped", false);
    for (const auto& pair : c.list("features")) {
      const FeatureId original{pair.integer("original", -1)}, id{pair.integer("copy", -1)};
      for (const auto& [key, value] : {std::pair{"original", original}, std::pair{"copy", id}})
        if (!spec.features.holds(value)) pair.complain(key, "names a feature that is not there");
      copy.features.emplace_back(original, id);
    }
    std::sort(copy.features.begin(), copy.features.end());
    copies.push_back(std::move(copy));
  }
  return copies;
}

// Given to the fields of a step; see plan/steps/kinds/step_kind.h.
struct StepWriter {
  Json json;

  void operator()(const char* key, const auto& value) { json[key] = of(value); }
  void needed(const char* key, const auto& value) { json[key] = of(value); }
  void angle(const char* key, double value) { json[key] = shownDegrees(value); }
  void named(const char* key, const auto& value, int, const auto&...) { json[key] = name(value); }

 private:
  static Json of(const std::string& v) { return v; }
  static Json of(bool v) { return v; }
  static Json of(int v) { return v; }
  static Json of(double v) { return v; }
  static Json of(const Vec3& v) { return toJson(v); }
  static Json of(const Boxed<std::string>& v) { return *v; }
  static Json of(const Boxed<Pattern>& v) { return patternJson(v); }
  static Json of(FeatureId v) { return v.value; }
  static Json of(RequirementId v) { return v.value; }
  static Json of(const std::vector<RequirementId>& ids) {
    Json list = Json::array();
    for (RequirementId id : ids)
      list.push_back(id.value);
    return list;
  }
  static Json of(const std::vector<RepeatCopy>& v) { return copiesJson(v); }
};

// Requirements are named by id, or in text that goes from one routine to another, and in older
// files, by number.
class StepReader {
 public:
  StepReader(const JsonFields& fields, const Specification& spec)
      : f_(fields)
      , spec_(spec) {}

  void operator()(const char* key, std::string& v) { v = f_.text(key, v); }
  void operator()(const char* key, bool& v) { v = f_.flag(key, v); }
  void operator()(const char* key, int& v) { v = f_.integer(key, v); }
  void operator()(const char* key, double& v) { v = f_.number(key, v); }
  void operator()(const char* key, Boxed<std::string>& v) { *v = f_.text(key, *v); }
  void operator()(const char* key, Boxed<Pattern>& v) {
    if (f_.has(key)) v = readPattern(f_.object(key));
  }
  void operator()(const char* key, std::vector<RepeatCopy>& v) {
    if (f_.has(key)) v = readCopies(f_.list(key), spec_);
  }
  void operator()(const char* key, std::vector<RequirementId>& v) {
    const bool by_number = !f_.has(key);
    const char* in = by_number ? "balloons" : key;
    for (const Json& value : f_.has(in) ? f_.json().at(in) : Json::array())
      if (const auto id = requirement(in, value, by_number)) v.push_back(*id);
  }
  void needed(const char* key, std::string& v) { v = f_.text(key); }
  void needed(const char* key, Vec3& v) { v = f_.vector(key); }
  void needed(const char* key, FeatureId& v) {
    v = FeatureId{f_.integer(key, -1)};
    if (!spec_.features.holds(v)) f_.complain(key, "names a feature that is not there");
  }
  void needed(const char* key, RequirementId& v) {
    const bool by_number = !f_.has(key);
    const char* in = by_number ? "balloon" : key;
    v = requirement(in, f_.json().value(in, Json()), by_number).value_or(RequirementId{});
  }
  void angle(const char* key, double& v) { v = radians(f_.number(key)); }
  void named(const char* key, auto& v, int count, const auto&... otherwise) {
    using Enum = std::remove_reference_t<decltype(v)>;
    if constexpr (sizeof...(otherwise) == 0)
      v = readNamed<Enum>(f_, key, count);
    else
      v = readNamed<Enum>(f_, key, count, (otherwise(), ...));
    said_ += ", " + std::string(name(v));
  }

  // Older files may ask for a number that no requirement has: the step then is a note that says so.
  std::optional<NoteStep> asksForNone(std::string_view title) const {
    if (!asks_for_none_) return {};
    return NoteStep{fmt::format("{} ({}) is left out: it asks for a requirement that is not there",
                                title, said_.substr(2))};
  }

 private:
  std::optional<RequirementId> requirement(const char* key, const Json& value, bool by_number) {
    said_ += ", " + value.dump();
    if (value.is_number_integer()) {
      const int number = value.get<int>();
      for (const Requirement& r : spec_.requirements)
        if (number == (by_number ? r.balloon : r.id.value)) return r.id;
    }
    if (by_number && !value.is_structured())
      asks_for_none_ = true;
    else
      f_.complain(key, "must be a requirement of the routine");
    return {};
  }

  const JsonFields& f_;
  const Specification& spec_;
  std::string said_; // numbers and words, for a note
  bool asks_for_none_ = false;
};

// The kind of this name, of those in the variant.
template <std::size_t I = 0>
std::optional<StepBody> readKind(const std::string& kind, const JsonFields& f,
                                 const Specification& spec) {
  if constexpr (I == std::variant_size_v<StepBody>) {
    return {};
  } else {
    using Step = std::variant_alternative_t<I, StepBody>;
    if (kind != Step::kTraits.kind) return readKind<I + 1>(kind, f, spec);
    Step step;
    StepReader reader(f, spec);
    Step::fields(step, reader);
    if (const auto note = reader.asksForNone(Step::kTraits.title)) return *note;
    return step;
  }
}

template <std::size_t... I> std::string allKinds(std::index_sequence<I...>) {
  std::string all;
  const auto add = [&](std::string_view kind) {
    all += (all.empty() ? "" : ", ") + std::string(kind);
  };
  (add(std::variant_alternative_t<I, StepBody>::kTraits.kind), ...);
  return all;
}

StepBody readStepBody(const JsonFields& f, const Specification& spec) {
  std::string kind = f.text("kind");
  if (kind == "derive") kind = "construct"; // in older files
  if (auto body = readKind(kind, f, spec)) return std::move(*body);
  f.complain("kind", "is not a kind of step; expected one of " +
                         allKinds(std::make_index_sequence<std::variant_size_v<StepBody>>()));
  return NoteStep{};
}

} // namespace

Json toJson(const Steps& steps) {
  Json list = Json::array();
  for (const RoutineStep& s : steps) {
    StepWriter writer;
    std::visit([&](const auto& body) { body.fields(body, writer); }, s.body);
    Json json = std::move(writer.json);
    json["kind"] = traitsOf(s.body).kind;
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
    if (step.contains("requirement")) {
      step["balloon"] = number(step["requirement"]);
      step.erase("requirement");
    }
    if (step.contains("requirements") && step["requirements"].is_array()) {
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
