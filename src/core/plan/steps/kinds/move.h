#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// What a place is counted from: the machine, the part, or a feature (its point and axis or normal,
// so that (0, 0, 100) is 100 mm above a hole).
enum class CountFrom { Machine, Part, Feature };
std::string_view name(CountFrom from); // "machine", "part", "feature"

// The ball goes to a place; over the shell as far as it lies inside.
struct MoveStep {
  CountFrom from = CountFrom::Part;
  FeatureId feature; // where counted from one
  Vec3 place = Vec3::Zero();

  // A place of the part is another one in another routine.
  bool inTemplates() const { return from == CountFrom::Machine; }

  static constexpr StepTraits kTraits{
      .kind = "move", .title = "Go to a place", .in_programs = true, .of_way = true};
  static void fields(auto& self, auto& f) {
    f.named("from", self.from, 3, [] { return CountFrom::Part; });
    f.needed("place", self.place);
    if (self.from == CountFrom::Feature) f.needed("feature", self.feature);
  }
  friend bool operator==(const MoveStep&, const MoveStep&) = default;
};
std::string words(const Plan& plan, const MoveStep& step);
Done validate(const Plan& plan, const MoveStep& step);
// To the like place of the part; to the same place of the machine.
std::optional<MoveStep> onCopy(const OnCopy& on, const MoveStep& step);

} // namespace alder
