// The solver of the second judge: smallest largest deviation under constraints over rigid motions,
// as a row of linear programs (GLPK) from several starts.
#pragma once

#include <Eigen/Geometry>
#include <functional>
#include <vector>

namespace alder::test {

using Values = std::vector<double>;
using Basis = Eigen::MatrixXd; // of motions, columns of (turn, move) about the origin
// Nominal -> measured; and a size, where that is an unknown too (a seventh entry of a motion).
struct Pose : Eigen::Isometry3d {
  Pose(const Eigen::Isometry3d& frame = Eigen::Isometry3d::Identity(), double own_size = 0)
      : Eigen::Isometry3d(frame)
      , size(own_size) {}
  double size;
};
using Deviations = std::function<Values(const Pose&)>;
using V3 = Eigen::Vector3d;

constexpr double kArm = 50; // mm; a turn counts by what it moves at this distance

// The pose moved along a screw; a seventh entry changes its size.
Pose after(const Pose& pose, const Eigen::VectorXd& twist);
double largest(const Values& v); // 0 of none

struct Found {
  Pose pose;
  double worst = 0;
};
// Least largest of `f` with `c` not above 0.
Found solve(const Pose& pose, const Basis& basis, const Deviations& f, const Deviations& c = {});

} // namespace alder::test
