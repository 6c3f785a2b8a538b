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
  case Kind::Portion:
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
  for (const NominalFeature& f : spec.features)
    if (f.portion) visit(f.portion->of, {Kind::Portion, f.name});
  for (const Datum& d : spec.datums)
    all(d.features, {Kind::Datum, d.letter}, visit);
  for (const Requirement& r : spec.requirements)
    all(r.features, {Kind::Requirement, std::to_string(r.balloon)}, visit);
}

namespace {

// What the fields of a step speak of. A field of a new type does not compile before it is said here
// what it speaks of.
template <class OfFeature, class OfRequirement> struct SpokenOf {
  OfFeature feature;
  OfRequirement requirement;

  template <class T> void operator()(const char*, const T& value) { see(value); }
  template <class T> void needed(const char*, const T& value) { see(value); }
  void angle(const char*, double) {}
  template <class... Rest> void named(const char*, const Rest&...) {}

 private:
  void see(FeatureId id) { feature(id, Kind::Step); }
  void see(RequirementId id) { requirement(id); }
  void see(const std::vector<RequirementId>& ids) {
    for (RequirementId id : ids)
      requirement(id);
  }
  void see(const std::vector<RepeatCopy>& copies) {
    for (const RepeatCopy& copy : copies)
      for (const auto& [original, id] : copy.features)
        feature(original, Kind::Original), feature(id, Kind::Copy);
  }
  void see(const std::string&) {}
  void see(bool) {}
  void see(int) {}
  void see(double) {}
  void see(const Vec3&) {}
  void see(const Boxed<std::string>&) {}
  void see(const Boxed<Pattern>&) {}
};
template <class A, class B> SpokenOf(A, B) -> SpokenOf<A, B>;

std::string nameOf(const StepBody& body) {
  return std::visit(
      [](const auto& s) -> std::string {
        if constexpr (requires { s.name; }) return s.name;
        return {};
      },
      body);
}

} // namespace

void visitFeatures(const Steps& steps, const FeatureVisit& visit) {
  const Referrer step{Kind::Step, ""};
  const StepBody* body = nullptr;
  SpokenOf of{[&](FeatureId id, Kind kind) {
                if (kind == Kind::Step)
                  visit(id, step);
                else
                  visit(id, {kind, nameOf(*body)});
              },
              [](RequirementId) {}};
  for (const RoutineStep& s : steps) {
    body = &s.body;
    std::visit([&](const auto& fields_of) { fields_of.fields(fields_of, of); }, s.body);
  }
}

void visitRequirements(const Steps& steps, const std::function<void(RequirementId)>& visit) {
  SpokenOf of{[](FeatureId, Kind) {}, [&](RequirementId id) { visit(id); }};
  for (const RoutineStep& s : steps)
    std::visit([&](const auto& body) { body.fields(body, of); }, s.body);
}

void dropUnasked(Specification& spec, const Specification& known) {
  for (bool again = true; again;) { // a constructed one may have held what it stands on
    again = false;
    std::set<FeatureId> asked;
    visitFeatures(spec, [&](FeatureId id, const Referrer&) { asked.insert(id); });
    for (const NominalFeature& f : spec.features)
      if (!asked.count(f.id) && !f.portion && !known.features.holds(f.id)) {
        spec.features.erase(FeatureId(f.id));
        again = true;
        break;
      }
  }
}

namespace {

struct TakesOut {
  const std::set<FeatureId>& features;
  const std::set<RequirementId>& requirements;

  void operator()(const char*, std::vector<RequirementId>& ids) const {
    std::erase_if(ids, [&](RequirementId id) { return requirements.count(id) > 0; });
  }
  void operator()(const char*, std::vector<RepeatCopy>& copies) const {
    for (RepeatCopy& copy : copies)
      std::erase_if(copy.features, [&](const auto& pair) {
        return features.count(pair.first) > 0 || features.count(pair.second) > 0;
      });
  }
  template <class Other> void operator()(const char*, const Other&) const {}
  template <class Value> void needed(const char* name, Value& value) const { (*this)(name, value); }
  void angle(const char*, double) const {}
  template <class... Rest> void named(const char*, const Rest&...) const {}
};

} // namespace

Steps withoutGone(const Steps& steps, const std::set<FeatureId>& features,
                  const std::set<RequirementId>& requirements) {
  const TakesOut out{features, requirements};
  Steps kept;
  for (std::size_t i = 0; i < steps.size();) {
    if (features.count(measuredIn(steps[i].body)) > 0) {
      i = endOf(steps, i); // with all within it
      continue;
    }
    kept.push_back(steps[i++]);
    std::visit([&](auto& body) { body.fields(body, out); }, kept.back().body);
  }
  return kept;
}

bool isGeneral(const StepBody& body) {
  const bool means_the_same = std::visit(
      [](const auto& s) {
        if constexpr (requires { s.inTemplates(); }) return s.inTemplates();
        return s.kTraits.in_templates;
      },
      body);
  bool speaks = false;
  SpokenOf of{[&](FeatureId, Kind) { speaks = true; }, [&](RequirementId) { speaks = true; }};
  std::visit([&](const auto& s) { s.fields(s, of); }, body);
  return means_the_same && !speaks;
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
  for (const Setup& s : plan.setups) {
    if (s.id == plan.setup) continue;
    visitFeatures(s.steps, visit);
    all(s.alignment, {Kind::PartFrame, ""}, visit);
  }
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
  const auto asked = [&](RequirementId id) {
    if (done && !plan.spec.requirements.holds(id))
      done = fail("A step asks for a requirement that is not there.");
  };
  visitRequirements(plan.steps, asked);
  for (const Setup& s : plan.setups)
    if (s.id != plan.setup) visitRequirements(s.steps, asked);
  return done;
}

} // namespace alder
