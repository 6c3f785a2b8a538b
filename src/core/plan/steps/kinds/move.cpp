#include "plan/steps/kinds/move.h"

#include "plan/access_along.h"
#include "plan/steps/kinds/on_copy.h"
#include <array>

namespace alder {

std::string_view name(CountFrom from) {
  static constexpr std::array<std::string_view, 3> kNames{"machine", "part", "feature"};
  return kNames[static_cast<std::size_t>(from)];
}

std::string words(const Plan& plan, const MoveStep& step) {
  const std::string from = step.from == CountFrom::Feature ? plan.nominal(step.feature).name
                                                           : std::string(name(step.from));
  return fmt::format("Go to {:g}, {:g}, {:g} from the {}", step.place.x(), step.place.y(),
                     step.place.z(), from);
}

Done validate(const Plan& plan, const MoveStep& step) {
  if (!step.place.allFinite()) return fail("A place must be three numbers.");
  if (step.from == CountFrom::Feature && !plan.features.holds(step.feature))
    return fail("A place is counted from a feature that is not in this routine.");
  return {};
}

std::optional<MoveStep> onCopy(const OnCopy& on, const MoveStep& step) {
  if (step.from == CountFrom::Machine) return step;
  const Vec3 place = step.from == CountFrom::Feature
                         ? placesFrame(on.plan, step.feature) * step.place
                         : step.place;
  return MoveStep{CountFrom::Part, {}, on.motion.place(place)};
}

} // namespace alder
