// Obstacles of the bench and clearance of the moving stylus, probe, head and ram against them, in
// the machine frame, mm. A move is a straight translation with locked head angles; each rod then
// sweeps a shape whose distance to the obstacles is computed exactly (geometry/mesh.h).
#pragma once

#include "plan/plan.h"
#include <functional>
#include <optional>

namespace alder {

struct Obstacles {
  MeshTree part;                        // tags are FaceId values
  MeshTree fixture;                     // tags are indices of fixture bodies
  MeshTree bench;                       // tags are indices of bench_names
  std::vector<std::string> bench_names; // reference sphere, its stem, rack, parts of the machine
  int machine_from = 0;                 // first tag of the parts of the machine
  double table = 0;                     // height of the table
  Box3 solids;                          // box of part and fixture
  Points outline; // of them seen from above, as a convex ring; empty: that of the box
};
Obstacles obstaclesOf(const Plan& plan);
Obstacles obstaclesOf(const Plan& plan, const Fixture& fixture); // as it stands at some moment

// Box of part and fixture along the columns of `axes`, which turn about the vertical.
Box3 solidsAlong(const Obstacles& obstacles, const Mat3& axes);

// Everything that moves, for one tip at fixed head angles. Vectors in machine axes, relative to the
// centre of the ball.
struct Tool {
  // Of the machine, carried by some axes; relative to the pivot along these.
  struct Carried {
    std::string part;
    std::array<bool, 3> by{};
    Box3 box;
  };
  Access access;
  double ball_radius = 0;
  std::vector<Rod> disc; // cover the disc, where there is one instead of the ball
  double rim = 1;        // sine of the latitude, seen from the shank's equator, up to which the
                         // ball is there: below 1 for a disc
  Vec3 shank = Vec3::UnitZ(); // from the ball along its shank
  Vec3 ball_to_pivot = Vec3::Zero();
  std::vector<Rod> rods; // stylus, probe, head, ram; not the ball
  std::vector<Carried> carried;
  Box3 bounds;            // of all, the ball included
  double turn_radius = 0; // of everything that turns, about the pivot
};
Tool toolOf(const Bench& bench, const Access& access);
// Box of what moves, ball included, along the columns of `axes`.
Box3 boundsAlong(const Tool& tool, const Mat3& axes);
// The same without what hangs in the rack: probe, head and what carries them.
Tool bareToolOf(const Bench& bench, const Access& access);

// The touch that a move belongs to: its ball may meet these faces.
struct TouchAllowance {
  const std::vector<FaceId>* faces = nullptr; // ascending
  bool sphere = false;                        // the ball may meet the reference sphere
};
// The ball may enter a touched face by so much before it counts as a clash: triangles lie up to
// 0.02 mm off the true surface, chords of small holes a little more.
inline constexpr double kTouchSlack = 0.06;

// What stood in the way last, so that it is tried first where the same is likely.
struct Hint {
  int rod = -1; // of the tool
  int part = -1, fixture = -1;
};

struct Encounter {
  double clearance = 0; // negative: depth of the clash
  std::string moving;   // ball, shank, extension, probe, head, ram or a part of the machine
  std::string still;    // part, a fixture body, table or a body of the bench
};

// Nobody lays a part to the millimetre: touches and hops are planned so far within the travel.
inline constexpr double kRoomAtEnds = 3;

class Clearance {
 public:
  Clearance(const Plan& plan, const Obstacles& obstacles)
      : plan_(&plan)
      , obstacles_(&obstacles) {}

  bool clear(const Tool& tool, const Vec3& from, const Vec3& to, double margin,
             const TouchAllowance& allowance = {}, Hint* hint = nullptr) const;
  // Nearest encounter along the move that is closer than `within`.
  std::optional<Encounter> nearest(const Tool& tool, const Vec3& from, const Vec3& to,
                                   double within, const TouchAllowance& allowance = {}) const;
  // Nearest encounter of all but the ball while the machine seeks the surface beyond where it
  // should be: with all but the part, which then is not where it should be either.
  std::optional<Encounter> nearestInSearch(const Tool& tool, const Vec3& from, const Vec3& to,
                                           double within) const;
  // One rod at rest, with the ball there.
  bool rodClear(const Rod& rod, const Vec3& ball, double margin) const;
  // Is the pivot inside the machine's volume, by `room` at least? Nothing, or which axis is overrun
  // and by how much.
  std::optional<Encounter> overrun(const Tool& tool, const Vec3& ball, double room = 0) const;
  // Can everything that turns with the head do so in any way about this ball position?
  bool roomToTurn(const Tool& tool, const Vec3& ball) const;
  // Nearest of that to anything, if closer than `within`.
  std::optional<Encounter> nearestInTurn(const Tool& tool, const Vec3& ball, double within) const;

  const Plan& plan() const { return *plan_; }
  const Obstacles& obstacles() const { return *obstacles_; }

 private:
  struct Search; // of the nearest encounter
  // What a carried body meets on its move, kept apart by `margin` and what pairs ask for on top.
  std::optional<std::string> carriedMeets(const Tool::Carried& body, const Vec3& from,
                                          const Vec3& to, double margin) const;
  std::function<std::string(int)> bodyNames() const; // by tag
  std::function<std::string(int)> benchNames() const;

  const Plan* plan_;
  const Obstacles* obstacles_;
};

} // namespace alder
