#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

enum class OutputKind { TouchedPoints, Verdicts, Report };
std::string_view name(OutputKind kind); // "points", "verdicts", "report"

// A file and what it is to hold. Of the name what stands in braces is filled in: {routine}, {time},
// and {...} of each question what was answered.
struct Output {
  OutputKind kind = OutputKind::TouchedPoints;
  std::string file = "{routine} {time}.csv";
  std::string layout; // of a report: one of the routine or that comes with the program; empty: full
  friend bool operator==(const Output&, const Output&) = default;
};

// What was measured so far is written to a file.
struct OutputStep : Output {
  static constexpr StepTraits kTraits{
      .kind = "output", .title = "Write a file", .in_templates = true};
  static void fields(auto& self, auto& f) {
    f.named("what", self.kind, 3);
    f.needed("file", self.file);
    f("layout", self.layout);
  }
  friend bool operator==(const OutputStep&, const OutputStep&) = default;
};
std::string words(const Plan& plan, const OutputStep& step);
Done validate(const Plan& plan, const OutputStep& step);
std::optional<OutputStep> onCopy(const OnCopy& on, const OutputStep& step);

} // namespace alder
