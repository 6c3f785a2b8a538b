#include "plan/edit.h"

#include "plan/bench_following.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/feature_edit.h"
#include "plan/references.h"
#include "plan/setups/setup_edit.h"
#include "requirement/datum_targets.h"
#include "requirement/limits.h"
#include <algorithm>

namespace alder {
namespace {

bool known(const Plan& plan, FeatureId id) {
  return plan.features.holds(id);
}

bool sameTouches(const std::vector<Touch>& a, const std::vector<Touch>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Touch& x, const Touch& y) {
    return x.point == y.point && x.normal == y.normal && x.face == y.face && x.row == y.row;
  });
}

Result<Edit> apply(Plan& plan, const SetRecipe& e) {
  if (!known(plan, e.feature)) return fail("The feature is not in this routine.");
  if (plan.nominal(e.feature).isConstructed())
    return fail("{} is constructed and has no touches of its own.", plan.nominal(e.feature).name);
  if (auto valid = validate(e.recipe); !valid) return pass(valid.error());
  Feature& f = plan.feature(e.feature);
  if (f.recipe == e.recipe && (!e.touches || sameTouches(f.touches, *e.touches)))
    return nothingChanges();
  SetRecipe inverse{e.feature, f.recipe, f.touches, f.why_not};
  if (e.touches) {
    f.touches = *e.touches;
    f.why_not = e.why_not.value_or("");
  } else {
    const double room = f.access.valid() ? plan.tip(f.access).edgeRoom() : 1.5;
    auto touches = planTouches(*plan.part, plan.nominal(e.feature), e.recipe, room, {},
                               targetsOf(plan.spec, e.feature));
    if (!touchesSuffice(plan.nominal(e.feature).ideal, touches, e.recipe.stroke))
      return isContour(e.recipe.stroke)
                 ? fail("{}: there is no way for this contour; its ends must lie on the surface, "
                        "and the ball "
                        "must keep off the edges.",
                        plan.nominal(e.feature).name)
                 : fail("{}: so few touches do not fix it; ask for more or a smaller edge margin.",
                        plan.nominal(e.feature).name);
    f.touches = std::move(touches);
    f.why_not.clear();
  }
  f.recipe = e.recipe;
  if (auto done = refreshConstructed(plan); !done) { // a ring that a constructed feature stands on
    f.recipe = inverse.recipe;
    f.touches = *inverse.touches;
    f.why_not = *inverse.why_not;
    (void)refreshConstructed(plan);
    return pass(done.error());
  }
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetAccess& e) {
  if (!known(plan, e.feature)) return fail("The feature is not in this routine.");
  const auto& bench = plan.bench;
  if (e.access.valid()) {
    if (static_cast<std::size_t>(e.access.stylus) >= bench.styli.size() || e.access.tip < 0 ||
        static_cast<std::size_t>(e.access.tip) >= bench.styli[e.access.stylus].tips.size())
      return fail("The bench has no such stylus or tip.");
    if (!bench.head.a.holds(e.access.a) || !bench.head.b.holds(e.access.b))
      return fail("The head cannot take these angles.");
  }
  Feature& f = plan.feature(e.feature);
  if (f.access == e.access && f.access_forced == e.forced) return nothingChanges();
  SetAccess inverse{e.feature, f.access, f.access_forced};
  f.access = e.access;
  f.access_forced = e.forced;
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetHop& e) {
  if (!known(plan, e.feature)) return fail("The feature is not in this routine.");
  Feature& f = plan.feature(e.feature);
  if (f.entry == e.entry && (!e.waypoints || *e.waypoints == f.waypoints)) return nothingChanges();
  if (e.waypoints && !std::all_of(e.waypoints->begin(), e.waypoints->end(),
                                  [](const Vec3& p) { return p.allFinite(); }))
    return fail("A waypoint must be three numbers.");
  SetHop inverse{e.feature, f.entry, f.waypoints};
  f.entry = e.entry;
  if (e.waypoints) f.waypoints = *e.waypoints;
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetThrough& e) {
  if (!known(plan, e.feature)) return fail("The feature is not in this routine.");
  Feature& f = plan.feature(e.feature);
  if (f.through == e.side) return nothingChanges();
  SetThrough inverse{e.feature, f.through};
  f.through = e.side;
  return inverse;
}

