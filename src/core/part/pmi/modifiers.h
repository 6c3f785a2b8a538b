// Modifiers of tolerances and datum references in the encodings that the schemas allow: a bare
// enumeration, one typed by its SELECT (SIMPLE_DATUM_REFERENCE_MODIFIER(.PLANE.)), or an instance
// with a value.
#pragma once

#include "part/pmi/pmi.h"
#include "part/pmi/source.h"

namespace alder {

struct PmiModifiers {
  MaterialModifier material = MaterialModifier::None;
  std::vector<std::string> others; // as the file names them, a value behind: "SPHERICAL 12.5"
};
PmiModifiers modifiersIn(const PmiSource& source, const StepValue& value);

} // namespace alder
