#include "exchange/step/stated.h"

#include "base/units.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace alder {
namespace {

using K = Characteristic;

bool near(double a, double b) {
  return a == b || std::abs(a - b) <= 1e-9 * std::max({1.0, std::abs(a), std::abs(b)});
}

// Faces of each, features in the order of their first face where it does not matter.
std::vector<std::vector<FaceId>> facesOf(const Specification& spec,
                                         const std::vector<FeatureId>& features, bool ordered) {
  std::vector<std::vector<FaceId>> faces;
  for (FeatureId f : features)
    faces.push_back(spec.feature(f).faces);
  if (!ordered) std::sort(faces.begin(), faces.end());
  return faces;
}

// Fields of Requirement::judging that say how it is judged and not what is required, in words.
struct NamedField {
  const char* field;
  const char* words;
};
constexpr NamedField kJudgedBy[]{{"association", "the criterion of its association"},
                                 {"datum_association", "the criterion of its datums"},
                                 {"of", "what of its feature is extracted"},
                                 {"filter", "its filter"},
                                 {"uncertainty", "its uncertainty"},
                                 {"standard", "the standard that judges it"}};
// Those for which there is no entity that every reader knows.
constexpr NamedField kUnsaid[]{{"free_offset", "has a zone of any offset (OZ)"},
                               {"zone_plane", "has an orientation plane"},
                               {"section_plane", "has an intersection plane"}};

Json judgingOf(const Requirement& r) {
  Json json = Json::object();
  writeJudging(r, json);
  return json;
}

// Of sizes and tangent planes the association is what is required.
bool isRequired(const Requirement& r, std::string_view field) {
  return field == "association" && (r.kind == K::Size || r.association == AssociateBy::Tangent);
}

bool sameJson(const Json& a, const Json& b) {
  if (a.is_number() && b.is_number()) return near(a.get<double>(), b.get<double>());
  return a == b;
}

std::string constructedIn(const Specification& spec, const std::vector<FeatureId>& features) {
  for (FeatureId f : features)
    if (spec.feature(f).isConstructed() || spec.feature(f).faces.empty())
      return spec.feature(f).name;
  return {};
}

} // namespace

RequirementEntities entitiesOf(const Specification& spec) {
  RequirementEntities entities;
  for (const Requirement& r : spec.requirements)
    entities[r.id] = r.entity;
  return entities;
}

Stated statedOf(const Specification& spec, const Requirement& r,
                const RequirementEntities& entities) {
  const auto entityOf = [&](RequirementId id) {
    const auto found = entities.find(id);
    return found == entities.end() ? EntityNumber{0} : found->second;
  };
  Stated s;
  s.kind = r.kind;
  s.features = facesOf(spec, r.features, r.kind == K::Distance || r.kind == K::Angle);
  s.material = r.material;
  s.datums = r.datums;
  s.modifiers = judgingOf(r);
  for (const NamedField& each : kJudgedBy)
    if (!isRequired(r, each.field)) s.modifiers.erase(each.field);
  s.modifiers.erase("together"); // the number says nothing, the others do
  if (isDimension(r.kind)) {
    s.nominal = r.nominal;
    s.lower = r.lower - r.nominal;
    s.upper = r.upper - r.nominal;
    s.radius = r.radius;
    s.fit = r.fit;
    return s;
  }
  s.tolerance = r.tolerance;
  s.zone = r.zone;
  if (r.upper_segment.valid()) s.upper_segment = entityOf(r.upper_segment);
  for (const Requirement* other : heldTogether(spec, r))
    if (entities.count(other->id) > 0) s.one_with.push_back(entityOf(other->id));
  std::sort(s.one_with.begin(), s.one_with.end());
  if (s.one_with.size() == 1) s.one_with.clear();
  return s;
}

