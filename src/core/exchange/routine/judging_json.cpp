#include "exchange/routine/judging_json.h"

#include "base/units.h"
#include "exchange/routine/named.h"
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

Json toJson(const GeneralTolerances& g) {
  Json json{{"rule", name(g.rule)}};
  if (g.rule == GeneralRule::Iso2768) json["class"] = std::string(1, g.linear);
  if (g.geometrical != ' ') json["geometrical_class"] = std::string(1, g.geometrical);
  if (g.rule == GeneralRule::Iso22081) json["length"] = g.length;
  if (g.profile > 0) json["profile"] = g.profile;
  for (const GeneralRow& row : g.by_size)
    json["by_size"].push_back({{"up_to", row.up_to}, {"half", row.half}});
  if (g.rule == GeneralRule::ByDecimals) json["by_decimals"] = g.by_decimals;
  if (g.angle > 0) json["angle_deg"] = shownDegrees(g.angle);
  return json;
}

GeneralTolerances readGeneral(const JsonFields& f) {
  GeneralTolerances g;
  const auto rule = generalRuleNamed(f.text("rule", ""));
  if (!rule) f.complain("rule", "is not one of iso_2768, iso_22081, by_decimals, by_size");
  g.rule = rule.value_or(GeneralRule::None);
  const std::string letter = f.text("class", "m");
  if (letter.size() != 1 || std::string_view("fmcv").find(letter) == std::string_view::npos)
    f.complain("class", "is not one of f, m, c, v");
  else
    g.linear = letter.front();
  const std::string geometrical = f.text("geometrical_class", " ");
  if (geometrical.size() != 1 ||
      std::string_view(" HKL").find(geometrical) == std::string_view::npos)
    f.complain("geometrical_class", "is not one of H, K, L");
  else
    g.geometrical = geometrical.front();
  g.profile = std::max(0.0, f.number("profile", 0));
  for (const JsonFields& row : f.list("by_size")) {
    g.by_size.push_back({row.positive("up_to"), row.positive("half")});
    if (g.by_size.size() > 1 && g.by_size.back().up_to <= g.by_size[g.by_size.size() - 2].up_to)
      row.complain("up_to", "is not above the row before");
  }
  g.length = std::max(0.0, f.number("length", 0));
  g.angle = radians(std::clamp(f.number("angle_deg", 0), 0.0, 180.0));
  const Json& list = elements(f, "by_decimals");
  for (std::size_t i = 0; i < std::min(list.size(), g.by_decimals.size()); ++i)
    if (list[i].is_number()) g.by_decimals[i] = std::max(0.0, list[i].get<double>());
  return g;
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

namespace {

double unitOf(Characteristic kind) {
  return kind == Characteristic::Angle ? kPi / 180 : 1;
}

// Absent or null is as the standard has it. Always written: what is missing would be taken for a
// field of a newer version and kept.
struct JudgingWriter {
  Json& json;

  void operator()(const char* key, const auto& v) { json[key] = of(v); }
  void notNegative(const char* key, const auto& v) { json[key] = v; }
  void uncertainty(const char* key, const std::optional<double>& v, Characteristic kind) {
    if (!v)
      json[key] = Json();
    else
      json[key] = kind == Characteristic::Angle ? shownDegrees(*v) : *v;
  }

 private:
  static Json of(bool v) { return v; }
  static Json of(double v) { return v; }
  static Json of(const std::string& v) { return v; }
  static Json of(AssociateBy v) { return name(v); }
  static Json of(Extracted v) { return name(v); }
  static Json of(Along v) { return name(v); }
  static Json of(Extreme v) { return name(v); }
  static Json of(const std::optional<ToleranceStandard>& v) { return v ? name(*v) : ""; }
  static Json of(const std::optional<PlaneIndicator>& v) { return text(v); }
  static Json of(const std::optional<Filtering>& v) { return v ? toJson(*v) : Json(); }
};

struct JudgingReader {
  const JsonFields& f;

  void operator()(const char* key, bool& v) { v = f.flag(key, v); }
  void operator()(const char* key, double& v) { v = f.number(key, v); }
  void operator()(const char* key, std::string& v) { v = f.text(key, v); }
  void operator()(const char* key, AssociateBy& v) {
    named(key, v, associateByNamed,
          "is not one of ls, mz, mi, mc, tangent, median_line, two_point_min, two_point_max, "
          "two_point_mean, "
          "two_point_range, two_point_median, two_point_mid_range, circumference, area");
  }
  void operator()(const char* key, Extracted& v) {
    named(key, v, extractedNamed, "is neither surface, axis nor median_line");
  }
  void operator()(const char* key, Along& v) {
    named(key, v, alongNamed, "is neither x, y, z nor radial");
  }
  void operator()(const char* key, Extreme& v) {
    named(key, v, extremeNamed, "is neither smallest nor largest");
  }
  void operator()(const char* key, std::optional<ToleranceStandard>& v) {
    if (ToleranceStandard read{}; !f.text(key, "").empty())
      if (named(key, read, standardNamed, "is not one of ISO, ASME, ASME-2009")) v = read;
  }
  void operator()(const char* key, std::optional<PlaneIndicator>& v) {
    const auto read = planeIndicatorFrom(f.text(key, ""));
    if (!read) f.complain(key, "names no plane: " + read.error().message);
    v = read.value_or(std::nullopt);
  }
  void operator()(const char* key, std::optional<Filtering>& v) {
    if (given(key)) v = readFiltering(f.object(key));
  }
  void notNegative(const char* key, double& v) {
    v = f.number(key, v);
    if (v < 0) f.complain(key, "must not be below zero");
  }
  void notNegative(const char* key, int& v) {
    v = f.integer(key, v);
    if (v < 0) f.complain(key, "must not be below zero");
  }
  void uncertainty(const char* key, std::optional<double>& v, Characteristic kind) {
    if (!given(key)) return;
    double read = 0;
    notNegative(key, read);
    v = read * unitOf(kind);
  }

 private:
  bool given(const char* key) const { return f.has(key) && !f.json().at(key).is_null(); }
  bool named(const char* key, auto& v, const auto& by_name, const char* complaint) {
    const auto read = by_name(f.text(key, ""));
    if (read)
      v = *read;
    else
      f.complain(key, complaint);
    return read.has_value();
  }
};

} // namespace

void writeJudging(const Requirement& r, Json& json) {
  JudgingWriter writer{json};
  Requirement::judging(r, writer);
}

void readJudging(const JsonFields& f, Requirement& r) {
  JudgingReader reader{f};
  Requirement::judging(r, reader);
}

Json toJson(const DatumReference& d) {
  Json json{{"letters", d.letters}, {"material", name(d.material)}, {"locks", d.may_fix}};
  json["boundary"] = d.boundary ? Json(*d.boundary) : Json();
  return json;
}

DatumReference readDatumReference(const JsonFields& f) {
  DatumReference reference;
  for (const Json& l : elements(f, "letters"))
    if (l.is_string()) reference.letters.push_back(l.get<std::string>());
  reference.material = readNamed(f, "material", 3, MaterialModifier::None);
  if (f.has("boundary")) reference.boundary = f.number("boundary", 0);
  readMayFix(f, reference);
  return reference;
}

void readMayFix(const JsonFields& f, DatumReference& reference) {
  reference.may_fix = f.text("locks", "");
  if (reference.may_fix.find_first_not_of("xyzuvw") != std::string::npos)
    f.complain("locks", "may hold the letters x y z u v w");
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