Result<Edit> apply(Plan& plan, const AddFeature& e) {
  auto back = addFeature(plan, e);
  if (!back) return pass(back.error());
  return *back;
}

Result<Edit> apply(Plan& plan, const RemoveFeature& e) {
  if (!known(plan, e.feature)) return fail("The feature is not in this routine.");
  auto back = removeFeature(plan, e);
  if (!back) return pass(back.error());
  return std::move(*back);
}

Result<Edit> apply(Plan& plan, const SetPinned& e) {
  if (!known(plan, e.feature)) return fail("The feature is not in this routine.");
  Feature& f = plan.feature(e.feature);
  if (f.pinned == e.pinned) return nothingChanges();
  f.pinned = e.pinned;
  return SetPinned{e.feature, !e.pinned};
}

// What stood there before.
Steps spliced(Steps& steps, std::size_t at, std::size_t remove, Steps insert) {
  const auto from = steps.begin() + static_cast<std::ptrdiff_t>(at),
             to = from + static_cast<std::ptrdiff_t>(remove);
  Steps before(std::make_move_iterator(from), std::make_move_iterator(to));
  // As many as fit take the place of those before, so that what follows moves once at most.
  const std::size_t same = std::min(remove, insert.size());
  const auto mid = insert.begin() + static_cast<std::ptrdiff_t>(same);
  std::move(insert.begin(), mid, from);
  const auto behind = from + static_cast<std::ptrdiff_t>(same);
  if (remove > same)
    steps.erase(behind, to);
  else
    steps.insert(behind, std::make_move_iterator(mid), std::make_move_iterator(insert.end()));
  return before;
}

Result<Edit> apply(Plan& plan, const SpliceSteps& e) {
  if (e.at + e.remove > plan.steps.size()) return fail("The steps are not in this routine.");
  const auto from = plan.steps.begin() + static_cast<std::ptrdiff_t>(e.at);
  if (std::equal(from, from + static_cast<std::ptrdiff_t>(e.remove), e.insert.begin(),
                 e.insert.end()))
    return nothingChanges();
  SpliceSteps inverse{e.at, e.insert.size(), spliced(plan.steps, e.at, e.remove, e.insert)};
  if (auto valid = validSteps(plan); !valid) {
    (void)spliced(plan.steps, inverse.at, inverse.remove, std::move(inverse.insert));
    return pass(valid.error());
  }
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetRequirement& e) {
  const auto& r = e.requirement;
  if (!plan.spec.requirements.holds(r.id)) return fail("The requirement is not in this routine.");
  if (isDimension(r.kind) && r.lower > r.upper)
    return fail("The lower limit must not lie above the upper limit.");
  if (isDimension(r.kind) && !hasLower(r) && !hasUpper(r))
    return fail("At least one of its limits must be given.");
  const bool zero_at_limit = r.tolerance == 0 && r.material != MaterialModifier::None;
  if (!isDimension(r.kind) && r.tolerance <= 0 && !zero_at_limit)
    return fail("A tolerance must be above 0.");
  if (r.filtering)
    if (auto valid = validate(*r.filtering); !valid) return pass(valid.error());
  Requirement& target = plan.spec.requirements.at(r.id);
  if (target == r) return nothingChanges();
  SetRequirement inverse{target};
  target = r;
  return inverse;
}

bool sameFeature(const NominalFeature& a, const NominalFeature& b) {
  return a.id == b.id && a.name == b.name && a.from == b.from && a.filtering == b.filtering &&
         a.faces == b.faces;
}

