#include "exchange/routine/plan_json.h"

#include "base/units.h"
#include "exchange/routine/article_json.h"
#include "exchange/routine/frame_json.h"
#include "exchange/routine/ids_json.h"
#include "exchange/routine/judging_json.h"
#include "exchange/routine/named.h"
#include "exchange/routine/recipe_json.h"
#include "exchange/routine/requirement_json.h"
#include "exchange/routine/setup_json.h"
#include "exchange/routine/step_json.h"
#include "exchange/routine/view_json.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/edit.h"
#include "requirement/limits.h"
#include "requirement/plane_indicator.h"
#include <algorithm>

namespace alder {
namespace {

Json pointsJson(const Points& points) {
  Json list = Json::array();
  for (const Vec3& p : points)
    list.push_back(toJson(p));
  return list;
}

Json idealJson(const Ideal& i) {
  return {{"type", name(i.type)},
          {"point", toJson(i.point)},
          {"direction", toJson(i.direction)},
          {"diameter", i.diameter},
          {"half_angle_deg", shownDegrees(i.half_angle)},
          {"length", i.length},
          {"hole", i.hole}};
}

Json drawingJson(const DrawingFile& d) {
  Json refused = Json::array();
  for (const RefusedSpot& s : d.refused)
    refused.push_back({{"page", s.page}, {"x_mm", s.x}, {"y_mm", s.y}});
  return {{"name", d.name}, {"unit", d.unit}, {"refused", refused}};
}

} // namespace

std::string layoutEntry(std::size_t place, bool workbook) {
  return "layouts/" + std::to_string(place + 1) + (workbook ? ".xlsx" : ".alder-report");
}

namespace {

Json headerJson(const PartHeader& header) {
  Json json = Json::object();
  for (std::size_t i = 0; i < kHeaderFields; ++i)
    if (!header.fields[i].empty())
      json[std::string(name(static_cast<HeaderField>(i)))] = header.fields[i];
  for (const AttachedDocument& d : header.documents)
    json["documents"].push_back({{"name", d.name}});
  return json;
}

Json featureJson(const Plan& plan, const Feature& f) {
  Json touches = Json::array();
  for (const Touch& t : f.touches)
    touches.push_back({{"point", toJson(t.point)},
                       {"normal", toJson(t.normal)},
                       {"face", t.face.value},
                       {"row", t.row}});
  const NominalFeature& n = plan.nominal(f.id);
  if (n.from)
    return {{"id", f.id.value},
            {"name", n.name},
            {"from", toJson(*n.from)},
            {"filter", toJson(n.filtering)}};
  Json json{{"id", f.id.value},
            {"name", n.name},
            {"ideal", idealJson(n.ideal)},
            {"faces", idsJson(n.faces)},
            {"filter", toJson(n.filtering)},
            {"touches", touches},
            {"why_not", f.why_not},
            {"entry", name(f.entry)},
            {"pinned", f.pinned},
            {"waypoints", pointsJson(f.waypoints)},
            {"through", f.through ? std::string(name(*f.through)) : std::string()},
            {"recipe", toJson(f.recipe)}};
  if (n.portion) json["portion"] = {{"of", n.portion->of.value}, {"joins", n.portion->joins}};
  if (f.setup != SetupId{0}) json["setup"] = f.setup.value;
  json["access"] = Json();
  if (f.access.valid())
    json["access"] = {{"stylus", plan.bench.styli[f.access.stylus].name},
                      {"tip", plan.tip(f.access).name},
                      {"a_deg", shownDegrees(f.access.a)},
                      {"b_deg", shownDegrees(f.access.b)},
                      {"forced", f.access_forced}};
  return json;
}

Json qualifiedJson(const Plan& plan) {
  Json tips = Json::array();
  for (const QualifiedTip& t : plan.qualified.tips)
    tips.push_back({{"stylus", plan.bench.styli[t.access.stylus].name},
                    {"tip", plan.tip(t.access).name},
                    {"a_deg", shownDegrees(t.access.a)},
                    {"b_deg", shownDegrees(t.access.b)},
                    {"offset", toJson(t.offset)},
                    {"diameter", t.diameter},
                    {"form", t.form},
                    {"sigma", t.sigma},
                    {"touches", t.touches},
                    {"seconds", t.seconds}});
  return {{"sphere", toJson(plan.qualified.sphere)}, {"tips", tips}};
}

Json framesJson(const Plan& plan) {
  Json frames = Json::array();
  for (const PartFrame& f : plan.frames)
    frames.push_back(frameJson(f, [](FeatureId id) { return Json(id.value); }));
  return frames;
}

constexpr int kMostId = 999'999; // in a file, so that a damaged one asks for no huge table

class PlanReader {
 public:
  PlanReader(const Json& json, const std::string& label, Plan& plan)
      : f_(json, label)
      , label_(label)
      , plan_(plan) {}

