// What a cloud showed of the part, as it is drawn on it: places with their deviations, what is left
// out of the picture, where nothing was seen, and sections with the deviations along them. CAD
// frame, mm.
#pragma once

#include "cloud/map_area.h"
#include "geometry/cut_plane.h"
#include "judge/measurement.h"
#include "judge/verdict.h"
#include "plan/plan.h"

namespace alder {

struct MapPlace {
  FeatureId feature;
  FaceId face;
  Vec3 at = Vec3::Zero(), normal = Vec3::UnitZ(); // on the nominal surface; outward
  // From the nominal surface, outward positive; nothing where the requirement does not look at
  // single places.
  std::optional<double> deviation;
  double off = 0;     // from the middle of the tolerance
  double allowed = 0; // width of the tolerance
  double share = 0;   // of half the tolerance, signed
};

struct MapFeature {
  FeatureId feature;
  double spacing = 1; // from place to place
  double allowed = 0;
  std::size_t left_out = 0;             // places in areas that are left out
  std::vector<std::size_t> places = {}; // of the map, on this feature
};

struct DeviationMap {
  std::vector<MapPlace> places;
  std::vector<MapFeature> features;
  const MapFeature* of(FeatureId feature) const;
};

// Of the features that a cloud saw, by the first result of each.
bool isOfCloud(const MeasuredFeature& measured);
DeviationMap deviationMap(const Plan& plan, const std::vector<const FeatureResult*>& results,
                          const Measurements& measured, const std::vector<MapArea>& left_out);

// Surface of the features of the map that no place stands for, cut small; tags tell why.
enum class Unshown { NotSeen = 0, LeftOut = 1 };
struct UnshownSurface {
  Mesh mesh;           // tags: Unshown
  double not_seen = 0; // share of the surface of all features of the map
  double left_out = 0; // likewise
};
UnshownSurface unshownSurface(const Plan& plan, const DeviationMap& map,
                              const std::vector<MapArea>& left_out);

// Which way a section goes through a place: across an axis of the model, or across or along the
// axis of the feature there (of a plane, its normal).
enum class SectionWay { AcrossX, AcrossY, AcrossZ, AcrossFeature, AlongFeature };
CutPlane cutThrough(const Vec3& place, SectionWay way, const Ideal& feature);

struct SectionPoint {
  Vec3 nominal = Vec3::Zero();
  Vec3 outward = Vec3::Zero(); // unit, in the plane, out of the material
  std::optional<double> off;   // by the places about; nothing: none is near, or it is left out
  double share = 0;            // of half the tolerance, signed
};
// The outline of one face in the plane, or a piece of it.
struct SectionLine {
  FaceId face;
  FeatureId feature;  // of the map; not valid: the face is of none
  double allowed = 0; // width of the tolerance
  std::vector<SectionPoint> points;
};
// Between places of a face the deviation is the mean of those about, see NearMean. Nothing stands
// farther than a spacing from all of them.
std::vector<SectionLine> deviationSection(const Plan& plan, const DeviationMap& map,
                                          const CutPlane& plane);

} // namespace alder