bool sameSpec(const Specification& a, const Specification& b) {
  if (!std::equal(a.features.begin(), a.features.end(), b.features.begin(), b.features.end(),
                  sameFeature))
    return false;
  Specification rest = a; // all other fields, also those to come
  rest.features = b.features;
  return rest == b;
}

// Touched features lead and stay; what constructed ones, datums and requirements speak of is there.
Done validSpec(const Plan& plan, const Specification& s) {
  const auto touched = [](const Specification& x) {
    std::vector<FeatureId> ids;
    for (const NominalFeature& f : x.features)
      if (!f.isConstructed()) ids.push_back(f.id);
    return ids;
  };
  const auto of_part = touched(plan.spec);
  if (touched(s) != of_part) return fail("The features of the part stay as they are.");
  for (std::size_t i = 0; i < s.features.size(); ++i) {
    const NominalFeature& f = s.features[i];
    if (f.isConstructed() != (i >= of_part.size())) return fail("The features are out of order.");
    if (f.name.empty()) return fail("A feature needs a name.");
    if (auto valid = validate(f.filtering); !valid) return valid;
    if (f.from && f.from->of.empty()) return fail("{} is constructed from nothing.", f.name);
  }
  if (auto there = allThere(s); !there) return there;
  for (const Requirement& r : s.requirements)
    if (r.upper_segment.valid() && !s.requirements.holds(r.upper_segment))
      return fail("The upper segment of requirement {} is not there.", r.balloon);
  if (!(s.uncertainty >= 0) || !(s.near_share > 0 && s.near_share <= 1))
    return fail("The uncertainty must not be below 0, and results are near a limit from above 0 to "
                "100 % of the tolerance.");
  return {};
}

// Those of the specification, in its order.
void matchFeatures(Plan& plan) {
  Table<Feature> features;
  features.reserveIdsOf(plan.features);
  for (const NominalFeature& f : plan.spec.features) {
    Feature* known = plan.features.find(f.id);
    features.push_back(known ? std::move(*known) : Feature{f.id});
  }
  plan.features = std::move(features);
}

Result<Edit> apply(Plan& plan, const SetSpecification& e) {
  if (auto valid = validSpec(plan, e.spec); !valid) return pass(valid.error());
  if (sameSpec(plan.spec, e.spec)) return nothingChanges();
  const Requirement* asked_for = nullptr;
  visitRequirements(plan.steps, [&](RequirementId id) {
    if (!e.spec.requirements.holds(id)) asked_for = plan.spec.requirements.find(id);
  });
  if (asked_for)
    return fail("A step asks for requirement {}; change or remove that step first.",
                asked_for->balloon);
  SetSpecification inverse{plan.spec};
  plan.spec = e.spec;
  plan.spec.features.reserveIdsOf(inverse.spec.features);
  plan.spec.requirements.reserveIdsOf(inverse.spec.requirements);
  auto features = plan.features;
  matchFeatures(plan);
  auto done = refreshConstructed(plan);
  if (done) done = validSteps(plan);
  if (!done) {
    plan.spec = std::move(inverse.spec);
    plan.features = std::move(features);
    return pass(done.error());
  }
  return inverse;
}

// All of it in place of what was, which the way back holds.
template <class Kind, class Value> Result<Edit> replaced(Value& now, const Value& next) {
  if (next == now) return nothingChanges();
  Kind inverse{now};
  now = next;
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetPlacement& e) {
  if (e.placement.isApprox(plan.placement, 1e-15)) return nothingChanges();
  SetPlacement inverse{plan.placement};
  plan.placement = e.placement;
  standOn(plan.bench, plan.placement, plan.supports);
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetQualification& e) {
  return replaced<SetQualification>(plan.qualified, e.qualified);
}