  Done read() {
    plan_.name = f_.text("name");
    readPlacement();
    for (const auto& item : f_.list("features"))
      readFeature(item);
    readParents();
    for (const auto& item : f_.list("datums"))
      plan_.spec.datums.push_back(
          {item.text("letter"), features(item, "features"), readTargets(item)});
    for (const auto& item : f_.list("requirements"))
      readRequirement(item);
    for (const Requirement& r : plan_.spec.requirements)
      if (r.upper_segment.valid() && !plan_.spec.requirements.holds(r.upper_segment))
        f_.complain("requirements",
                    fmt::format("names an upper segment of {} that is not there", r.balloon));
    readSteps();
    plan_.alignment = features(f_, "alignment");
    for (const auto& item : f_.list("frames"))
      plan_.frames.push_back(readPartFrame(
          item, [&](const JsonFields& stage) { return features(stage, "features"); }));
    if (f_.has("qualified")) readQualified(f_.object("qualified"));
    if (f_.has("shell")) plan_.shell = alder::readShell(f_.object("shell"));
    readSetups();
    if (f_.has("recipes")) plan_.book = readBook(f_.object("recipes"));
    for (const auto& item : f_.list("pairs"))
      plan_.pairs.push_back(readPair(item));
    for (const auto& item : f_.list("notes"))
      readNote(item);
    for (const auto& item : f_.list("drawings"))
      plan_.drawings.push_back(readDrawing(item));
    for (const auto& item : f_.list("layouts")) // their texts lie beside it
      plan_.layouts.push_back({item.text("name"), {}});
    if (f_.has("header")) readHeader(f_.object("header"));
    for (const auto& item : f_.list("views"))
      plan_.views.push_back(viewFrom(item));
    for (const auto& item : f_.list("approvals"))
      plan_.approvals.push_back({item.text("part"), item.text("by"), item.wide("seconds", 0),
                                 item.text("routine", ""), item.text("points", ""),
                                 item.text("report", "")});
    if (f_.has("first_article")) plan_.article = articleFrom(f_.object("first_article"));
    readProjectJudging();
    readIdsGiven();
    if (auto done = f_.done(); !done) return done;
    if (auto done = refreshConstructed(plan_); !done)
      return fail("{}: {}", label_, done.error().message);
    if (auto valid = validSteps(plan_); !valid)
      return fail("{}: steps: {}", label_, valid.error().message);
    return {};
  }

 private:
  void readPlacement() {
    plan_.placement = readRigid(f_, "placement");
    plan_.supports = readSupports(f_);
    // Files of version 2 and before say only that there is a block under the part.
    if (!f_.has("supports") && f_.flag("on_pedestal", false))
      plan_.supports = blockUnder(*plan_.part, plan_.placement);
  }

  // Their fixtures are checked as they will be used.
  void readSetups() {
    plan_.setup = SetupId{f_.integer("setup", 0)};
    for (const JsonFields& item : f_.list("setups"))
      plan_.setups.push_back(
          readSetup(item, item.integer("id", -1) == plan_.setup.value, plan_.spec,
                    [&](const JsonFields& f, const char* key) { return features(f, key); }));
    if (auto valid = validate(plan_.setups); !valid) f_.complain("setups", valid.error().message);
    const auto known = [&](SetupId id) {
      return plan_.setups.empty() ? id == plan_.setup
                                  : std::any_of(plan_.setups.begin(), plan_.setups.end(),
                                                [&](const Setup& s) { return s.id == id; });
    };
    if (!known(plan_.setup)) f_.complain("setup", "names a set-up that is not there");
    for (Feature& f : plan_.features)
      if (!known(f.setup)) f_.complain("features", "are in a set-up that is not there");
    for (const Setup& s : plan_.setups) {
      Plan other;
      other.bench = plan_.bench;
      if (s.id == plan_.setup) continue;
      if (auto done = workOn(other, s); !done) f_.complain("setups", done.error().message);
    }
  }

