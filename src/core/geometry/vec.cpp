#include "geometry/vec.h"

#include <cmath>

namespace alder {

Vec3 anyPerpendicular(const Vec3& direction) {
  const Vec3 a = direction.cwiseAbs();
  const Vec3 other = a.x() <= a.y() && a.x() <= a.z() ? Vec3::UnitX()
                     : a.y() <= a.z()                 ? Vec3::UnitY()
                                                      : Vec3::UnitZ();
  return direction.cross(other).normalized();
}

Frame frameOf(const Vec3& origin, const Vec3& z, const Vec3& x_hint) {
  const Vec3 zn = z.normalized();
  Vec3 x = x_hint - x_hint.dot(zn) * zn;
  x = x.norm() < 1e-9 * std::max(1.0, x_hint.norm()) ? anyPerpendicular(zn) : Vec3(x.normalized());
  Frame frame = Frame::Identity();
  frame.linear().col(0) = x;
  frame.linear().col(1) = zn.cross(x);
  frame.linear().col(2) = zn;
  frame.translation() = origin;
  return frame;
}

Frame frameOf(const Vec3& origin, const Vec3& z) {
  return frameOf(origin, z, anyPerpendicular(z.normalized()));
}

Frame smallMotion(const Vec3& rotation, const Vec3& translation, const Vec3& centre) {
  Frame frame = Frame::Identity();
  const double angle = rotation.norm();
  if (angle > 1e-300)
    frame.linear() = Eigen::AngleAxisd(angle, rotation / angle).toRotationMatrix();
  frame.translation() = centre + translation - frame.linear() * centre;
  return frame;
}

Frame screwMotion(const Vec3& rotation, const Vec3& velocity, const Vec3& centre) {
  const double angle = rotation.norm();
  Mat3 cross;
  cross << 0, -rotation.z(), rotation.y(), rotation.z(), 0, -rotation.x(), -rotation.y(),
      rotation.x(), 0;
  const bool tiny = angle < 1e-6;
  const double b = tiny ? 0.5 : (1 - std::cos(angle)) / (angle * angle);
  const double c = tiny ? 1.0 / 6 : (angle - std::sin(angle)) / (angle * angle * angle);
  const Mat3 v = Mat3::Identity() + b * cross + c * cross * cross;
  return smallMotion(rotation, v * velocity, centre);
}

Vec3 centroid(const Points& points) {
  Vec3 sum = Vec3::Zero();
  for (const Vec3& p : points)
    sum += p;
  return points.empty() ? sum : Vec3(sum / static_cast<double>(points.size()));
}

Box3 transformed(const Box3& box, const Frame& frame) {
  Box3 result;
  for (int corner = 0; corner < 8; ++corner)
    result.extend(frame * box.corner(static_cast<Box3::CornerType>(corner)));
  return result;
}

} // namespace alder
