// The measurement plan in QIF: what is touched where and with which tip, in which order, and which
// characteristics are evaluated.
#include "exchange/qif/qif_reading.h"
#include "exchange/qif/qif_writing.h"

#include "base/units.h"
#include "exchange/routine/frame_json.h"
#include "exchange/routine/judging_json.h"
#include "exchange/routine/named.h"
#include "exchange/routine/recipe_json.h"
#include "exchange/routine/step_json.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/edit.h"
#include "route/draft.h"
#include <algorithm>

namespace alder::qif {
namespace {

// One action is that of all evaluations; those of features begin behind it.
int actionOf(FeatureId id) {
  return id.value + 1;
}

// Numbers of features and requirements in steps as ids of this file.
void travel(Json& json, const std::function<Json(const Json&)>& feature,
            const std::function<Json(const Json&)>& requirement) {
  if (json.is_array())
    for (Json& one : json)
      travel(one, feature, requirement);
  if (!json.is_object()) return;
  for (auto& [key, value] : json.items()) {
    const bool of_feature = key == "feature" || key == "original" || key == "copy";
    if (of_feature && value.is_number_integer())
      value = feature(value);
    else if (key == "requirement" && value.is_number_integer())
      value = requirement(value);
    else if (key == "requirements" && value.is_array())
      for (Json& one : value)
        one = requirement(one);
    else
      travel(value, feature, requirement);
  }
}

Json ownPlan(Writing& w) {
  const auto item = [&](FeatureId f) { return Json(w.ids.of(Thing::FeatureItem, f)); };
  Json steps = toJson(w.plan.steps);
  travel(
      steps, [&](const Json& id) { return item(FeatureId{id.get<int>()}); },
      [&](const Json& id) {
        return Json(w.ids.of(Thing::CharacteristicItem, RequirementId{id.get<int>()}));
      });
  Json alignment = Json::array(), frames = Json::array();
  for (const FeatureId f : w.plan.alignment)
    alignment.push_back(item(f));
  for (const PartFrame& f : w.plan.frames)
    frames.push_back(frameJson(f, item));
  return {{"steps", steps},
          {"alignment", alignment},
          {"frames", frames},
          {"uncertainty", w.plan.spec.uncertainty},
          {"near_share", w.plan.spec.near_share},
          {"general", toJson(w.plan.spec.general)}};
}

Json ownMeasuring(const Feature& f) {
  Json rows = Json::array(), faces = Json::array(), waypoints = Json::array();
  for (const Touch& t : f.touches)
    rows.push_back(t.row), faces.push_back(t.face.value);
  for (const Vec3& p : f.waypoints)
    waypoints.push_back(toJson(p));
  Json own{{"recipe", toJson(f.recipe)}, {"rows", rows},       {"faces", faces},
           {"entry", name(f.entry)},     {"pinned", f.pinned}, {"forced", f.access_forced}};
  if (!waypoints.empty()) own["waypoints"] = waypoints;
  if (f.through) own["through"] = name(*f.through);
  return own;
}

void writeMeasuring(Writing& w, Node list, const Feature& f) {
  const Node node = w.element(list, "MeasureFeatureAction", Thing::Action, actionOf(f.id));
  addOwn(node, {{kOwnMeasuring, ownMeasuring(f)}});
  add(node, "Name", "Measure " + w.plan.nominal(f.id).name);
  add(node, "FeatureItemId", std::to_string(w.ids.of(Thing::FeatureItem, f.id)));
  if (f.access.valid()) {
    add(node, "ProbeTipId", std::to_string(w.ids.of(Thing::Tip, tipNumber(f.access))));
    const Node angles = add(node, "HeadAngles");
    add(angles, "A", shownDegrees(f.access.a));
    add(angles, "B", shownDegrees(f.access.b));
  }
  const Node points = add(node, "NominalPoints");
  for (const Touch& t : f.touches) {
    const Node point = add(points, "NominalPoint");
    add(point, "Location", t.point);
    add(point, "Normal", t.normal);
  }
  setCount(points);
}

} // namespace

void writePlan(Writing& w, Node root) {
  const Plan& plan = w.plan;
  const Node node = add(root, "MeasurementPlan");
  addOwn(node, {{kOwnPlan, ownPlan(w)}});
  add(node, "Name", plan.name);
  const Node actions = add(node, "Actions");
  for (const Feature& f : plan.features)
    if (!f.touches.empty()) writeMeasuring(w, actions, f);
  std::vector<int> evaluated;
  for (const Requirement& r : plan.spec.requirements)
    if (isCovered(plan, r)) evaluated.push_back(w.ids.of(Thing::CharacteristicItem, r.id));
  if (!evaluated.empty()) {
    const Node evaluate = w.element(actions, "EvaluateCharacteristicsAction", Thing::Action, 0);
    add(evaluate, "Name", "Evaluate");
    addIds(evaluate, "CharacteristicItemIds", evaluated);
  }
  setCount(actions);
  const Node group = add(add(node, "PlanRoot"), "OrderedActionGroup");
  std::vector<int> order;
  for (const FeatureId f : measuringOrder(plan.steps, false))
    if (!plan.feature(f).touches.empty()) order.push_back(w.ids.of(Thing::Action, actionOf(f)));
  if (!evaluated.empty()) order.push_back(w.ids.of(Thing::Action, 0));
  addIds(group, "ActionIds", order);
}

// What is one already stays as it is, to the last digit.
static Vec3 unitOf(const Vec3& v) {
  return std::abs(v.norm() - 1) < 1e-9 ? v : Vec3(v.normalized());
}

// Of the points of an action. False: they do not lie on the feature.
bool Reading::touches(Node action, const JsonFields& own, Feature& f) {
  const NominalFeature& nominal = plan_.nominal(f.id);
  std::vector<Touch> touches;
  for (const Node point : action.child("NominalPoints").children()) {
    const Node at = point.child("Location");
    const auto place = vectorIn(at), normal = vectorIn(point.child("Normal"));
    if (place && normal && normal->norm() > 1e-9)
      touches.push_back({*place * units_.length(at), unitOf(*normal), FaceId{}, 0});
  }
  if (touches.empty()) return true;
  if (nominal.isConstructed() || !settleTouches(plan_, part_, f.id, touches)) return false;
  // Rows and faces as they were planned, where the part still has them.
  const Json& rows = elements(own, "rows");
  const Json& faces = elements(own, "faces");
  for (std::size_t i = 0; i < touches.size(); ++i) {
    if (i < rows.size() && rows[i].is_number_integer()) touches[i].row = rows[i].get<int>();
    if (i >= faces.size() || !faces[i].is_number_integer()) continue;
    const FaceId face{faces[i].get<int>()};
    if (std::find(nominal.faces.begin(), nominal.faces.end(), face) != nominal.faces.end())
      touches[i].face = face;
  }
  f.touches = std::move(touches);
  f.why_not.clear();
  return true;
}

// The tip of the bench that the action names, at its angles; not valid where the bench has none.
Access Reading::tipOf(Node action) const {
  const auto id = idIn(action.child("ProbeTipId"));
  const Node described = id ? source_.find(*id) : Node();
  const std::string stylus = wordsOf(described, "StylusName"), name = wordsOf(described, "Name");
  const Node size = described.child("Diameter");
  const auto diameter = numberIn(size);
  std::optional<std::pair<double, Access>> best;
  const auto& styli = plan_.bench.styli;
  for (std::size_t s = 0; s < styli.size(); ++s)
    for (std::size_t t = 0; t < styli[s].tips.size(); ++t) {
      const Tip& of = styli[s].tips[t];
      const double off =
          (diameter ? std::abs(*diameter * units_.length(size) - of.ball_diameter) : 0.0) +
          (styli[s].name == stylus ? 0 : 10) + (of.name == name ? 0 : 1);
      if (!best || off < best->first)
        best = {off, Access{static_cast<int>(s), static_cast<int>(t), 0, 0}};
    }
  const Node angles = action.child("HeadAngles");
  const auto a = numberIn(angles.child("A")), b = numberIn(angles.child("B"));
  constexpr double kOther = 10; // another stylus
  if (!best || best->first >= kOther || !a || !b) return {};
  Access access = best->second;
  access.a = plan_.bench.head.a.nearest(*a * units_.angle(angles.child("A")));
  access.b = plan_.bench.head.b.nearest(*b * units_.angle(angles.child("B")));
  return access;
}

namespace {

// How it is touched and entered, as we say it.
void takeOwn(const JsonFields& own, Feature& f) {
  if (own.has("recipe")) f.recipe = readRecipe(own.object("recipe"));
  f.entry = readNamed(own, "entry", 4, HopMode::Proposed);
  f.pinned = own.flag("pinned", false);
  f.access_forced = f.access.valid() && own.flag("forced", false);
  f.through = shellSideNamed(own.text("through", ""));
  f.waypoints.clear();
  for (const Json& p : elements(own, "waypoints"))
    if (p.is_array() && p.size() == 3 && p[0].is_number() && p[1].is_number() && p[2].is_number())
      f.waypoints.emplace_back(p[0].get<double>(), p[1].get<double>(), p[2].get<double>());
}

} // namespace

void Reading::measuring(Node action) {
  const auto item = idIn(action.child("FeatureItemId"));
  const auto found = item ? features_.find(*item) : features_.end();
  const auto give_up = [&](const char* why) {
    keepQuietly(action, "MeasurementPlan/Actions");
    tell(action, Taken::Note, why);
  };
  if (found == features_.end() || found->second.size() != 1)
    return give_up("measures what is no feature of this part");
  Feature& f = plan_.feature(found->second.front());
  const Json said = ownIn(action, kOwnMeasuring);
  const Json json = said.is_object() ? said : Json::object();
  const JsonFields own(json, "measuring");
  if (!touches(action, own, f)) return give_up("its points do not lie on the feature");
  if (action.child("ProbeTipId")) {
    if (const Access access = tipOf(action); access.valid())
      f.access = access;
    else
      remark(action, "the bench has no such tip; one is chosen here");
  }
  if (!json.empty()) takeOwn(own, f);
  if (auto done = own.done(); !done) remark(action, done.error().message);
  if (const auto id = ownId(action)) touched_.insert(*id);
  isThing(action, Thing::Action, actionOf(f.id));
  keepRest(action, Thing::Action, actionOf(f.id),
           {"Name", "FeatureItemId", "ProbeTipId", "HeadAngles", "NominalPoints"});
  tell(action, Taken::Over, "");
}

bool Reading::ownSteps(const Json& own) {
  if (!own.is_object() || !own.contains("steps")) return false;
  Json json = own;
  bool known = true;
  const auto feature = [&](const Json& id) {
    const auto found = id.is_number_integer() ? features_.find(id.get<int>()) : features_.end();
    const bool one = found != features_.end() && found->second.size() == 1;
    known &= one;
    return one ? Json(found->second.front().value) : Json(-1);
  };
  travel(json["steps"], feature, [&](const Json& id) {
    const auto found =
        id.is_number_integer() ? requirements_.find(id.get<int>()) : requirements_.end();
    known &= found != requirements_.end();
    return found != requirements_.end() ? Json(found->second.value) : Json(-1);
  });
  if (!known) return false;
  const JsonFields f(json, "plan");
  Plan with = plan_;
  with.steps = alder::readSteps(f, "steps", with.spec);
  with.alignment.clear();
  with.frames.clear();
  for (const Json& id : elements(f, "alignment"))
    with.alignment.push_back(FeatureId{feature(id).get<int>()});
  for (const JsonFields& one : f.list("frames"))
    with.frames.push_back(readPartFrame(one, [&](const JsonFields& stage) {
      std::vector<FeatureId> ids;
      for (const Json& id : elements(stage, "features"))
        ids.push_back(FeatureId{feature(id).get<int>()});
      return ids;
    }));
  with.spec.uncertainty = f.number("uncertainty", with.spec.uncertainty);
  with.spec.near_share = f.number("near_share", with.spec.near_share);
  if (f.has("general")) with.spec.general = readGeneral(f.object("general"));
  if (!known || !f.done() || !validate(with.steps) || !refreshConstructed(with) ||
      !validSteps(with))
    return false;
  plan_ = std::move(with);
  return true;
}

// Characteristics that the plan names, wherever it does.
std::set<RequirementId> Reading::evaluated(Node plan) const {
  std::set<RequirementId> ids;
  plan.find_node([&](const Node& n) {
    const bool list = nameOf(n.parent()) == "CharacteristicItemIds";
    if (!list && nameOf(n) != "CharacteristicItemId") return false;
    const auto id = idIn(n);
    const auto found = id ? requirements_.find(*id) : requirements_.end();
    if (found != requirements_.end()) ids.insert(found->second);
    return false;
  });
  return ids;
}

void Reading::actions(Node plan) {
  for (const Node action : plan.child("Actions").children()) {
    if (nameOf(action) == "MeasureFeatureAction") {
      measuring(action);
    } else if (nameOf(action) == "EvaluateCharacteristicsAction") {
      isThing(action, Thing::Action, 0);
      tell(action, Taken::Over, "");
    } else {
      keepQuietly(action, "MeasurementPlan/Actions");
      tell(action, Taken::Note, "is no action that is done here");
    }
  }
  for (const Node child : plan.children())
    if (nameOf(child) != "Attributes" && nameOf(child) != "Name" && nameOf(child) != "Actions" &&
        nameOf(child) != "PlanRoot")
      keep(child, "MeasurementPlan");
}

// As the plan orders its actions; nothing where it does not.
std::vector<FeatureId> Reading::orderIn(Node plan) const {
  std::vector<FeatureId> order;
  for (const int id : idsIn(below(plan.child("PlanRoot"), "ActionIds")))
    if (touched_.contains(id))
      if (const auto item = idIn(source_.find(id).child("FeatureItemId")))
        order.push_back(features_.at(*item).front());
  return order;
}

// Touches for what the plan leaves open.
Done Reading::draftFor(const std::set<FeatureId>& wanted, const Progress& progress) {
  const bool bare =
      touched_.empty() && std::all_of(plan_.features.begin(), plan_.features.end(),
                                      [](const Feature& f) { return f.touches.empty(); });
  if (bare && !wanted.empty()) {
    auto complete = completePlan(std::move(plan_), progress);
    if (!complete) return pass(complete.error());
    plan_ = std::move(*complete);
  }
  std::optional<Obstacles> obstacles;
  for (const FeatureId f : wanted) {
    if (!plan_.feature(f).touches.empty() || plan_.nominal(f).isConstructed() || bare) continue;
    if (!obstacles) obstacles = obstaclesOf(plan_);
    if (auto done = planAccessOf(plan_, *obstacles, f, progress); !done) return pass(done.error());
  }
  return {};
}

Done Reading::plan(const Progress& progress) {
  const Node node = source_.root().child("MeasurementPlan");
  const Json own = ownIn(node, kOwnPlan);
  actions(node);
  if (auto done = refreshConstructed(plan_); !done) return pass(done.error());
  const std::set<RequirementId> asked = evaluated(node);
  std::set<FeatureId> wanted;
  for (const Requirement& r : plan_.spec.requirements)
    if (asked.empty() || asked.contains(r.id))
      for (const FeatureId f : featuresNeeded(plan_.spec, r))
        wanted.insert(f);
  // A plan of our own is whole, whatever it leaves untouched.
  if (own.is_null())
    if (auto done = draftFor(wanted, progress); !done) return pass(done.error());
  if (ownSteps(own)) return {};
  if (!own.is_null())
    remark(node, "its steps do not fit this part; the order of its actions is taken");
  std::vector<FeatureId> order;
  const auto add = [&](FeatureId f) {
    if (std::find(order.begin(), order.end(), f) == order.end()) order.push_back(f);
  };
  const Steps before = plan_.steps;
  const std::vector<FeatureId> ordered = orderIn(node), measured = measuringOrder(before);
  for (const FeatureId f : plan_.alignment)
    add(f);
  for (const FeatureId f : ordered)
    add(f);
  for (const FeatureId f : measured)
    if (asked.empty() || wanted.contains(f)) add(f);
  for (const FeatureId f : wanted)
    if (!plan_.feature(f).touches.empty()) add(f);
  if (!asked.empty())
    for (Feature& f : plan_.features)
      if (std::find(order.begin(), order.end(), f.id) == order.end())
        f.touches.clear(), f.why_not = "the plan in the file does not measure it";
  if (!ordered.empty() || !asked.empty() || before.empty()) {
    plan_.steps = measureSteps(order);
    return {};
  }
  // The file orders nothing: the steps of the routine stay, with what is new behind them.
  for (const FeatureId f : order) {
    if (std::find(measured.begin(), measured.end(), f) != measured.end()) continue;
    RoutineStep step;
    step.id = freeId(plan_.steps);
    step.body = measureSteps({f}).front().body;
    plan_.steps.push_back(step);
  }
  return {};
}

} // namespace alder::qif