  // Files of the first versions name the order of the features alone.
  void readSteps() {
    plan_.steps = f_.has("steps") ? alder::readSteps(f_, "steps", plan_.spec)
                                  : measureSteps(features(f_, "order"));
    if (auto valid = validate(plan_.steps); !valid) f_.complain("steps", valid.error().message);
  }

  template <class IdType, class There>
  std::vector<IdType> ids(const JsonFields& f, const char* key, const There& there) {
    std::vector<IdType> result;
    for (const Json& v : elements(f, key)) {
      if (!v.is_number_integer() || v.get<long>() < 0 || v.get<long>() > kMostId ||
          !there(IdType{v.get<int>()})) {
        f.complain(key, "names something that is not there");
        return {};
      }
      result.push_back(IdType{v.get<int>()});
    }
    return result;
  }
  std::vector<FeatureId> features(const JsonFields& f, const char* key) {
    return ids<FeatureId>(f, key, [&](FeatureId id) { return plan_.spec.features.holds(id); });
  }

  // Of a record of the table; each has its own, in any order.
  template <class Record>
  typename Table<Record>::Key ownId(const JsonFields& f, const Table<Record>& table) {
    const typename Table<Record>::Key id{f.integer("id", -1)};
    if (id.valid() && id.value <= kMostId && !table.holds(id)) return id;
    f.complain("id", table.holds(id) ? "is there twice" : "must be a number from 0 on");
    return table.next();
  }

  void readFeature(const JsonFields& f) {
    NominalFeature n;
    n.id = ownId(f, plan_.spec.features);
    n.name = f.text("name");
    if (f.has("filter")) n.filtering = readFiltering(f.object("filter"));
    Feature feature{n.id};
    feature.setup = SetupId{f.integer("setup", 0)};
    if (f.has("portion")) {
      const auto portion = f.object("portion");
      n.portion = Portion{FeatureId{portion.integer("of", -1)}, portion.flag("joins", false)};
    }
    if (f.has("from")) {
      n.from = readConstruction(f.object("from"));
      plan_.spec.features.push_back(std::move(n));
      plan_.features.push_back(std::move(feature));
      return;
    }
    n.ideal = readIdeal(f.object("ideal"));
    n.faces = ids<FaceId>(f, "faces", [&](FaceId id) {
      return static_cast<std::size_t>(id.value) < plan_.part->faces.size();
    });
    feature.recipe = readRecipe(f.object("recipe"));
    for (const auto& t : f.list("touches")) {
      const int face = t.integer("face", -1);
      if (face < 0 || static_cast<std::size_t>(face) >= plan_.part->faces.size())
        t.complain("face", "names a face that the part does not have");
      feature.touches.push_back(
          {t.vector("point"), t.vector("normal"), FaceId{face}, t.integer("row", 0)});
    }
    feature.why_not = f.text("why_not", "");
    feature.entry = readNamed(f, "entry", 4, HopMode::Proposed);
    feature.waypoints = waypoints(f);
    if (const auto side = f.text("through", ""); !side.empty()) {
      feature.through = shellSideNamed(side);
      if (!feature.through) f.complain("through", "is not one of left, front, right, back, top");
    }
    feature.pinned = f.flag("pinned", false);
    if (f.has("access")) readAccess(f.object("access"), feature);
    plan_.spec.features.push_back(std::move(n));
    plan_.features.push_back(std::move(feature));
  }

