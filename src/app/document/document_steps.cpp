// The steps of the routine: put in, taken out, moved, grouped, left out, copied.
#include "document/document.h"

#include "base/files.h"
#include "exchange/routine/step_text.h"
#include "plan/steps/frame_steps.h"
#include <QFileInfo>
#include <algorithm>
#include <cmath>

namespace alder::app {

std::optional<CopyPlace> Document::selectedCopy() const {
  if (selection_.features.size() != 1) return {};
  return copyPlaceOf(plan().steps, selection_.features.front());
}

std::vector<StepId> Document::selectedSteps() const {
  if (!selection_.steps.empty()) return selection_.steps;
  std::vector<StepId> steps;
  for (FeatureId f : selection_.features)
    if (const StepId id = stepOf(plan().steps, f); id.valid()) steps.push_back(id);
  return steps;
}

namespace {

// Index in the list of the first of them; the end where none is there.
std::size_t firstOf(const Steps& steps, const std::vector<StepId>& ids) {
  std::size_t first = steps.size();
  for (StepId id : ids)
    first = std::min(first, indexOf(steps, id));
  return first;
}

} // namespace

void Document::insertStep(const StepBody& body) {
  if (!open_) return;
  const std::size_t at = firstOf(plan().steps, selectedSteps());
  const int depth = at < plan().steps.size() ? plan().steps[at].depth : 0;
  const StepId fresh = freeId(plan().steps);
  auto put = alder::insertSteps(plan(), {{StepId{0}, 0, true, 0, body}}, at, depth);
  if (!put) {
    emit message(QString::fromStdString(put.error().message), true);
    return;
  }
  const RoutineStep step{fresh, depth, true, 0, body};
  if (edit("Insert: " + QString::fromStdString(describe(plan(), step)), {std::move(*put)}))
    selectSteps({fresh});
}

void Document::insertFrame() {
  if (!open_) return;
  std::vector<FrameStage> stages;
  if (selection_.requirement)
    stages = stagesOf(plan().spec, plan().spec.requirement(*selection_.requirement).datums);
  if (stages.empty())
    for (FeatureId id : selection_.features)
      stages.push_back({{id}, ""});
  auto used = useNewFrame(plan(), std::move(stages));
  if (!used) return void(emit message(QString::fromStdString(used.error().message), true));
  if (edit("Use a frame", std::move(used->edits))) selectSteps({used->step});
}

void Document::changeFrame(const std::string& name, const PartFrame& changed) {
  std::vector<PartFrame> frames = plan().frames;
  std::vector<Edit> edits;
  for (PartFrame& f : frames)
    if (f.name == name) f = changed;
  edits.push_back(SetFrames{frames});
  if (changed.name != name)
    for (Edit& e : stepsFollowName(plan(), name, changed.name))
      edits.push_back(std::move(e));
  edit("Change a frame", edits);
}

void Document::insertMoveHere() {
  if (!routed_ || routed_->way.positions.empty()) {
    emit message("The way is not known yet; wait until the routine is rehearsed", true);
    return;
  }
  const auto& times = routed_->rehearsal.times;
  const auto next = std::lower_bound(times.begin(), times.end(), playhead_ - 1e-9);
  const auto i = std::min(static_cast<std::size_t>(next - times.begin()), times.size() - 1);
  const Vec3 ball = plan().placement.inverse() * routed_->way.positions[i].ball;
  insertStep(MoveStep{
      CountFrom::Part, {}, ball.unaryExpr([](double v) { return std::round(v * 1000) / 1000; })});
}

void Document::changeStep(StepId id, const StepBody& body) {
  auto change = alder::changeStep(plan(), id, body);
  if (!change) return;
  const auto kept = selection_.steps;
  if (edit("Change a step", {std::move(*change)})) selectSteps(kept);
}

void Document::showPicture(StepId id, const QString& name, const QByteArray& bytes) {
  const std::size_t at = indexOf(plan().steps, id);
  if (at == plan().steps.size()) return;
  RoutineStep step = plan().steps[at];
  std::string* shown = pictureIn(step.body);
  if (!shown) return;
  std::vector<Edit> edits;
  shown->clear();
  if (!bytes.isEmpty()) {
    auto pictures = plan().pictures;
    const QFileInfo file(name);
    StepPicture picture{file.fileName().toStdString(),
                        std::make_shared<const std::string>(bytes.toStdString())};
    for (int number = 2; plan().picture(picture.name) && *plan().picture(picture.name) != picture;
         ++number)
      picture.name = QString("%1 %2.%3")
                         .arg(file.completeBaseName())
                         .arg(number)
                         .arg(file.suffix())
                         .toStdString();
    *shown = picture.name;
    if (!plan().picture(picture.name)) pictures.push_back(std::move(picture));
    edits.push_back(SetPictures{std::move(pictures)});
  }
  edits.push_back(SpliceSteps{at, 1, {step}});
  edit(bytes.isEmpty() ? "Take a picture away" : "Show a picture", std::move(edits));
}

void Document::showPictureFile(const QString& path) {
  if (selection_.steps.size() != 1) {
    emit message("Select the wait that is to show the picture.", true);
    return;
  }
  const auto bytes = readFile(path.toStdString());
  if (!bytes) {
    emit message(QString::fromStdString(bytes.error().message), true);
    return;
  }
  showPicture(selection_.steps.front(), QFileInfo(path).fileName(),
              QByteArray::fromStdString(*bytes));
}

void Document::placeWithin(StepId id, int before) {
  Steps steps = plan().steps;
  const std::size_t i = indexOf(steps, id);
  if (i == steps.size()) return;
  steps[i].before = std::max(0, before);
  const auto kept = selection_.steps;
  if (auto change = stepsBecome(plan(), steps))
    if (edit("Place a step between touches", {std::move(*change)})) selectSteps(kept);
}

void Document::putWithinNext(StepId id) {
  auto change = alder::putWithinNext(plan(), id);
  if (!change) return void(emit message(QString::fromStdString(change.error().message), true));
  if (edit("Put a step between touches", {std::move(*change)})) selectSteps({id});
}

void Document::putOutside(StepId id) {
  auto change = alder::putOutside(plan(), id);
  if (!change) return void(emit message(QString::fromStdString(change.error().message), true));
  if (edit("Take a step out of another", {std::move(*change)})) selectSteps({id});
}

void Document::moveSteps(const std::vector<StepId>& steps, std::optional<StepId> before) {
  auto moved = alder::moveSteps(plan(), steps, before);
  if (!moved) {
    if (moved.error().code != ErrorCode::NothingChanges)
      emit message(QString::fromStdString(moved.error().message), true);
    return;
  }
  const std::size_t first = firstOf(plan().steps, steps);
  const QString what =
      steps.size() == 1 && first < plan().steps.size()
          ? QString::fromStdString(describe(plan(), plan().steps[first])).replace("Measure ", "")
          : QString("%1 steps").arg(steps.size());
  edit("Move " + what, {std::move(*moved)});
}

void Document::leaveOutSteps() {
  if (const auto copy = selectedCopy())
    return skipCopy(plan().steps[copy->step].id, copy->copy,
                    !repeatIn(plan().steps[copy->step].body)->copies[copy->copy].skipped);
  const auto ids = selectedSteps();
  const bool any_done = std::any_of(ids.begin(), ids.end(), [&](StepId id) {
    const std::size_t i = indexOf(plan().steps, id);
    return i < plan().steps.size() && plan().steps[i].enabled;
  });
  auto change = enableSteps(plan(), ids, !any_done);
  if (ids.empty() || !change) {
    emit message("Select the steps that are to be left out, or taken in again", true);
    return;
  }
  edit(any_done ? "Leave steps out" : "Take steps in again", {std::move(*change)});
}

void Document::removeSteps() {
  if (const auto copy = selectedCopy()) {
    if (repeatIn(plan().steps[copy->step].body)->copies[copy->copy].skipped) return;
    return skipCopy(plan().steps[copy->step].id, copy->copy, true);
  }
  const auto ids = selectedSteps();
  auto change = alder::removeSteps(plan(), ids);
  if (ids.empty() || !change) {
    emit message("Select the steps that are to be removed", true);
    return;
  }
  if (edit(ids.size() == 1 ? "Remove a step" : "Remove steps", {std::move(*change)}))
    clearSelection();
}

void Document::groupSteps() {
  const StepId group = freeId(plan().steps);
  auto change = alder::groupSteps(plan(), selectedSteps(), "Group");
  if (!change) {
    emit message(QString::fromStdString(change.error().message), true);
    return;
  }
  if (edit("Group steps", {std::move(*change)})) selectSteps({group});
}

void Document::ungroupSteps() {
  auto change = alder::ungroupSteps(plan(), selectedSteps());
  if (!change) {
    emit message("Select a group or a repeat", true);
    return;
  }
  if (edit("Ungroup steps", {std::move(*change)})) clearSelection();
}

void Document::shiftSteps(int by) {
  const auto ids = selectedSteps();
  if (ids.empty()) return;
  const Steps& steps = plan().steps;
  const std::size_t first = firstOf(steps, ids);
  if (first >= steps.size()) return;
  const auto moves = [&](std::size_t i) {
    return std::find(ids.begin(), ids.end(), steps[i].id) != ids.end();
  };
  if (by < 0) {
    // Before the neighbour above that stands as deep, or the group that it leads.
    std::size_t i = first;
    while (i > 0 && steps[i - 1].depth > steps[first].depth)
      --i;
    if (i == 0) return;
    return moveSteps(ids, steps[i - 1].id);
  }
  std::size_t last = first;
  for (std::size_t i = first; i < steps.size(); i = endOf(steps, i))
    if (moves(i)) last = i;
  const std::size_t next = endOf(steps, last);
  if (next >= steps.size()) return;
  const std::size_t behind = endOf(steps, next);
  moveSteps(ids, behind < steps.size() ? std::optional(steps[behind].id) : std::nullopt);
}

QString Document::copySteps() const {
  return QString::fromStdString(stepsText(plan(), selectedSteps()));
}

void Document::pasteSteps(const QString& text) {
  if (!open_) return;
  auto pasted = stepsFromText(text.toStdString(), plan());
  if (!pasted) {
    emit message(QString::fromStdString(pasted.error().message), true);
    return;
  }
  const std::size_t at = firstOf(plan().steps, selectedSteps());
  const int depth = at < plan().steps.size() ? plan().steps[at].depth : 0;
  auto put = alder::insertSteps(plan(), pasted->steps, at, depth);
  if (!put) {
    emit message("These steps are in the routine already", true);
    return;
  }
  if (!edit("Paste steps", {std::move(*put)})) return;
  if (!pasted->left.empty()) emit message(QString::fromStdString(pasted->left), true);
}

} // namespace alder::app
