#pragma once

#include "plan/repeats/pattern.h"
#include "plan/steps/kinds/step_kind.h"

namespace alder {

// What a copy of a repeat touches in place of its originals, ascending by these. What has no like
// on the part at that place is not measured there.
struct RepeatCopy {
  bool skipped = false;
  std::vector<std::pair<FeatureId, FeatureId>> features;
  FeatureId of(FeatureId original) const; // not valid: none
  friend bool operator==(const RepeatCopy&, const RepeatCopy&) = default;
};

// All within it is done, and then again in each other place of the pattern. See plan/repeats/repeat.h.
struct RepeatStep {
  std::string name;
  Boxed<Pattern> pattern;         // steps are many, repeats few
  bool requirements = true;       // on the originals alone are laid on the copies too
  std::vector<RepeatCopy> copies; // by motionsOf(pattern)

  static constexpr StepTraits kTraits{.kind = "repeat",
                                      .title = "Repeat",
                                      .holds = StepTraits::Holds::AllButItsKind,
                                      .in_programs = true}; // as what it does
  static void fields(auto& self, auto& f) {
    f.needed("name", self.name);
    f("pattern", self.pattern);
    f("requirements", self.requirements);
    f("copies", self.copies);
  }
  friend bool operator==(const RepeatStep&, const RepeatStep&) = default;
};
std::string words(const Plan& plan, const RepeatStep& step);
Done validate(const Plan& plan, const RepeatStep& step);
std::optional<RepeatStep> onCopy(const OnCopy& on, const RepeatStep& step);

} // namespace alder
