#include "plan/repeats/repeat.h"

#include "plan/access_along.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/feature_edit.h"
#include "plan/repeats/copy_finder.h"
#include "plan/steps/kinds/on_copy.h"
#include "plan/steps/step_edit.h"
#include "requirement/datum_targets.h"
#include "requirement/from_pmi.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

constexpr double kOffSurface = 0.02; // mm, that a moved touch may lie off the surface of its copy

// The body as a copy does it: nothing where it measures what the copy has no like of.
std::optional<StepBody> bodyOfCopy(const OnCopy& on, const StepBody& body) {
  return std::visit(
      [&](const auto& step) {
        auto copy = onCopy(on, step);
        return copy ? std::optional<StepBody>(std::move(*copy)) : std::nullopt;
      },
      body);
}

bool sameTouches(const std::vector<Touch>& a, const std::vector<Touch>& b) {
  constexpr double kSameTouch = 1e-6; // mm; a file keeps more than that
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Touch& s, const Touch& t) {
    return s.face == t.face && s.row == t.row && (s.point - t.point).norm() < kSameTouch &&
           (s.normal - t.normal).norm() < kSameTouch;
  });
}

bool sameHop(const Feature& a, const Feature& b) {
  return a.entry == b.entry &&
         std::equal(a.waypoints.begin(), a.waypoints.end(), b.waypoints.begin(), b.waypoints.end(),
                    [](const Vec3& p, const Vec3& q) { return (p - q).norm() < 1e-6; });
}

bool sameRecipe(const Feature& a, const Feature& b) {
  return differences(a.recipe, b.recipe).empty() && a.recipe.name == b.recipe.name &&
         sameTouches(a.touches, b.touches) && a.why_not == b.why_not;
}

bool sameAccess(const Feature& a, const Feature& b) {
  return a.access.stylus == b.access.stylus && a.access.tip == b.access.tip &&
         std::abs(a.access.a - b.access.a) < 1e-9 && std::abs(a.access.b - b.access.b) < 1e-9 &&
         a.access_forced == b.access_forced;
}

// What makes the feature as wanted, where it differs.
void addChanges(const Feature& now, const Feature& wanted, std::vector<Edit>& edits) {
  if (!sameRecipe(now, wanted))
    edits.push_back(SetRecipe{now.id, wanted.recipe, wanted.touches, wanted.why_not});
  if (!sameAccess(now, wanted))
    edits.push_back(SetAccess{now.id, wanted.access, wanted.access_forced});
  if (!sameHop(now, wanted)) edits.push_back(SetHop{now.id, wanted.entry, wanted.waypoints});
  if (now.through != wanted.through) edits.push_back(SetThrough{now.id, wanted.through});
}

bool isAs(const Feature& now, const Feature& wanted) {
  return sameRecipe(now, wanted) && sameAccess(now, wanted) && sameHop(now, wanted) &&
         now.through == wanted.through;
}

// What the feature has at another place, whatever the part is like there; faces are left open.
Feature movedTo(const Plan& plan, FeatureId original, const Motion& motion, FeatureId copy) {
  Feature f = plan.feature(original);
  f.id = copy;
  f.pinned = plan.feature(copy).pinned;
  for (Touch& t : f.touches) {
    t.point = motion.place(t.point);
    t.normal = motion.direction(t.normal);
  }
  for (Vec3* end : {&f.recipe.contour.from, &f.recipe.contour.to})
    if (isContour(f.recipe.stroke)) *end = motion.place(*end);
  for (Vec3& p : f.waypoints)
    p = motion.place(p);
  if (!motion.turns()) return f;
  f.through.reset();
  if (!f.access.valid()) return f;
  const Vec3 shank = shankDirection(plan.tip(f.access), f.access.a, f.access.b);
  const Vec3 there = turn(plan.placement, motion.direction(turn(plan.placement.inverse(), shank)));
  if ((there - shank).norm() > 1e-6)
    f.access = accessAlong(plan.bench, f.access.stylus, f.access.tip, there);
  return f;
}

