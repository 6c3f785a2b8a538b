// Exact distances between points, segments and triangles (mm). Degenerate segments and triangles
// are allowed and act as points or segments.
// Formulas: Ericson, Real-Time Collision Detection, 2005, sections 5.1.5 and 5.1.9.
#pragma once

#include "geometry/vec.h"
#include <array>

namespace alder {

struct Segment {
  Vec3 a, b;
};
struct Triangle {
  Vec3 a, b, c;
};

Vec3 closestOnSegment(const Vec3& point, const Segment& segment);
Vec3 closestOnTriangle(const Vec3& point, const Triangle& triangle);

double squaredDistance(const Segment& first, const Segment& second);
double squaredDistance(const Segment& segment, const Triangle& triangle); // 0 if they meet
double squaredDistance(const Triangle& first, const Triangle& second);    // 0 if they meet
double squaredDistance(const Box3& first, const Box3& second);

} // namespace alder
