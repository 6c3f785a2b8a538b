// The routine that comes of a revision when all of it was decided on.
#include "drawing/balloon_layout.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/references.h"
#include "requirement/datum_targets.h"
#include "revision/revision.h"
#include "route/access_planner.h"
#include "route/new_feature.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

class RevisedRoutine {
 public:
  RevisedRoutine(const Plan& plan, const Revision& revision, const std::vector<Decision>& decisions)
      : plan_(plan)
      , revision_(revision)
      , decisions_(decisions)
      , wanted_(revision.carried) {
    for (const NominalFeature& f : plan.spec.features)
      if (!wanted_.features.holds(f.id)) gone_.insert(f.id);
  }

  Result<EditGroup> make(const Progress& progress) {
    for (std::size_t i = 0; i < revision_.entries.size(); ++i)
      if (i >= decisions_.size() || decisions_[i] == Decision::Open)
        return fail("{} is not decided on yet.", revision_.entries[i].words);
    decide();
    if (auto done = requirementsThere(); !done) return pass(done.error());
    Plan now = plan_;
    if (auto done = swapModel(now); !done) return pass(done.error());
    const Obstacles obstacles = obstaclesOf(now);
    if (auto done = planAnew(now, obstacles, progress); !done) return pass(done.error());
    EditGroup group{"Take over the revision", {}};
    SetRoutine routine{now.spec, now.features, now.steps, now.alignment, {}};
    if (revision_.sources.part) routine.part = revision_.part;
    group.edits.push_back(std::move(routine));
    if (revision_.sources.part) group.edits.push_back(SetNotes{revision_.model_notes});
    if (!revision_.sources.drawings.empty()) group.edits.push_back(SetDrawings{drawings()});
    if (header_) group.edits.push_back(SetHeader{*header_});
    // New features, and what is asked of them.
    auto more = planSpecification(now, obstacles, wanted_, progress);
    if (!more) return pass(more.error());
    group.edits.insert(group.edits.end(), more->edits.begin(), more->edits.end());
    return group;
  }

 private:
  // What was taken, in `wanted_`.
  void decide() {
    int balloon = 0;
    for (const Requirement& r : plan_.spec.requirements)
      balloon = std::max(balloon, r.balloon);
    for (std::size_t i = 0; i < revision_.entries.size(); ++i) {
      const RevisionEntry& e = revision_.entries[i];
      const bool taken = e.settled || decisions_[i] == Decision::Taken;
      if (e.subject == RevisionSubject::Datum && taken) datum(e);
      if (e.subject == RevisionSubject::Header && taken) header_ = e.header_is;
      if (e.subject != RevisionSubject::Requirement) continue;
      if (e.fate == RevisionFate::Gone && taken) {
        removed_.insert(e.was->id);
        wanted_.requirements.erase(e.was->id);
      } else if (e.fate == RevisionFate::Gone) {
        noLongerDrawn(wanted_.requirements.at(e.was->id));
      } else if (e.fate == RevisionFate::Changed) {
        Requirement& r = wanted_.requirements.at(e.was->id);
        if (taken)
          r = *e.is;
        else // known by where the newer source says it, so that it is found again next time
          r.entity = e.is->entity, r.spot = e.is->spot;
      } else if (e.fate == RevisionFate::New && taken) {
        Requirement fresh = *e.is;
        fresh.balloon = ++balloon;
        wanted_.requirements.push_back(std::move(fresh));
      }
    }
    for (Requirement& r : wanted_.requirements)
      if (r.upper_segment.valid() && !wanted_.requirements.holds(r.upper_segment))
        r.upper_segment = {};
    std::erase_if(wanted_.datums, [](const Datum& d) { return d.features.empty(); });
    dropUnasked(wanted_, plan_.spec); // what only came for what was not taken
    for (const RevisedDrawing& d : revision_.sources.drawings)
      if (!d.replaces.empty()) wanted_ = withBalloons(wanted_, d.file.name, d.sheets);
  }

  // It stays, and has no place on the newer drawing.
  void noLongerDrawn(Requirement& r) const {
    for (const RevisedDrawing& d : revision_.sources.drawings)
      if (r.spot && r.spot->drawing == d.replaces) r.spot.reset();
  }

  void datum(const RevisionEntry& e) {
    const std::string letter = (e.datum_is ? e.datum_is : e.datum_was)->letter;
    std::erase_if(wanted_.datums, [&](const Datum& d) { return d.letter == letter; });
    if (e.datum_is) wanted_.datums.push_back(*e.datum_is);
    std::sort(wanted_.datums.begin(), wanted_.datums.end(),
              [](const Datum& a, const Datum& b) { return a.letter < b.letter; });
  }

  // No formula, step or datum reference speaks of what goes.
  Done requirementsThere() const {
    for (const RequirementId id : removed_) {
      Specification spec = plan_.spec;
      const Requirement& r = plan_.spec.requirement(id);
      // what goes with it does not hold it
      for (const RequirementId other : removed_)
        if (other != id) spec.requirements.erase(other);
      for (Requirement& lower : spec.requirements)
        if (lower.upper_segment == id) lower.upper_segment = {};
      if (auto may = withoutRequirement(spec, id); !may)
        return fail("Requirement {} is gone: {}", r.balloon, may.error().message);
    }
    return {};
  }

