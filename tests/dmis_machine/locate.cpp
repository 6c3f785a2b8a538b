#include "locate.h"

#include <Eigen/SVD>
#include <cmath>

namespace dmis_machine {
namespace {

// Off the nominal surface.
double off(const Nominal& n, const V& p) {
  const V d = p - n.point;
  const double along = d.dot(n.direction), aside = (d - along * n.direction).norm();
  if (n.word == "PLANE") return along;
  if (n.word == "CYLNDR" || n.word == "CIRCLE") return aside - n.size / 2;
  if (n.word == "SPHERE") return d.norm() - n.size / 2;
  if (n.word == "CONE") return aside * std::cos(n.angle / 2) - along * std::sin(n.angle / 2);
  if (n.word == "PARPLN") return std::abs(along) - n.size / 2;
  return 0;
}

} // namespace

Located located(const T& taken, const std::vector<std::pair<Nominal, std::vector<V>>>& touched) {
  Located answer;
  answer.moved = taken;
  std::size_t count = 0;
  for (const auto& [nominal, points] : touched)
    count += points.size();
  const auto offs = [&](const T& t) {
    Eigen::VectorXd r(static_cast<Eigen::Index>(count));
    Eigen::Index i = 0;
    const T back = t.inverse();
    for (const auto& [nominal, points] : touched)
      for (const V& p : points)
        r[i++] = off(nominal, back * p);
    return r;
  };
  if (count == 0) return answer;
  const double reach = 100; // mm per radian, so that turns and shifts weigh alike
  const auto stepped = [&](const T& t, const Eigen::Matrix<double, 6, 1>& by) {
    T change = T::Identity();
    change.translation() = by.head<3>();
    const V turn = by.tail<3>() / reach;
    if (turn.norm() > 0)
      change.linear() = Eigen::AngleAxisd(turn.norm(), turn.normalized()).matrix();
    return T(t * change);
  };
  for (int round = 0; round < 60; ++round) {
    const Eigen::VectorXd r = offs(answer.moved);
    Eigen::MatrixXd j(r.size(), 6);
    for (int k = 0; k < 6; ++k) {
      Eigen::Matrix<double, 6, 1> small = Eigen::Matrix<double, 6, 1>::Zero();
      small[k] = 1e-5;
      j.col(k) = (offs(stepped(answer.moved, small)) - offs(stepped(answer.moved, -small))) / 2e-5;
    }
    Eigen::JacobiSVD<Eigen::MatrixXd> svd(j, Eigen::ComputeThinU | Eigen::ComputeThinV);
    svd.setThreshold(1e-4);
    answer.open = 6 - static_cast<int>(svd.rank());
    const Eigen::Matrix<double, 6, 1> by = svd.solve(-r);
    answer.moved = stepped(answer.moved, by);
    if (by.norm() < 1e-10) break;
  }
  answer.worst = offs(answer.moved).cwiseAbs().maxCoeff();
  return answer;
}

} // namespace dmis_machine
