// The place of a part nearest to a point, for millions of points: the triangles tell the face, the
// face's own geometry tells the distance, so that no figure depends on how fine the triangles are.
// CAD frame, mm.
#pragma once

#include "part/model.h"
#include <memory>
#include <optional>

namespace alder {

class NearestSurface {
 public:
  explicit NearestSurface(PartPtr part);
  ~NearestSurface();

  struct Foot {
    FaceId face;
    double distance = 0; // signed, positive outside the material
    Vec3 point, normal;  // on the untrimmed surface of the face; outward
  };
  // What one thread keeps from point to point. Points that follow each other closely are found
  // faster.
  class Asker {
   public:
    explicit Asker(const NearestSurface& of);
    ~Asker();
    // Nothing when no face is closer than `within`, or where the nearest one has no foot point: too
    // far beyond its end. `facing`, where known: which way the surface points there (unit); others
    // do not count.
    std::optional<Foot> at(const Vec3& point, double within, const Vec3* facing = nullptr);
    // By the triangles alone: faster, true to their chord error.
    std::optional<Closest> roughly(const Vec3& point, double within);
    // Foot on the untrimmed surface of this face.
    std::optional<Foot> on(FaceId face, const Vec3& point);

   private:
    struct Impl;
    std::unique_ptr<Impl> impl_;
  };

  const PartModel& part() const { return *part_; }
  const MeshTree& triangles() const { return tree_; }

 private:
  PartPtr part_;
  MeshTree tree_;
};

} // namespace alder
