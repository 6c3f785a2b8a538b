// Typed identifiers: a FeatureId cannot be passed where a RequirementId is asked for.
#pragma once

#include <compare>
#include <functional>

namespace alder {

template <class Tag> struct Id {
  int value = -1;
  constexpr bool valid() const { return value >= 0; }
  friend constexpr auto operator<=>(const Id&, const Id&) = default;
};

using FaceId = Id<struct FaceTag>;
using SurfaceId = Id<struct SurfaceTag>; // a recognised surface of the CAD part
using RequirementId = Id<struct RequirementTag>;
using FeatureId = Id<struct FeatureTag>; // a feature of the plan, touched by the machine
using SetupId = Id<struct SetupTag>;     // a set-up of the routine
using StepId = Id<struct StepTag>;       // a step of the routine

} // namespace alder

template <class Tag> struct std::hash<alder::Id<Tag>> {
  std::size_t operator()(const alder::Id<Tag>& id) const noexcept {
    return std::hash<int>{}(id.value);
  }
};
