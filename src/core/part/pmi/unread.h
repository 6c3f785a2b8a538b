// What hangs on a tolerance or dimension and nobody has read: told, so that nothing is lost without
// a word.
#pragma once

#include "part/pmi/source.h"
#include "part/pmi/teller.h"

namespace alder {

// To be called when everything is read.
void tellUnread(const PmiSource& source, const std::vector<int>& requirements, const Teller& tell);

} // namespace alder
