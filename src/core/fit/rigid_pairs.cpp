#include "fit/rigid_pairs.h"

#include <Eigen/SVD>

namespace alder {

Mat3 shortestTurn(const Vec3& a, const Vec3& b) {
  return Eigen::Quaterniond::FromTwoVectors(a, b).toRotationMatrix();
}

Frame placedByPairs(const Points& from, const Points& to) {
  const Vec3 before = centroid(from), after = centroid(to);
  Mat3 across = Mat3::Zero();
  for (std::size_t i = 0; i < from.size(); ++i)
    across += (to[i] - after) * (from[i] - before).transpose();
  const Eigen::JacobiSVD<Mat3> svd(across, Eigen::ComputeFullU | Eigen::ComputeFullV);
  const Vec3 s = svd.singularValues();
  Frame frame = Frame::Identity();
  if (s[1] > 1e-6 * s[0]) {
    const Vec3 sign(1, 1, (svd.matrixU() * svd.matrixV().transpose()).determinant() < 0 ? -1 : 1);
    frame.linear() = svd.matrixU() * sign.asDiagonal() * svd.matrixV().transpose();
  } else { // on one line
    frame.linear() = shortestTurn(svd.matrixV().col(0), svd.matrixU().col(0));
  }
  frame.translation() = after - frame.linear() * before;
  return frame;
}

} // namespace alder
