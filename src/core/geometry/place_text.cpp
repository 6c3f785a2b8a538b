#include "geometry/place_text.h"

#include "base/units.h"
#include <charconv>
#include <cmath>

namespace alder {

std::string trimmed(std::string_view text) {
  const auto first = text.find_first_not_of(" \t"), last = text.find_last_not_of(" \t");
  return first == text.npos ? "" : std::string(text.substr(first, last - first + 1));
}

std::optional<double> numberFromText(std::string_view given) {
  const std::string text = trimmed(given);
  double value = 0;
  const auto* end = text.data() + text.size();
  const auto [rest, error] = std::from_chars(text.data(), end, value);
  if (error != std::errc() || rest != end || !std::isfinite(value)) return {};
  return value;
}

std::optional<Vec3> placeFromText(std::string_view text) {
  Vec3 p;
  std::size_t from = 0;
  for (int k = 0; k < 3; ++k) {
    const auto comma = k < 2 ? text.find(',', from) : text.size();
    if (comma == text.npos) return {};
    const auto value = numberFromText(text.substr(from, comma - from));
    if (!value) return {};
    p[k] = *value;
    from = comma + 1;
  }
  return p;
}

std::string placeText(const Vec3& p) {
  return shortFigure(p.x()) + ", " + shortFigure(p.y()) + ", " + shortFigure(p.z());
}

std::vector<std::string> partedBySemicolons(std::string_view text) {
  std::vector<std::string> parts;
  std::size_t from = 0;
  while (from <= text.size()) {
    const auto end = std::min(text.find(';', from), text.size());
    if (auto one = trimmed(text.substr(from, end - from)); !one.empty())
      parts.push_back(std::move(one));
    from = end + 1;
  }
  return parts;
}

Result<Points> placesFromText(std::string_view text) {
  Points places;
  for (const std::string& one : partedBySemicolons(text)) {
    const auto place = placeFromText(one);
    if (!place) return fail("Place {} (\"{}\") is not \"x, y, z\".", places.size() + 1, one);
    places.push_back(*place);
  }
  return places;
}

std::string placesText(const Points& places) {
  std::string text;
  for (const Vec3& p : places)
    text += (text.empty() ? "" : "; ") + placeText(p);
  return text;
}

} // namespace alder
