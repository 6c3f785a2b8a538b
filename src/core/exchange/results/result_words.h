// Words that files of results use for their columns and characteristics, in the languages of the
// shops: English, German, French, Italian, Spanish.
#pragma once

#include "requirement/specification.h"

namespace alder {

// What a piece of a line says of a result.
enum class ResultRole {
  None,
  Name,    // of the characteristic
  Feature, // that it belongs to
  Axis,    // X, Y, Z, diameter, position, …: what of the feature
  Id,      // number of the characteristic, balloon
  Nominal,
  Actual,
  Deviation, // actual - nominal
  Upper,     // limits themselves
  Lower,
  UpperDeviation, // limits as they lie from the nominal
  LowerDeviation,
  Tolerance, // width of a zone; of dimensions to both sides
  Excess,    // how far beyond a limit
  Status,
  Unit,
  Datums,
  Serial,
  Date,
  Operator,
  Machine,
};
inline constexpr int kResultRoleCount = 21;
std::string_view name(ResultRole role);  // used in files: "nominal", "upper_deviation", …
std::string_view words(ResultRole role); // for people
bool isFigure(ResultRole role);          // nominal to excess
// Above or below the table, or in a column of it: said of the part, not of one result.
bool isOfPart(ResultRole role);

// Lower case, without accents, signs at the ends and what stands in brackets: "Ob. Abmaß [mm]:" is
// "ob abmass".
std::string plainWord(std::string_view text);
// None: no word that is known for one.
ResultRole roleOfWord(std::string_view text);

// What a word such as "X", "Ø", "Durchmesser", "TP" or "flatness" says is measured.
enum class Component { None, X, Y, Z, Radial, Requirement };
struct CharacteristicWord {
  Component component = Component::None;
  std::optional<Characteristic> kind;
  bool radius = false;
};
// Nothing: no such word. Coordinates are components of a place, not requirements of their own.
std::optional<CharacteristicWord> characteristicOfWord(std::string_view text);

// One of the two is often written for the other: a size for a distance, a profile of a line for one
// of a surface.
bool standFor(Characteristic a, Characteristic b);

// "ok", "NOK", "i.O.": the verdict of a file; nothing where a word is none.
std::optional<bool> passedBy(std::string_view status);

} // namespace alder