Result<Edit> apply(Plan& plan, const SetShell& e) {
  if (e.shell == plan.shell) return nothingChanges();
  if (e.shell.offset_low.minCoeff() < 1 || e.shell.offset_high.minCoeff() < 1)
    return fail("The shell must keep at least 1 mm from part and fixture.");
  SetShell inverse{plan.shell};
  plan.shell = e.shell;
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetSetups& e) {
  auto back = setSetups(plan, e);
  if (!back) return pass(back.error());
  if (back->setups == e.setups && back->setup == e.setup) return nothingChanges();
  return std::move(*back);
}

Result<Edit> apply(Plan& plan, const SetBench& e) {
  if (e.bench.styli.empty()) return fail("A bench needs at least one stylus.");
  if (e.bench.json == plan.bench.json && e.supports == plan.supports) return nothingChanges();
  if (auto valid = validate(e.supports); !valid) return pass(valid.error());
  SetBench inverse{plan.bench, plan.supports, SetBench::Following{{}, plan.qualified}};
  for (const Feature& f : plan.features)
    inverse.following->accesses.push_back({f.access, f.access_forced});
  const auto following = e.following ? *e.following : followingOf(plan, e.bench);
  for (std::size_t i = 0; i < plan.features.size() && i < following.accesses.size(); ++i)
    std::tie(plan.features[i].access, plan.features[i].access_forced) = following.accesses[i];
  plan.qualified = following.qualified;
  plan.bench = e.bench;
  plan.supports = e.supports;
  standOn(plan.bench, plan.placement, plan.supports);
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetBook& e) {
  if (auto valid = validate(e.book); !valid) return pass(valid.error());
  return replaced<SetBook>(plan.book, e.book);
}

Result<Edit> apply(Plan& plan, const SetFrames& e) {
  for (std::size_t i = 0; i < e.frames.size(); ++i) {
    if (auto good = validate(e.frames[i]); !good) return pass(good.error());
    for (std::size_t k = 0; k < i; ++k)
      if (e.frames[k].name == e.frames[i].name)
        return fail("There is a frame {} already; choose another name.", e.frames[i].name);
    for (const FrameStage& s : e.frames[i].stages)
      for (FeatureId id : s.features)
        if (!known(plan, id)) return fail("A frame is found from features that are touched.");
  }
  return replaced<SetFrames>(plan.frames, e.frames);
}

Result<Edit> apply(Plan& plan, const SetPictures& e) {
  for (std::size_t i = 0; i < e.pictures.size(); ++i) {
    if (auto good = validate(e.pictures[i]); !good) return pass(good.error());
    for (std::size_t k = 0; k < i; ++k)
      if (e.pictures[k].name == e.pictures[i].name)
        return fail("There is a picture {} already; choose another name.", e.pictures[i].name);
  }
  return replaced<SetPictures>(plan.pictures, e.pictures);
}

Result<Edit> apply(Plan& plan, const SetDrawings& e) {
  for (std::size_t i = 0; i < e.drawings.size(); ++i) {
    if (auto good = validate(e.drawings[i]); !good) return pass(good.error());
    for (std::size_t k = 0; k < i; ++k)
      if (e.drawings[k].name == e.drawings[i].name)
        return fail("There is a drawing {} already; rename the file.", e.drawings[i].name);
  }
  return replaced<SetDrawings>(plan.drawings, e.drawings);
}

Result<Edit> apply(Plan& plan, const SetHeader& e) {
  if (auto good = validate(e.header); !good) return pass(good.error());
  return replaced<SetHeader>(plan.header, e.header);
}

Result<Edit> apply(Plan& plan, const SetLayouts& e) {
  if (auto good = validate(e.layouts); !good) return pass(good.error());
  return replaced<SetLayouts>(plan.layouts, e.layouts);
}

Result<Edit> apply(Plan& plan, const SetViews& e) {
  if (auto good = validate(e.views); !good) return pass(good.error());
  return replaced<SetViews>(plan.views, e.views);
}

