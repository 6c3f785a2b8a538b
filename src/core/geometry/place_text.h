// Places as a person writes them: "10, 20.5, 0", several parted by semicolons. mm.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

std::string trimmed(std::string_view text);
std::optional<double> numberFromText(std::string_view text); // finite, nothing else beside it
std::optional<Vec3> placeFromText(std::string_view text);
std::string placeText(const Vec3& place);

std::vector<std::string> partedBySemicolons(std::string_view text); // trimmed, none empty
// Error says which place cannot be read.
Result<Points> placesFromText(std::string_view text);
std::string placesText(const Points& places);

} // namespace alder
