// The two kinds of typed text: a dimension, and a tolerance indicator.
#pragma once

#include "requirement/typed/scanner.h"

namespace alder::typed {

Typing dimension(Scanner& in, const TypingSettings& settings);

// Nothing where no characteristic stands at the front, by symbol or word.
std::optional<Characteristic> characteristic(Scanner& in);
// What follows the characteristic; where none is named, "ø0.05 M A B", it is position.
Typing indicator(Scanner& in, Characteristic kind, const TypingSettings& settings);

inline constexpr std::size_t kRest = 1000; // characters: beyond the end of any text

inline double toMm(LengthUnit unit) {
  return unit == LengthUnit::Inch ? 25.4 : 1;
}

} // namespace alder::typed
