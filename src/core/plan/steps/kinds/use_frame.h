#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// From here on the part lies where the frame of this name says: one of the routine, found from what
// was touched, or one that is kept with the fixture. After a rough beginning its features are
// measured again, and it is found again, until it moves the part by less than `until`.
struct UseFrameStep {
  std::string frame;
  double until = 0; // 0: found once
  int most = 5;     // times that it is found

  static constexpr StepTraits kTraits{
      .kind = "use frame", .title = "Use a part frame", .in_programs = true};
  static void fields(auto& self, auto& f) {
    f.needed("frame", self.frame);
    f("until", self.until);
    f("most", self.most);
  }
  friend bool operator==(const UseFrameStep&, const UseFrameStep&) = default;
};
std::string words(const Plan& plan, const UseFrameStep& step);
Done validate(const Plan& plan, const UseFrameStep& step);
UseFrameStep useFrame(std::string name, double until = 0, int most = 5);
std::optional<UseFrameStep> onCopy(const OnCopy& on, const UseFrameStep& step);

} // namespace alder