Result<Edit> apply(Plan& plan, const SetApprovals& e) {
  if (auto good = validate(e.approvals); !good) return pass(good.error());
  return replaced<SetApprovals>(plan.approvals, e.approvals);
}

Result<Edit> apply(Plan& plan, const SetArticle& e) {
  if (auto good = validate(e.article); !good) return pass(good.error());
  return replaced<SetArticle>(plan.article, e.article);
}

Result<Edit> apply(Plan& plan, const SetRoutine& e) {
  for (const FeatureId id : e.alignment)
    if (!e.features.holds(id)) return fail("The part frame stands on features that are there.");
  if (e.features.size() != e.spec.features.size())
    return fail("Each feature has its place in the routine.");
  Plan with = plan;
  with.spec = e.spec;
  with.spec.features.reserveIdsOf(plan.spec.features);
  with.spec.requirements.reserveIdsOf(plan.spec.requirements);
  with.features = e.features;
  with.features.reserveIdsOf(plan.features);
  with.steps = e.steps;
  with.alignment = e.alignment;
  if (e.part) with.part = e.part;
  if (auto done = validSteps(with); !done) return pass(done.error());
  if (with.part == plan.part && sameSpec(plan.spec, e.spec) && plan.steps == e.steps &&
      plan.alignment == e.alignment)
    return nothingChanges();
  SetRoutine inverse{plan.spec, plan.features, plan.steps, plan.alignment,
                     e.part ? plan.part : PartPtr{}};
  plan = std::move(with);
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetPairs& e) {
  for (const PairRule& p : e.pairs) {
    if (p.off && p.reason.empty())
      return fail("Say why this pair is not checked; it is printed with the rehearsal.");
    if (!(p.margin >= 0 && p.margin <= 200)) return fail("A margin must lie between 0 and 200 mm.");
    if (p.moving.empty() && p.still.empty()) return fail("Name at least one of the two bodies.");
  }
  if (e.pairs == plan.pairs) return nothingChanges();
  SetPairs inverse{plan.pairs};
  plan.pairs = e.pairs;
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetNotes& e) {
  if (e.notes == plan.notes) return nothingChanges();
  SetNotes inverse{plan.notes};
  plan.notes = e.notes;
  return inverse;
}

Result<Edit> apply(Plan& plan, const SetName& e) {
  if (e.name.empty()) return fail("A routine needs a name.");
  if (e.name == plan.name) return nothingChanges();
  SetName inverse{plan.name};
  plan.name = e.name;
  return inverse;
}

} // namespace

// What steps speak of is there, and the features of the part frame come first.
Done validSteps(const Plan& plan) {
  if (auto valid = validate(plan.steps); !valid) return valid;
  for (const RoutineStep& s : plan.steps) {
    const auto valid = std::visit([&](const auto& body) { return validate(plan, body); }, s.body);
    if (!valid) return valid;
    if (s.depth == 0 && needsGroup(s.body))
      return fail("A branch that leaves a group must stand in one.");
  }
  if (auto there = allThere(plan); !there) return there;
  auto order = measuringOrder(plan.steps);
  const bool all_done = std::all_of(plan.steps.begin(), plan.steps.end(),
                                    [](const RoutineStep& step) { return step.enabled; });
  const auto active = all_done ? order : measuringOrder(plan.steps, false);
  const auto first = [&](const std::vector<FeatureId>& o) -> Done {
    std::size_t led = 0;
    for (; led < o.size() && std::count(plan.alignment.begin(), plan.alignment.end(), o[led]);)
      ++led;
    for (FeatureId id : plan.alignment)
      if (std::find(o.begin(), o.begin() + static_cast<std::ptrdiff_t>(led), id) ==
          o.begin() + static_cast<std::ptrdiff_t>(led))
        return std::count(o.begin(), o.end(), id)
                   ? fail("The features of the part frame come first; {} cannot go before them.",
                          plan.nominal(o[led]).name)
                   : fail("{} is of the part frame; it cannot be left out.", plan.nominal(id).name);
    return {};
  };
  if (auto valid = first(active); !valid) return valid;
  std::sort(order.begin(), order.end());
  if (const auto twice = std::adjacent_find(order.begin(), order.end()); twice != order.end())
    return fail("{} is measured twice.", plan.nominal(*twice).name);
  return {};
}

