#include "fit/small_linear.h"

namespace alder {

Eigenpairs eigenpairs(const SmallMatrix& symmetric) {
  const Eigen::SelfAdjointEigenSolver<SmallMatrix> solver(symmetric);
  return {solver.eigenvalues(), solver.eigenvectors()};
}

SmallVector solveSquare(const SmallMatrix& a, const SmallVector& b) {
  return a.fullPivLu().solve(b);
}

SmallVector solveNear(const SmallMatrix& firm, const SmallMatrix& a, const SmallVector& b) {
  const auto factors = firm.fullPivLu();
  SmallVector x = factors.solve(b);
  for (int i = 0; i < 2; ++i)
    x += factors.solve(b - a * x);
  return x;
}

SmallVector solveLeastNorm(const SmallMatrix& rows, const SmallVector& b, double threshold) {
  Eigen::CompleteOrthogonalDecomposition<SmallMatrix> solver;
  solver.setThreshold(threshold);
  solver.compute(rows);
  return solver.solve(b);
}

SmallVector solvePositive(const SmallMatrix& a, const SmallVector& b) {
  return a.llt().solve(b);
}

SmallMatrix inversePositive(const SmallMatrix& a) {
  return a.llt().solve(SmallMatrix::Identity(a.rows(), a.cols()));
}

SmallMatrix choleskyFactor(const SmallMatrix& a) {
  return a.llt().matrixL();
}

SmallVector solveLower(const SmallMatrix& l, const SmallVector& b) {
  return l.triangularView<Eigen::Lower>().solve(b);
}

SmallVector solveLowerTransposed(const SmallMatrix& l, const SmallVector& b) {
  return l.transpose().triangularView<Eigen::Upper>().solve(b);
}

SmallMatrix nullSpace(const SmallMatrix& rows) {
  const auto e = eigenpairs(rows.transpose() * rows);
  Eigen::Index zero = 0;
  while (zero < e.values.size() && e.values[zero] < 1e-16)
    ++zero;
  return e.vectors.leftCols(zero);
}

} // namespace alder