// Has the copy what follows from its original?
bool follows(const Plan& plan, FeatureId original, const Motion& motion, FeatureId copy) {
  // Mostly the touches have simply moved; only where they have not is the part asked.
  Feature moved = movedTo(plan, original, motion, copy);
  const Feature& now = plan.feature(copy);
  for (std::size_t i = 0; i < std::min(moved.touches.size(), now.touches.size()); ++i)
    moved.touches[i].face = now.touches[i].face;
  return isAs(now, moved) || isAs(now, copyOf(plan, original, motion, copy));
}

bool holds(const std::vector<FeatureId>& ids, FeatureId id) {
  return std::find(ids.begin(), ids.end(), id) != ids.end();
}

bool sameDemand(Requirement a, const Requirement& b) {
  a.id = b.id, a.balloon = b.balloon, a.entity = b.entity, a.upper_segment = b.upper_segment;
  return a == b;
}

// Brings the copies after an edit in line with their originals, on a plan of its own.
class Follower {
 public:
  Follower(const Plan& before, Plan after)
      : before_(before)
      , plan_(std::move(after)) {}

  Result<std::vector<Edit>> edits() {
    std::vector<StepId> repeats;
    for (const RoutineStep& s : plan_.steps)
      if (std::holds_alternative<RepeatStep>(s.body)) repeats.push_back(s.id);
    for (StepId id : repeats)
      if (auto done = findCopies(indexOf(plan_.steps, id)); !done) return pass(done.error());
    for (StepId id : repeats)
      if (auto done = follow(indexOf(plan_.steps, id)); !done) return pass(done.error());
    return std::move(edits_);
  }

 private:
  Done apply(Edit edit) {
    if (auto done = applyEdit(plan_, edit); !done) return pass(done.error());
    edits_.push_back(std::move(edit));
    return {};
  }

  const RepeatStep& repeat(std::size_t index) const {
    return std::get<RepeatStep>(plan_.steps[index].body);
  }
  const RepeatStep* asBefore(StepId id) const {
    const std::size_t i = indexOf(before_.steps, id);
    return i < before_.steps.size() ? std::get_if<RepeatStep>(&before_.steps[i].body) : nullptr;
  }

  // What the copies touch in the place of each original. Where neither pattern nor originals
  // changed, what was found stays.
  Done findCopies(std::size_t index) {
    const auto originals = originalsOf(plan_.steps, index);
    const RepeatStep was = repeat(index);
    const RepeatStep* before = asBefore(plan_.steps[index].id);
    const bool same_places =
        before && before->pattern == was.pattern && before->copies.size() == was.copies.size();
    const auto motions = motionsOf(was.pattern);
    std::vector<RepeatCopy> copies(motions.size());
    std::vector<FeatureId> taken = originals;
    for (std::size_t k = 0; k < motions.size(); ++k) {
      if (k < was.copies.size()) copies[k].skipped = was.copies[k].skipped;
      for (FeatureId original : originals) {
        FeatureId id = same_places ? was.copies[k].of(original) : FeatureId{};
        if (!id.valid() && !(same_places && knownBefore(*before, original))) {
          auto found = findOne(index, original, motions[k], taken);
          if (!found) return pass(found.error());
          id = *found;
        }
        if (!id.valid() || holds(taken, id)) continue;
        taken.push_back(id);
        copies[k].features.emplace_back(original, id);
      }
      std::sort(copies[k].features.begin(), copies[k].features.end());
    }
    if (copies == was.copies) return {};
    return put(index, std::move(copies), taken);
  }

  // Was it one of the originals already? Then what had no like still has none.
  bool knownBefore(const RepeatStep& before, FeatureId original) const {
    for (std::size_t i = 0; i < before_.steps.size(); ++i)
      if (std::get_if<RepeatStep>(&before_.steps[i].body) == &before)
        return holds(originalsOf(before_.steps, i), original);
    return false;
  }

