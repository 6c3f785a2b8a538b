// The material area of one or several faces: is a place on it, how far from its edges, and what is
// the true surface normal there. Normals come from the CAD surface, never from triangles.
#pragma once

#include "part/model.h"
#include <memory>
#include <optional>

namespace alder {

struct SurfacePoint {
  Vec3 point, normal; // outward, unit
  FaceId face;
  double u = 0, v = 0; // parameters on the face
};

class FaceRegion {
 public:
  FaceRegion(const PartModel& part, const std::vector<FaceId>& faces);
  ~FaceRegion();
  FaceRegion(FaceRegion&&) noexcept;

  // Nearest surface point of the faces if it lies on material and within `reach` mm.
  std::optional<SurfacePoint> at(const Vec3& point, double reach = 1e-3) const;
  // The same for places on an edge or a little outside: whether on material or not.
  std::optional<SurfacePoint> nearest(const Vec3& point) const;
  // Edges of the region piece by piece: those between its own faces are none.
  const std::vector<Segment>& edges() const { return edge_segments_; }
  // The same as lines, each as long as it goes on; closed ones end where they began.
  std::vector<Points> boundary() const;
  // Signed distance to the untrimmed surface of `face`, positive outside the material.
  double signedDistance(FaceId face, const Vec3& point) const;
  Vec3 normalNear(FaceId face, const Vec3& point) const;
  // About `count` places on material in an even grid of the surface parameters.
  std::vector<SurfacePoint> grid(int count) const;
  // Distance in space to the nearest edge that is not inside the region.
  double edgeDistance(const Vec3& point) const;

 private:
  struct OneFace;
  std::optional<SurfacePoint> foot(FaceId face,
                                   const Vec3& point) const; // on the untrimmed surface
  std::vector<std::unique_ptr<OneFace>> faces_;
  std::vector<Segment> edge_segments_;
};

} // namespace alder
