#include "plan/references.h"

namespace alder {
namespace {

using Kind = Referrer::Kind;

void all(const std::vector<FeatureId>& ids, const Referrer& by, const FeatureVisit& visit) {
  for (FeatureId id : ids)
    visit(id, by);
}

} // namespace

std::string words(const Referrer& by) {
  switch (by.kind) {
  case Kind::Construction:
    return by.name;
  case Kind::Datum:
    return "Datum " + by.name;
  case Kind::Requirement:
    return "Requirement " + by.name;
  case Kind::Step:
    return "A step";
  case Kind::Original:
  case Kind::Copy:
    return "Repeat " + by.name;
  case Kind::NamedFrame:
    return "Frame " + by.name;
  case Kind::PartFrame:
    return "The part frame";
  }
  return {};
}

void visitFeatures(const Specification& spec, const FeatureVisit& visit) {
  for (const NominalFeature& f : spec.features)
    if (f.from) all(f.from->of, {Kind::Construction, f.name}, visit);
  for (const Datum& d : spec.datums)
    all(d.features, {Kind::Datum, d.letter}, visit);
  for (const Requirement& r : spec.requirements)
    all(r.features, {Kind::Requirement, std::to_string(r.balloon)}, visit);
}

void visitFeatures(const Steps& steps, const FeatureVisit& visit) {
  const Referrer step{Kind::Step, ""};
  for (const RoutineStep& s : steps) {
    if (const auto* m = std::get_if<MeasureStep>(&s.body)) visit(m->feature, step);
    if (const auto* m = std::get_if<MoveStep>(&s.body); m && m->from == CountFrom::Feature)
      visit(m->feature, step);
    if (const auto* d = std::get_if<ConstructStep>(&s.body)) visit(d->feature, step);
    if (const auto* repeat = std::get_if<RepeatStep>(&s.body))
      for (const RepeatCopy& copy : repeat->copies)
        for (const auto& [original, id] : copy.features) {
          visit(original, {Kind::Original, repeat->name});
          visit(id, {Kind::Copy, repeat->name});
        }
  }
}

void visitRequirements(const Steps& steps, const std::function<void(RequirementId)>& visit) {
  for (const RoutineStep& s : steps) {
    if (const auto* evaluate = std::get_if<EvaluateStep>(&s.body))
      for (RequirementId id : evaluate->requirements)
        visit(id);
    if (const auto* branch = std::get_if<BranchStep>(&s.body)) visit(branch->requirement);
  }
}

void visitFeatures(const std::vector<PartFrame>& frames, const FeatureVisit& visit) {
  for (const PartFrame& frame : frames)
    for (const FrameStage& stage : frame.stages)
      all(stage.features, {Kind::NamedFrame, frame.name}, visit);
}

void visitFeatures(const Plan& plan, const FeatureVisit& visit) {
  visitFeatures(plan.spec, visit);
  visitFeatures(plan.steps, visit);
  visitFeatures(plan.frames, visit);
  all(plan.alignment, {Kind::PartFrame, ""}, visit);
}

namespace {

Done allThere(const auto& whole, const Table<NominalFeature>& features) {
  Done done;
  visitFeatures(whole, [&](FeatureId id, const Referrer& by) {
    if (done && !features.holds(id))
      done = fail("{} speaks of a feature that is not there.", words(by));
  });
  return done;
}

} // namespace

Done allThere(const Specification& spec) {
  return allThere(spec, spec.features);
}

Done allThere(const Plan& plan) {
  Done done = allThere(plan, plan.spec.features);
  visitRequirements(plan.steps, [&](RequirementId id) {
    if (done && !plan.spec.requirements.holds(id))
      done = fail("A step asks for a requirement that is not there.");
  });
  return done;
}

} // namespace alder
