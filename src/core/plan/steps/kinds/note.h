#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// Words among the steps; the machine does nothing.
struct NoteStep {
  std::string text;

  static constexpr StepTraits kTraits{.kind = "note",
                                      .title = "Note",
                                      .between_touches = true,
                                      .in_templates = true,
                                      .in_programs = true,
                                      .with_next = true};
  static void fields(auto& self, auto& f) { f("text", self.text); }
  friend bool operator==(const NoteStep&, const NoteStep&) = default;
};
std::string words(const Plan& plan, const NoteStep& step);
Done validate(const Plan& plan, const NoteStep& step);
// What the words of a note say.
std::string noteText(const std::string& words);
NoteStep noteOf(std::string text);
std::optional<NoteStep> onCopy(const OnCopy& on, const NoteStep& step);

} // namespace alder
