// Foot points on one freeform surface, fast: a start from samples nearby, then Newton's steps on
// the squared distance (Piegl and Tiller, The NURBS Book, 2nd ed., section 6.1). Where they do not
// settle, the CAD library's projection decides. mm; parameters are the surface's own.
#pragma once

#include "geometry/vec.h"
#include <TopoDS_Face.hxx>
#include <memory>
#include <optional>

namespace alder {

class SurfaceFoot {
 public:
  // The untrimmed surface of the face where it is bounded, else the part within its parameters.
  explicit SurfaceFoot(const TopoDS_Face& face);
  ~SurfaceFoot();

  struct Foot {
    double u = 0, v = 0;
    Vec3 point, normal; // normal of the face: out of the material
  };
  // Nothing when there is no foot point: too far beyond the end of the surface. One object may be
  // asked by one thread at a time.
  std::optional<Foot> at(const Vec3& point) const;
  // The CAD library's answer, for comparison.
  std::optional<Foot> slowly(const Vec3& point) const;
  // Signed distances of many points, side by side; `missing` where there is no foot point.
  void distances(const Points& points, double missing, std::vector<double>& out) const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

} // namespace alder
