// Linear programs of a few unknowns and some hundred constraints, by adding the constraints one
// after the other (Seidel, "Small-dimensional linear programming and convex hulls made easy",
// 1991).
#pragma once

#include <array>
#include <optional>
#include <vector>

namespace alder {

constexpr int kMostUnknowns = 4;
using Unknowns = std::array<double, kMostUnknowns>;

// row . x <= most
struct LinearBound {
  Unknowns row{};
  double most = 0;
};

// The x with |x_j - middle_j| <= half_j and all bounds held to `tolerance` that makes objective . x
// largest; nothing where there is none. Quick where the bounds that hold stand first.
std::optional<Unknowns> largestOf(int unknowns, const Unknowns& objective,
                                  const std::vector<LinearBound>& bounds, const Unknowns& middle,
                                  const Unknowns& half, double tolerance);

} // namespace alder
