// Requirements of a source as it is now beside those of the routine that came from it.
#pragma once

#include "requirement/specification.h"

namespace alder {

// Does it ask the same, whatever it is numbered and wherever it stands?
bool asksTheSame(const Requirement& a, const Requirement& b);

// For each that was the place of the one it became; nothing: it is gone. By kind, features and
// place on the drawing first, then by what is asked; those that became none are new.
std::vector<std::optional<std::size_t>> pairRequirements(const std::vector<Requirement>& was,
                                                         const std::vector<Requirement>& is);

// "limits 7.9 to 8.1, now 7.95 to 8.05; datums A | B, now A | B | C".
std::string differenceOf(const Specification& spec, const Requirement& was, const Requirement& is);

// What is asked now, under the number of what was; how that is judged stays where the newer one
// does not say it.
Requirement takenOver(const Requirement& was, Requirement is);

} // namespace alder
