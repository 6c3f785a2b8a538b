#include "fit/rigid_fit.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// Relative size below which a singular value means "this motion is not fixed". Nominal surfaces
// leave their own symmetries free exactly; CAD data is good to about 1e-7.
constexpr double kFixed = 1e-5;

Vec6 motionRow(const Vec3& p, const Vec3& n, const RigidFit& fit) {
  Vec6 row;
  row.head<3>() = (p - fit.centre).cross(n) / fit.scale;
  row.tail<3>() = n;
  return -row; // moving the surface towards the point makes the distance smaller
}

int freeSizes(const DatumStage& stage) {
  return static_cast<int>(std::count_if(stage.surfaces.begin(), stage.surfaces.end(),
                                        [](const SurfacePoints& s) { return s.free_size; }));
}

struct Linearised {
  Eigen::MatrixXd jacobian; // columns: freedom, then free sizes
  Eigen::VectorXd residual;
};

Linearised linearise(const DatumStage& stage, const RigidFit& fit, const Freedom& freedom,
                     const Eigen::VectorXd& sizes) {
  Eigen::Index rows = 0;
  for (const auto& s : stage.surfaces)
    rows += static_cast<Eigen::Index>(s.points.size());
  Linearised l{Eigen::MatrixXd::Zero(rows, freedom.cols() + sizes.size()), Eigen::VectorXd(rows)};
  const Frame inverse = fit.placement.inverse();
  Eigen::Index row = 0, size = 0;
  for (const auto& s : stage.surfaces) {
    for (const Vec3& p : s.points) {
      const Vec3 q = inverse * p;
      const Vec3 n = fit.placement.linear() * s.normal(q);
      l.residual[row] = s.distance(q) - s.offset - (s.free_size ? sizes[size] : 0);
      l.jacobian.row(row).head(freedom.cols()) =
          (freedom.transpose() * motionRow(p, n, fit)).transpose();
      if (s.free_size) l.jacobian(row, freedom.cols() + size) = -1;
      ++row;
    }
    if (s.free_size) ++size;
  }
  return l;
}

Eigen::VectorXd leastNorm(const Eigen::MatrixXd& a, const Eigen::VectorXd& b) {
  Eigen::JacobiSVD<Eigen::MatrixXd> svd(a, Eigen::ComputeThinU | Eigen::ComputeThinV);
  svd.setThreshold(kFixed);
  return svd.solve(b);
}

// The part of `freedom` that the stage leaves free.
Freedom remaining(const DatumStage& stage, const RigidFit& fit, const Freedom& freedom) {
  if (freedom.cols() == 0) return freedom;
  const int sizes = freeSizes(stage);
  const auto l = linearise(stage, fit, freedom, Eigen::VectorXd::Zero(sizes));
  Eigen::MatrixXd motion = l.jacobian.leftCols(freedom.cols());
  if (sizes > 0) { // what a change of size can explain fixes nothing
    const Eigen::MatrixXd s = l.jacobian.rightCols(sizes);
    motion -= s * s.householderQr().solve(motion);
  }
  const Eigen::JacobiSVD<Eigen::MatrixXd> svd(motion, Eigen::ComputeFullV);
  const double largest = std::sqrt(static_cast<double>(motion.rows()));
  Eigen::Index rank = 0;
  for (Eigen::Index i = 0; i < svd.singularValues().size(); ++i)
    if (svd.singularValues()[i] > kFixed * largest) rank = i + 1;
  return freedom * svd.matrixV().rightCols(freedom.cols() - rank);
}

void solveStage(const DatumStage& stage, RigidFit& fit, const Freedom& freedom) {
  Eigen::VectorXd sizes = Eigen::VectorXd::Zero(freeSizes(stage));
  for (int step = 0; step < 50; ++step) {
    const auto l = linearise(stage, fit, freedom, sizes);
    const Eigen::VectorXd change = leastNorm(l.jacobian, -l.residual);
    const Vec6 motion = freedom * change.head(freedom.cols());
    fit.placement = fit.moved(fit.placement, motion);
    sizes += change.tail(sizes.size());
    if (change.norm() < 1e-11) break;
  }
}

