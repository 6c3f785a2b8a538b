// A cloud's points given to the faces of the part and gathered: the points of one small cell of a
// face become one place, as if a ball had touched there. Millions of points become thousands, their
// noise averages out, and no figure depends on how densely the scanner looked where.
#pragma once

#include "base/progress.h"
#include "cloud/edge_zone.h"
#include "cloud/point_cloud.h"
#include "part/nearest_surface.h"
#include <map>

namespace alder {

// What the normals of a file are worth: those of some point into the material, or anywhere.
enum class NormalsUse { AsGiven, Reversed, Ignored };

struct GatherSettings {
  double reach = 1;  // farther from the nominal surface a point is of something else, mm
  double edge = 0.5; // width of the strip along edges that is left out, mm
  double cell = 0;   // side of a cell, mm; 0: by area and points of the surface
  std::map<SurfaceId, double> points; // on each surface, about, where that is known
  NormalsUse normals = NormalsUse::AsGiven;
  // Direction of the lines of a plane, where a requirement speaks of such.
  std::map<FaceId, Vec3> lines;
};

// The mean of the points of a cell, without those that stand out of it.
struct Place {
  FaceId face;
  Vec3 foot = Vec3::Zero(), normal = Vec3::UnitZ(); // on the nominal surface; outward
  Vec3 meant = Vec3::Zero(); // where the cell lies: its middle on what is round, else the foot
  double deviation = 0;      // outward positive, mm
  double spread = 0;         // standard deviation of its points
  int count = 0;             // of its points
  double noise = 0;          // standard deviation of the deviation, as far as it is known
  int row = 0;               // ring, line or layer of the face
  Vec3 actual() const { return foot + deviation * normal; }
};

struct FaceTally {
  std::size_t used = 0;
  std::size_t at_edges = 0; // left out as too near an edge
  std::size_t far = 0;      // nearest to this face, but beyond the reach
  std::size_t outliers = 0; // stood out of their cell
  std::size_t askew = 0;    // of a surface that stands at another angle
  std::size_t thin = 0;     // in cells that hold too few
  double cell = 0;          // side of its cells, mm
  double noise = 0;         // standard deviation of one point
  // The same of one place, from its points or, where that is more, from how places differ from
  // their neighbours; 0: too few to tell.
  double place_noise = 0;
};

struct Gathered {
  std::vector<Place> places;    // by face, cell by cell
  std::vector<FaceTally> faces; // by FaceId
  std::size_t elsewhere = 0;    // points near no face at all
  std::size_t used() const;
  double rms = 0; // of the deviations of the points used
};

// `placement`: frame of the cloud -> CAD frame. Every `stride`-th point is taken. Error when it was
// cancelled. Deterministic whatever the number of threads.
Result<Gathered> gather(const PointCloud& cloud, const Frame& placement,
                        const NearestSurface& surface, const EdgeZone& edges,
                        const GatherSettings& settings, std::size_t stride,
                        const Progress& progress);

} // namespace alder
