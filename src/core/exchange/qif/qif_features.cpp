// Features in QIF: how large (definition), where (nominal), and what is measured (item).
#include "exchange/qif/qif_reading.h"
#include "exchange/qif/qif_words.h"
#include "exchange/qif/qif_writing.h"

#include "base/units.h"
#include "exchange/routine/judging_json.h"
#include "part/recognise.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/feature_edit.h"
#include "plan/touches/recipe_book.h"
#include "requirement/from_pmi.h"
#include <algorithm>
#include <cmath>

namespace alder::qif {
namespace {

const char* sideOf(const Ideal& i) {
  return i.hole ? "INTERNAL" : "EXTERNAL";
}

void writeDefinition(Node node, const Ideal& i) {
  switch (featureKindOf(i)) {
  case FeatureKind::Cylinder:
    add(node, "InternalExternal", sideOf(i));
    add(node, "Diameter", i.diameter);
    add(node, "Length", i.length);
    break;
  case FeatureKind::Circle:
  case FeatureKind::Sphere:
    add(node, "InternalExternal", sideOf(i));
    add(node, "Diameter", i.diameter);
    break;
  case FeatureKind::Cone:
    add(node, "InternalExternal", sideOf(i));
    add(node, "Diameter", i.diameter);
    add(node, "HalfAngle", shownDegrees(i.half_angle));
    add(node, "Length", i.length);
    break;
  case FeatureKind::Slot:
    add(node, "InternalExternal", sideOf(i));
    add(node, "Width", i.diameter);
    break;
  case FeatureKind::Torus:
    add(node, "InternalExternal", sideOf(i));
    add(node, "Diameter", i.diameter);
    break;
  case FeatureKind::Plane:
  case FeatureKind::Freeform:
  case FeatureKind::Line:
  case FeatureKind::Point:
    break;
  }
}

// Numbers of the faces in the CAD file, each once.
std::vector<int> entitiesOf(const Plan& plan, const NominalFeature& f) {
  std::vector<int> ids;
  for (const FaceId face : f.faces) {
    const EntityNumber n = plan.part ? plan.part->face(face).entity : 0;
    if (n > 0 && n < 1'000'000'000 && std::find(ids.begin(), ids.end(), n) == ids.end())
      ids.push_back(static_cast<int>(n));
  }
  return ids;
}

} // namespace

void writeGeometry(Node node, const Ideal& i) {
  const auto axis = [&](const char* name) {
    const Node a = add(node, name);
    add(a, "AxisPoint", i.point);
    add(a, "Direction", i.direction);
  };
  switch (featureKindOf(i)) {
  case FeatureKind::Plane:
  case FeatureKind::Circle:
    add(node, "Location", i.point);
    add(node, "Normal", i.direction);
    break;
  case FeatureKind::Cylinder:
  case FeatureKind::Cone:
  case FeatureKind::Torus:
    axis("Axis");
    break;
  case FeatureKind::Sphere:
  case FeatureKind::Point:
    add(node, "Location", i.point);
    break;
  case FeatureKind::Slot: {
    const Node plane = add(node, "CenterPlane");
    add(plane, "Point", i.point);
    add(plane, "Normal", i.direction);
    break;
  }
  case FeatureKind::Line:
    add(node, "StartPoint", i.point);
    add(node, "EndPoint", Vec3(i.point + std::max(i.length, 1.0) * i.direction));
    break;
  case FeatureKind::Freeform:
    break;
  }
}

void writeFeatures(Writing& w, Node root) {
  const Node features = add(root, "Features");
  const auto each = [&](const char* list, const char* ending, Thing thing, const auto& fill) {
    const Node of = add(features, list);
    for (const NominalFeature& f : w.plan.spec.features) {
      const std::string name = std::string(stemOf(featureKindOf(f.ideal))) + ending;
      fill(w.element(of, name, thing, f.id.value), f);
    }
    setCount(of);
  };
  each("FeatureDefinitions", "FeatureDefinition", Thing::FeatureDefinition,
       [&](Node node, const NominalFeature& f) { writeDefinition(node, f.ideal); });
  each("FeatureNominals", "FeatureNominal", Thing::FeatureNominal,
       [&](Node node, const NominalFeature& f) {
         add(node, "FeatureDefinitionId", std::to_string(w.ids.of(Thing::FeatureDefinition, f.id)));
         addIds(node, "EntityExternalIds", entitiesOf(w.plan, f));
         add(node, "Name", f.name);
         writeGeometry(node, f.ideal);
       });
  each("FeatureItems", "FeatureItem", Thing::FeatureItem, [&](Node node, const NominalFeature& f) {
    Json own = Json::object();
    if (f.filtering.any()) own["filter"] = toJson(f.filtering);
    if (f.as_touched) own["as_touched"] = true;
    if (f.from) {
      own["construct"] = toJson(*f.from);
      for (Json& of : own["construct"]["of"])
        of = w.ids.of(Thing::FeatureItem, of.get<int>());
    }
    addOwn(node, {{kOwnFeature, own}});
    add(node, "QPId", w.ids.uuid(Thing::FeatureItem, f.id.value));
    add(node, "FeatureName", f.name);
    add(node, "FeatureNominalId", std::to_string(w.ids.of(Thing::FeatureNominal, f.id)));
    const Node mode = add(node, "DeterminationMode");
    if (!f.from) {
      add(mode, "Measured");
      return;
    }
    std::vector<int> of;
    for (const FeatureId id : f.from->of)
      of.push_back(w.ids.of(Thing::FeatureItem, id));
    addIds(add(mode, "Constructed"), "FeatureItemIds", of);
  });
}

std::optional<SoughtFeature> soughtFeature(const Units& units, FeatureKind kind, Node definition,
                                           Node nominal) {
  SoughtFeature f{kind, {}};
  const std::string side = wordsOf(definition, "InternalExternal");
  if (side == "INTERNAL") f.hole = true;
  if (side == "EXTERNAL") f.hole = false;
  const auto either = [&](const char* name) {
    const Node own = nominal.child(name);
    return own ? own : definition.child(name);
  };
  const auto length = [&](const char* name) -> std::optional<double> {
    const Node node = either(name);
    const auto v = numberIn(node);
    return v ? std::optional(*v * units.length(node)) : std::nullopt;
  };
  const auto place = [&](Node node) -> std::optional<Vec3> {
    const auto v = vectorIn(node);
    return v ? std::optional<Vec3>(*v * units.length(node)) : std::nullopt;
  };
  f.diameter = length(kind == FeatureKind::Slot ? "Width" : "Diameter").value_or(0);
  std::optional<Vec3> point, direction;
  if (const Node axis = nominal.child("Axis")) {
    point = place(axis.child("AxisPoint"));
    direction = vectorIn(axis.child("Direction"));
  } else if (const Node plane = nominal.child("CenterPlane")) {
    point = place(plane.child("Point"));
    direction = vectorIn(plane.child("Normal"));
  } else if (const Node start = nominal.child("StartPoint")) {
    point = place(start);
    if (const auto end = place(nominal.child("EndPoint")); point && end)
      direction = Vec3(*end - *point);
  } else {
    point = place(nominal.child("Location"));
    direction = vectorIn(nominal.child("Normal"));
  }
  if (!point) return f;
  f.point = *point;
  const bool directed = direction && direction->norm() > 1e-9;
  if (directed) f.direction = direction->normalized();
  f.located = directed || kind == FeatureKind::Sphere || kind == FeatureKind::Point;
  if (kind == FeatureKind::Cone) {
    const Node half = either("HalfAngle"), full = either("FullAngle");
    if (const auto v = numberIn(half)) f.half_angle = *v * units.angle(half);
    if (const auto v = numberIn(full)) f.half_angle = *v * units.angle(full) / 2;
    f.point -= f.diameter / 2 / std::tan(std::max(f.half_angle, 1e-9)) * f.direction; // its apex
  }
  return f;
}

void Reading::nameFeature(FeatureId id, const std::string& name) {
  NominalFeature& f = *plan_.spec.features.find(id);
  if (name.empty() || f.name == name) return;
  const bool taken = std::any_of(plan_.spec.features.begin(), plan_.spec.features.end(),
                                 [&](const NominalFeature& o) { return o.name == name; });
  f.name = taken ? freeFeatureName(plan_.spec, name) : name;
}

// A surface of the part that no feature stands on yet.
std::optional<FeatureId> Reading::addFeatureLike(const SoughtFeature& sought, Node nominal,
                                                 const std::string& name) {
  std::vector<Surface> surfaces = plan_.part->surfaces;
  std::vector<FaceId> faces;
  for (const int entity : idsIn(nominal.child("EntityExternalIds")))
    for (const Face& face : plan_.part->faces)
      if (face.entity == entity && plan_.part->takes(face.id)) faces.push_back(face.id);
  if (!faces.empty())
    for (const Grouping by : {Grouping::SlotIfParallel, Grouping::Surfaces})
      for (Surface& s : surfacesOf(*plan_.part, faces, by))
        surfaces.push_back(std::move(s));
  std::optional<std::pair<double, const Surface*>> best;
  NominalFeature candidate;
  for (const Surface& s : surfaces) {
    candidate.ideal = s.ideal;
    // Freeform surfaces are told by their faces alone.
    if (sought.kind == FeatureKind::Freeform && s.faces != faces) continue;
    const auto off = distanceTo(candidate, sought);
    if (off && (!best || *off < best->first)) best = {*off, &s};
  }
  if (!best) return {};
  AddFeature add;
  add.nominal.id = plan_.spec.features.next();
  add.nominal.name =
      freeFeatureName(plan_.spec, name.empty() ? featureName(best->second->ideal) : name);
  add.nominal.ideal = best->second->ideal;
  add.nominal.faces = best->second->faces;
  add.feature.recipe = recipeFor(add.nominal, plan_.spec, plan_.book);
  if (!addFeature(plan_, add)) return {};
  nameFeature(add.nominal.id, name);
  return add.nominal.id;
}

std::optional<FeatureId> Reading::findFeature(Node nominal, Node definition, Node item,
                                              FeatureKind kind, std::string& why) {
  auto sought = soughtFeature(units_, kind, definition, nominal);
  const std::string name =
      item.child("FeatureName") ? wordsOf(item, "FeatureName") : wordsOf(nominal, "Name");
  const Json own = ownIn(item, kOwnFeature);
  const bool as_touched = own.is_object() && own.value("as_touched", false);
  const std::vector<int> entities = idsIn(nominal.child("EntityExternalIds"));
  const auto score = [&](const NominalFeature& f) -> std::optional<double> {
    if (f.isConstructed() || f.as_touched != as_touched) return {};
    const bool same_faces = !entities.empty() && entitiesOf(plan_, f) == entities;
    if (sought->kind == FeatureKind::Freeform && !same_faces && f.name != name) return {};
    const auto off = distanceTo(f, *sought);
    if (!off) return {};
    return *off + (same_faces ? 0 : 1e3) + (f.name == name ? 0 : 1e5) +
           (taken_.contains(f.id) ? 1e6 : 0);
  };
  const auto nearest = [&]() -> std::optional<FeatureId> {
    std::optional<std::pair<double, FeatureId>> best;
    for (const NominalFeature& f : plan_.spec.features)
      if (const auto off = score(f); off && (!best || *off < best->first)) best = {*off, f.id};
    return best ? std::optional(best->second) : std::nullopt;
  };
  auto found = nearest();
  if (found && !taken_.contains(*found)) return found;
  if (const auto added = addFeatureLike(*sought, nominal, name)) return added;
  if (found) return found;
  // A circle of a bore that has no circle of its own stands for the bore.
  if (kind == FeatureKind::Circle) {
    sought->kind = FeatureKind::Cylinder;
    found = nearest();
    if (!found) found = addFeatureLike(*sought, nominal, name);
    if (found) remark(nominal, "a circle; what is asked of it is asked of the cylinder it lies on");
    if (found) return found;
  }
  why = sought->located || kind == FeatureKind::Freeform ? "the part has no such feature there"
                                                         : "it does not say where it lies";
  return {};
}

bool Reading::construct(Node item, Node nominal) {
  const Json own = ownIn(item, kOwnFeature);
  Json json = own["construct"];
  std::vector<FeatureId> of;
  if (json.contains("of") && json["of"].is_array())
    for (const Json& id : json["of"]) {
      const auto known = id.is_number_integer() ? features_.find(id.get<int>()) : features_.end();
      if (known == features_.end() || known->second.size() != 1) return false;
      of.push_back(known->second.front());
    }
  const JsonFields f(json, "construct");
  Construction c = readConstruction(f);
  if (!f.done()) return false;
  c.of = of;
  std::optional<FeatureId> id;
  for (const NominalFeature& there : plan_.spec.features)
    if (there.from && *there.from == c && !taken_.contains(there.id)) id = there.id;
  if (!id) {
    auto spec = withConstructed(plan_, c, {});
    if (!spec) return false;
    plan_.spec = std::move(*spec);
    id = plan_.spec.features.back().id;
    plan_.features.push_back({*id});
  }
  nameFeature(*id, wordsOf(item, "FeatureName"));
  if (own.contains("filter"))
    plan_.spec.features.find(*id)->filtering = readFiltering(JsonFields(own["filter"], "filter"));
  for (const Node node : {item, nominal})
    if (const auto number = ownId(node)) features_[*number] = {*id};
  taken_.insert(*id);
  isThing(nominal, Thing::FeatureNominal, id->value);
  isThing(item, Thing::FeatureItem, id->value);
  tell(item ? item : nominal, Taken::Over, "");
  return true;
}

// Several features under one number, as patterns are.
void Reading::expandGroup(Node nominal, Node item) {
  bool all = true;
  std::vector<FeatureId> members;
  for (const char* name : {"FeatureNominalIds", "FeatureIds", "FeatureItemIds"})
    for (const Node node : {nominal, item})
      if (const Node list = node.child(name)) {
        const auto found = featuresIn(list, all);
        if (members.empty()) members = found;
      }
  if (members.empty() || !all) return;
  for (const Node node : {nominal, item})
    if (const auto number = ownId(node)) features_[*number] = members;
}

std::vector<FeatureId> Reading::featuresIn(Node list, bool& all) const {
  std::vector<FeatureId> ids;
  for (const int id : idsIn(list)) {
    const auto found = features_.find(id);
    all &= found != features_.end();
    if (found == features_.end()) continue;
    for (const FeatureId f : found->second)
      if (std::find(ids.begin(), ids.end(), f) == ids.end()) ids.push_back(f);
  }
  return ids;
}

// Items by what they are items of; nominals that nothing is measured of by themselves.
std::vector<Reading::FeatureNodes> Reading::featureNodes() const {
  const Node features = source_.root().child("Features");
  const auto of = [&](Node node, const char* child) {
    const auto id = idIn(node.child(child));
    return id ? source_.find(*id) : Node();
  };
  std::vector<FeatureNodes> all;
  std::set<int> with_item;
  for (const Node item : features.child("FeatureItems").children()) {
    const Node nominal = of(item, "FeatureNominalId");
    if (const auto id = ownId(nominal)) with_item.insert(*id);
    all.push_back({of(nominal, "FeatureDefinitionId"), nominal, item});
  }
  for (const Node nominal : features.child("FeatureNominals").children())
    if (const auto id = ownId(nominal); !id || !with_item.contains(*id))
      all.push_back({of(nominal, "FeatureDefinitionId"), nominal, Node()});
  return all;
}

// Several may share a definition, which is kept once.
void Reading::keepFeature(const FeatureNodes& f) {
  const auto id = ownId(f.definition);
  const bool fresh = !id || used_definitions_.insert(*id).second;
  keepAll({fresh ? f.definition : Node(), f.nominal, f.item},
          {"Features/FeatureDefinitions", "Features/FeatureNominals", "Features/FeatureItems"});
}

void Reading::feature(const FeatureNodes& f, const std::string& stem) {
  const Node shown = f.item ? f.item : f.nominal;
  const auto kind = featureKindOf(stem);
  std::string why = "is no kind of feature that is read here";
  const auto id =
      kind && f.nominal ? findFeature(f.nominal, f.definition, f.item, *kind, why) : std::nullopt;
  if (!id) {
    keepFeature(f);
    return tell(shown, Taken::Note, why);
  }
  const bool again = !taken_.insert(*id).second;
  for (const Node node : {f.item, f.nominal})
    if (const auto number = ownId(node)) features_[*number] = {*id};
  tell(shown, Taken::Over, again ? "is the same feature as one before" : "");
  if (again) return keepFeature(f); // what is kept may speak of it
  nameFeature(*id, f.item.child("FeatureName") ? wordsOf(f.item, "FeatureName")
                                               : wordsOf(f.nominal, "Name"));
  if (const Json own = ownIn(f.item, kOwnFeature); own.is_object() && own.contains("filter"))
    plan_.spec.features.find(*id)->filtering = readFiltering(JsonFields(own["filter"], "filter"));
  if (const auto number = ownId(f.definition); number && used_definitions_.insert(*number).second)
    isThing(f.definition, Thing::FeatureDefinition, id->value);
  isThing(f.nominal, Thing::FeatureNominal, id->value);
  isThing(f.item, Thing::FeatureItem, id->value);
  keepRest(f.definition, Thing::FeatureDefinition, id->value,
           {"InternalExternal", "Diameter", "Length", "Width", "HalfAngle", "FullAngle"});
  keepRest(f.nominal, Thing::FeatureNominal, id->value,
           {"FeatureDefinitionId", "EntityExternalIds", "Name", "Axis", "Location", "Normal",
            "CenterPlane", "StartPoint", "EndPoint"});
  keepRest(f.item, Thing::FeatureItem, id->value,
           {"QPId", "FeatureName", "FeatureNominalId", "DeterminationMode"});
}

void Reading::features() {
  std::vector<FeatureNodes> later, groups;
  for (const FeatureNodes& f : featureNodes()) {
    const auto stem = f.nominal ? stemIn(f.nominal.name(), "FeatureNominal")
                                : stemIn(f.item.name(), "FeatureItem");
    if (ownIn(f.item, kOwnFeature).contains("construct"))
      later.push_back(f);
    else if (stem && (*stem == "Group" || *stem == "Pattern" || stem->ends_with("PatternGroup")))
      groups.push_back(f);
    else
      feature(f, stem.value_or(""));
  }
  for (const FeatureNodes& f : groups) {
    expandGroup(f.nominal, f.item);
    const auto id = ownId(f.item ? f.item : f.nominal);
    const bool whole = id && features_.contains(*id);
    keepFeature(f); // what is kept may speak of the group
    tell(f.item ? f.item : f.nominal, whole ? Taken::Over : Taken::Note,
         whole ? "" : "a group of features that are not all on this part");
  }
  // Constructed from others, which may be constructed themselves.
  for (bool again = true; again;) {
    again = false;
    for (FeatureNodes& f : later)
      if (f.item && construct(f.item, f.nominal)) f.item = Node(), again = true;
  }
  for (const FeatureNodes& f : later) {
    if (!f.item) continue;
    keepFeature(f);
    tell(f.item, Taken::Note, "cannot be constructed here");
  }
}

} // namespace alder::qif
