// With which tips and head angles a feature is tried, the natural ones first. Directions are those
// from the ball along the shank, machine frame.
#pragma once

#include "plan/plan.h"

namespace alder {

bool sameAccess(const Access& a, const Access& b); // to 1e-9 rad

class AngleCandidates {
 public:
  explicit AngleCandidates(const Plan& plan)
      : plan_(plan) {}

  // Straight tips, shortest stylus first, at no angles yet; and those that hang down.
  std::vector<Access> straightTips() const;
  std::vector<Access> straightDown() const;
  // From where a surface may be touched; `mean_normal` is that of its touches.
  std::vector<Vec3> directions(const Ideal& ideal, const Vec3& mean_normal) const;
  // Straight tips turned to these, as far as the head can within twenty degrees.
  std::vector<Access> turned(const std::vector<Vec3>& directions) const;
  // Side tips by the head angles that bring their shank nearest to one of them, within twenty
  // degrees; on a raster of fifteen.
  std::vector<Access> sideways(const std::vector<Vec3>& directions) const;

 private:
  std::optional<Access> along(Access tip, const Vec3& shank) const;

  const Plan& plan_;
};

} // namespace alder