  // Not valid: there is none that is free for the repeat at `index`.
  Result<FeatureId> findOne(std::size_t index, FeatureId original, const Motion& motion,
                            const std::vector<FeatureId>& taken) {
    auto found = CopyFinder(plan_).find(original, motion);
    if (found.surface.faces.empty()) return FeatureId{};
    if (found.feature.valid()) {
      const auto place = copyPlaceOf(plan_.steps, found.feature);
      const bool free = !holds(taken, found.feature) && !holds(plan_.alignment, found.feature) &&
                        (!place || place->step == index);
      return free ? found.feature : FeatureId{};
    }
    AddFeature add;
    add.nominal.id = plan_.spec.features.next();
    add.nominal.name = freeFeatureName(plan_.spec, plan_.nominal(original).name);
    add.nominal.ideal = found.surface.ideal;
    add.nominal.faces = found.surface.faces;
    add.nominal.filtering = plan_.nominal(original).filtering;
    add.feature.id = add.nominal.id;
    if (auto done = apply(add); !done) return pass(done.error());
    fresh_.push_back(add.nominal.id);
    return add.nominal.id;
  }

  // The copies of a repeat, whose features no other step measures from now on.
  Done put(std::size_t index, std::vector<RepeatCopy> copies, const std::vector<FeatureId>& taken) {
    const auto originals = originalsOf(plan_.steps, index);
    Steps steps = plan_.steps;
    std::get<RepeatStep>(steps[index].body).copies = std::move(copies);
    for (FeatureId copy : taken) {
      if (holds(originals, copy)) continue;
      const std::size_t own = indexOf(steps, stepOf(steps, copy));
      if (own < steps.size())
        steps.erase(steps.begin() + static_cast<std::ptrdiff_t>(own),
                    steps.begin() + static_cast<std::ptrdiff_t>(endOf(steps, own)));
    }
    auto become = stepsBecome(plan_, std::move(steps));
    return become ? apply(std::move(*become)) : Done{};
  }

  Done follow(std::size_t index) {
    const RepeatStep step = repeat(index);
    const RepeatStep* before = asBefore(plan_.steps[index].id);
    const auto motions = motionsOf(step.pattern);
    const auto motions_before = before ? motionsOf(before->pattern) : std::vector<Motion>{};
    for (std::size_t k = 0; k < step.copies.size(); ++k)
      for (const auto& [original, copy] : step.copies[k].features) {
        // What the edit itself changed on the copy is meant for it alone.
        const auto k_before = placeBefore(before, original, copy);
        const bool followed = k_before && *k_before < motions_before.size() &&
                              isAs(plan_.feature(copy), before_.feature(copy)) &&
                              follows(before_, original, motions_before[*k_before], copy);
        const bool fresh = holds(fresh_, copy) || !k_before;
        if (!fresh && !followed) continue;
        std::vector<Edit> changes;
        addChanges(plan_.feature(copy), copyOf(plan_, original, motions[k], copy), changes);
        for (Edit& e : changes)
          if (auto done = apply(std::move(e)); !done) return done;
      }
    return step.requirements ? followRequirements(step, before) : Done{};
  }

  // Which copy of the original it was before the edit.
  std::optional<std::size_t> placeBefore(const RepeatStep* before, FeatureId original,
                                         FeatureId copy) const {
    if (!before) return {};
    for (std::size_t k = 0; k < before->copies.size(); ++k)
      if (before->copies[k].of(original) == copy) return k;
    return {};
  }

  Done followRequirements(const RepeatStep& step, const RepeatStep* before) {
    Specification spec = plan_.spec;
    const std::size_t count = spec.requirements.size();
    for (std::size_t k = 0; k < step.copies.size(); ++k) {
      if (step.copies[k].skipped) continue;
      std::map<RequirementId, RequirementId> copies; // of upper segments
      for (std::size_t i = 0; i < count; ++i) {
        const Requirement original = spec.requirements[i];
        auto wanted = requirementOfCopy(original, step.copies[k]);
        if (!wanted) continue;
        if (const auto upper = copies.find(original.upper_segment); upper != copies.end())
          wanted->upper_segment = upper->second;
        else if (original.upper_segment.valid())
          continue;
        const Requirement* old = before_.spec.requirements.find(original.id);
        const bool changed = old && before && k < before->copies.size();
        const auto was = changed ? requirementOfCopy(*old, before->copies[k]) : std::nullopt;
        const auto like = [&](const Requirement& r) {
          return sameDemand(r, *wanted) || (was && sameDemand(r, *was));
        };
        auto found = std::find_if(spec.requirements.begin(), spec.requirements.end(), like);
        if (found == spec.requirements.end()) {
          // Another demand of the kind is what the model has there, or what a person made of it.
          if (std::any_of(spec.requirements.begin(), spec.requirements.end(),
                          [&](const Requirement& r) {
                            return r.kind == wanted->kind && r.features == wanted->features;
                          }))
            continue;
          spec = withRequirement(spec, *wanted);
          found = spec.requirements.end() - 1;
        } else {
          wanted->id = found->id, wanted->balloon = found->balloon, wanted->entity = found->entity;
          *found = *wanted;
        }
        copies[original.id] = found->id;
      }
    }
    auto done = applyEdit(plan_, SetSpecification{spec});
    if (done) edits_.push_back(SetSpecification{std::move(spec)});
    return {}; // or nothing changed
  }