  Ideal readIdeal(const JsonFields& f) {
    Ideal i;
    const auto wanted = f.text("type");
    bool known = false;
    for (int t = 0; t <= static_cast<int>(SurfaceType::Freeform); ++t)
      if (name(static_cast<SurfaceType>(t)) == wanted)
        i.type = static_cast<SurfaceType>(t), known = true;
    if (!known) f.complain("type", "is not a kind of surface");
    i.point = f.vector("point");
    i.direction = f.vector("direction");
    i.diameter = f.number("diameter", 0);
    i.half_angle = radians(f.number("half_angle_deg", 0));
    i.length = f.number("length", 0);
    i.hole = f.flag("hole", false);
    return i;
  }

  Access accessOf(const JsonFields& f) const {
    Access access;
    const auto stylus = f.text("stylus"), tip = f.text("tip");
    for (std::size_t s = 0; s < plan_.bench.styli.size(); ++s)
      for (std::size_t t = 0; t < plan_.bench.styli[s].tips.size(); ++t)
        if (plan_.bench.styli[s].name == stylus && plan_.bench.styli[s].tips[t].name == tip)
          access = {static_cast<int>(s), static_cast<int>(t), radians(f.number("a_deg")),
                    radians(f.number("b_deg"))};
    if (!access.valid())
      f.complain("stylus", "\"" + stylus + "\" with this tip is not on the bench");
    return access;
  }

  void readAccess(const JsonFields& f, Feature& feature) {
    feature.access = accessOf(f);
    feature.access_forced = f.flag("forced", false);
  }

  void readQualified(const JsonFields& f) {
    plan_.qualified.sphere = f.vector("sphere", Vec3::Zero());
    for (const auto& item : f.list("tips")) {
      QualifiedTip t;
      t.access = accessOf(item);
      t.offset = item.vector("offset");
      t.diameter = item.positive("diameter");
      t.form = item.number("form", 0);
      t.sigma = item.number("sigma", 0);
      t.touches = item.integer("touches", 0);
      t.seconds = static_cast<std::int64_t>(item.number("seconds", 0));
      plan_.qualified.tips.push_back(t);
    }
  }

  static Points waypoints(const JsonFields& f) {
    Points points;
    for (const Json& p : elements(f, "waypoints")) {
      const bool good =
          p.is_array() && p.size() == 3 && p[0].is_number() && p[1].is_number() && p[2].is_number();
      if (!good) {
        f.complain("waypoints", "must each be three numbers");
        return {};
      }
      points.emplace_back(p[0].get<double>(), p[1].get<double>(), p[2].get<double>());
    }
    return points;
  }

  void readRequirement(const JsonFields& f) {
    Requirement r = requirementFrom(f);
    r.id = ownId(f, plan_.spec.requirements);
    if (!f.has("balloon")) r.balloon = r.id.value + 1;
    r.features = features(f, "features");
    plan_.spec.requirements.push_back(std::move(r));
  }

  // The bytes lie beside it.
  void readHeader(const JsonFields& f) {
    for (std::size_t i = 0; i < kHeaderFields; ++i)
      plan_.header.fields[i] = f.text(name(static_cast<HeaderField>(i)).data(), "");
    for (const auto& d : f.list("documents"))
      plan_.header.documents.push_back({d.text("name"), {}});
  }

  static DrawingFile readDrawing(const JsonFields& f) {
    DrawingFile d{f.text("name"), {}, f.text("unit", ""), {}};
    if (!d.unit.empty() && d.unit != "mm" && d.unit != "in") f.complain("unit", "is mm or in");
    for (const auto& spot : f.list("refused"))
      d.refused.push_back(
          {std::max(1, spot.integer("page", 1)), spot.number("x_mm", 0), spot.number("y_mm", 0)});
    return d;
  }

  // Files of before do not say on which requirements it bears: they counted all the same.
  void readNote(const JsonFields& f) {
    Note note{f.wide("entity", 0), f.text("text")};
    for (const Json& on : elements(f, "on"))
      if (on.is_number_integer()) note.on.push_back(on.get<EntityNumber>());
    note.seen = f.flag("seen", false);
    plan_.notes.push_back(std::move(note));
  }

  // Ids of what was taken away are not given again; files of the first versions do not say them.
  void readIdsGiven() {
    if (!f_.has("ids_given")) return;
    const auto given = f_.object("ids_given");
    const auto read = [&](const char* key) {
      return std::clamp(given.integer(key, 0), 0, kMostId);
    };
    plan_.spec.features.reserveIdsBelow(FeatureId{read("features")});
    plan_.spec.requirements.reserveIdsBelow(RequirementId{read("requirements")});
  }

