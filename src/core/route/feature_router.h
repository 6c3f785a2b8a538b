// The way over the touches of one feature with one tool.
#pragma once

#include "route/shell_travel.h"
#include "route/way.h"

namespace alder {

struct Margins {
  double near = 0.25; // of everything but the touching ball, between touches of one feature, mm
  double hop = 1.0;   // on the way in and out
};

// Ball centres of one touch: before, at and after contact. The approach is cut where the feature is
// too narrow for the recipe's.
struct TouchMove {
  Vec3 approach, contact, retract;
};
TouchMove touchMove(const Plan& plan, const Feature& feature, const Touch& touch,
                    double ball_radius);

// Would the stylus have to come through the surface? `normal` and `shank` (from the ball to the
// head) in the same frame.
inline bool facesAway(const Vec3& normal, const Vec3& shank) {
  return normal.dot(shank) < -0.35;
}

// Whether the ball can meet a surface of this normal (machine frame): the stylus need not come
// through it, and a disc meets it with its rim.
inline bool touchable(const Tool& tool, const Vec3& normal) {
  return !facesAway(normal, tool.shank) && std::abs(normal.dot(tool.shank)) <= tool.rim + 1e-9;
}

// One feature with one tool: can each touch be made, and is there a way from outside the shell to
// all of them and out again?
class FeatureRouter {
 public:
  // With `search`, detours are sought where the simple ways are not free; that takes its time.
  FeatureRouter(const Clearance& clearance, const Tool& tool, const Feature& feature,
                bool search = false);

  bool reaches(const Touch& touch, Hint* hint = nullptr) const;
  // Positions from a place outside the shell over all touches to a place outside; empty when some
  // connection cannot be made, and `why` says which.
  std::vector<Position> route(const std::vector<Touch>& touches, std::string& why) const;
  // The same without proof: used where the programmer insists, so that rehearsal can show the
  // clash.
  std::vector<Position> unproven(const std::vector<Touch>& touches) const;
  // Way points from one place to another that stays by the part: straight, or lifted a little;
  // nothing when none of these is free. The places themselves are not included.
  std::optional<std::vector<Vec3>> close(const Vec3& from, const Vec3& from_normal, const Vec3& to,
                                         const Vec3& to_normal) const;
  // Way points from a place near the surface out of the shell, the place itself not included.
  std::optional<std::vector<Vec3>> exit(const Vec3& from, const Vec3& normal) const;

 private:
  // The same beyond the clearance plane of one side.
  std::optional<std::vector<Vec3>> exitThrough(const Vec3& from, const Vec3& normal,
                                               ShellSide side) const;
  void addTouch(const Touch& touch, int index, std::vector<Position>& out) const;
  // From the touch before to this one without leaving the surface?
  bool scansOn(const Touch& before, const Touch& touch) const;
  std::optional<std::vector<Vec3>> connect(const Vec3& from, const Vec3& from_normal,
                                           const Vec3& to, const Vec3& to_normal) const;
  bool clear(const Vec3& from, const Vec3& to, double margin) const;
  std::optional<std::vector<Vec3>> sought(const Vec3& from, const Vec3& to) const;

  const Clearance& clearance_;
  const Tool& tool_;
  const Feature& feature_;
  ShellTravel travel_;
  bool search_;
  Margins margins_;
};

} // namespace alder
