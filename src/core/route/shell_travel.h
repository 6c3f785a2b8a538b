// Moves outside the safe shell. For one tool at fixed angles, the places its ball must avoid are
// the shell's box grown by the tool's own box; outside of it the whole machine is clear of part
// and fixture. The table side is barred: the box reaches down without end.
#pragma once

#include "route/clearance.h"

namespace alder {

class ShellTravel {
 public:
  ShellTravel(const Plan& plan, const Obstacles& obstacles, const Tool& tool);

  bool outside(const Vec3& ball) const;
  bool outside(const Vec3& from, const Vec3& to) const; // the whole straight move
  // Distance along `direction` (unit) until the ball is outside; nothing if it leads nowhere.
  std::optional<double> exitDistance(const Vec3& ball, const Vec3& direction) const;
  // Way points between two places outside, the ends not included: straight if possible, else the
  // shorter of over the top and round the sides.
  std::vector<Vec3> travel(const Vec3& from, const Vec3& to) const;
  double top() const { return barred_.max().z(); }
  const Box3& shell() const { return shell_; }

 private:
  Box3 shell_;   // clearance planes round part and fixture
  Box3 barred_;  // where the ball must not be
  double floor_; // lowest height of the ball at which nothing comes near the table
};

// The clearance planes: box of part and fixture with the shell's offsets.
Box3 shellBox(const Plan& plan, const Obstacles& obstacles);

} // namespace alder
