// Moves outside the safe shell. For one tool at fixed angles, the places its ball must avoid are
// the shell's box grown by the tool's own box; outside of it the whole machine is clear of part
// and fixture. The table side is barred: the box reaches down without end. All places in the
// machine frame; the shell may be turned about the vertical (Shell::turned).
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
  // The same until it is beyond the clearance plane of a side.
  std::optional<double> exitDistance(const Vec3& ball, const Vec3& direction, ShellSide side) const;
  Vec3 normalOf(ShellSide side) const; // outward
  // Way points between two places outside, the ends not included: straight if possible, else the
  // shorter of over the top and round the sides, within the machine's travel where one of them is. Of a shell that is travelled by its planes: in a
  // plane that both places are beyond, else over the edge in which two planes meet.
  std::vector<Vec3> travel(const Vec3& from, const Vec3& to) const;
  double top() const { return barred_.max().z(); }

 private:
  // In the axes of the shell:
  bool outsideHere(const Vec3& from, const Vec3& to) const;
  std::vector<Vec3> shortestTravel(const Vec3& from, const Vec3& to) const;
  std::vector<Vec3> planeTravel(const Vec3& from, const Vec3& to) const;
  double planeAt(ShellSide side) const;
  std::vector<ShellSide> sidesBeyond(const Vec3& ball) const;
  bool inTravel(const std::vector<Vec3>& way) const; // of the machine

  Mat3 axes_;
  Box3 barred_;  // where the ball must not be, in the axes of the shell
  double floor_; // lowest height of the ball at which nothing comes near the table
  bool planes_;
  Box3 travel_; // where the ball is when the pivot is in the machine's travel; machine frame
};

// The clearance planes, in the axes of the shell (shellAxes): box of part and fixture with the
// shell's offsets.
Box3 shellBox(const Plan& plan, const Obstacles& obstacles);

} // namespace alder
