// What a scanner sees of a part: points all over its faces, taken from the CAD library's own
// surfaces, with noise, spatter and the errors that a maker asks for. The same seed gives the same
// points.
#pragma once

#include "part/model.h"
#include <functional>

namespace alder::demo {

struct ScanSettings {
  std::size_t points = 100000;
  double noise = 0.01; // standard deviation along the normal, mm
  unsigned seed = 1;
  // How far the real surface stands out of the nominal one there, mm.
  std::function<double(FaceId, const Vec3& place, const Vec3& normal)> height;
  // Whether the scanner saw the place; all of the part if not given.
  std::function<bool(const Vec3& place, const Vec3& normal)> seen;
  double spatter = 0;               // share of points that lie anywhere about the part
  Frame motion = Frame::Identity(); // CAD frame -> frame of the scanner
};

struct Scan {
  Points points, normals;
};

Scan scanOf(const PartModel& part, const ScanSettings& settings);

// As files. PLY: binary, single precision.
std::string plyOf(const Scan& scan, bool normals);

} // namespace alder::demo
