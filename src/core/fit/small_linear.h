// Dense linear algebra for a handful of unknowns, compiled once.
#pragma once

#include "geometry/vec.h"

namespace alder {

using SmallMatrix = Eigen::MatrixXd;
using SmallVector = Eigen::VectorXd;

// Ascending eigenvalues and their orthonormal vectors (columns) of a symmetric matrix.
struct Eigenpairs {
  SmallVector values;
  SmallMatrix vectors;
};
Eigenpairs eigenpairs(const SmallMatrix& symmetric);

// Solution of a symmetric, possibly indefinite or singular system, with full pivoting.
SmallVector solveSquare(const SmallMatrix& a, const SmallVector& b);
// Of `a` by way of `firm`, which lies near it and is not singular, corrected by what is left over.
SmallVector solveNear(const SmallMatrix& firm, const SmallMatrix& a, const SmallVector& b);
// Least squares, and of those the one of least norm: what the rows hardly see (a pivot less than this
// share of the largest) stays.
SmallVector solveLeastNorm(const SmallMatrix& rows, const SmallVector& b, double threshold);
// Of a positive definite one.
SmallVector solvePositive(const SmallMatrix& a, const SmallVector& b);
SmallMatrix inversePositive(const SmallMatrix& a);
// Lower factor L with a = L L'.
SmallMatrix choleskyFactor(const SmallMatrix& a);
SmallVector solveLower(const SmallMatrix& l, const SmallVector& b);
SmallVector solveLowerTransposed(const SmallMatrix& l, const SmallVector& b);
// Orthonormal columns spanning {x: rows x = 0}; a row that is nearly zero asks for nothing.
SmallMatrix nullSpace(const SmallMatrix& rows);

} // namespace alder