  void readProjectJudging() {
    if (!f_.has("judging")) return;
    const auto j = f_.object("judging");
    const auto standard = standardNamed(j.text("standard", "ISO"));
    if (!standard) j.complain("standard", "is not one of ISO, ASME, ASME-2009");
    plan_.spec.standard = standard.value_or(ToleranceStandard::Iso);
    plan_.spec.uncertainty = std::max(0.0, j.number("uncertainty", 0));
    plan_.spec.near_share = std::clamp(j.number("near_share", 0.9), 0.01, 1.0);
    if (j.has("general")) plan_.spec.general = readGeneral(j.object("general"));
  }

  // Constructed features may stand on later ones.
  void readParents() {
    const auto items = f_.list("features");
    for (std::size_t i = 0; i < items.size() && i < plan_.spec.features.size(); ++i)
      if (const auto& portion = plan_.spec.features[i].portion) {
        const NominalFeature* of = plan_.spec.features.find(portion->of);
        if (!of || of->isConstructed() || of->portion)
          items[i].complain("portion", "is of no feature that is touched");
      }
    for (std::size_t i = 0; i < items.size() && i < plan_.spec.features.size(); ++i)
      if (auto& from = plan_.spec.features[i].from) {
        from->of = features(items[i].object("from"), "of");
        if (from->of.empty()) items[i].complain("from", "names no feature");
      }
  }

