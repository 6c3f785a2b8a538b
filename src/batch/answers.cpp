#include "answers.h"

#include "base/units.h"
#include "exchange/routine/recipe_json.h"
#include "exchange/routine/setup_json.h"
#include "plan/id_text.h"
#include "requirement/limits.h"
#include "requirement/member_numbers.h"
#include "requirement/modifiers.h"
#include "route/setup_check.h"
#include <algorithm>
#include <cstdio>
#include <set>

namespace alder::batch {
namespace {

double shown(const Requirement& r, double value) {
  return r.kind == Characteristic::Angle ? degrees(value) : value;
}

std::string modifier(MaterialModifier m) {
  return m == MaterialModifier::Maximum ? "M" : m == MaterialModifier::Least ? "L" : "";
}

Json featureIds(const std::vector<FeatureId>& ids) {
  Json list = Json::array();
  for (FeatureId f : ids)
    list.push_back(idText(f));
  return list;
}

Json noteAnswer(const Note& n) {
  return {{"entity", n.entity}, {"text", n.text}, {"seen", n.seen}};
}

Json requirementAnswer(const Plan& plan, const Requirement& r, const std::string& why_not) {
  const Specification& spec = plan.spec;
  Json datums = Json::array(), notes = Json::array();
  for (const Note* note : notesOn(plan, r))
    notes.push_back(noteAnswer(*note));
  for (const auto& d : r.datums) {
    std::string letters;
    for (const auto& l : d.letters)
      letters += (letters.empty() ? "" : "-") + l;
    datums.push_back({{"letter", letters}, {"modifier", modifier(d.material)}});
  }
  Json json{{"id", idText(r.id)},
            {"balloon", r.balloon},
            {"kind", name(r.kind)},
            {"text", describe(spec, r)},
            {"modifier", modifier(r.material)},
            {"datums", datums},
            {"features", featureIds(r.features)},
            {"covered", why_not.empty()},
            {"why_not", why_not},
            {"entity", r.entity},
            {"notes", notes}};
  if (isDimension(r.kind)) {
    json["nominal"] = shown(r, r.nominal);
    json["lower"] = shown(r, r.lower);
    json["upper"] = shown(r, r.upper);
    json["tolerance"] = shown(r, r.tolerance);
    if (!r.fit.empty()) json["fit"] = r.fit;
  } else {
    json["nominal"] = 0;
    json["lower"] = 0;
    json["upper"] = r.tolerance;
    json["tolerance"] = r.tolerance;
    if (const double middle = zoneMiddle(r); middle != 0) json["unequal"] = middle;
  }
  json["zone"] = name(r.zone);
  json["unit"] = r.kind == Characteristic::Angle ? "deg" : "mm";
  return json;
}

Json featureAnswer(const Plan& plan, const Feature& f) {
  const NominalFeature& n = plan.nominal(f.id);
  Json json{{"id", idText(f.id)},
            {"name", n.name},
            {"kind", name(n.ideal.type)},
            {"point", toJson(n.ideal.point)},
            {"direction", toJson(n.ideal.direction)},
            {"diameter", n.ideal.diameter},
            {"hole", n.ideal.hole},
            {"touches", f.touches.size()},
            {"recipe", f.recipe.name},
            {"why_not", f.why_not}};
  if (f.access.valid()) {
    json["stylus"] = plan.bench.styli[static_cast<std::size_t>(f.access.stylus)].name;
    json["tip"] = plan.tip(f.access).name;
    json["a"] = shownDegrees(f.access.a);
    json["b"] = shownDegrees(f.access.b);
  }
  return json;
}

} // namespace

void print(const Json& json) {
  std::puts(json.dump(2, ' ', false, Json::error_handler_t::replace).c_str());
}

Json fitAnswer(const Association& a) {
  Json json{{"shape", name(a.shape)},
            {"criterion", name(a.criterion)},
            {"point", toJson(a.point)},
            {"form", a.form},
            {"rms", a.rms},
            {"points", a.deviations.size()}};
  if (a.shape != Shape::Sphere) json["direction"] = toJson(a.direction);
  if (a.shape != Shape::Line && a.shape != Shape::Plane) json["diameter"] = a.diameter;
  if (a.shape == Shape::Cone) json["apex_angle_deg"] = degrees(2 * a.half_angle);
  if (a.shape == Shape::Torus) json["tube_diameter"] = a.tube;
  if (a.criterion != Criterion::LeastSquares) {
    Json contacts = Json::array();
    for (const Contact& c : a.contacts)
      contacts.push_back({{"point", c.point + 1}, {"side", c.side}, {"weight", c.weight}});
    json["contacts"] = contacts;
    if (a.place_within > 0) json["place_within"] = a.place_within;
    if (a.place_within > 0) json["proved"] = a.proved;
  }
  return json;
}

namespace {

// As the model's designer saved them, with the requirements that each shows.
Json viewsAnswer(const Plan& plan) {
  Json views = Json::array();
  for (const PmiView& v : plan.part->pmi.views) {
    Json shown = Json::array();
    for (const Requirement& r : plan.spec.requirements)
      if (std::find(v.shows.begin(), v.shows.end(), r.entity) != v.shows.end())
        shown.push_back(idText(r.id));
    views.push_back({{"name", v.name}, {"requirements", shown}});
  }
  return views;
}

} // namespace

namespace {

Json frameAnswer(const Frame& frame) {
  Json rows = Json::array();
  for (int r = 0; r < 3; ++r)
    rows.push_back({frame(r, 0), frame(r, 1), frame(r, 2), frame(r, 3)});
  return rows;
}

// How the part stands in each, and what is touched there.
Json setupsAnswer(const Plan& plan) {
  Json setups = Json::array();
  for (const Setup& s : setupsOf(plan)) {
    Json features = Json::array(), joined = Json::array();
    for (const Feature& f : plan.features)
      if (f.setup == s.id && f.covered()) features.push_back(idText(f.id));
    for (FeatureId id : joiningIn(plan, s.id))
      joined.push_back({{"feature", idText(id)}, {"of", idText(plan.nominal(id).portion->of)}});
    setups.push_back({{"name", s.name},
                      {"how", s.how},
                      {"placement", frameAnswer(s.placement)},
                      {"supports", toJson(s.supports)},
                      {"features", features},
                      {"joined_by", joined}});
  }
  return setups;
}

} // namespace

namespace {

// Bodies of the CAD file, those that are left out as well.
Json bodiesAnswer(const PartModel& part) {
  Json bodies = Json::array();
  for (const Body& b : part.bodies) {
    Json path = Json::array(); // of components, from the top
    for (int c = b.component; c >= 0; c = part.components[static_cast<std::size_t>(c)].parent)
      path.insert(path.begin(), part.components[static_cast<std::size_t>(c)].name);
    bodies.push_back({{"name", b.name},
                      {"components", path},
                      {"hidden", b.hidden},
                      {"left_out", b.left_out},
                      {"faces", b.face_count}});
  }
  return bodies;
}

} // namespace

Json draftAnswer(const Plan& plan, const Coverage& coverage) {
  Json requirements = Json::array(), features = Json::array(), notes = Json::array();
  std::size_t touches = 0;
  for (const auto& r : plan.spec.requirements) {
    const Tried& tried = coverage.at(r.id);
    requirements.push_back(requirementAnswer(plan, r, tried.why));
    requirements.back()["noise_share"] = tried.noise;
  }
  for (const auto& f : plan.features) {
    features.push_back(featureAnswer(plan, f));
    touches += f.touches.size();
  }
  for (const Note& n : plan.notes)
    notes.push_back(noteAnswer(n));
  Json datums = Json::array();
  for (const Datum& d : plan.spec.datums)
    datums.push_back({{"letter", d.letter}, {"features", featureIds(d.features)}});
  return {{"name", plan.name},
          {"requirements", requirements},
          {"features", features},
          {"datums", datums},
          {"touches", touches},
          {"notes", notes},
          {"views", viewsAnswer(plan)},
          {"set_ups", setupsAnswer(plan)},
          {"bodies", bodiesAnswer(*plan.part)}};
}

namespace {

// Along the direction of the path's dx, dy, dz: of a bent tip as far as it runs straight.
Json segmentsAnswer(const Tip& tip) {
  Json segments = Json::array();
  for (const Rod& rod : tip.rods) {
    const double from = -rod.a.dot(tip.direction), to = -rod.b.dot(tip.direction);
    if ((rod.b + to * tip.direction).norm() > 1e-9) break;
    segments.push_back(
        {{"from_mm", from}, {"to_mm", to}, {"diameter_mm", rod.diameter}, {"part", rod.part}});
  }
  return segments;
}

// All that moves, at A0 B0 from the centre of the ball, machine axes; what turns with the head is
// turned about the z axis by B and then by -A about the x axis of before.
Json rodsAnswer(const Bench& bench, int stylus, int tip) {
  Json rods = Json::array();
  for (const Rod& rod : toolOf(bench, {stylus, tip, 0, 0}).rods)
    rods.push_back({{"from", toJson(rod.a)},
                    {"to", toJson(rod.b)},
                    {"diameter_mm", rod.diameter},
                    {"part", rod.part}});
  return rods;
}

} // namespace

Json rehearsalAnswer(const Plan& plan, const Way& way, const Rehearsal& r) {
  Json clashes = Json::array(), bodies = Json::array(), notes = Json::array();
  for (const Clash& c : r.clashes)
    clashes.push_back({{"step", c.step + 1},
                       {"step_text", way.steps[static_cast<std::size_t>(c.step)].text},
                       {"second", c.seconds},
                       {"bodies", {c.moving, c.still}},
                       {"depth_mm", c.depth},
                       {"seq", c.position + 1}});
  std::set<std::pair<int, int>> used;
  for (const Position& p : way.positions)
    used.insert({p.access.stylus, p.access.tip});
  for (const auto& [s, t] : used) {
    const Stylus& stylus = plan.bench.styli[static_cast<std::size_t>(s)];
    const Tip& tip = stylus.tips[static_cast<std::size_t>(t)];
    bodies.push_back({{"stylus", stylus.name},
                      {"tip", tip.name},
                      {"ball_diameter_mm", tip.ball_diameter},
                      {"disc_thickness_mm", tip.disc_thickness},
                      {"segments", segmentsAnswer(tip)},
                      {"rods", rodsAnswer(plan.bench, s, t)}});
  }
  for (const Note& n : way.notes)
    notes.push_back(n.text);
  Json setup = Json::array();
  for (const SetupFinding& f : checkSetup(plan))
    setup.push_back({{"clash", f.clash}, {"body", f.body}, {"text", f.text}});
  Json exceptions = Json::array();
  for (const PairRule& p : plan.pairs)
    exceptions.push_back(toJson(p));
  return {{"clear", r.clear()},
          {"exceptions", exceptions},
          {"setup", setup},
          {"placement", frameAnswer(plan.placement)},
          {"clashes", clashes},
          {"seconds", r.seconds},
          {"path_mm", r.path},
          {"least_clearance_mm", r.least_clearance},
          {"bodies", bodies},
          {"steps", way.steps.size()},
          {"positions", way.positions.size()},
          {"notes", notes}};
}

Json rehearsalOfSetups(const std::vector<Json>& answers, const std::vector<std::string>& names) {
  Json all = answers.front();
  for (const char* list : {"clashes", "setup", "bodies", "notes"})
    all[list] = Json::array();
  for (const char* sum : {"seconds", "path_mm", "steps", "positions"})
    all[sum] = 0;
  all["set_ups"] = Json::array();
  long positions = 0;
  for (std::size_t i = 0; i < answers.size(); ++i) {
    const Json& one = answers[i];
    all["clear"] = all["clear"].get<bool>() && one["clear"].get<bool>();
    all["least_clearance_mm"] =
        std::min(all["least_clearance_mm"].get<double>(), one["least_clearance_mm"].get<double>());
    for (const char* sum : {"seconds", "path_mm"})
      all[sum] = all[sum].get<double>() + one[sum].get<double>();
    for (const char* sum : {"steps", "positions"})
      all[sum] = all[sum].get<long>() + one[sum].get<long>();
    for (Json clash : one["clashes"]) {
      clash["set_up"] = names[i];
      clash["seq"] = clash["seq"].get<long>() + positions; // row of path.csv
      all["clashes"].push_back(std::move(clash));
    }
    for (const char* list : {"setup", "notes"})
      for (const Json& item : one[list])
        all[list].push_back(item);
    for (const Json& body : one["bodies"])
      if (std::find(all["bodies"].begin(), all["bodies"].end(), body) == all["bodies"].end())
        all["bodies"].push_back(body);
    positions += one["positions"].get<long>();
    all["set_ups"].push_back({{"name", names[i]},
                              {"placement", one["placement"]},
                              {"clear", one["clear"]},
                              {"seconds", one["seconds"]},
                              {"path_mm", one["path_mm"]},
                              {"least_clearance_mm", one["least_clearance_mm"]},
                              {"positions", one["positions"]}});
  }
  return all;
}

namespace {

std::string unitOf(const Requirement& r) {
  if (r.kind == Characteristic::Value) return r.unit;
  return r.kind == Characteristic::Angle ? "deg" : "mm";
}

} // namespace

void printVerdicts(const Plan& plan, const std::vector<Evaluation>& evaluations) {
  for (const Evaluation& e : evaluations) {
    const Requirement& r = plan.spec.requirement(e.requirement);
    const std::string share = hasSingleLimit(r) ? "-" : fmt::format("{:.0f} %", 100 * e.share);
    std::printf("%3d  %-46s %12s  %5s  %s\n", r.balloon, describe(plan.spec, r).c_str(),
                e.actual ? figure(shown(r, *e.actual), r.decimals).c_str() : "-", share.c_str(),
                std::string(name(e.verdict)).c_str());
  }
}

bool anyOutside(const std::vector<Evaluation>& evaluations) {
  return std::any_of(evaluations.begin(), evaluations.end(),
                     [](const Evaluation& e) { return e.verdict == Verdict::Outside; });
}

Json judgeAnswer(const Plan& plan, const std::vector<Evaluation>& evaluations) {
  Json list = Json::array();
  for (const Evaluation& e : evaluations) {
    const Requirement& r = plan.spec.requirement(e.requirement);
    Json json{{"id", idText(r.id)},         {"balloon", r.balloon},
              {"kind", name(r.kind)},       {"text", describe(plan.spec, r)},
              {"lower", shown(r, e.lower)}, {"upper", shown(r, e.upper)},
              {"verdict", name(e.verdict)}, {"how", e.how},
              {"unit", unitOf(r)}};
    json["actual"] = e.actual ? Json(shown(r, *e.actual)) : Json();
    json["deviation"] = e.deviation ? Json(shown(r, *e.deviation)) : Json();
    json["share"] = e.actual && !hasSingleLimit(r) ? Json(e.share) : Json();
    Json features = Json::array();
    for (const FeatureResult& f : e.features)
      features.push_back({{"feature", idText(f.feature)},
                          {"number", numberOf(r, f.feature)},
                          {"name", plan.nominal(f.feature).name},
                          {"actual", shown(r, f.actual)},
                          {"allowed", shown(r, f.allowed)},
                          {"share", hasSingleLimit(r) ? Json() : Json(f.share)}});
    json["features"] = features;
    list.push_back(json);
  }
  return {{"requirements", list}};
}

Json sheetAnswer(const Sheet& sheet, const std::vector<Evaluation>& evaluations) {
  Json list = Json::array();
  for (std::size_t i = 0; i < evaluations.size(); ++i) {
    const Evaluation& e = evaluations[i];
    const Requirement& r = sheet.plan.spec.requirements[i];
    Json json{{"id", sheet.ids[i]},
              {"kind", name(r.kind)},
              {"lower", shown(r, e.lower)},
              {"upper", shown(r, e.upper)},
              {"allowed", shown(r, isDimension(r.kind) ? e.upper - e.lower : e.upper)},
              {"verdict", name(e.verdict)},
              {"how", e.how},
              {"unit", unitOf(r)}};
    json["actual"] = e.actual ? Json(shown(r, *e.actual)) : Json();
    json["share"] = e.actual && !hasSingleLimit(r) ? Json(e.share) : Json();
    Json features = Json::array();
    for (const FeatureResult& f : e.features)
      features.push_back({{"feature", sheet.plan.nominal(f.feature).name},
                          {"actual", shown(r, f.actual)},
                          {"allowed", shown(r, f.allowed)},
                          {"share", hasSingleLimit(r) ? Json() : Json(f.share)}});
    json["features"] = features;
    list.push_back(json);
  }
  return {{"requirements", list}};
}

} // namespace alder::batch
