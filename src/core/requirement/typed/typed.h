// A requirement as a person types it or a drawing writes it: "32 H7", "48 ±0.1", "6x ø11 +0.2/0",
// "position ø0.05 M | A | B", "⌖ ⌀.010 Ⓜ A B". By the words of ISO 129-1, 286-1, 1101, 14405-1 and
// ASME Y14.5; what describe() writes is read back.
#pragma once

#include "requirement/specification.h"

namespace alder {

enum class LengthUnit { Millimetre, Inch };

struct TypingSettings {
  LengthUnit unit = LengthUnit::Millimetre; // of figures without one of their own
  ToleranceStandard standard = ToleranceStandard::Iso;
  bool open_zones = false; // indicators without a figure ("flatness") are by general tolerances
};

enum class TypedWhat {
  Requirement,
  Basic,     // theoretically exact, in a frame or brackets: [48]
  Reference, // auxiliary, in parentheses: (48)
  Datum,     // a letter: "datum A", "[A]"
  Thread,    // M8, M8x1-6H, 1/4-20 UNC: not a thing that is touched
  Texture,   // Ra 1.6
};

struct Typed {
  TypedWhat what = TypedWhat::Requirement;
  // Without features; mm and radians. Basic and reference dimensions have no limits.
  Requirement requirement;
  bool kind_open = false;    // a figure alone: a size or a distance, as the features have it
  bool zone_open = false;    // no sign of a diameter, radius or square stood before it
  bool nominal_open = false; // "H7", "±0.1": limits are deviations until the geometry says
  bool limits_open = false;  // none stated: general tolerances
  int count = 1;             // 6x
  int decimals = 0;          // as written, of the nominal or tolerance
  std::string words;         // a datum letter, a thread, a texture
};

// What was not understood and where, in characters of the text. `says` is one line.
struct TextFault {
  std::size_t at = 0, length = 0;
  std::string says;
};

// One requirement, or of a chamfer ("2x45°") its length and its angle.
using Typing = tl::expected<std::vector<Typed>, TextFault>;
Typing typedText(std::string_view text, const TypingSettings& settings = {});

// The requirement with its lengths in the unit, for describe().
Requirement inUnit(Requirement requirement, LengthUnit unit);

} // namespace alder
