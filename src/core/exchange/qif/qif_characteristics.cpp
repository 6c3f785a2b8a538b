// Requirements in QIF: what is asked (definition), of which features (nominal), and what is to be
// reported by number (item).
#include "exchange/qif/qif_reading.h"
#include "exchange/qif/qif_words.h"
#include "exchange/qif/qif_writing.h"

#include "base/units.h"
#include "exchange/routine/judging_json.h"
#include "requirement/limits.h"
#include <algorithm>

namespace alder::qif {

double shownFigure(const Requirement& r, double v) {
  return r.kind == Characteristic::Angle ? shownDegrees(v) : v;
}

namespace {

// How it is judged beside what the elements say: what differs from a plain requirement.
Json ownJudging(const Writing& w, const Requirement& r) {
  Requirement plain;
  plain.kind = r.kind;
  plain.unit = stemOf(w.plan.spec, r).unit;
  Json all = Json::object(), none = Json::object(), own = Json::object();
  writeJudging(r, all);
  writeJudging(plain, none);
  for (const auto& [key, value] : all.items())
    if (value != none[key]) own[key] = value;
  if (isProfile(r.kind)) own.erase("unequal"); // OuterDisposition
  if (r.decimals != 3) own["decimals"] = r.decimals;
  if (!r.fit.empty()) own["fit"] = r.fit;
  return own;
}

// The zone of a requirement of which nothing says it.
Zone zoneUnsaid(const Specification& spec, const Requirement& r) {
  return r.features.empty() ? Zone::Planar
                            : usualZone(r.kind, spec.feature(r.features.front()).ideal);
}

void writeZone(Node node, const Requirement& r) {
  if (isForm(r.kind) || isProfile(r.kind) || isRunout(r.kind)) {
    if (r.zone == Zone::Planar) return;
  }
  add(add(node, "ZoneShape"), r.zone == Zone::Diametral   ? "DiametricalZone"
                              : r.zone == Zone::Spherical ? "SphericalZone"
                                                          : "NonDiametricalZone");
}

void writeDefinition(Writing& w, Node node, const Requirement& r) {
  Json own = ownJudging(w, r);
  if (r.upper_segment.valid())
    own["upper_segment"] = w.ids.of(Thing::CharacteristicItem, r.upper_segment);
  if (isDimension(r.kind) && r.zone != zoneUnsaid(w.plan.spec, r)) own["zone"] = name(r.zone);
  addOwn(node, {{kOwnJudging, own}});
  if (isDimension(r.kind)) {
    const Node tolerance = add(node, "Tolerance");
    if (hasUpper(r)) add(tolerance, "MaxValue", shownFigure(r, r.upper));
    if (hasLower(r)) add(tolerance, "MinValue", shownFigure(r, r.lower));
    add(tolerance, "DefinedAsLimit", "true");
    return;
  }
  add(node, "ToleranceValue", r.tolerance);
  if (r.material != MaterialModifier::None)
    add(node, "MaterialCondition", std::string(materialWord(r.material)));
  if (isProfile(r.kind) && r.unequal != 0)
    add(node, "OuterDisposition", r.tolerance / 2 + r.unequal);
  if (!r.datums.empty()) {
    add(node, "DatumReferenceFrameId", std::to_string(w.frames.at(systemKey(r))));
  }
  writeZone(node, r);
}

} // namespace

void writeCharacteristics(Writing& w, Node root) {
  const Specification& spec = w.plan.spec;
  const Node all = add(root, "Characteristics");
  add(add(all, "FormalStandard"), "FormalStandardEnum",
      spec.standard == ToleranceStandard::Iso    ? "ISOGPS"
      : spec.standard == ToleranceStandard::Asme ? "ASMEY14_5_2018"
                                                 : "ASMEY14_5_2009");
  const auto each = [&](const char* list, const char* ending, Thing thing, const auto& fill) {
    const Node of = add(all, list);
    for (const Requirement& r : spec.requirements)
      fill(w.element(of, std::string(stemOf(spec, r).name) + ending, thing, r.id.value), r);
    setCount(of);
  };
  const auto idsOf = [&](const Requirement& r, Thing thing) {
    std::vector<int> ids;
    for (const FeatureId f : r.features)
      ids.push_back(w.ids.of(thing, f));
    return ids;
  };
  each("CharacteristicDefinitions", "CharacteristicDefinition", Thing::CharacteristicDefinition,
       [&](Node node, const Requirement& r) { writeDefinition(w, node, r); });
  each("CharacteristicNominals", "CharacteristicNominal", Thing::CharacteristicNominal,
       [&](Node node, const Requirement& r) {
         add(node, "CharacteristicDefinitionId",
             std::to_string(w.ids.of(Thing::CharacteristicDefinition, r.id)));
         addIds(node, "FeatureNominalIds", idsOf(r, Thing::FeatureNominal));
         if (isDimension(r.kind)) add(node, "TargetValue", shownFigure(r, r.nominal));
       });
  each("CharacteristicItems", "CharacteristicItem", Thing::CharacteristicItem,
       [&](Node node, const Requirement& r) {
         add(node, "QPId", w.ids.uuid(Thing::CharacteristicItem, r.id.value));
         add(node, "Description", describe(spec, r));
         add(node, "Name", std::to_string(r.balloon));
         add(add(node, "CharacteristicDesignator"), "Designator", std::to_string(r.balloon));
         addIds(node, "FeatureItemIds", idsOf(r, Thing::FeatureItem));
         add(node, "CharacteristicNominalId",
             std::to_string(w.ids.of(Thing::CharacteristicNominal, r.id)));
       });
}

Limits limitsIn(Node tolerance, std::optional<double> target,
                const std::function<std::optional<double>(Node)>& value) {
  Limits limits{value(tolerance.child("MinValue")), value(tolerance.child("MaxValue"))};
  auto& [lower, upper] = limits;
  const std::string as_limits = wordsOf(tolerance, "DefinedAsLimit");
  // MaxValue and MinValue are deviations where they are not defined as limits.
  if (target && (as_limits == "false" || as_limits == "0") && upper && lower && *lower <= 0 &&
      *upper >= 0 && std::abs(*upper) + std::abs(*lower) < std::abs(*target))
    upper = *target + *upper, lower = *target + *lower;
  const auto plus = value(tolerance.child("PlusTolerance")),
             minus = value(tolerance.child("MinusTolerance"));
  if (!upper && target && plus) upper = *target + std::abs(*plus);
  if (!lower && target && minus) lower = *target - std::abs(*minus);
  return limits;
}

// Its limits or the one that it has, of a radius those of the radius.
bool Reading::dimension(Node definition, Node nominal, Requirement& r, std::string& why) const {
  const bool angle =
      r.kind == Characteristic::Angle || (r.kind == Characteristic::Value && r.unit == "deg");
  const bool degrees_kept = r.kind == Characteristic::Value;
  const auto value = [&](Node node) -> std::optional<double> {
    const auto v = numberIn(node);
    if (!v) return {};
    if (angle) return degrees_kept ? degrees(*v * units_.angle(node)) : *v * units_.angle(node);
    if (r.kind == Characteristic::Value && r.unit.empty()) return v;
    return *v * units_.length(node);
  };
  const Node tolerance = definition.child("Tolerance");
  const auto target = value(nominal.child("TargetValue"));
  const auto [lower, upper] = limitsIn(tolerance, target, value);
  if (!upper && !lower) return why = "it has no limit", false;
  if (upper && lower && *lower > *upper)
    return why = "its lower limit is above its upper one", false;
  std::optional<double> nominal_value = target;
  if (!nominal_value && r.kind == Characteristic::Size)
    nominal_value = plan_.nominal(r.features.front()).ideal.diameter / (r.radius ? 2 : 1);
  r.nominal = nominal_value ? *nominal_value
              : !lower      ? *upper
              : !upper      ? *lower
                            : (*upper + *lower) / 2;
  r.lower = lower.value_or(kNoLower), r.upper = upper.value_or(kNoUpper);
  r.tolerance = r.upper - r.lower;
  return true;
}

bool Reading::geometrical(Node definition, Requirement& r, std::string& why) {
  const Node tolerance = definition.child("ToleranceValue");
  const auto value = numberIn(tolerance);
  if (!value || *value < 0) return why = "it has no tolerance value", false;
  r.tolerance = r.upper = *value * units_.length(tolerance);
  if (const Node material = definition.child("MaterialCondition")) {
    const auto read = materialOf(wordsIn(material));
    if (!read) return why = fmt::format("material condition {}", wordsIn(material)), false;
    r.material = *read;
  }
  if (const Node outer = definition.child("OuterDisposition"); const auto v = numberIn(outer))
    r.unequal = *v * units_.length(outer) - r.tolerance / 2;
  if (const Node frame = definition.child("DatumReferenceFrameId")) {
    const auto id = idIn(frame);
    const auto known = id ? frames_.find(*id) : frames_.end();
    if (known == frames_.end()) return why = "its datum system is none of this routine", false;
    r.datums = known->second;
    frame_of_[r.id] = *id;
  }
  const Ideal& ideal = plan_.nominal(r.features.front()).ideal;
  const Node zone = definition.child("ZoneShape");
  if (zone.child("DiametricalZone"))
    r.zone = Zone::Diametral;
  else if (zone.child("SphericalZone"))
    r.zone = Zone::Spherical;
  else if (zone.child("NonDiametricalZone") || zone.child("PlanarZone"))
    r.zone = Zone::Planar;
  else if (zone && zone.first_child())
    return why = fmt::format("the zone {} is not known", zone.first_child().name()), false;
  else
    r.zone = usualZone(r.kind, ideal);
  return true;
}

bool Reading::own(Node definition, Requirement& r, std::string& why) {
  const Json own = ownIn(definition, kOwnJudging);
  if (!own.is_object()) return true;
  const JsonFields f(own, "judging");
  const double unequal = r.unequal;
  readJudging(f, r);
  if (!own.contains("unequal")) r.unequal = unequal;
  r.decimals = std::clamp(f.integer("decimals", 3), 0, 6);
  r.fit = f.text("fit", "");
  if (const int upper = f.integer("upper_segment", -1); upper >= 0) upper_[r.id] = upper;
  for (const Zone z : {Zone::Planar, Zone::Diametral, Zone::Spherical})
    if (f.text("zone", "") == name(z)) r.zone = z;
  if (auto done = f.done(); !done) return why = done.error().message, false;
  return true;
}

int Reading::freeBalloon(Node item, RequirementId own) {
  const std::string designator = wordsIn(below(item, "Designator"));
  int number = 0, most = 0;
  for (const char c : designator)
    number = c >= '0' && c <= '9' && number < 100'000 ? number * 10 + (c - '0') : -1'000'000;
  bool taken = number <= 0;
  for (const Requirement& r : plan_.spec.requirements) {
    if (onto_ == ReadOnto::Part &&
        std::find(settled_.begin(), settled_.end(), r.id) == settled_.end())
      continue; // it may go
    most = std::max(most, r.balloon);
    taken |= r.balloon == number && r.id != own;
  }
  if (!taken) return number;
  if (!designator.empty())
    remark(item, fmt::format("is numbered {}; here {}", designator, most + 1));
  return most + 1;
}

// That of the routine that it is; else a new one.
RequirementId Reading::settle(Requirement r, Node item) {
  Table<Requirement>& all = plan_.spec.requirements;
  constexpr double kSame = 1e-6;
  const std::string uuid = wordsOf(item, "QPId");
  Requirement* same = nullptr;
  for (Requirement& other : all) {
    const bool used = std::find(settled_.begin(), settled_.end(), other.id) != settled_.end();
    if (used || other.kind != r.kind || other.features != r.features) continue;
    if (!uuid.empty() && uuid == uuidOf(plan_, {}, Thing::CharacteristicItem, other.id.value)) {
      same = &other;
      break;
    }
    if (sameLimit(other.tolerance, r.tolerance, kSame) && sameLimit(other.lower, r.lower, kSame) &&
        sameLimit(other.upper, r.upper, kSame) && other.datums == r.datums &&
        other.material == r.material)
      same = &other;
  }
  const RequirementId id = same ? same->id : r.id;
  r.balloon = same && onto_ == ReadOnto::Routine ? same->balloon : freeBalloon(item, id);
  if (!same) {
    all.push_back(std::move(r));
    return id;
  }
  const std::string before = describe(plan_.spec, *same);
  r.id = id;
  r.entity = same->entity;
  for (auto* by_id : {&upper_, &frame_of_})
    if (const auto of = by_id->extract(all.next()); !of.empty()) (*by_id)[id] = of.mapped();
  *same = std::move(r);
  if (const std::string now = describe(plan_.spec, *same);
      now != before && onto_ == ReadOnto::Routine)
    remark(item,
           fmt::format("requirement {} was {}, in the file it is {}", same->balloon, before, now));
  return id;
}

void Reading::characteristic(Node definition, Node nominal, Node item) {
  const Node shown = item ? item : nominal ? nominal : definition;
  const auto given_up = [&](const std::string& why) {
    keepAll({definition, nominal, item},
            {"Characteristics/CharacteristicDefinitions", "Characteristics/CharacteristicNominals",
             "Characteristics/CharacteristicItems"});
    tell(shown, Taken::Note, why);
  };
  const auto stem_name = stemIn(definition.name(), "CharacteristicDefinition");
  const Stem* stem = stem_name ? characteristicStem(*stem_name) : nullptr;
  if (!stem) return given_up("is no kind of characteristic that is read here");
  Requirement r;
  r.id = plan_.spec.requirements.next();
  r.kind = stem->kind;
  r.radius = stem->radius;
  r.unit = stem->unit;
  bool all = true;
  r.features = featuresIn(item.child("FeatureItemIds"), all);
  if (r.features.empty()) r.features = featuresIn(nominal.child("FeatureNominalIds"), all);
  if (!all) return given_up("a feature of it is none of this part");
  const bool sides = r.kind == Characteristic::Distance || r.kind == Characteristic::Angle;
  if (r.features.empty() && r.kind != Characteristic::Value)
    return given_up("it does not say of which feature");
  if (sides && r.features.size() < 2 &&
      !(r.kind == Characteristic::Angle &&
        plan_.nominal(r.features.front()).ideal.type == SurfaceType::Cone))
    return given_up("it is of one feature alone, where two are needed");
  if (stem->zone)
    r.zone = *stem->zone;
  else if (!r.features.empty())
    r.zone = usualZone(r.kind, plan_.nominal(r.features.front()).ideal);
  std::string why;
  const bool read = isDimension(r.kind) ? dimension(definition, nominal, r, why)
                                        : geometrical(definition, r, why);
  if (!read || !own(definition, r, why)) return given_up(why);
  if (r.kind == Characteristic::Value && r.formula.empty())
    return given_up("nothing says how it is worked out");
  const RequirementId id = settle(std::move(r), item);
  settled_.push_back(id);
  for (const Node node : {definition, nominal, item})
    if (const auto number = ownId(node)) requirements_[*number] = id;
  isThing(definition, Thing::CharacteristicDefinition, id.value);
  isThing(nominal, Thing::CharacteristicNominal, id.value);
  isThing(item, Thing::CharacteristicItem, id.value);
  if (isDimension(stem->kind))
    keepRest(definition, Thing::CharacteristicDefinition, id.value, {"Tolerance"});
  else
    keepRest(definition, Thing::CharacteristicDefinition, id.value,
             {"ToleranceValue", "MaterialCondition", "OuterDisposition", "DatumReferenceFrameId",
              "ZoneShape"});
  keepRest(nominal, Thing::CharacteristicNominal, id.value,
           {"CharacteristicDefinitionId", "FeatureNominalIds", "TargetValue"});
  keepRest(item, Thing::CharacteristicItem, id.value,
           {"QPId", "Description", "Name", "CharacteristicDesignator", "FeatureItemIds",
            "CharacteristicNominalId"});
  tell(shown, Taken::Over, "");
}

// Written again, a datum system has the number of the first requirement that stands in it.
void Reading::nameFrames() {
  std::map<std::string, std::pair<RequirementId, std::optional<int>>> systems;
  for (const Requirement& r : plan_.spec.requirements) {
    if (r.datums.empty()) continue;
    auto& [first, frame] = systems.try_emplace(systemKey(r), r.id, std::nullopt).first->second;
    if (r.id.value < first.value) first = r.id;
    if (const auto of = frame_of_.find(r.id); of != frame_of_.end() && !frame) frame = of->second;
  }
  std::set<int> named;
  for (const auto& [key, system] : systems)
    if (const auto& [first, frame] = system; frame) {
      isThing(source_.find(*frame), Thing::ReferenceFrame, first.value);
      named.insert(*frame);
    }
  // Others may be spoken of by what is kept.
  for (const auto& [id, datums] : frames_)
    if (!named.contains(id)) keepQuietly(source_.find(id), "DatumReferenceFrames");
}

void Reading::characteristics() {
  const Node all = source_.root().child("Characteristics");
  const std::string standard = wordsIn(below(all.child("FormalStandard"), "FormalStandardEnum"));
  if (plan_.spec.requirements.empty() && !standard.empty()) {
    if (standard.starts_with("ISO")) plan_.spec.standard = ToleranceStandard::Iso;
    if (standard.starts_with("ASME"))
      plan_.spec.standard =
          standard.find("2018") != std::string::npos || standard.find("2019") != std::string::npos
              ? ToleranceStandard::Asme
              : ToleranceStandard::Asme2009;
  }
  std::set<int> nominals, definitions; // that something of is read
  const auto of = [&](Node node, const char* child, std::set<int>& used) {
    const auto id = idIn(node.child(child));
    if (id) used.insert(*id);
    return id ? source_.find(*id) : Node();
  };
  for (const Node item : all.child("CharacteristicItems").children()) {
    const Node nominal = of(item, "CharacteristicNominalId", nominals);
    characteristic(of(nominal, "CharacteristicDefinitionId", definitions), nominal, item);
  }
  for (const Node nominal : all.child("CharacteristicNominals").children())
    if (const auto id = ownId(nominal); !id || !nominals.contains(*id))
      characteristic(of(nominal, "CharacteristicDefinitionId", definitions), nominal, Node());
  for (const Node definition : all.child("CharacteristicDefinitions").children())
    if (const auto id = ownId(definition); !id || !definitions.contains(*id)) {
      keepQuietly(definition, "Characteristics/CharacteristicDefinitions");
      tell(definition, Taken::Note, "nothing in the file has it");
    }
  for (const auto& [id, upper] : upper_) {
    Requirement* r = plan_.spec.requirements.find(id);
    if (!r) continue;
    if (const auto found = requirements_.find(upper); found != requirements_.end())
      r->upper_segment = found->second;
    else
      remark(source_.find(upper) ? source_.find(upper) : all,
             fmt::format("requirement {} is a lower segment, and its upper one is not taken over; "
                         "it stands by itself",
                         r->balloon));
  }
}

} // namespace alder::qif
