// Numbers and words as people list them.
#pragma once

#include "base/error.h"
#include <string>
#include <utility>
#include <vector>

namespace alder {

// The words between commas, without the blanks round them and without empty ones.
std::vector<std::string> commaWords(const std::string& text);

// "1-10, 14" as pairs from, to; error: what cannot be read.
Result<std::vector<std::pair<int, int>>> numbersFrom(const std::string& text);

} // namespace alder
