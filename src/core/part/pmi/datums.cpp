#include "part/pmi/datums.h"

#include "part/pmi/modifiers.h"
#include "part/step_place.h"
#include <algorithm>

namespace alder {

std::optional<double> lengthUnitOf(const PmiSource& source, const PmiEntity& representation) {
  const ContextUnits units =
      unitsOfContext(source.text(), representation.to("context_of_items").id());
  return units.length == 0 ? std::nullopt : std::optional(units.mm);
}

Datums::Datums(const PmiSource& source, const Aspects& aspects, const Teller& tell)
    : source_(source)
    , aspects_(aspects) {
  for (const PmiEntity& datum : source.ofKind("DATUM"))
    if (!datum.is("COMMON_DATUM")) read(datum, tell);
}

void Datums::read(const PmiEntity& entity, const Teller& tell) {
  PmiDatum datum{entity.id(), entity.text("identification"), {}, {}, {entity.id()}};
  if (datum.letter.empty()) return tell(entity.id(), "datum without a letter is left out");
  // The same letter on another component of an assembly is another datum.
  const StepValue* shape = entity.peek("of_shape");
  const int part = shape && shape->isReference() ? shape->reference : 0;
  const auto [on, first] = parts_.emplace(datum.letter, part);
  if (!first && on->second != part) {
    int number = 2;
    while (parts_.count(fmt::format("{}({})", datum.letter, number)) &&
           parts_.at(fmt::format("{}({})", datum.letter, number)) != part)
      ++number;
    const std::string renamed = fmt::format("{}({})", datum.letter, number);
    if (parts_.emplace(renamed, part).second)
      tell(entity.id(), fmt::format("datum {} stands on two components; that of the second is {}",
                                    datum.letter, renamed));
    datum.letter = renamed;
  }
  letters_[entity.id()] = datum.letter;

  for (const PmiEntity& feature : aspects_.featuresOfDatum(entity)) {
    datum.made_of.push_back(feature.id());
    if (feature.is("DATUM_TARGET")) readTarget(feature, datum, tell);
    const auto faces = aspects_.faces(feature, tell);
    datum.faces.insert(datum.faces.end(), faces.begin(), faces.end());
  }
  // Some writers attach the faces to the datum itself.
  if (datum.faces.empty()) datum.faces = aspects_.faces(entity, tell);
  std::sort(datum.faces.begin(), datum.faces.end());
  datum.faces.erase(std::unique(datum.faces.begin(), datum.faces.end()), datum.faces.end());
  if (datum.faces.empty())
    tell(entity.id(), "datum " + datum.letter + " names no face of the part");

  const auto same = std::find_if(datums_.begin(), datums_.end(),
                                 [&](const PmiDatum& d) { return d.letter == datum.letter; });
  if (same == datums_.end()) return datums_.push_back(std::move(datum));
  same->made_of.insert(same->made_of.end(), datum.made_of.begin(), datum.made_of.end());
  if (same->faces.empty())
    same->faces = datum.faces;
  else if (!datum.faces.empty() && same->faces != datum.faces)
    tell(entity.id(), "datum letter " + datum.letter + " is used twice; the first is kept");
}

// The placement says where, its X axis along a line; parameters are named "target length",
// "target width", "target diameter".
void Datums::readTarget(const PmiEntity& entity, PmiDatum& datum, const Teller& tell) const {
  for (const PmiEntity& feature : aspects_.featuresOfTarget(entity)) {
    const auto faces = aspects_.faces(feature, tell);
    datum.faces.insert(datum.faces.end(), faces.begin(), faces.end());
  }
  std::optional<StepPlace> place;
  double length = 0, width = 0, diameter = 0;
  for (const PmiEntity& representation : aspects_.representationsOf(entity)) {
    const auto unit = lengthUnitOf(source_, representation);
    if (!unit)
      tell(entity.id(), "datum target of " + datum.letter +
                            ": in which unit its place is given "
                            "cannot be read; taken as mm");
    for (const int id : representation.referencesIn("items")) {
      if (auto at = placeAt(source_.text(), id, unit.value_or(1))) {
        place = at;
        continue;
      }
      const PmiEntity item = source_.at(id);
      const auto measure = source_.measure(item);
      const std::string name = item.text("name");
      const auto says = [&](const char* word) { return name.find(word) != std::string::npos; };
      double* to = says("diameter") ? &diameter
                   : says("width")  ? &width
                   : says("length") ? &length
                                    : nullptr;
      if (measure && to)
        *to = measure->value;
      else
        tell(entity.id(),
             "datum target of " + datum.letter + ": \"" + name + "\" is not taken over");
    }
  }
  const std::string letter = datum.letter, kind = entity.text("description");
  if (!place)
    return tell(entity.id(), "datum target of " + letter + " is read as the whole surface");
  if (width > 0)
    tell(entity.id(), "rectangular datum target of " + letter + " is read as a line");
  else if (kind.find("area") != std::string::npos || kind.find("curve") != std::string::npos)
    tell(entity.id(), "datum target of " + letter + " (" + kind + ") is read as a point");
  PmiDatumTarget target{entity.id(), place->origin, {}, diameter};
  if (length > 0) {
    target.point = place->origin - place->x * (length / 2);
    target.to = place->origin + place->x * (length / 2);
  }
  datum.targets.push_back(target);
}

std::vector<std::string> Datums::lettersOf(const PmiEntity& datum, const Teller& tell) const {
  if (const auto found = letters_.find(datum.id()); found != letters_.end()) {
    datum.value("identification");
    return {found->second};
  }
  return datum.is("COMMON_DATUM") ? madeOf(datum, tell) : std::vector<std::string>();
}

// A common datum of older schemas: "A-B", and related to those that it is made of.
std::vector<std::string> Datums::madeOf(const PmiEntity& common, const Teller& tell) const {
  std::vector<std::string> letters;
  const std::string text = common.text("identification");
  for (std::size_t at = 0; at < text.size();) {
    const auto end = std::min(text.find('-', at), text.size());
    if (end > at) letters.push_back(text.substr(at, end - at));
    at = end + 1;
  }
  std::vector<std::string> related;
  for (const PmiEntity& part : aspects_.datumsOf(common))
    if (const auto found = letters_.find(part.id()); found != letters_.end())
      related.push_back(found->second);
  std::sort(related.begin(), related.end());
  if (letters.size() < 2) {
    tell(common.id(), "a common datum does not say its letters; those it is related to are taken");
    return related;
  }
  std::vector<std::string> said = letters;
  std::sort(said.begin(), said.end());
  if (said != related)
    tell(common.id(), "common datum " + text + " is not made of the datums that it names");
  return letters;
}

void Datums::addBase(const StepValue& base, PmiDatumReference& out,
                     std::vector<MaterialModifier>& materials, const Teller& tell) const {
  if (base.kind == StepValue::Kind::List || base.kind == StepValue::Kind::Typed) {
    for (const auto& item : base.items)
      addBase(item, out, materials, tell);
    return;
  }
  if (!base.isReference()) return;
  const PmiEntity entity = source_.at(base.reference);
  if (entity.is("DATUM_REFERENCE_ELEMENT")) {
    std::vector<MaterialModifier> within;
    addBase(entity.value("base"), out, within, tell);
    PmiModifiers own = modifiersIn(source_, entity.value("modifiers"));
    if (!within.empty() && own.material == MaterialModifier::None) own.material = within.front();
    materials.push_back(own.material);
    for (const std::string& other : own.others)
      tell(entity.id(), "datum modifier " + inWords(other) +
                            " on one datum of a common datum is "
                            "not judged");
    return;
  }
  const auto letters = lettersOf(entity, tell);
  if (letters.empty())
    tell(tell.requirement(),
         "datum reference #" + std::to_string(base.reference) + " is not understood");
  out.letters.insert(out.letters.end(), letters.begin(), letters.end());
}

void Datums::addReference(const PmiEntity& entity, std::vector<PmiDatumReference>& out,
                          const Teller& tell) const {
  if (!entity) return;
  if (entity.is("DATUM_SYSTEM")) {
    for (const PmiEntity& compartment : entity.all("constituents"))
      addReference(compartment, out, tell);
    return;
  }
  PmiDatumReference reference;
  std::vector<MaterialModifier> materials; // of the elements of a common datum
  PmiModifiers own;
  if (entity.is("GENERAL_DATUM_REFERENCE")) {
    addBase(entity.value("base"), reference, materials, tell);
    own = modifiersIn(source_, entity.value("modifiers"));
  } else if (entity.is("DATUM_REFERENCE")) {
    addBase(entity.value("referenced_datum"), reference, materials, tell);
    own = modifiersIn(source_, entity.value("modifier"));
  }
  reference.modifiers = own.others;
  reference.material = own.material;
  if (own.material == MaterialModifier::None && !materials.empty()) {
    reference.material = materials.front();
    if (std::any_of(materials.begin(), materials.end(),
                    [&](MaterialModifier m) { return m != materials.front(); })) {
      reference.material = MaterialModifier::None;
      tell(entity.id(), "the material modifiers of the single datums of a common datum are not "
                        "judged, as they differ");
    }
  }
  if (!reference.letters.empty())
    out.push_back(std::move(reference));
  else
    tell(tell.requirement(),
         "datum reference #" + std::to_string(entity.id()) + " is not understood");
}

std::vector<PmiDatumReference> Datums::references(const StepValue& list, const Teller& tell) const {
  // Old style lists hold references with their precedence first.
  std::vector<std::pair<double, PmiEntity>> ordered;
  const auto add = [&](const StepValue& v) {
    if (!v.isReference()) return;
    const PmiEntity entity = source_.at(v.reference);
    const StepValue& precedence = entity.value("precedence");
    ordered.emplace_back(precedence.kind == StepValue::Kind::Number
                             ? precedence.number
                             : static_cast<double>(ordered.size()),
                         entity);
    if (!entity)
      tell(tell.requirement(),
           "datum reference #" + std::to_string(v.reference) + " is not understood");
  };
  add(list);
  for (const StepValue& v : list.items) {
    add(v);
    for (const StepValue& inner : v.items)
      add(inner);
  }
  if (ordered.empty() && list.kind != StepValue::Kind::Null &&
      !(list.kind == StepValue::Kind::List && list.items.empty()))
    tell(tell.requirement(), "its datum references are not understood");
  std::stable_sort(ordered.begin(), ordered.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<PmiDatumReference> result;
  for (const auto& [precedence, entity] : ordered)
    addReference(entity, result, tell);
  return result;
}

} // namespace alder
