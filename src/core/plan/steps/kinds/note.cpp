#include "plan/steps/kinds/note.h"

namespace alder {
namespace {

constexpr std::string_view kNote = "Note: ";

} // namespace

std::string words(const Plan&, const NoteStep& step) {
  return std::string(kNote) + step.text;
}

Done validate(const Plan&, const NoteStep&) {
  return {};
}

std::string noteText(const std::string& words) {
  return words.starts_with(kNote) ? words.substr(kNote.size()) : words;
}

NoteStep noteOf(std::string text) {
  return {std::move(text)};
}

std::optional<NoteStep> onCopy(const OnCopy&, const NoteStep& step) {
  return step;
}

} // namespace alder
