// Moves of the machine, put to a way one after the other: hops, head turns, stylus swaps, and the
// touches of a feature with the way in and out. What PlanRouter does a routine's steps with.
#pragma once

#include "route/router.h"
#include <map>

namespace alder {

class WayBuilder {
 protected:
  WayBuilder(const Plan& plan, const Obstacles& obstacles);

  // The machine stands somewhere, outside the shell; where it has not begun, it begins above.
  Vec3 reached();
  void startAbove(const Vec3& place);
  // Out of where a step went inside the shell.
  void leave();
  const Tool& tool(const Access& access);
  int beginStep(StepKind kind, std::string text, FeatureId feature);
  void add(Position p);
  std::vector<Position> routed(const Feature& feature, const std::vector<Touch>& touches,
                               const std::vector<int>& numbers);
  // With the access that the feature has here.
  void addFeature(const Feature& feature, const std::vector<int>& numbers, bool by_hand);
  void beginHop(const std::string& text, FeatureId id, HopMode mode);
  void addHop(const Vec3& ball, FeatureId id);
  // Leaves out the way from the last feature out of the shell and the one into this feature.
  void stayInside(std::vector<Position>& positions);
  double seconds(const std::vector<Vec3>& places) const;
  // From the last touch of the feature before to the first of this one, where that is proved free
  // and takes less time than the way over the shell.
  std::optional<std::vector<Vec3>> closeWay(const Feature& feature,
                                            const std::vector<Position>& positions);
  // From a place at the feature back along the shank until the ball is just outside of it.
  Vec3 besideFeature(FeatureId id, const Vec3& ball);
  void dropLast();
  void hopOver(const Vec3& to, FeatureId feature);
  // Up to the height at which all that turns passes above the shell, as far as the travel goes; never
  // down.
  Vec3 lifted(const Vec3& place, const Tool& before, const Tool& after) const;
  // Height of the pivot at which everything that turns stays above the shell.
  double turningHeight(const Tool& before, const Tool& after) const;
  // Where the head turns: as low as there is proved room for all that turns, here or above, else
  // beside the shell.
  Vec3 placeToTurn(const Tool& before, const Tool& after);
  // Changes stylus or angles outside the shell where the whole stylus has room.
  void changeTo(const Access& access, const Vec3& next);
  // False where the bench has no ports for both.
  bool changeAtRack(const Access& access);
  void finish();

  const Plan& plan_;
  const Obstacles* obstacles_; // as the fixture stands now
  Clearance clearance_;
  Way way_;
  StepId origin_, does_; // of what is being routed, see Step
  int depth_ = 0;
  Access first_;                 // that the routine begins with
  std::set<FeatureId> measured_; // so far
  std::optional<Vec3> way_out_;  // from where a step went inside the shell
  bool stays_ = true;            // by the part since the last feature
  Access access_;
  std::map<std::tuple<int, int, double, double>, Tool> tools_;
};

} // namespace alder
