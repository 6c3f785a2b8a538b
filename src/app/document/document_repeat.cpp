// Steps that are repeated elsewhere on the part.
#include "document/document.h"

#include "plan/steps/step_edit.h"
#include <algorithm>

namespace alder::app {

void Document::repeatSteps() {
  if (!open_) return;
  auto made = alder::repeatSteps(plan(), selectedSteps());
  if (!made) {
    emit message(QString::fromStdString(made.error().message), true);
    return;
  }
  if (!edit("Repeat steps", {std::move(made->first)})) return;
  selectSteps({made->second});
  const auto& repeat = *repeatIn(plan().steps[indexOf(plan().steps, made->second)].body);
  const auto found = std::count_if(repeat.copies.begin(), repeat.copies.end(),
                                   [](const RepeatCopy& c) { return !c.features.empty(); });
  emit message(found > 0 ? QString("Found again in %1 other %2 of the part")
                               .arg(found)
                               .arg(found == 1 ? "place" : "places")
                         : QString("The part has no other place like it; say where the copies lie"),
               found == 0);
}

void Document::changePattern(StepId id, const Pattern& pattern) {
  if (auto valid = validate(pattern); !valid) {
    emit message(QString::fromStdString(valid.error().message), true);
    return;
  }
  const std::size_t i = indexOf(plan().steps, id);
  if (i == plan().steps.size()) return;
  auto repeat = *repeatIn(plan().steps[i].body);
  // Copies are found anew, those left out stay so by their numbers.
  repeat.pattern = pattern;
  changeStep(id, repeat);
}

void Document::pastePlaces(StepId id, const QString& text) {
  const std::size_t i = indexOf(plan().steps, id);
  if (i == plan().steps.size()) return;
  auto places = listedFromText(text.toStdString());
  if (!places) {
    emit message(QString::fromStdString(places.error().message), true);
    return;
  }
  Pattern pattern = repeatIn(plan().steps[i].body)->pattern;
  pattern.kind = PatternKind::Listed;
  pattern.places = std::move(*places);
  changePattern(id, pattern);
}

void Document::skipCopy(StepId id, std::size_t copy, bool skipped) {
  const std::size_t i = indexOf(plan().steps, id);
  if (i == plan().steps.size()) return;
  auto repeat = *repeatIn(plan().steps[i].body);
  if (copy >= repeat.copies.size()) return;
  repeat.copies[copy].skipped = skipped;
  auto change = alder::changeStep(plan(), id, repeat);
  if (!change) return;
  const Selection kept = selection_;
  if (edit(skipped ? "Leave a copy out" : "Take a copy in again", {std::move(*change)}))
    select(kept);
}

void Document::followOriginals(const std::vector<FeatureId>& copies) {
  std::vector<Edit> edits;
  for (FeatureId copy : copies)
    for (Edit& e : asOriginal(plan(), copy))
      edits.push_back(std::move(e));
  if (!edits.empty()) edit("As the original again", std::move(edits));
}

} // namespace alder::app