  const Plan& before_;
  Plan plan_;
  std::vector<Edit> edits_;
  std::vector<FeatureId> fresh_; // taken into the routine as copies
};

bool hasRepeats(const Steps& steps) {
  return std::any_of(steps.begin(), steps.end(), [](const RoutineStep& s) {
    return std::holds_alternative<RepeatStep>(s.body);
  });
}

} // namespace

std::vector<FeatureId> originalsOf(const Steps& steps, std::size_t repeat) {
  std::vector<FeatureId> originals;
  for (std::size_t i = repeat + 1, end = endOf(steps, repeat); i < end; ++i)
    if (const FeatureId id = measuredIn(steps[i].body); id.valid()) originals.push_back(id);
  return originals;
}

std::optional<CopyPlace> copyPlaceOf(const Steps& steps, FeatureId feature) {
  for (std::size_t i = 0; i < steps.size(); ++i)
    if (const auto* repeat = std::get_if<RepeatStep>(&steps[i].body))
      for (std::size_t k = 0; k < repeat->copies.size(); ++k)
        for (const auto& [original, copy] : repeat->copies[k].features)
          if (copy == feature) return CopyPlace{i, k, original};
  return {};
}

StepsDone stepsDone(const Plan& plan) {
  StepsDone done;
  done.steps.reserve(plan.steps.size());
  int next = freeId(plan.steps).value;
  const Steps& steps = plan.steps;
  const auto add = [&](const RoutineStep& s, StepId origin) {
    done.steps.push_back(s);
    done.origin.push_back(origin);
  };
  for (std::size_t i = 0; i < steps.size();) {
    add(steps[i], steps[i].id);
    const auto* repeat = std::get_if<RepeatStep>(&steps[i].body);
    if (!repeat || !steps[i].enabled) {
      ++i;
      continue;
    }
    const std::size_t end = endOf(steps, i);
    for (std::size_t j = i + 1; j < end; ++j)
      add(steps[j], steps[j].id);
    const auto motions = motionsOf(repeat->pattern);
    for (std::size_t k = 0; k < std::min(motions.size(), repeat->copies.size()); ++k) {
      if (repeat->copies[k].skipped) continue;
      for (std::size_t j = i + 1; j < end;) {
        auto body = bodyOfCopy({plan, repeat->copies[k], motions[k]}, steps[j].body);
        if (!body) {
          j = endOf(steps, j);
          continue;
        }
        RoutineStep copy = steps[j++];
        copy.id = StepId{next++};
        copy.body = std::move(*body);
        add(copy, steps[i].id);
      }
    }
    i = end;
  }
  return done;
}

Feature copyOf(const Plan& plan, FeatureId original, const Motion& motion, FeatureId copy) {
  Feature f = movedTo(plan, original, motion, copy);
  const NominalFeature& n = plan.nominal(copy);
  const FaceRegion region(*plan.part, n.faces);
  bool all_there = true;
  for (Touch& t : f.touches) {
    const auto s = region.at(t.point, kOffSurface);
    all_there = all_there && s;
    t.face = s ? s->face : n.faces.front();
  }
  if (all_there) return f;
  const double room = f.access.valid() ? plan.tip(f.access).edgeRoom() : 1.5;
  f.touches = planTouches(*plan.part, n, f.recipe, room, {}, targetsOf(plan.spec, copy));
  f.why_not = f.touches.empty() ? "there is no room for the touches of its original" : "";
  return f;
}

