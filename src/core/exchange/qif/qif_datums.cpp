// Datums, their targets, and datum systems (QIF: datum reference frames).
#include "exchange/qif/qif_reading.h"
#include "exchange/qif/qif_words.h"
#include "exchange/qif/qif_writing.h"

#include "exchange/routine/judging_json.h"
#include <algorithm>
#include <cmath>

namespace alder::qif {
namespace {

constexpr const char* kPrecedence[]{"PRIMARY", "SECONDARY", "TERTIARY"};
constexpr int kMostTargets = 99; // of one datum, as its letter and number name them

void writeTargets(Writing& w, Node root) {
  const bool any = std::any_of(w.plan.spec.datums.begin(), w.plan.spec.datums.end(),
                               [](const Datum& d) { return !d.targets.empty(); });
  if (!any) return;
  const Node list = add(root, "DatumTargetDefinitions");
  for (const Datum& d : w.plan.spec.datums) {
    const int number = datumNumber(w.plan.spec, d.letter);
    for (std::size_t i = 0; i < d.targets.size() && i < kMostTargets; ++i) {
      const DatumTarget& t = d.targets[i];
      const char* name = t.to             ? "LineDatumTargetDefinition"
                         : t.diameter > 0 ? "CircularAreaDatumTargetDefinition"
                                          : "PointDatumTargetDefinition";
      const Node node =
          w.element(list, name, Thing::DatumTarget, 100 * number + static_cast<int>(i));
      add(node, "DatumTargetLabel", d.letter + std::to_string(i + 1));
      add(node, t.to ? "StartPoint" : "TargetPoint", t.point);
      if (t.to) add(node, "EndPoint", *t.to);
      if (t.diameter > 0) add(node, "Diameter", t.diameter);
    }
    if (d.targets.size() > kMostTargets)
      w.told.push_back(fmt::format("datum {} has {} targets; {} of them stand in the file",
                                   d.letter, d.targets.size(), kMostTargets));
  }
  setCount(list);
}

// What of a datum of an indicator QIF has no element for.
Json ownOf(const DatumReference& d) {
  Json own = toJson(d);
  for (const char* said : {"letters", "material"}) // by elements
    own.erase(said);
  for (auto field = own.begin(); field != own.end();)
    field = field->is_null() || *field == "" ? own.erase(field) : std::next(field);
  return own;
}

void writeDatum(Writing& w, Node list, const DatumReference& d, std::size_t place) {
  const Node node = add(list, "Datum");
  addOwn(node, {{kOwnDatum, ownOf(d)}});
  const Node within = d.letters.size() == 1 ? node : add(node, "CompoundDatum");
  for (const std::string& letter : d.letters) {
    const Node one = add(within, "SimpleDatum");
    add(one, "DatumDefinitionId",
        std::to_string(w.ids.of(Thing::Datum, datumNumber(w.plan.spec, letter))));
    add(one, "MaterialCondition", std::string(materialWord(d.material)));
  }
  add(add(node, "Precedence"), "PrecedenceEnum", kPrecedence[std::min<std::size_t>(place, 2)]);
}

} // namespace

std::string systemKey(const Requirement& r) {
  Json key = Json::array();
  for (const DatumReference& d : r.datums)
    key.push_back(toJson(d));
  return key.dump();
}

void writeDatums(Writing& w, Node root) {
  const Specification& spec = w.plan.spec;
  if (!spec.datums.empty()) {
    const Node list = add(root, "DatumDefinitions");
    for (const Datum& d : spec.datums) {
      const int number = datumNumber(spec, d.letter);
      const Node node = w.element(list, "DatumDefinition", Thing::Datum, number);
      add(node, "DatumLabel", d.letter);
      std::vector<int> features, targets;
      for (const FeatureId f : d.features)
        features.push_back(w.ids.of(Thing::FeatureNominal, f));
      for (std::size_t i = 0; i < d.targets.size() && i < kMostTargets; ++i)
        targets.push_back(w.ids.of(Thing::DatumTarget, 100 * number + static_cast<int>(i)));
      addIds(node, "FeatureNominalIds", features);
      addIds(node, "DatumTargetIds", targets);
    }
    setCount(list);
  }
  writeTargets(w, root);
  // Each datum system once, by the number of the first requirement that stands in it.
  Node list;
  std::vector<const Requirement*> by_id;
  for (const Requirement& r : spec.requirements)
    if (!r.datums.empty()) by_id.push_back(&r);
  std::sort(by_id.begin(), by_id.end(),
            [](const Requirement* a, const Requirement* b) { return a->id.value < b->id.value; });
  for (const Requirement* r : by_id) {
    const auto [at, fresh] = w.frames.emplace(systemKey(*r), 0);
    if (!fresh) continue;
    at->second = w.ids.of(Thing::ReferenceFrame, r->id);
    if (!list) list = add(root, "DatumReferenceFrames");
    const Node frame = w.element(list, "DatumReferenceFrame", Thing::ReferenceFrame, r->id.value);
    const Node datums = add(frame, "Datums");
    for (std::size_t i = 0; i < r->datums.size(); ++i)
      writeDatum(w, datums, r->datums[i], i);
    setCount(datums);
  }
  if (list) setCount(list);
}

void Reading::targets(Node node, Datum& datum) {
  for (const int id : idsIn(node.child("DatumTargetIds"))) {
    const Node target = source_.find(id);
    const auto place = [&](const char* name) -> std::optional<Vec3> {
      const Node at = target.child(name);
      const auto v = vectorIn(at);
      return v ? std::optional<Vec3>(*v * units_.length(at)) : std::nullopt;
    };
    DatumTarget t;
    const auto point = place("TargetPoint"), start = place("StartPoint");
    if (!point && !start) {
      remark(target ? target : node, "a datum target that does not say where it lies");
      continue;
    }
    t.point = point ? *point : *start;
    t.to = place("EndPoint");
    if (const Node size = target.child("Diameter"); const auto v = numberIn(size))
      t.diameter = *v * units_.length(size);
    datum.targets.push_back(t);
    tell(target, Taken::Over, "");
  }
}

std::optional<DatumReference> Reading::datumReference(Node datum) const {
  DatumReference reference;
  const auto take = [&](Node simple) {
    const auto id = idIn(simple.child("DatumDefinitionId"));
    const auto letter = id ? letters_.find(*id) : letters_.end();
    if (letter == letters_.end()) return false;
    reference.letters.push_back(letter->second);
    for (const char* name : {"MaterialCondition", "MaterialModifier"})
      if (const auto material = materialOf(wordsOf(simple, name))) reference.material = *material;
    return true;
  };
  const Node compound = datum.child("CompoundDatum");
  bool good = true, any = false;
  for (const Node simple : (compound ? compound : datum).children("SimpleDatum"))
    any = true, good &= take(simple);
  if (!any) good = take(datum);
  if (!good || reference.letters.empty()) return {};
  const Json own = ownIn(datum, kOwnDatum);
  if (!own.is_object()) return reference;
  const JsonFields f(own, "datum");
  DatumReference more = readDatumReference(f);
  if (!f.done()) return {};
  more.letters = std::move(reference.letters), more.material = reference.material;
  return more;
}

void Reading::datums() {
  Specification& spec = plan_.spec;
  for (const Node node : source_.root().child("DatumDefinitions").children()) {
    const std::string letter = wordsOf(node, "DatumLabel");
    const auto id = ownId(node);
    bool all = true;
    Datum datum{letter, featuresIn(node.child("FeatureNominalIds"), all), {}};
    if (datum.features.empty()) datum.features = featuresIn(node.child("FeatureItemIds"), all);
    targets(node, datum);
    const Datum* there = spec.datum(letter);
    const auto told = [&](const std::string& why) {
      wrong_letters_.insert(letter);
      keepAll({node}, {"DatumDefinitions"});
      tell(node, Taken::Note, why);
    };
    if (letter.empty() || !id || datum.features.empty() || !all) {
      told("its feature is none of this part");
      continue;
    }
    if (there && (there->features != datum.features)) {
      told(fmt::format("datum {} is another feature in this routine", letter));
      continue;
    }
    if (!there) spec.datums.push_back(datum);
    letters_[*id] = letter;
    isThing(node, Thing::Datum, datumNumber(spec, letter));
    tell(node, Taken::Over, "");
    keepRest(node, Thing::Datum, datumNumber(spec, letter),
             {"DatumLabel", "FeatureNominalIds", "FeatureItemIds", "DatumTargetIds"});
  }
  for (const Node frame : source_.root().child("DatumReferenceFrames").children()) {
    const auto id = ownId(frame);
    std::vector<std::pair<int, DatumReference>> found;
    bool good = id.has_value();
    for (const Node datum : frame.child("Datums").children("Datum")) {
      const auto reference = datumReference(datum);
      good &= reference.has_value();
      if (!reference) continue;
      const std::string precedence = wordsIn(below(datum, "PrecedenceEnum"));
      int place = static_cast<int>(found.size());
      for (int k = 0; k < 3; ++k)
        if (precedence == kPrecedence[k]) place = k;
      if (const auto said = numberIn(datum.child("SequenceNumber")); said && std::abs(*said) < 1000)
        place = static_cast<int>(*said);
      found.emplace_back(place, *reference);
    }
    if (!good || found.empty()) {
      keepAll({frame}, {"DatumReferenceFrames"});
      tell(frame, Taken::Note, "a datum of it is none of this routine");
      continue;
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    for (auto& [place, reference] : found)
      frames_[*id].push_back(std::move(reference));
    tell(frame, Taken::Over, "");
  }
}

} // namespace alder::qif
