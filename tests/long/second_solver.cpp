#include "second_solver.h"

#include <Eigen/Dense>
#include <cmath>
#include <glpk.h>
#include <limits>
#include <random>

namespace alder::test {

Pose after(const Pose& pose, const Eigen::VectorXd& twist) {
  const V3 w = twist.head<3>() / kArm, v = twist.segment<3>(3);
  Eigen::Isometry3d step = Eigen::Isometry3d::Identity();
  const double angle = w.norm();
  // Along the screw: a turn about an axis leaves it where it is however often it is taken.
  step.translation() = v;
  if (angle > 0) {
    const V3 u = w / angle;
    step.linear() = Eigen::AngleAxisd(angle, u).toRotationMatrix();
    step.translation() += (1 - std::cos(angle)) / angle * u.cross(v) +
                          (1 - std::sin(angle) / angle) * u.cross(u.cross(v));
  }
  return {static_cast<const Eigen::Isometry3d&>(pose) * step,
          pose.size + (twist.size() > 6 ? twist[6] : 0)};
}

double largest(const Values& v) {
  double most = -std::numeric_limits<double>::infinity();
  for (const double x : v)
    most = std::max(most, x);
  return v.empty() ? 0 : most;
}

namespace {

// One linear program: least t with f + J p <= t, c + K p <= 0, |p| <= step.
Eigen::VectorXd linearStep(const Values& f, const Eigen::MatrixXd& j, const Values& c,
                           const Eigen::MatrixXd& k, double step) {
  const int n = static_cast<int>(j.cols());
  glp_prob* lp = glp_create_prob();
  glp_set_obj_dir(lp, GLP_MIN);
  glp_add_cols(lp, n + 2); // p, t, s: by how much the constraints are missed
  for (int i = 1; i <= n; ++i)
    glp_set_col_bnds(lp, i, GLP_DB, -step, step);
  glp_set_col_bnds(lp, n + 1, GLP_FR, 0, 0);
  glp_set_obj_coef(lp, n + 1, 1);
  glp_set_col_bnds(lp, n + 2, GLP_LO, 0, 0);
  glp_set_obj_coef(lp, n + 2, 1000);
  std::vector<int> at(static_cast<std::size_t>(n) + 2);
  Values entry(static_cast<std::size_t>(n) + 2);
  const auto add = [&](double value, const Eigen::RowVectorXd& slope, int free_column) {
    const int row = glp_add_rows(lp, 1);
    for (int i = 1; i <= n; ++i)
      at[static_cast<std::size_t>(i)] = i, entry[static_cast<std::size_t>(i)] = slope[i - 1];
    at[static_cast<std::size_t>(n) + 1] = free_column;
    entry[static_cast<std::size_t>(n) + 1] = -1;
    glp_set_mat_row(lp, row, n + 1, at.data(), entry.data());
    glp_set_row_bnds(lp, row, GLP_UP, 0, -value);
  };
  for (std::size_t i = 0; i < f.size(); ++i)
    add(f[i], j.row(static_cast<Eigen::Index>(i)), n + 1);
  for (std::size_t i = 0; i < c.size(); ++i)
    add(c[i], k.row(static_cast<Eigen::Index>(i)), n + 2);
  glp_smcp settings;
  glp_init_smcp(&settings);
  settings.msg_lev = GLP_MSG_OFF;
  settings.tol_bnd = settings.tol_dj = 1e-10;
  glp_simplex(lp, &settings);
  Eigen::VectorXd p(n);
  for (int i = 0; i < n; ++i)
    p[i] = glp_get_col_prim(lp, i + 1);
  glp_delete_prob(lp);
  return p;
}

Found solveFrom(Pose pose, const Basis& basis, const Deviations& f, const Deviations& c) {
  const auto merit = [&](const Pose& at) {
    return largest(f(at)) + 1000 * std::max(0.0, c ? largest(c(at)) : 0.0);
  };
  double now = merit(pose), step = 0.5;
  for (int round = 0; round < 200 && step > 1e-10; ++round) {
    const auto slopes = [&](const Deviations& d) {
      constexpr double h = 1e-5;
      Eigen::MatrixXd j(static_cast<Eigen::Index>(d(pose).size()), basis.cols());
      for (Eigen::Index k = 0; k < basis.cols(); ++k) {
        const Values up = d(after(pose, h * basis.col(k))),
                     down = d(after(pose, -h * basis.col(k)));
        for (std::size_t i = 0; i < up.size(); ++i)
          j(static_cast<Eigen::Index>(i), k) = (up[i] - down[i]) / (2 * h);
      }
      return j;
    };
    const Eigen::MatrixXd j = slopes(f), k = c ? slopes(c) : Eigen::MatrixXd(0, basis.cols());
    // What changes nothing stays at rest.
    Eigen::MatrixXd both(j.rows() + k.rows(), basis.cols());
    both << j, k;
    const Eigen::JacobiSVD<Eigen::MatrixXd> svd(both, Eigen::ComputeThinV);
    Eigen::Index rank = 0;
    while (rank < svd.singularValues().size() && svd.singularValues()[rank] > 1e-6)
      ++rank;
    const Eigen::MatrixXd seen = svd.matrixV().leftCols(rank);
    const Eigen::MatrixXd fj = j * seen, cj = k * seen;
    const Values f0 = f(pose), c0 = c ? c(pose) : Values{};
    Eigen::VectorXd p = linearStep(f0, fj, c0, cj, step);
    // Once more with what bending does to the values there, else a curved valley is followed in
    // tiny steps only.
    const auto bent = [&](const Deviations& d, const Values& before, const Eigen::MatrixXd& slope) {
      Values values = d(after(pose, basis * (seen * p)));
      for (std::size_t i = 0; i < values.size(); ++i)
        values[i] -= slope.row(static_cast<Eigen::Index>(i)).dot(p);
      return values.size() == before.size() ? values : before;
    };
    const Values f1 = bent(f, f0, fj), c1 = c ? bent(c, c0, cj) : c0;
    const Pose plain = after(pose, basis * (seen * p));
    p = linearStep(f1, fj, c1, cj, step);
    const Pose curved = after(pose, basis * (seen * p));
    const Pose next = merit(curved) < merit(plain) ? curved : plain;
    if (const double there = merit(next); there < now - 1e-13)
      pose = next, now = there, step = std::min(2 * step, 1.0);
    else
      step /= 4;
  }
  return {pose, now};
}

} // namespace

Found solve(const Pose& pose, const Basis& basis, const Deviations& f, const Deviations& c) {
  if (basis.cols() == 0) return {pose, largest(f(pose))};
  Found best = solveFrom(pose, basis, f, c);
  std::mt19937 random(1);
  std::normal_distribution<double> lot(0, 0.03);
  for (int k = 0; k < 12; ++k) {
    Eigen::VectorXd off(basis.cols());
    for (Eigen::Index i = 0; i < off.size(); ++i)
      off[i] = lot(random);
    if (Found other = solveFrom(after(pose, basis * off), basis, f, c);
        other.worst < best.worst - 1e-10)
      best = other;
  }
  return best;
}

} // namespace alder::test
