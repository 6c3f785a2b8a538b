#include "plan/feature_edit.h"

#include "plan/derived_feature.h"
#include <algorithm>

namespace alder {
namespace {

template <class Work> void forEachReference(Plan& plan, const Work& work) {
  const auto all = [&](std::vector<FeatureId>& ids) {
    std::for_each(ids.begin(), ids.end(), work);
  };
  for (Feature& f : plan.features)
    work(f.id);
  for (NominalFeature& f : plan.spec.features) {
    work(f.id);
    if (f.from) all(f.from->of);
  }
  for (Datum& d : plan.spec.datums)
    all(d.features);
  for (Requirement& r : plan.spec.requirements)
    all(r.features);
  for (RoutineStep& s : plan.steps) {
    if (auto* m = std::get_if<MeasureStep>(&s.body)) work(m->feature);
    if (auto* m = std::get_if<MoveStep>(&s.body)) work(m->feature);
    if (auto* derive = std::get_if<DeriveStep>(&s.body)) work(derive->feature);
    if (auto* repeat = std::get_if<RepeatStep>(&s.body))
      for (RepeatCopy& copy : repeat->copies)
        for (auto& [original, id] : copy.features)
          work(original), work(id);
  }
  all(plan.alignment);
  for (PartFrame& frame : plan.frames)
    for (FrameStage& stage : frame.stages)
      all(stage.features);
}

bool holds(const std::vector<FeatureId>& ids, FeatureId id) {
  return std::find(ids.begin(), ids.end(), id) != ids.end();
}

Done mayGo(const Plan& plan, FeatureId id) {
  const std::string& gone = plan.nominal(id).name;
  for (const NominalFeature& f : plan.spec.features)
    if (f.from && holds(f.from->of, id))
      return fail("{} is derived from {}; remove it first.", f.name, gone);
  for (const Datum& d : plan.spec.datums)
    if (holds(d.features, id)) return fail("{} is datum {}; it cannot go.", gone, d.letter);
  for (const Requirement& r : plan.spec.requirements)
    if (holds(r.features, id))
      return fail("Requirement {} speaks of {}; remove it first.", r.balloon, gone);
  for (const RoutineStep& s : plan.steps) {
    const auto* measure = std::get_if<MeasureStep>(&s.body);
    const auto* move = std::get_if<MoveStep>(&s.body);
    const auto* derive = std::get_if<DeriveStep>(&s.body);
    if ((measure && measure->feature == id) ||
        (move && move->from == CountFrom::Feature && move->feature == id) ||
        (derive && derive->feature == id))
      return fail("A step speaks of {}; remove it first.", gone);
    if (const auto* repeat = std::get_if<RepeatStep>(&s.body))
      for (const RepeatCopy& copy : repeat->copies)
        for (const auto& pair : copy.features)
          if (pair.second == id)
            return fail("{} is a copy in {}; leave the copy out instead.", gone, repeat->name);
  }
  for (const PartFrame& frame : plan.frames)
    for (const FrameStage& stage : frame.stages)
      if (holds(stage.features, id))
        return fail("Frame {} speaks of {}; change it first.", frame.name, gone);
  if (holds(plan.alignment, id)) return fail("{} is of the part frame; it cannot go.", gone);
  return {};
}

} // namespace

std::string freeFeatureName(const Specification& spec, std::string wanted) {
  const auto taken = [&](const std::string& name) {
    return std::any_of(spec.features.begin(), spec.features.end(),
                       [&](const NominalFeature& f) { return f.name == name; });
  };
  if (const auto dot = wanted.rfind(" · ");
      dot != std::string::npos &&
      wanted.find_first_not_of("0123456789", dot + 4) == std::string::npos)
    wanted.resize(dot);
  if (!taken(wanted) && wanted.find_first_of("0123456789") != std::string::npos) return wanted;
  int number = 1;
  while (taken(wanted + " · " + std::to_string(number)))
    ++number;
  return wanted + " · " + std::to_string(number);
}

Result<RemoveFeature> addFeature(Plan& plan, const AddFeature& e) {
  const int at = e.nominal.id.value;
  const bool derived = e.nominal.isDerived();
  if (!derived && e.nominal.faces.empty()) return fail("A feature of the part needs a face.");
  const int touched = static_cast<int>(touchedCount(plan)),
            count = static_cast<int>(plan.spec.features.size());
  if (at < (derived ? touched : 0) || at > (derived ? count : touched))
    return fail("The feature cannot be put in this place.");
  for (const NominalFeature& f : plan.spec.features)
    if (!derived && f.faces == e.nominal.faces && f.ideal.type == e.nominal.ideal.type)
      return fail("{} is in this routine already.", f.name);
  forEachReference(plan, [&](FeatureId& id) { id.value += id.value >= at ? 1 : 0; });
  plan.spec.features.insert(plan.spec.features.begin() + at, e.nominal);
  plan.features.insert(plan.features.begin() + at, e.feature);
  plan.features[static_cast<std::size_t>(at)].id = e.nominal.id;
  return RemoveFeature{e.nominal.id};
}

Result<AddFeature> removeFeature(Plan& plan, const RemoveFeature& e) {
  const int at = e.feature.value;
  if (at < 0 || at >= static_cast<int>(plan.spec.features.size()))
    return fail("The feature is not in this routine.");
  if (auto may = mayGo(plan, e.feature); !may) return pass(may.error());
  AddFeature inverse{plan.nominal(e.feature), plan.feature(e.feature)};
  plan.spec.features.erase(plan.spec.features.begin() + at);
  plan.features.erase(plan.features.begin() + at);
  forEachReference(plan, [&](FeatureId& id) { id.value -= id.value > at ? 1 : 0; });
  return inverse;
}

} // namespace alder
