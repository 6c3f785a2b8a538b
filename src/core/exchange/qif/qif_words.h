// Which elements of QIF 3 (ISO 23952) stand for which kinds of features and characteristics. The
// names are those that the schema builds its elements of: "Cylinder" in CylinderFeatureNominal,
// "Position" in PositionCharacteristicItem. What of it is from memory is in docs/qif/README.md.
#pragma once

#include "exchange/routine/feature_search.h"

namespace alder::qif {

std::string_view stemOf(FeatureKind kind); // "OppositeParallelPlanes"
std::optional<FeatureKind> featureKindOf(std::string_view stem);

// What a characteristic is called, and what the word says beside its kind.
struct Stem {
  std::string_view name;
  Characteristic kind;
  std::optional<Zone> zone;   // of a size
  bool radius = false;        // a size
  std::string_view unit = {}; // of a value: "mm", "deg"
};
const Stem& stemOf(const Specification& spec, const Requirement& requirement);
// Of the zone of a requirement of this kind on such a feature, where nothing says it.
Zone usualZone(Characteristic kind, const Ideal& ideal);
// Also of words that are read, but never written: "Concentricity". Null: not known.
const Stem* characteristicStem(std::string_view name);

// "MAXIMUM", "LEAST", "NONE".
std::string_view materialWord(MaterialModifier modifier);
std::optional<MaterialModifier> materialOf(std::string_view word);

// The stem of an element: of "CylinderFeatureItem" and the ending "FeatureItem" it is "Cylinder".
std::optional<std::string> stemIn(std::string_view element, std::string_view ending);

} // namespace alder::qif
