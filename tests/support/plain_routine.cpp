#include "plain_routine.h"

#include "exchange/routine/frame_json.h"
#include "exchange/routine/judging_json.h"
#include "exchange/routine/recipe_json.h"
#include "exchange/routine/step_json.h"
#include <cmath>

namespace alder::test {
namespace {

// Figures as text, so that the last digits of a conversion do not count.
Json rounded(const Json& json) {
  if (json.is_number_float()) {
    const double v = json.get<double>();
    return fmt::format("{:.9g}", std::abs(v) < 1e-12 ? 0.0 : v);
  }
  if (!json.is_structured()) return json;
  Json out = json;
  for (auto& one : out)
    one = rounded(one);
  return out;
}

std::string line(const Json& json) {
  return rounded(json).dump();
}

std::string nameOf(const Specification& spec, FeatureId id) {
  return spec.features.holds(id) ? spec.feature(id).name : "none";
}

Json names(const Specification& spec, const std::vector<FeatureId>& ids) {
  Json list = Json::array();
  for (const FeatureId id : ids)
    list.push_back(nameOf(spec, id));
  return list;
}

Json balloonOf(const Specification& spec, const Json& id) {
  const Requirement* r = spec.requirements.find(RequirementId{id.get<int>()});
  return r ? Json(r->balloon) : Json();
}

// Ids of features and requirements by name and number.
void plain(Json& json, const Specification& spec) {
  if (json.is_array())
    for (Json& one : json)
      plain(one, spec);
  if (!json.is_object()) return;
  for (auto& [key, value] : json.items()) {
    const bool feature = key == "feature" || key == "original" || key == "copy";
    if (feature && value.is_number_integer())
      value = nameOf(spec, FeatureId{value.get<int>()});
    else if (key == "requirement" && value.is_number_integer())
      value = balloonOf(spec, value);
    else if (key == "requirements" && value.is_array())
      for (Json& one : value)
        one = balloonOf(spec, one);
    else
      plain(value, spec);
  }
}

Json requirementJson(const Specification& spec, const Requirement& r) {
  Json json{
      {"balloon", r.balloon}, {"kind", name(r.kind)},         {"features", names(spec, r.features)},
      {"zone", name(r.zone)}, {"material", name(r.material)}, {"radius", r.radius},
      {"fit", r.fit},         {"decimals", r.decimals},       {"datums", Json::array()}};
  if (isDimension(r.kind))
    json["limits"] = {r.nominal, r.lower, r.upper};
  else
    json["tolerance"] = r.tolerance;
  for (const DatumReference& d : r.datums)
    json["datums"].push_back(toJson(d));
  const Requirement* upper = spec.requirements.find(r.upper_segment);
  if (upper) json["upper_segment"] = upper->balloon;
  writeJudging(r, json);
  return json;
}

} // namespace

std::vector<std::string> plainSpecification(const Specification& spec) {
  std::vector<std::string> lines;
  std::vector<FeatureId> said;
  for (const NominalFeature& f : spec.features) {
    Json json{{"name", f.name}, {"filter", toJson(f.filtering)}};
    if (f.from) {
      json["from"] = toJson(*f.from);
      json["from"]["of"] = names(spec, f.from->of);
    } else {
      json["faces"] = Json::array();
      for (const FaceId face : f.faces)
        json["faces"].push_back(face.value);
      json["type"] = name(f.ideal.type);
      json["size"] = {f.ideal.diameter, f.ideal.half_angle};
    }
    lines.push_back("feature " + line(json));
  }
  std::sort(lines.begin(), lines.end()); // their order says nothing
  for (const Datum& d : spec.datums)
    lines.push_back("datum " + line({{"letter", d.letter},
                                     {"features", names(spec, d.features)},
                                     {"targets", toJson(d.targets)}}));
  for (const Requirement& r : spec.requirements)
    lines.push_back("requirement " + line(requirementJson(spec, r)));
  lines.push_back(std::string(name(spec.standard)));
  return lines;
}

std::vector<std::string> plainMeasuring(const Plan& plan) {
  std::vector<std::string> lines;
  for (const Feature& f : plan.features) {
    if (f.touches.empty()) continue;
    Json touches = Json::array(), waypoints = Json::array();
    for (const Touch& t : f.touches)
      touches.push_back({toJson(t.point), toJson(t.normal), t.face.value, t.row});
    for (const Vec3& p : f.waypoints)
      waypoints.push_back(toJson(p));
    lines.push_back(line({{"feature", nameOf(plan.spec, f.id)},
                          {"touches", touches},
                          {"tip", f.access.valid() ? nameOf(plan, f.access) : ""},
                          {"forced", f.access_forced},
                          {"recipe", toJson(f.recipe)},
                          {"entry", name(f.entry)},
                          {"pinned", f.pinned},
                          {"through", f.through ? name(*f.through) : ""},
                          {"waypoints", waypoints}}));
  }
  std::sort(lines.begin(), lines.end());
  Json steps = toJson(plan.steps);
  plain(steps, plan.spec);
  for (const Json& step : steps)
    lines.push_back("step " + line(step));
  lines.push_back("alignment " + names(plan.spec, plan.alignment).dump());
  for (const PartFrame& frame : plan.frames)
    lines.push_back("frame " + line(frameJson(frame, [&](FeatureId id) {
                      return Json(nameOf(plan.spec, id));
                    })));
  return lines;
}

std::string firstDifference(const std::vector<std::string>& wanted,
                            const std::vector<std::string>& got) {
  for (std::size_t i = 0; i < std::max(wanted.size(), got.size()); ++i) {
    const std::string a = i < wanted.size() ? wanted[i] : "nothing",
                      b = i < got.size() ? got[i] : "nothing";
    if (a != b) return "wanted " + a + "\n   got " + b;
  }
  return {};
}

} // namespace alder::test
