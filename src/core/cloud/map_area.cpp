#include "cloud/map_area.h"

namespace alder {

Json toJson(const MapArea& area) {
  Json json{{"feature", area.feature.value}};
  if (area.radius > 0) json["radius"] = area.radius, json["at"] = toJson(area.at);
  return json;
}

MapArea readMapArea(const JsonFields& f) {
  MapArea area;
  area.feature = FeatureId{f.integer("feature", -1)};
  if (!area.feature.valid()) f.complain("feature", "must be the id of a feature");
  if (!f.has("radius")) return area;
  area.radius = f.positive("radius");
  area.at = f.vector("at");
  return area;
}

} // namespace alder
