#include "requirement/datum_targets.h"

#include "base/units.h"
#include "geometry/place_text.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kLineStep = 10;

std::optional<DatumTarget> targetIn(std::string text) {
  DatumTarget target;
  for (const std::string_view sign : {"ø", "⌀", "Ø"})
    if (const auto at = text.find(sign); at != text.npos) {
      const auto diameter = numberFromText(std::string_view(text).substr(at + sign.size()));
      if (!diameter || *diameter <= 0) return {};
      target.diameter = *diameter;
      text.resize(at);
      break;
    }
  if (const auto to = text.find(" to "); to != text.npos) {
    const auto end = placeFromText(std::string_view(text).substr(to + 4));
    if (!end || target.diameter > 0) return {};
    target.to = *end;
    text.resize(to);
  }
  const auto point = placeFromText(text);
  if (!point) return {};
  target.point = *point;
  return target;
}

} // namespace

Result<std::vector<DatumTarget>> targetsFromText(const std::string& text) {
  std::vector<DatumTarget> targets;
  for (const std::string& one : partedBySemicolons(text)) {
    const auto target = targetIn(one);
    if (!target)
      return fail("Datum target {} (\"{}\") is not \"x, y, z\", \"x, y, z ø8\" or "
                  "\"x, y, z to x, y, z\".",
                  targets.size() + 1, one);
    targets.push_back(*target);
  }
  return targets;
}

std::string describe(const std::vector<DatumTarget>& targets) {
  std::string text;
  for (const DatumTarget& t : targets) {
    text += (text.empty() ? "" : "; ") + placeText(t.point);
    if (t.to) text += " to " + placeText(*t.to);
    if (t.diameter > 0) text += " ø" + shortFigure(t.diameter);
  }
  return text;
}

std::vector<DatumTarget> targetsOf(const Specification& spec, FeatureId feature) {
  std::vector<DatumTarget> all;
  for (const Datum& d : spec.datums)
    if (std::find(d.features.begin(), d.features.end(), feature) != d.features.end())
      all.insert(all.end(), d.targets.begin(), d.targets.end());
  return all;
}

Points placesOf(const DatumTarget& t) {
  if (t.to) {
    const int steps =
        std::max(1, static_cast<int>(std::ceil((*t.to - t.point).norm() / kLineStep)));
    Points line;
    for (int k = 0; k <= steps; ++k)
      line.push_back(t.point + (*t.to - t.point) * (static_cast<double>(k) / steps));
    return line;
  }
  Points places{t.point};
  // Round it in space: those that leave the surface are brought back to it.
  for (int k = 0; t.diameter > 0 && k < 3; ++k)
    for (const double side : {-1.0, 1.0})
      places.push_back(t.point + side * 0.35 * t.diameter * Vec3::Unit(k));
  return places;
}

} // namespace alder
