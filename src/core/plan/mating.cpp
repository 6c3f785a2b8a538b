#include "plan/mating.h"

#include "fit/small_linear.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kDone = 1e-6;   // mm; angles weigh by the reach below
constexpr double kReach = 100.0; // mm per radian

// Where the direction should point: against the normal of the seat, along its axis either way.
Vec3 wanted(const Mate& m, const Vec3& now) {
  if (!m.axis) return -m.seat_direction;
  return m.seat_direction.dot(now) < 0 ? Vec3(-m.seat_direction) : m.seat_direction;
}

// Six numbers that are all zero where the mate holds: of the direction, and of the place.
Eigen::Matrix<double, 6, 1> residual(const Mate& m, const Frame& f) {
  const Vec3 p = f * m.part_point, d = turn(f, m.part_direction);
  Eigen::Matrix<double, 6, 1> r;
  r.head<3>() = kReach * d.cross(wanted(m, d));
  const Vec3 off = p - m.seat_point;
  if (m.axis)
    r.tail<3>() = off - off.dot(m.seat_direction) * m.seat_direction;
  else
    r.tail<3>() = off.dot(m.seat_direction) * m.seat_direction;
  return r;
}

// A small motion about the place of the newest mate.
Frame moved(const Frame& f, const Eigen::Matrix<double, 6, 1>& by, const Vec3& about) {
  const Vec3 turn_by = by.head<3>() / kReach;
  const double angle = turn_by.norm();
  Frame motion = Frame::Identity();
  if (angle > 1e-15) motion.linear() = Eigen::AngleAxisd(angle, turn_by / angle).toRotationMatrix();
  motion.translation() = about - motion.linear() * about + by.tail<3>();
  return motion * f;
}

Eigen::VectorXd all(const std::vector<Mate>& mates, const Frame& f) {
  Eigen::VectorXd r(6 * mates.size());
  for (std::size_t i = 0; i < mates.size(); ++i)
    r.segment<6>(static_cast<Eigen::Index>(6 * i)) = residual(mates[i], f);
  return r;
}

// The least rotation that brings the newest mate's direction where it belongs, if it is far off.
Frame turnedOver(const Mate& m, const Frame& f) {
  const Vec3 d = turn(f, m.part_direction), to = wanted(m, d);
  if (d.dot(to) > 0.5) return f;
  Vec3 axis = d.cross(to);
  if (axis.norm() < 1e-9) axis = anyPerpendicular(d);
  const double angle = std::acos(std::clamp(d.dot(to), -1.0, 1.0));
  Eigen::Matrix<double, 6, 1> by = Eigen::Matrix<double, 6, 1>::Zero();
  by.head<3>() = kReach * angle * axis.normalized();
  return moved(f, by, f * m.part_point);
}

} // namespace

Result<Frame> mated(const Frame& from, const std::vector<Mate>& mates) {
  if (mates.empty()) return from;
  Frame f = turnedOver(mates.back(), from);
  for (int round = 0; round < 60; ++round) {
    const Vec3 about = f * mates.back().part_point;
    const Eigen::VectorXd r = all(mates, f);
    if (r.norm() < kDone) break;
    Eigen::MatrixXd slope(r.size(), 6);
    constexpr double kStep = 1e-6;
    for (Eigen::Index k = 0; k < 6; ++k) {
      Eigen::Matrix<double, 6, 1> by = Eigen::Matrix<double, 6, 1>::Zero();
      by[k] = kStep;
      slope.col(k) = (all(mates, moved(f, by, about)) - r) / kStep;
    }
    const Eigen::Matrix<double, 6, 1> by = solveLeastNorm(slope, -r, 1e-4);
    f = moved(f, by, about);
    if (by.norm() < 1e-10) break;
  }
  const double left = all(mates, f).cwiseAbs().maxCoeff();
  if (left > 1e-3)
    return fail("These cannot all hold: {} mm are left; let go of one.",
                fmt::format("{:.3g}", left));
  f.linear() = Eigen::Quaterniond(f.linear()).normalized().toRotationMatrix();
  return f;
}

} // namespace alder
