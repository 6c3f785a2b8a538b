// The rigid motion that brings points onto their partners.
#pragma once

#include "geometry/vec.h"

namespace alder {

// Least squares of the distances (Kabsch, Acta Cryst. A32, 1976), no reflection; as many of the one
// as of the other, at least one. Points on one line leave the turn about it free: then the shortest
// turn that brings one line onto the other.
Frame placedByPairs(const Points& from, const Points& to);

// Shortest turn that brings `a` onto `b`, both unit vectors.
Mat3 shortestTurn(const Vec3& a, const Vec3& b);

} // namespace alder
