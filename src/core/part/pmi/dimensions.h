// Sizes, distances and angles (ISO 10303-47; ISO 14405).
#pragma once

#include "part/pmi/aspects.h"

namespace alder {

struct ReadDimensions {
  std::vector<PmiDimension> judged; // by number of the entity
  // Theoretically exact and auxiliary ones: the first stand in the model itself, the second are for
  // information; neither is judged.
  int exact = 0, auxiliary = 0;
};
ReadDimensions readDimensions(const PmiSource& source, const Aspects& aspects, const Teller& tell);

} // namespace alder
