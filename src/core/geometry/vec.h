// Vectors, frames and boxes: plain Eigen types with names that say what they mean. All mm.
#pragma once

#include <Eigen/Dense>
#include <Eigen/Geometry>
#include <vector>

namespace alder {

using Vec2 = Eigen::Vector2d;
using Box2 = Eigen::AlignedBox2d;
using Vec3 = Eigen::Vector3d;
using Mat3 = Eigen::Matrix3d;
using Box3 = Eigen::AlignedBox3d;
using Points = std::vector<Vec3>;

// A right-handed rigid placement: maps coordinates of the child frame into the parent frame.
using Frame = Eigen::Isometry3d;

inline Vec3 apply(const Frame& frame, const Vec3& point) {
  return frame * point;
}
inline Vec3 turn(const Frame& frame, const Vec3& direction) {
  return frame.linear() * direction;
}

// A unit vector perpendicular to `direction`, chosen deterministically.
Vec3 anyPerpendicular(const Vec3& direction);
// Frame at `origin` whose Z is `z` and whose X lies as near as possible to `x_hint`.
Frame frameOf(const Vec3& origin, const Vec3& z, const Vec3& x_hint);
Frame frameOf(const Vec3& origin, const Vec3& z);
// Small rigid motion: turn by the vector `rotation` (radians) about `centre`, then move.
Frame smallMotion(const Vec3& rotation, const Vec3& translation, const Vec3& centre);
// The screw motion with rotation vector `rotation` and velocity `velocity` of the point `centre`,
// followed for unit time (exponential map of SE(3)): a velocity that belongs to a turn about some
// axis gives exactly that turn, however large.
Frame screwMotion(const Vec3& rotation, const Vec3& velocity, const Vec3& centre);

Vec3 centroid(const Points& points);
// Box of `box` after `frame`, over its eight corners.
Box3 transformed(const Box3& box, const Frame& frame);

} // namespace alder