  std::vector<DrawingFile> drawings() const {
    std::vector<DrawingFile> all = plan_.drawings;
    for (const RevisedDrawing& d : revision_.sources.drawings) {
      const auto old = std::find_if(all.begin(), all.end(), [&](const DrawingFile& f) {
        return !d.replaces.empty() && f.name == d.replaces;
      });
      if (old == all.end())
        all.push_back(d.file);
      else
        *old = d.file;
    }
    return all;
  }

  // The routine's own features on the newer model, with what speaks of them alone.
  Done swapModel(Plan& now) {
    now.part = revision_.part;
    now.spec = wanted_;
    std::vector<FeatureId> fresh;
    for (const NominalFeature& f : wanted_.features)
      if (!plan_.spec.features.holds(f.id)) fresh.push_back(f.id);
    for (const FeatureId id : fresh)
      now.spec.features.erase(id);
    const auto open = [&](const std::vector<FeatureId>& ids) {
      return std::any_of(ids.begin(), ids.end(),
                         [&](FeatureId id) { return !now.spec.features.holds(id); });
    };
    std::erase_if(now.spec.datums, [&](const Datum& d) { return open(d.features); });
    std::vector<RequirementId> later;
    for (const Requirement& r : now.spec.requirements)
      if (open(r.features)) later.push_back(r.id);
    for (const RequirementId id : later)
      now.spec.requirements.erase(id);
    for (Requirement& r : now.spec.requirements)
      if (r.upper_segment.valid() && !now.spec.requirements.holds(r.upper_segment))
        r.upper_segment = {};
    for (const CarriedFeature& c : revision_.features)
      if (c.fate != SurfaceFate::Gone) carry(now.feature(c.id), c);
    for (const FeatureId id : gone_)
      now.features.erase(id);
    if (auto done = takeOut(now); !done) return done;
    return refreshConstructed(now);
  }

  void carry(Feature& f, const CarriedFeature& c) const {
    f.touches = c.touches;
    if (c.fate != SurfaceFate::Moved) return;
    if (!isContour(f.recipe.stroke)) return;
    f.recipe.contour.from = c.move * f.recipe.contour.from;
    f.recipe.contour.to = c.move * f.recipe.contour.to;
  }

  // Steps that measure what is gone, copies of it, and requirements that are evaluated in between.
  Done takeOut(Plan& now) const {
    now.steps = withoutGone(now.steps, gone_, removed_);
    Done done;
    const auto check = [&](FeatureId id, const Referrer& by) {
      if (done && gone_.count(id))
        done = fail("{} speaks of {}, which is gone in the newer model; change that first.",
                    words(by), plan_.nominal(id).name);
    };
    visitFeatures(now.steps, check);
    visitFeatures(now.frames, check);
    for (const FeatureId id : now.alignment)
      check(id, {Referrer::Kind::PartFrame, ""});
    visitRequirements(now.steps, [&](RequirementId id) {
      if (done && removed_.count(id))
        done = fail("A step asks for requirement {}, which is gone; change that step first.",
                    plan_.spec.requirement(id).balloon);
    });
    return done;
  }

  // With the stylus and the angles that it has where that still goes.
  Done planAnew(Plan& now, const Obstacles& obstacles, const Progress& progress) const {
    for (const CarriedFeature& c : revision_.features) {
      if (c.fate == SurfaceFate::Gone || c.why_anew.empty()) continue;
      if (progress.cancelled()) return fail("Cancelled.");
      Feature& f = now.feature(c.id);
      const bool same_surface = c.fate != SurfaceFate::Resized && c.fate != SurfaceFate::Reshaped;
      if (f.access.valid() && (same_surface || f.access_forced)) {
        auto touches = planTouches(*now.part, now.nominal(c.id), f.recipe,
                                   now.tip(f.access).edgeRoom(), {}, targetsOf(now.spec, c.id));
        if (touchesSuffice(now.nominal(c.id).ideal, touches, f.recipe.stroke)) {
          f.touches = std::move(touches);
          continue;
        }
      }
      f.touches.clear();
      f.access_forced = false;
      if (auto done = planAccessOf(now, obstacles, c.id, progress); !done) return done;
    }
    return {};
  }

  const Plan& plan_;
  const Revision& revision_;
  const std::vector<Decision>& decisions_;
  Specification wanted_;
  std::optional<PartHeader> header_;
  std::set<FeatureId> gone_;
  std::set<RequirementId> removed_;
};

} // namespace

Result<EditGroup> revisedRoutine(const Plan& plan, const Revision& revision,
                                 const std::vector<Decision>& decisions, const Progress& progress) {
  return RevisedRoutine(plan, revision, decisions).make(progress);
}

} // namespace alder