  JsonFields f_;
  std::string label_;
  Plan& plan_;
};

} // namespace

Json idsGivenJson(const Plan& plan) {
  return {{"features", plan.spec.features.next().value},
          {"requirements", plan.spec.requirements.next().value}};
}

Json toJson(const Plan& plan) {
  Json features = Json::array(), datums = Json::array(), requirements = Json::array(),
       notes = Json::array();
  for (const Feature& f : plan.features)
    features.push_back(featureJson(plan, f));
  for (const Datum& d : plan.spec.datums)
    datums.push_back(
        {{"letter", d.letter}, {"features", idsJson(d.features)}, {"targets", toJson(d.targets)}});
  for (const Requirement& r : plan.spec.requirements)
    requirements.push_back(toJson(r));
  for (const Note& n : plan.notes)
    notes.push_back({{"entity", n.entity}, {"text", n.text}, {"on", n.on}, {"seen", n.seen}});
  Json pairs = Json::array();
  for (const PairRule& p : plan.pairs)
    pairs.push_back(toJson(p));
  Json json{{"format", "alderpoint-routine"},
            {"version", kRoutineVersion},
            {"name", plan.name},
            {"placement", rigidJson(plan.placement)},
            {"supports", toJson(plan.supports)},
            {"features", features},
            {"datums", datums},
            {"requirements", requirements},
            {"steps", toJson(plan.steps)},
            {"alignment", idsJson(plan.alignment)},
            {"frames", framesJson(plan)},
            {"judging",
             {{"standard", name(plan.spec.standard)},
              {"uncertainty", plan.spec.uncertainty},
              {"near_share", plan.spec.near_share},
              {"general", toJson(plan.spec.general)}}},
            {"shell", toJson(plan.shell)},
            {"recipes", toJson(plan.book)},
            {"pairs", pairs},
            {"qualified", qualifiedJson(plan)},
            {"notes", notes}};
  // Routines whose part is all of its file say nothing of it, as before bodies could be left out.
  if (const auto left = leftOut(*plan.part); !left.empty()) json["left_out_bodies"] = left;
  if (plan.setup != SetupId{0}) json["setup"] = plan.setup.value;
  for (const Setup& s : plan.setups)
    json["setups"].push_back(toJson(s, s.id == plan.setup));
  for (const DrawingFile& d : plan.drawings)
    json["drawings"].push_back(drawingJson(d));
  for (std::size_t i = 0; i < plan.layouts.size(); ++i)
    json["layouts"].push_back(
        {{"name", plan.layouts[i].name}, {"file", layoutEntry(i, plan.layouts[i].isWorkbook())}});
  if (plan.header != PartHeader{}) json["header"] = headerJson(plan.header);
  for (const KeptView& v : plan.views)
    json["views"].push_back(toJson(v));
  for (const Approval& a : plan.approvals)
    json["approvals"].push_back({{"part", a.part},
                                 {"by", a.by},
                                 {"seconds", a.seconds},
                                 {"routine", a.routine},
                                 {"points", a.points},
                                 {"report", a.report}});
  if (plan.article != FirstArticle{}) json["first_article"] = toJson(plan.article);
  return json;
}

Result<Plan> planFromJson(const Json& json, const std::string& label, PartPtr part, Bench bench) {
  const JsonFields f(json, label);
  const int version = f.integer("version", 0);
  if (f.text("format", "") != "alderpoint-routine")
    return fail("{}: holds no Alderpoint routine.", label);
  if (version > kRoutineVersion)
    return fail("{}: was written by a newer Alderpoint (version {}); update to open it.", label,
                version);
  Plan plan;
  plan.part = std::move(part);
  plan.bench = std::move(bench);
  try {
    if (auto done = PlanReader(json, label, plan).read(); !done) return pass(done.error());
  } catch (const Json::exception&) {
    return fail("{}: a field holds the wrong kind of value; restore a copy of the file.", label);
  }
  standOn(plan.bench, plan.placement, plan.supports);
  return plan;
}

namespace {

// Items with an id belong together by it, wherever they stand; others by their place.
void keepUnknownOfItems(const Json& old, Json& fresh) {
  const auto idOf = [](const Json& item) {
    return item.is_object() && item.contains("id") ? item["id"] : Json();
  };
  const bool by_id = std::all_of(old.begin(), old.end(),
                                 [&](const Json& item) { return idOf(item).is_number_integer(); });
  std::map<int, const Json*> known;
  if (by_id)
    for (const Json& item : old)
      known.emplace(item["id"].get<int>(), &item);
  else if (old.size() != fresh.size())
    return;
  for (std::size_t i = 0; i < fresh.size(); ++i) {
    if (!by_id) {
      keepUnknown(old[i], fresh[i]);
    } else if (const Json id = idOf(fresh[i]); id.is_number_integer()) {
      if (const auto found = known.find(id.get<int>()); found != known.end())
        keepUnknown(*found->second, fresh[i]);
    }
  }
}

} // namespace

void keepUnknown(const Json& old, Json& fresh) {
  if (old.is_object() && fresh.is_object()) {
    for (const auto& [key, value] : old.items()) {
      if (!fresh.contains(key))
        fresh[key] = value;
      else
        keepUnknown(value, fresh[key]);
    }
  } else if (old.is_array() && fresh.is_array()) {
    keepUnknownOfItems(old, fresh);
  }
}

Json onlyUnknown(const Json& read, const Json& known) {
  Json left;
  if (read.is_object() && known.is_object()) {
    for (const auto& [key, value] : read.items()) {
      const auto here = known.find(key);
      Json of = here == known.end() ? value : onlyUnknown(value, *here);
      if (here == known.end() || !of.is_null()) left[key] = std::move(of);
    }
  } else if (read.is_array() && known.is_array()) {
    const auto hasId = [](const Json& item) {
      return item.is_object() && item.contains("id") && item["id"].is_number_integer();
    };
    const bool by_id = std::all_of(read.begin(), read.end(), hasId);
    if (!by_id && read.size() != known.size()) return left;
    for (std::size_t i = 0; i < read.size(); ++i) {
      const auto same =
          by_id ? std::find_if(known.begin(), known.end(),
                               [&](const Json& k) { return hasId(k) && k["id"] == read[i]["id"]; })
                : known.begin() + static_cast<std::ptrdiff_t>(i);
      Json of = same == known.end() ? Json() : onlyUnknown(read[i], *same);
      if (by_id && !of.is_null()) of["id"] = read[i]["id"];
      if (!by_id || !of.is_null()) left.push_back(std::move(of));
    }
    if (std::all_of(left.begin(), left.end(), [](const Json& item) { return item.is_null(); }))
      return {};
  }
  return left;
}

} // namespace alder
