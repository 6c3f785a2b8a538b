// What a tolerance or dimension is in the file's own words: its record, those that it names and
// those that name it, as they stand there.
#pragma once

#include "part/pmi/pmi.h"

namespace alder {

// One line each, the entity first, then what it names, two steps far, then what hangs on it;
// geometry and the product are left out. Empty when the file has no such entity.
std::vector<std::string> fileWords(const std::string& step_file, EntityNumber entity);

} // namespace alder