Eigen::VectorXd weightedStep(const RigidFit& fit, const Freedom& freedom,
                             const Residuals& residuals, const Frame& at,
                             const std::vector<double>& weight) {
  const auto r = residuals(at);
  const auto rows = static_cast<Eigen::Index>(3 * r.size());
  Eigen::MatrixXd jacobian(rows, freedom.cols());
  Eigen::VectorXd right(rows);
  constexpr double h = 1e-5; // mm; residuals are nearly linear in so small a motion
  for (Eigen::Index k = 0; k < freedom.cols(); ++k) {
    const auto ahead = residuals(fit.moved(at, freedom.col(k) * h));
    const auto behind = residuals(fit.moved(at, freedom.col(k) * -h));
    for (std::size_t i = 0; i < r.size(); ++i)
      jacobian.block<3, 1>(static_cast<Eigen::Index>(3 * i), k) = (ahead[i] - behind[i]) / (2 * h);
  }
  for (std::size_t i = 0; i < r.size(); ++i) {
    const double w = std::sqrt(weight[i]);
    jacobian.middleRows<3>(static_cast<Eigen::Index>(3 * i)) *= w;
    right.segment<3>(static_cast<Eigen::Index>(3 * i)) = -w * r[i];
  }
  return leastNorm(jacobian, right);
}

} // namespace

Freedom RigidFit::allFreedom() const {
  return Freedom::Identity(6, 6);
}

Freedom RigidFit::withTranslations() const {
  Eigen::MatrixXd all(6, freedom.cols() + 3);
  all.leftCols(freedom.cols()) = freedom;
  all.rightCols(3) = Freedom::Identity(6, 6).rightCols(3);
  Eigen::ColPivHouseholderQR<Eigen::MatrixXd> qr(all);
  qr.setThreshold(1e-9);
  const Eigen::MatrixXd q = qr.householderQ();
  return q.leftCols(qr.rank());
}

Frame RigidFit::moved(const Frame& from, const Vec6& motion) const {
  return screwMotion(motion.head<3>() / scale, motion.tail<3>(), centre) * from;
}

Result<RigidFit> fitInOrder(const std::vector<DatumStage>& stages, const Frame& start) {
  RigidFit fit;
  fit.placement = start;
  Points all;
  for (const auto& stage : stages) {
    std::size_t count = 0;
    for (const auto& s : stage.surfaces) {
      all.insert(all.end(), s.points.begin(), s.points.end());
      count += s.points.size();
    }
    if (count == 0) return fail("datum {} has no measured points.", stage.name);
  }
  fit.centre = centroid(all);
  double spread = 0;
  for (const Vec3& p : all)
    spread = std::max(spread, (p - fit.centre).norm());
  fit.scale = std::max(spread, 1.0);
  fit.freedom = fit.allFreedom();
  for (const auto& stage : stages) {
    solveStage(stage, fit, fit.freedom);
    const Freedom left = remaining(stage, fit, fit.freedom);
    fit.taken.push_back(static_cast<int>(fit.freedom.cols() - left.cols()));
    fit.freedom = left;
  }
  return fit;
}

Frame minimiseWorst(const RigidFit& fit, const Freedom& freedom, const Residuals& residuals) {
  const auto n = freedom.cols();
  auto worst = [](const std::vector<Vec3>& r) {
    double w = 0;
    for (const Vec3& v : r)
      w = std::max(w, v.norm());
    return w;
  };
  Frame best = fit.placement;
  std::vector<Vec3> r = residuals(best);
  double best_worst = worst(r);
  if (n == 0 || r.empty()) return best;
  Frame at = best;
  std::vector<double> weight(r.size(), 1.0 / static_cast<double>(r.size()));
  for (int step = 0; step < 300; ++step) {
    // Weighted least squares to its end: only there does the bound below hold.
    for (int inner = 0; inner < 8; ++inner) {
      const Eigen::VectorXd change = weightedStep(fit, freedom, residuals, at, weight);
      at = fit.moved(at, freedom * change);
      if (change.norm() < 1e-10) break;
    }
    r = residuals(at);
    if (const double w = worst(r); w < best_worst) best_worst = w, best = at;
    double sum = 0;
    for (std::size_t i = 0; i < r.size(); ++i)
      sum += (weight[i] *= r[i].norm() + 1e-15);
    if (sum <= 1e-14) break;
    double lower = 0; // Lawson's bound: the weighted mean cannot exceed the optimum
    for (std::size_t i = 0; i < r.size(); ++i) {
      weight[i] /= sum;
      lower += weight[i] * r[i].squaredNorm();
    }
    if (best_worst - std::sqrt(lower) < 1e-6 * best_worst) break;
  }
  return best;
}

} // namespace alder
