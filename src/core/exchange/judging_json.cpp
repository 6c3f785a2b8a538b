#include "exchange/judging_json.h"

#include "base/units.h"
#include "requirement/plane_indicator.h"

namespace alder {

Json toJson(const Filtering& f) {
  if (!f.any()) return Json::object();
  return {{"kind", name(f.kind)},
          {"cutoff_mm", f.cutoff},
          {"undulations", f.undulations},
          {"outlier_sigma", f.outlier_sigma},
          {"outlier_percent", 100 * f.outlier_share}};
}

Filtering readFiltering(const JsonFields& f) {
  Filtering out;
  const auto kind = filterKindNamed(f.text("kind", "none"));
  if (!kind) f.complain("kind", kind.error().message);
  out.kind = kind.value_or(FilterKind::None);
  out.cutoff = f.number("cutoff_mm", 0);
  out.undulations = f.number("undulations", 0);
  out.outlier_sigma = f.number("outlier_sigma", 0);
  out.outlier_share = f.number("outlier_percent", 0) / 100;
  if (auto valid = validate(out); !valid) f.complain("kind", valid.error().message);
  return out;
}

Json toJson(const Construction& c) {
  Json of = Json::array();
  for (FeatureId id : c.of)
    of.push_back(id.value);
  Json json{{"construct", name(c.kind)}, {"of", of}};
  if (c.kind == ConstructionKind::Copy) {
    json["offset"] = toJson(c.offset);
    json["turn_deg"] = Json::array();
    for (int k = 0; k < 3; ++k)
      json["turn_deg"].push_back(shownDegrees(c.turn[k]));
  }
  if (c.kind == ConstructionKind::GaugeCircle) json["diameter"] = c.diameter;
  if (c.kind == ConstructionKind::Section) json["row"] = c.row;
  return json;
}

Construction readConstruction(const JsonFields& f) {
  Construction c;
  const auto kind = constructionNamed(f.text("construct"));
  if (!kind) f.complain("construct", "is not a construction");
  c.kind = kind.value_or(ConstructionKind::Middle);
  c.offset = f.vector("offset", Vec3::Zero());
  c.turn = f.vector("turn_deg", Vec3::Zero()) * (kPi / 180);
  c.diameter = f.number("diameter", 0);
  c.row = f.integer("row", 0);
  return c;
}

const Json& elements(const JsonFields& f, const char* key) {
  static const Json kNone = Json::array();
  if (!f.has(key)) return kNone;
  const Json& list = f.json().at(key);
  if (list.is_array()) return list;
  f.complain(key, "must be a list");
  return kNone;
}

void readJudging(const JsonFields& f, Requirement& r) {
  const auto given = [&](const char* key) { return f.has(key) && !f.json().at(key).is_null(); };
  const auto length = [&](const char* key) {
    const double value = f.number(key, 0);
    if (value < 0) f.complain(key, "must not be below zero");
    return value;
  };
  if (given("filter")) r.filtering = readFiltering(f.object("filter"));
  r.projected = length("projected");
  r.unit_length = length("unit_length");
  r.separate = f.flag("separate", false);
  r.envelope = f.flag("envelope", false);
  r.reciprocity = f.flag("reciprocity", false);
  r.free_offset = f.flag("free_offset", false);
  r.together = f.integer("together", 0);
  if (r.together < 0) f.complain("together", "must not be below zero");
  const auto planes = [&](const char* key) {
    const auto read = planeIndicatorFrom(f.text(key, ""));
    if (!read) f.complain(key, "names no plane: " + read.error().message);
    return read.value_or(std::nullopt);
  };
  r.zone_plane = planes("zone_plane");
  r.section_plane = planes("section_plane");
  const auto along = alongNamed(f.text("along", ""));
  if (!along) f.complain("along", "is neither x, y, z nor radial");
  r.along = along.value_or(Along::Direct);
  const auto extreme = extremeNamed(f.text("extreme", ""));
  if (!extreme) f.complain("extreme", "is neither smallest nor largest");
  r.extreme = extreme.value_or(Extreme::Between);
  r.formula = f.text("formula", "");
  r.unit = f.text("unit", "");
  if (given("uncertainty"))
    r.uncertainty = length("uncertainty") * (r.kind == Characteristic::Angle ? kPi / 180 : 1);
}

std::string readLocks(const JsonFields& f) {
  const auto locks = f.text("locks", "");
  if (locks.find_first_not_of("xyzuvw") != std::string::npos)
    f.complain("locks", "may hold the letters x y z u v w");
  return locks;
}

Json toJson(const std::vector<DatumTarget>& targets) {
  Json list = Json::array();
  for (const DatumTarget& t : targets) {
    list.push_back({{"point", toJson(t.point)}, {"diameter", t.diameter}});
    list.back()["to"] = t.to ? toJson(*t.to) : Json();
  }
  return list;
}

std::vector<DatumTarget> readTargets(const JsonFields& f) {
  std::vector<DatumTarget> targets;
  for (const auto& item : f.list("targets")) {
    DatumTarget t;
    t.point = item.vector("point");
    t.diameter = item.number("diameter", 0);
    if (item.has("to")) t.to = item.vector("to");
    if (t.diameter < 0) item.complain("diameter", "must not be below zero");
    targets.push_back(t);
  }
  return targets;
}

} // namespace alder
