// Annotations that a file draws: those that nothing semantic stands behind are told, as a program
// cannot judge a picture.
#pragma once

#include "part/pmi/source.h"
#include "part/pmi/teller.h"

namespace alder {

void tellDrawnOnly(const PmiSource& source, const Teller& tell);

} // namespace alder
