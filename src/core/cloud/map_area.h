// What a person leaves out of the deviation map: a whole feature, or what lies about a place of it.
// For the eye alone; requirements are judged by all places.
#pragma once

#include "base/id.h"
#include "bench/json_fields.h"
#include "geometry/vec.h"

namespace alder {

struct MapArea {
  FeatureId feature;
  double radius = 0;      // about the place, mm; 0: all of the feature
  Vec3 at = Vec3::Zero(); // CAD frame
  bool holds(FeatureId of, const Vec3& place) const {
    return of == feature && (radius <= 0 || (place - at).norm() <= radius);
  }
  friend bool operator==(const MapArea&, const MapArea&) = default;
};

Json toJson(const MapArea& area);
MapArea readMapArea(const JsonFields& f);

} // namespace alder
