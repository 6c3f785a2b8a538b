// What is constructed, demanded, named and touched on a selection.
#include "document/document.h"
#include "route/new_feature.h"

#include "plan/access_along.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/numbering.h"
#include "plan/steps/step_edit.h"
#include "plan/touches/contour.h"
#include "requirement/datum_targets.h"
#include "requirement/likely.h"
#include <algorithm>

namespace alder::app {

bool Document::construct(const Construction& construction) {
  auto spec = withConstructed(plan(), construction);
  if (!spec) {
    emit message(QString::fromStdString(spec.error().message), true);
    return false;
  }
  const NominalFeature& added = spec->features.back();
  const FeatureId id = added.id;
  const QString what = "Construct " + QString::fromStdString(added.name);
  if (!edit(what, {SetSpecification{std::move(*spec)}})) return false;
  selectFeatures({id});
  return true;
}

void Document::require(Requirement requirement) {
  Specification spec = withRequirement(plan().spec, std::move(requirement));
  const RequirementId id = spec.requirements.back().id;
  const QString what = QString("Add requirement %1").arg(spec.requirements.back().balloon);
  if (edit(what, {SetSpecification{std::move(spec)}})) selectRequirement(id);
}

void Document::renumberBefore(RequirementId before) {
  if (open_ && selection_.requirement)
    renumber(movedBefore(plan().spec, selection_.requirements, before));
}

void Document::shiftNumbers(int by) {
  if (open_ && selection_.requirement) renumber(shifted(plan().spec, selection_.requirements, by));
}

void Document::renumber(Specification spec) {
  if (spec == plan().spec) return;
  const std::size_t count = selection_.requirements.size();
  edit(count == 1 ? QString("Number requirement anew")
                  : QString("Number %1 requirements anew").arg(count),
       {SetSpecification{std::move(spec)}});
}

void Document::addValue() {
  if (!open_) return;
  Requirement r;
  r.kind = Characteristic::Value;
  r.unit = "mm";
  r.lower = -0.1, r.upper = 0.1, r.tolerance = 0.2;
  require(std::move(r));
}

void Document::constructLikeliest() {
  if (!open_) return;
  const auto proposals = proposeConstructions(plan(), selection_.features);
  if (proposals.empty())
    emit message("Nothing can be constructed from this; select features, several with Ctrl", true);
  else
    construct(proposals.front().construction);
}

void Document::setDatum(const std::vector<FeatureId>& features, const std::string& letter) {
  const bool good = letter.size() <= 2 && std::all_of(letter.begin(), letter.end(),
                                                      [](char c) { return c >= 'A' && c <= 'Z'; });
  if (!good) {
    emit message("A datum is named by one or two capital letters", true);
    return;
  }
  Specification spec = plan().spec;
  std::vector<DatumTarget> targets; // stay with the features
  for (const Datum& d : spec.datums)
    if (d.features == features) targets = d.targets;
  std::erase_if(spec.datums,
                [&](const Datum& d) { return d.features == features || d.letter == letter; });
  if (!letter.empty()) spec.datums.push_back({letter, features, std::move(targets)});
  const QString what = letter.empty() ? QString("Take the datum away")
                                      : "Make it datum " + QString::fromStdString(letter);
  edit(what, {SetSpecification{std::move(spec)}});
}

void Document::setTargets(const std::string& letter, const std::string& text) {
  auto targets = targetsFromText(text);
  if (!targets) {
    emit message(QString::fromStdString(targets.error().message), true);
    return;
  }
  const Datum* datum = plan().spec.datum(letter);
  if (!datum) return;
  std::vector<Edit> edits;
  std::vector<std::size_t> touched(targets->size(), 0);
  for (FeatureId id : datum->features) {
    const Feature& f = plan().feature(id);
    const NominalFeature& n = plan().nominal(id);
    if (n.isConstructed()) continue;
    const double ball = f.access.valid() ? plan().tip(f.access).edgeRoom() : 1.5;
    for (std::size_t t = 0; t < targets->size(); ++t)
      touched[t] += touchesAt(*plan().part, n, (*targets)[t], ball, 0).size();
    edits.push_back(SetRecipe{
        id, f.recipe, withTargets(*plan().part, n, f.touches, ball, datum->targets, *targets),
        f.why_not});
  }
  for (std::size_t t = 0; t < touched.size(); ++t)
    if (touched[t] == 0) {
      emit message(
          QString("Datum target %1%2 lies on no material of the datum, or too near an edge")
              .arg(QString::fromStdString(letter))
              .arg(t + 1),
          true);
      return;
    }
  Specification spec = plan().spec;
  for (Datum& d : spec.datums)
    if (d.letter == letter) d.targets = *targets;
  edits.insert(edits.begin(), SetSpecification{std::move(spec)});
  edit("Change the targets of datum " + QString::fromStdString(letter), std::move(edits));
}

void Document::enterBy(HopMode mode) {
  std::vector<Edit> edits;
  for (FeatureId id : selection_.features)
    if (!plan().nominal(id).isConstructed()) edits.push_back(SetHop{id, mode, {}});
  if (edits.empty())
    emit message("Select the features whose way in is to change", true);
  else
    edit("Change how it is entered", std::move(edits));
}

void Document::enterThrough(std::optional<ShellSide> side) {
  std::vector<Edit> edits;
  for (FeatureId id : selection_.features)
    if (!plan().nominal(id).isConstructed()) edits.push_back(SetThrough{id, side});
  edit("Change the side it is entered by", std::move(edits));
}

void Document::measureFaces() {
  if (!open_ || selection_.faces.empty()) {
    emit message("Click a face of the part that is not measured yet, several with Ctrl", true);
    return;
  }
  measureFacesThen(selection_.faces, {});
}

void Document::requireOfFaces(const Requirement& requirement) {
  measureFacesThen(selection_.faces, [this, requirement](const std::vector<FeatureId>& features) {
    Requirement r = requirement;
    r.features = features;
    require(std::move(r));
  });
}

void Document::datumOfFaces() {
  measureFacesThen(selection_.faces, [this](const std::vector<FeatureId>& features) {
    setDatum(features, freeDatumLetter(plan().spec));
  });
}

void Document::pickLargestFace() {
  if (!open_) return;
  const Face* largest = nullptr;
  for (const Face& f : plan().part->faces)
    if (f.ideal.type == SurfaceType::Plane && plan().part->takes(f.id) &&
        (!largest || f.area > largest->area))
      largest = &f;
  if (!largest && !plan().part->surfaces.empty())
    largest = &plan().part->face(plan().part->surfaces.front().faces.front());
  if (!largest) return;
  for (const NominalFeature& f : plan().spec.features)
    if (std::find(f.faces.begin(), f.faces.end(), largest->id) != f.faces.end())
      return selectFeatures({f.id});
  selectFaces({largest->id});
}

void Document::addFirstRequirements() {
  if (!open_) return;
  std::vector<FaceId> faces;
  const Surface* largest = nullptr;
  double most = 0;
  for (const Surface& s : plan().part->surfaces) {
    double area = 0;
    for (FaceId id : s.faces)
      area += plan().part->face(id).area;
    if (s.ideal.type == SurfaceType::Plane && area > most) most = area, largest = &s;
    const bool whole = s.ideal.type == SurfaceType::Cylinder &&
                       area > 0.7 * kPi * s.ideal.diameter * s.ideal.length;
    if (whole) faces.insert(faces.end(), s.faces.begin(), s.faces.end());
  }
  if (largest) faces.insert(faces.end(), largest->faces.begin(), largest->faces.end());
  if (faces.empty()) {
    emit message("The part has no bores, bosses or planes; pick a face and add what is asked",
                 true);
    return;
  }
  measureFacesThen(faces, [this](const std::vector<FeatureId>& features) {
    Specification spec = plan().spec;
    for (FeatureId id : features) {
      Requirement r = likelyRequirements(spec.feature(id).ideal, {}).front().requirement;
      r.features = {id};
      spec = withRequirement(spec, std::move(r));
    }
    clearSelection();
    edit("Add first requirements", {SetSpecification{std::move(spec)}});
  });
}

void Document::measureFacesThen(const std::vector<FaceId>& wanted,
                                std::function<void(const std::vector<FeatureId>&)> then,
                                std::function<void(const std::string&)> failed) {
  const auto copy = std::make_shared<const Plan>(plan());
  jobs_.start(
      "Looking for a way to it",
      [=, this, faces = wanted](const Progress& progress) -> JobRunner::Apply {
        auto found = std::make_shared<Result<NewFeatures>>(
            planNewFeatures(*copy, obstaclesOf(*copy), faces, progress));
        if (progress.cancelled()) return [] {};
        return [=, this] {
          if (!*found) {
            emit message(QString::fromStdString(found->error().message), true);
            startRouting();
            if (failed) failed(found->error().message);
            return;
          }
          QString names;
          for (const Edit& e : (*found)->edits)
            if (const auto* add = e.as<AddFeature>())
              names += (names.isEmpty() ? "" : ", ") + QString::fromStdString(add->nominal.name);
          if (!edit("Measure " + names, (*found)->edits)) return startRouting();
          if (!failed) selectFeatures((*found)->features);
          const Feature& first = plan().feature((*found)->features.front());
          emit message(first.covered() ? names + " is measured where it costs least time"
                                       : names + ": " + QString::fromStdString(first.why_not),
                       !first.covered());
          if (then) then((*found)->features);
        };
      });
}

void Document::stopMeasuring(FeatureId feature) {
  const QString what = QString::fromStdString(plan().nominal(feature).name);
  std::vector<Edit> edits;
  if (auto step = alder::removeSteps(plan(), {stepOf(plan().steps, feature)}))
    edits.push_back(std::move(*step));
  edits.push_back(RemoveFeature{feature});
  if (edit("No longer measure " + what, std::move(edits)) && !project_.runs.empty())
    emit message(what + " is no longer measured; its points in the parts measured so far stay in "
                        "the file and are not judged",
                 false);
}

void Document::contourEnd(bool begins) {
  if (!selection_.picked || selection_.features.empty()) {
    emit message("Click the place on the part where the scan is to " +
                     QString(begins ? "begin" : "end"),
                 true);
    return;
  }
  const Feature& f = plan().feature(selection_.features.back());
  Recipe recipe = f.recipe;
  (begins ? recipe.contour.from : recipe.contour.to) = *selection_.picked;
  if (!isContour(recipe.stroke)) {
    emit message("Only a contour has ends; let it be scanned by one first", true);
    return;
  }
  edit(begins ? "Begin the scan elsewhere" : "End the scan elsewhere",
       {SetRecipe{f.id, recipe, {}, {}}});
}

void Document::addTouchWherePicked() {
  if (!selection_.picked || selection_.features.empty()) {
    emit message("Click the place on the part where the touch is to be", true);
    return;
  }
  const Feature& f = plan().feature(selection_.features.back());
  const double ball = f.access.valid() ? plan().tip(f.access).edgeRoom() : 1.5;
  auto touch =
      touchAtPlace(*plan().part, plan().nominal(f.id), f.touches, *selection_.picked, ball);
  if (!touch) {
    emit message(QString::fromStdString(touch.error().message), true);
    return;
  }
  // Behind the touch next to it, so that the way stays short.
  std::vector<Touch> touches = f.touches;
  const auto next =
      std::min_element(touches.begin(), touches.end(), [&](const Touch& a, const Touch& b) {
        return (a.point - touch->point).norm() < (b.point - touch->point).norm();
      });
  touches.insert(next == touches.end() ? next : next + 1, *touch);
  edit("Add a touch", {SetRecipe{f.id, f.recipe, std::move(touches), f.why_not}});
}

void Document::moveTouchWherePicked() {
  if (!selection_.picked || selection_.features.empty()) {
    emit message("Click the place on the part where the touch is to go", true);
    return;
  }
  const Feature& f = plan().feature(selection_.features.back());
  if (f.touches.empty()) return;
  std::vector<Touch> touches = f.touches;
  const auto next = std::min_element(touches.begin(), touches.end(), [&](auto& a, auto& b) {
    return (a.point - *selection_.picked).norm() < (b.point - *selection_.picked).norm();
  });
  std::vector<Touch> others = touches;
  others.erase(others.begin() + (next - touches.begin()));
  const double ball = f.access.valid() ? plan().tip(f.access).edgeRoom() : 1.5;
  auto moved = touchAtPlace(*plan().part, plan().nominal(f.id), others, *selection_.picked, ball);
  if (!moved) {
    emit message(QString::fromStdString(moved.error().message), true);
    return;
  }
  moved->row = next->row;
  *next = *moved;
  edit("Move a touch", {SetRecipe{f.id, f.recipe, touches, f.why_not}});
}

void Document::pointAlongLast() {
  if (selection_.features.empty()) {
    emit message("Select the features, and last the face or axis that gives the direction", true);
    return;
  }
  const FeatureId last = selection_.features.back();
  const auto shape = nominalShape(plan(), last).ideal;
  Vec3 along = turn(plan().placement, shape.direction);
  const bool face = shape.type == SurfaceType::Plane;
  // Along an axis the head comes from above; from a face it comes from outside.
  if (!face && along.z() < 0) along = -along;
  std::vector<Edit> edits;
  for (FeatureId id : selection_.features) {
    if ((selection_.features.size() > 1 && id == last) || plan().nominal(id).isConstructed())
      continue;
    const Access& now = plan().feature(id).access;
    const int stylus = now.valid() ? now.stylus : 0, tip = now.valid() ? now.tip : 0;
    edits.push_back(SetAccess{id, accessAlong(plan().bench, stylus, tip, along), true});
  }
  edit("Point the stylus along " + QString::fromStdString(plan().nominal(last).name),
       std::move(edits));
}

void Document::removeTouchWherePicked() {
  if (!selection_.picked || selection_.features.empty()) {
    emit message("Click the touch on the part that is to go", true);
    return;
  }
  const Feature& f = plan().feature(selection_.features.back());
  std::vector<Touch> touches = f.touches;
  const auto next =
      std::min_element(touches.begin(), touches.end(), [&](const Touch& a, const Touch& b) {
        return (a.point - *selection_.picked).norm() < (b.point - *selection_.picked).norm();
      });
  if (next == touches.end()) return;
  touches.erase(next);
  if (!touchesSuffice(plan().nominal(f.id).ideal, touches)) {
    emit message(QString("%1 would have too few touches to be judged")
                     .arg(QString::fromStdString(plan().nominal(f.id).name)),
                 true);
    return;
  }
  edit("Remove a touch", {SetRecipe{f.id, f.recipe, std::move(touches), f.why_not}});
}

void Document::removeFeature(FeatureId feature) {
  const auto name = QString::fromStdString(plan().nominal(feature).name);
  edit("Remove " + name, {RemoveFeature{feature}});
}

void Document::removeRequirements() {
  Specification spec = plan().spec;
  auto gone = selection_.requirements;
  std::sort(gone.begin(), gone.end());
  for (auto id = gone.rbegin(); id != gone.rend(); ++id) { // later ones do not move earlier ones
    auto rest = withoutRequirement(spec, *id);
    if (!rest) {
      emit message(QString::fromStdString(rest.error().message), true);
      return;
    }
    spec = std::move(*rest);
  }
  if (gone.empty()) return;
  clearSelection();
  const QString what = gone.size() == 1 ? "Remove requirement" : "Remove requirements";
  edit(what, {SetSpecification{std::move(spec)}});
}

} // namespace alder::app