std::vector<std::string> differences(const Stated& a, const Stated& b) {
  std::vector<std::string> all;
  const auto say = [&](bool same, std::string what) {
    if (!same) all.push_back(std::move(what));
  };
  const auto figure = [&](const char* what, double x, double y) {
    if (near(x, y)) return;
    const bool angle = a.kind == K::Angle;
    const double per = angle ? 180 / kPi : 1;
    all.push_back(fmt::format("{} {:.6g} and {:.6g}{}", what, x * per, y * per, angle ? "°" : ""));
  };
  if (a.kind != b.kind)
    return {fmt::format("{} and {}", name(a.kind), name(b.kind))}; // all else follows from it
  say(a.features == b.features, "other faces");
  figure("nominal", a.nominal, b.nominal);
  figure("lower deviation", a.lower, b.lower);
  figure("upper deviation", a.upper, b.upper);
  figure("tolerance", a.tolerance, b.tolerance);
  say(a.zone == b.zone, fmt::format("zone {} and {}", name(a.zone), name(b.zone)));
  say(a.material == b.material,
      fmt::format("material modifier {} and {}", name(a.material), name(b.material)));
  if (a.datums != b.datums)
    all.push_back(fmt::format("datums {} and {}", a.datums.empty() ? "none" : describe(a.datums),
                              b.datums.empty() ? "none" : describe(b.datums)));
  for (const auto* side : {&a, &b})
    for (const auto& [field, value] : side->modifiers.items()) {
      const Json &of_a = a.modifiers.value(field, Json()), &of_b = b.modifiers.value(field, Json());
      if (sameJson(of_a, of_b) || (side == &b && a.modifiers.contains(field))) continue;
      std::string what = field;
      std::replace(what.begin(), what.end(), '_', ' ');
      all.push_back(fmt::format("{} {} and {}", what, of_a.dump(), of_b.dump()));
    }
  say(a.radius == b.radius, "radius and diameter");
  say(a.fit == b.fit, fmt::format("fit \"{}\" and \"{}\"", a.fit, b.fit));
  say(a.upper_segment == b.upper_segment, "another segment above it");
  say(a.one_with == b.one_with, "other requirements held together with it");
  return all;
}

bool sameDatum(const Specification& a, const Datum& of_a, const Specification& b,
               const Datum& of_b) {
  if (of_a.targets.size() != of_b.targets.size()) return false;
  for (std::size_t i = 0; i < of_a.targets.size(); ++i) {
    const DatumTarget &x = of_a.targets[i], &y = of_b.targets[i];
    if ((x.point - y.point).norm() > 1e-9 || !near(x.diameter, y.diameter) ||
        x.to.has_value() != y.to.has_value() || (x.to && (*x.to - *y.to).norm() > 1e-9))
      return false;
  }
  return facesOf(a, of_a.features, false) == facesOf(b, of_b.features, false);
}

std::string cannotBeStated(const Specification& spec, const Datum& datum) {
  if (datum.features.empty()) return "names no feature";
  const std::string feature = constructedIn(spec, datum.features);
  return feature.empty() ? "" : "is of " + feature + ", which no face of the model is";
}

std::string cannotBeStated(const Specification& spec, const Requirement& r) {
  if (r.kind == K::Value) return "is computed by a formula";
  if (r.features.empty()) return "names no feature";
  if (const std::string feature = constructedIn(spec, r.features); !feature.empty())
    return "is of " + feature + ", which no face of the model is";
  if (r.kind == K::Distance && r.features.size() != 2) return "names one feature alone";
  if (r.along != Along::Direct) return "counts " + words(r.along);
  if (r.extreme != Extreme::Between)
    return fmt::format("is the {} of the distances between points", name(r.extreme));
  const Json judging = judgingOf(r), plain = judgingOf(Requirement{});
  for (const NamedField& each : kUnsaid)
    if (judging.value(each.field, Json()) != plain.value(each.field, Json())) return each.words;
  const Ideal& ideal = spec.feature(r.features.front()).ideal;
  const bool derived = r.kind == K::Position || r.kind == K::Coaxiality || isOrientation(r.kind);
  if (derived && hasAxis(ideal) && r.zone == Zone::Planar)
    return "has a flat zone about an axis, whose direction no file of this kind gives";
  if (zoneProjection(r) > 0 && r.datums.empty())
    return "has a projected zone and no datum it begins at";
  for (const DatumReference& d : r.datums) {
    if (!toJson(d)["boundary"].is_null()) return "says how large the boundary of a datum is";
    for (const std::string& letter : d.letters) {
      const Datum* datum = spec.datum(letter);
      if (!datum) return "refers to datum " + letter + ", which is not there";
      if (const std::string why = cannotBeStated(spec, *datum); !why.empty())
        return fmt::format("refers to datum {}, which {}", letter, why);
    }
  }
  if (r.datums.empty() && (isOrientation(r.kind) || isRunout(r.kind) || r.kind == K::Coaxiality ||
                           r.kind == K::Symmetry))
    return "refers to no datum";
  return {};
}

std::vector<std::string> judgedBy(const Requirement& r) {
  std::vector<std::string> all;
  const Json judging = judgingOf(r), plain = judgingOf(Requirement{});
  for (const NamedField& each : kJudgedBy)
    if (!isRequired(r, each.field) &&
        judging.value(each.field, Json()) != plain.value(each.field, Json()))
      all.emplace_back(each.words);
  return all;
}

} // namespace alder