struct Edit::Any {
  EditKinds::In<std::variant> kind;
};

template <EditKind Kind>
Edit::Edit(Kind kind)
    : any_(std::make_shared<const Any>(Any{std::move(kind)})) {}
template <EditKind Kind> const Kind* Edit::as() const {
  return std::get_if<Kind>(&any_->kind);
}
#define ALDER_EDIT(Kind)                                                                           \
  template Edit::Edit(Kind);                                                                       \
  template const Kind* Edit::as() const;
ALDER_EDIT(SetRecipe)
ALDER_EDIT(SetAccess)
ALDER_EDIT(SetHop)
ALDER_EDIT(SetThrough)
ALDER_EDIT(AddFeature)
ALDER_EDIT(RemoveFeature)
ALDER_EDIT(SetPinned)
ALDER_EDIT(SpliceSteps)
ALDER_EDIT(SetRequirement)
ALDER_EDIT(SetSpecification)
ALDER_EDIT(SetPlacement)
ALDER_EDIT(SetShell)
ALDER_EDIT(SetSetups)
ALDER_EDIT(SetQualification)
ALDER_EDIT(SetBench)
ALDER_EDIT(SetBook)
ALDER_EDIT(SetPairs)
ALDER_EDIT(SetFrames)
ALDER_EDIT(SetPictures)
ALDER_EDIT(SetDrawings)
ALDER_EDIT(SetHeader)
ALDER_EDIT(SetLayouts)
ALDER_EDIT(SetArticle)
ALDER_EDIT(SetApprovals)
ALDER_EDIT(SetViews)
ALDER_EDIT(SetRoutine)
ALDER_EDIT(SetNotes)
ALDER_EDIT(SetName)
#undef ALDER_EDIT

std::size_t Edit::kind() const {
  return any_->kind.index();
}

Result<Edit> applyEdit(Plan& plan, const Edit& edit) {
  return std::visit([&](const auto& e) { return apply(plan, e); }, edit.any_->kind);
}

Result<EditGroup> applyEdits(Plan& plan, const EditGroup& group) {
  EditGroup inverse{group.text, {}};
  for (const Edit& e : group.edits) {
    auto back = applyEdit(plan, e);
    if (back) {
      inverse.edits.insert(inverse.edits.begin(), std::move(*back));
      continue;
    }
    if (back.error().code == ErrorCode::NothingChanges) continue;
    for (const Edit& undo : inverse.edits)
      (void)applyEdit(plan, undo);
    return pass(back.error());
  }
  if (inverse.edits.empty()) return nothingChanges();
  return inverse;
}

Done EditHistory::apply(Plan& plan, const EditGroup& group) {
  auto inverse = applyEdits(plan, group);
  if (!inverse) return pass(inverse.error());
  if (saved_ > position()) saved_ = -1; // the saved state can no longer be reached by redo
  undone_.clear();
  done_.push_back(std::move(*inverse));
  return {};
}

bool EditHistory::undo(Plan& plan) {
  if (done_.empty()) return false;
  auto forward = applyEdits(plan, done_.back());
  if (!forward) return false;
  undone_.push_back(std::move(*forward));
  done_.pop_back();
  return true;
}

bool EditHistory::redo(Plan& plan) {
  if (undone_.empty()) return false;
  auto back = applyEdits(plan, undone_.back());
  if (!back) return false;
  done_.push_back(std::move(*back));
  undone_.pop_back();
  return true;
}

} // namespace alder
