// Points of a scanner as they came: no feature, no order, perhaps no normals. mm, in the frame of
// the file.
#pragma once

#include "geometry/vec.h"

namespace alder {

struct PointCloud {
  Points points;
  // Which way the surface points, one for each point, unit; empty where the file does not say.
  std::vector<Eigen::Vector3f> normals;

  bool empty() const { return points.empty(); }
  Box3 box() const {
    Box3 box;
    for (const Vec3& p : points)
      box.extend(p);
    return box;
  }
};

} // namespace alder