bool followsOriginal(const Plan& plan, FeatureId copy) {
  const auto place = copyPlaceOf(plan.steps, copy);
  if (!place) return false;
  const auto motions = motionsOf(std::get<RepeatStep>(plan.steps[place->step].body).pattern);
  return place->copy < motions.size() && follows(plan, place->original, motions[place->copy], copy);
}

std::vector<Edit> asOriginal(const Plan& plan, FeatureId copy) {
  std::vector<Edit> edits;
  const auto place = copyPlaceOf(plan.steps, copy);
  if (!place) return edits;
  const auto motions = motionsOf(std::get<RepeatStep>(plan.steps[place->step].body).pattern);
  if (place->copy < motions.size())
    addChanges(plan.feature(copy), copyOf(plan, place->original, motions[place->copy], copy),
               edits);
  return edits;
}

std::string whyNoCopy(const Plan& plan, std::size_t index, std::size_t copy, FeatureId original) {
  const auto& repeat = std::get<RepeatStep>(plan.steps[index].body);
  const auto motions = motionsOf(repeat.pattern);
  if (copy >= motions.size() || copy >= repeat.copies.size()) return "there is no such copy";
  if (repeat.copies[copy].of(original).valid()) return {};
  const auto found = CopyFinder(plan).find(original, motions[copy]);
  if (!found.why.empty()) return found.why;
  if (!found.feature.valid()) return "it is not in the routine yet";
  const std::string& name = plan.nominal(found.feature).name;
  if (holds(plan.alignment, found.feature)) return name + " is of the part frame";
  return name + " is measured by this or another repeat already";
}

Result<EditGroup> withCopies(const Plan& plan, EditGroup group) {
  const bool any = hasRepeats(plan.steps) ||
                   std::any_of(group.edits.begin(), group.edits.end(), [](const Edit& e) {
                     const auto* splice = e.as<SpliceSteps>();
                     return splice && hasRepeats(splice->insert);
                   });
  if (!any) return group;
  Plan after = plan;
  if (auto done = applyEdits(after, group); !done) return pass(done.error());
  auto more = Follower(plan, std::move(after)).edits();
  if (!more) return pass(more.error());
  group.edits.insert(group.edits.end(), std::make_move_iterator(more->begin()),
                     std::make_move_iterator(more->end()));
  return group;
}

Pattern likelyPattern(const Plan& plan, const std::vector<FeatureId>& features) {
  if (features.empty()) return {};
  const CopyFinder finder(plan);
  // Of several the one that has fewest like it says where they all can be.
  std::vector<Surface> alike;
  FeatureId leader;
  for (FeatureId f : features) {
    auto like = finder.alike(f);
    if (!leader.valid() || (!like.empty() && (alike.empty() || like.size() < alike.size())))
      leader = f, alike = std::move(like);
  }
  const Ideal& original = plan.nominal(leader).ideal;
  Points others;
  for (const Surface& s : alike) {
    // The same end of the axis.
    const bool same = s.ideal.direction.dot(original.direction) > 0;
    const Vec3 at = same ? s.ideal.point : s.ideal.point + s.ideal.length * s.ideal.direction;
    others.push_back(at);
  }
  if (others.empty()) {
    Pattern pattern;
    pattern.step = Vec3(std::max(10.0, 2 * original.diameter), 0, 0);
    return pattern;
  }
  return patternThrough(original.point, original.direction, others);
}

Result<std::pair<Edit, StepId>> repeatSteps(const Plan& plan, const std::vector<StepId>& ids) {
  if (ids.empty()) return fail("Select the steps that are to be repeated.");
  const StepId id = freeId(plan.steps);
  auto grouped = groupSteps(plan, ids, "Repeat");
  if (!grouped) return pass(grouped.error());
  auto splice = *grouped->as<SpliceSteps>();
  for (std::size_t i = 0; i < splice.insert.size(); ++i) {
    if (splice.insert[i].id != id) continue;
    RepeatStep repeat;
    const auto originals = originalsOf(splice.insert, i);
    if (originals.empty()) return fail("Only steps that measure something can be repeated.");
    repeat.name = "Repeat " + plan.nominal(originals.front()).name;
    repeat.pattern = likelyPattern(plan, originals);
    splice.insert[i].body = std::move(repeat);
  }
  return std::pair(Edit(std::move(splice)), id);
}

} // namespace alder
