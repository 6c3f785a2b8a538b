// Requirements that are typed on what is picked: one after the other, while the way to the features
// of earlier ones is still being looked for.
#include "document/document.h"

#include "requirement/typed/target.h"
#include "route/new_feature.h"
#include <algorithm>

namespace alder::app {

TypingSettings Document::typingSettings(bool inch) const {
  return {inch ? LengthUnit::Inch : LengthUnit::Millimetre, plan().spec.standard,
          plan().spec.general.rule != GeneralRule::None};
}

Document::TypedPreview Document::typedPreview(const QString& text, bool inch) const {
  TypedPreview preview;
  const auto& s = selection_;
  const auto typing = typedText(text.toStdString(), typingSettings(inch));
  const int count = typing ? typing->front().count : 1;
  preview.target = typedTarget(*plan().part, plan().spec, s.features, s.faces, count);
  if (!typing) {
    preview.fault = typing.error();
    return preview;
  }
  preview.typed = *typing;
  if (typing->front().what == TypedWhat::Datum) {
    if (preview.target.features.empty()) preview.error = "Select the features of the datum first.";
    return preview;
  }
  auto laid = layOn(preview.target.spec, preview.target.features, *typing,
                    decidingLengths(*plan().part, preview.target.spec));
  if (laid)
    preview.laid = std::move(*laid);
  else
    preview.error = laid.error().message;
  return preview;
}

bool Document::typeRequirement(const QString& text, bool inch,
                               const std::optional<DrawingSpot>& spot) {
  if (!open_) return false;
  const TypedPreview preview = typedPreview(text, inch);
  if (preview.fault || !preview.error.empty()) return false;
  typed_.push_back({text, inch, preview.target.features, preview.target.faces, spot});
  // those of its faces come when these are measured
  std::erase_if(typed_.back().features,
                [&](FeatureId id) { return !plan().spec.features.holds(id); });
  nextTyped();
  return true;
}

// The first of those that wait: its faces are measured first, and it is laid on them then.
void Document::nextTyped() {
  if (typed_.empty() || measuring_typed_) return;
  TypedEntry entry = typed_.front();
  // Earlier ones may have made features of its faces.
  const TypedTarget now = typedTarget(*plan().part, plan().spec, entry.features, entry.faces, 1);
  entry.faces = now.faces;
  entry.features.clear();
  for (const FeatureId id : now.features)
    if (plan().spec.features.holds(id)) entry.features.push_back(id);
  if (entry.faces.empty()) {
    typed_.pop_front();
    layTyped(entry, entry.features);
    return nextTyped();
  }
  measuring_typed_ = true;
  const auto then = [this, entry](const std::vector<FeatureId>& made) {
    if (!measuring_typed_ || typed_.empty()) return; // dropped meanwhile
    measuring_typed_ = false;
    typed_.pop_front();
    selectMade(made);
    std::vector<FeatureId> features = entry.features;
    features.insert(features.end(), made.begin(), made.end());
    layTyped(entry, features);
    nextTyped();
  };
  const auto failed = [this, entry](const std::string& why) {
    if (!measuring_typed_ || typed_.empty()) return;
    measuring_typed_ = false;
    typed_.pop_front();
    emit message(entry.text + ": " + QString::fromStdString(why), true);
    nextTyped();
  };
  measureFacesThen(entry.faces, then, failed);
}

// What is selected by its faces is selected as features now; another pick stays.
void Document::selectMade(const std::vector<FeatureId>& made) {
  std::vector<FeatureId> features;
  for (const FaceId face : selection_.faces)
    for (const FeatureId id : made) {
      const auto& faces = plan().nominal(id).faces;
      if (std::find(faces.begin(), faces.end(), face) != faces.end() &&
          std::find(features.begin(), features.end(), id) == features.end())
        features.push_back(id);
    }
  if (!features.empty()) selectFeatures(features, selection_.picked);
}

void Document::layTyped(const TypedEntry& entry, const std::vector<FeatureId>& features) {
  const auto typing = typedText(entry.text.toStdString(), typingSettings(entry.inch));
  if (!typing) return; // was understood when it was typed
  if (typing->front().what == TypedWhat::Datum) {
    setDatum(features, typing->front().words);
    return;
  }
  const auto laid =
      layOn(plan().spec, features, *typing, decidingLengths(*plan().part, plan().spec));
  if (!laid) {
    emit message(entry.text + ": " + QString::fromStdString(laid.error().message), true);
    return;
  }
  Specification spec = plan().spec;
  for (Requirement r : laid->requirements) {
    r.spot = entry.spot;
    spec = withRequirement(spec, std::move(r));
  }
  const Requirement added = spec.requirements.back();
  if (!edit(QString("Add requirement %1").arg(added.balloon), {SetSpecification{std::move(spec)}}))
    return;
  QString words = QString("%1: %2")
                      .arg(added.balloon)
                      .arg(QString::fromStdString(describe(plan().spec, added)));
  for (const std::string& remark : laid->remarks)
    words += " · " + QString::fromStdString(remark);
  emit message(words, !laid->remarks.empty());
}

void Document::setGeneral(const GeneralTolerances& general) {
  if (!open_ || general == plan().spec.general) return;
  std::vector<std::string> notes;
  Specification spec =
      withGeneral(plan().spec, general, decidingLengths(*plan().part, plan().spec), notes);
  if (!edit("Change the general tolerances", {SetSpecification{std::move(spec)}})) return;
  if (notes.empty()) return;
  QString words = QString::fromStdString(notes.front());
  if (notes.size() > 1) words += QString(" And %1 more.").arg(notes.size() - 1);
  emit message(words, true);
}

void Document::takeSpecification(const QString& words, Specification wanted,
                                 std::function<void()> then, std::vector<Edit> more) {
  const auto copy = std::make_shared<const Plan>(plan());
  const auto spec = std::make_shared<const Specification>(std::move(wanted));
  jobs_.start("Looking for ways to the features", [=, this](const Progress& progress) {
    auto found = std::make_shared<Result<NewFeatures>>(
        planSpecification(*copy, obstaclesOf(*copy), *spec, progress));
    return JobRunner::Apply([=, this] {
      if (!*found) {
        emit message(QString::fromStdString(found->error().message), true);
        return startRouting();
      }
      // What was changed meanwhile is not lost: it is looked for again.
      if (!(plan().spec == copy->spec)) {
        emit message(words + ": the requirements were changed meanwhile; do it again", true);
        return startRouting();
      }
      std::vector<Edit> edits = (*found)->edits;
      edits.insert(edits.end(), more.begin(), more.end());
      if (!edit(words, std::move(edits))) return startRouting();
      if (then) then();
    });
  });
}

// Cancelled by a person: what waits is not added, and said so.
void Document::dropTyped() {
  if (!measuring_typed_) return;
  measuring_typed_ = false;
  const QString words =
      QString("Cancelled: %1 typed requirement%2 not added; Up in the line brings "
              "back what was typed")
          .arg(typed_.size())
          .arg(typed_.size() == 1 ? " was" : "s were");
  typed_.clear();
  // after what is told of cancelling in general
  QMetaObject::invokeMethod(
      this, [this, words] { emit message(words, true); }, Qt::QueuedConnection);
}

// The way to its faces was broken off by something else that was begun: it is looked for again.
void Document::resumeTyped() {
  if (!measuring_typed_ || jobs_.busy()) return;
  measuring_typed_ = false;
  constexpr int kTries = 3;
  if (!typed_.empty() && ++typed_.front().tries >= kTries) {
    emit message(typed_.front().text + " was not added: no way to its faces was found in peace",
                 true);
    typed_.pop_front();
  }
  nextTyped();
}

} // namespace alder::app
