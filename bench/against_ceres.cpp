// The same least-squares problems by ours and by ceres, from the same start, to the same accuracy.
#include "base/random.h"
#include "fit/association.h"
#include "ratio.h"

#include <ceres/ceres.h>
#include <cmath>
#include <thread>

namespace alder::bench {
namespace {

Points noisyCylinder(int count) {
  Random r(1);
  Points p;
  for (int i = 0; i < count; ++i) {
    const double a = 2 * kPi * r.uniform(), z = 40 * r.uniform(), rho = 16 + 0.003 * r.normal();
    p.emplace_back(100 + rho * std::cos(a), -50 + rho * std::sin(a) + 0.02 * z, 300 + z);
  }
  return p;
}

// Axis through (x, y, 0) with direction (u, v, 1).
struct CylinderResidual {
  Vec3 p;
  template <class T> bool operator()(const T* q, T* residual) const {
    const Eigen::Matrix<T, 3, 1> o(q[0], q[1], T(300)), d(q[2], q[3], T(1));
    residual[0] = (p.cast<T>() - o).cross(d).norm() / d.norm() - q[4];
    return true;
  }
};

double ceresCylinder(const Points& points) {
  double q[5]{100.1, -49.9, 0.001, 0.015, 15.9};
  ceres::Problem problem;
  for (const Vec3& p : points)
    problem.AddResidualBlock(
        new ceres::AutoDiffCostFunction<CylinderResidual, 1, 5>(new CylinderResidual{p}), nullptr,
        q);
  ceres::Solver::Options options;
  options.linear_solver_type = ceres::DENSE_NORMAL_CHOLESKY;
  options.function_tolerance = 1e-14;
  options.num_threads = static_cast<int>(std::thread::hardware_concurrency()); // as ours
  options.logging_type = ceres::SILENT;
  ceres::Solver::Summary summary;
  ceres::Solve(options, &problem, &summary);
  return 2 * q[4];
}

double oursCylinder(const Points& points) {
  const auto fit = fitLeastSquares(Shape::Cylinder, points,
                                   FitStart{{100.1, -49.9, 300}, {0.001, 0.015, 1}, 31.8});
  return fit ? fit->diameter : 0;
}

double compare(int count, int runs) {
  const Points points = noisyCylinder(count);
  double a = 0, b = 0;
  const double ours = medianSeconds([&] { a = oursCylinder(points); }, runs);
  const double theirs = medianSeconds([&] { b = ceresCylinder(points); }, runs);
  if (std::abs(a - b) > 1e-6) return 1e9; // not the same answer
  return ours / theirs;
}

// Minimum zone over least squares of the same points.
double zoneOverLeastSquares() {
  const Points points = noisyCylinder(100000);
  FitSettings zone;
  zone.criterion = Criterion::MinimumZone;
  zone.start = FitStart{{100.1, -49.9, 300}, {0.001, 0.015, 1}, 31.8};
  bool proved = true;
  const double theirs = medianSeconds([&] { oursCylinder(points); }, 7);
  const double ours = medianSeconds(
      [&] {
        const auto fit = associate(Shape::Cylinder, points, zone);
        proved &= fit && fit->form > 0;
      },
      7);
  return proved ? ours / theirs : 1e9;
}

} // namespace

std::vector<Ratio> againstCeres() {
  return {{"fit/cylinder-30-points over ceres", 0.5, [] { return compare(30, 41); }},
          {"fit/cylinder-1000000-points over ceres", 0.1, [] { return compare(1000000, 3); }},
          {"fit/zone-cylinder-100000-points over least squares", 10, zoneOverLeastSquares}};
}

} // namespace alder::bench
