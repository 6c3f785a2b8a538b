#include "revision/revision_maker.h"

#include "requirement/from_pmi.h"
#include "requirement/requirement_pairs.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// The features that are left of these.
template <class Gone>
std::vector<FeatureId> left(const std::vector<FeatureId>& ids, const Gone& gone) {
  std::vector<FeatureId> rest;
  for (const FeatureId id : ids)
    if (!gone.count(id)) rest.push_back(id);
  return rest;
}

std::size_t touchedIn(const Specification& spec) {
  return static_cast<std::size_t>(
      std::count_if(spec.features.begin(), spec.features.end(),
                    [](const NominalFeature& f) { return !f.isConstructed(); }));
}

} // namespace

void mapInto(std::vector<FeatureId>& ids, const std::map<FeatureId, FeatureId>& to) {
  std::vector<FeatureId> mapped;
  for (const FeatureId id : ids)
    if (const auto found = to.find(id); found != to.end()) mapped.push_back(found->second);
  ids = std::move(mapped);
}

RevisionMaker::RevisionMaker(const Plan& plan, const RevisionSources& sources)
    : plan_(plan) {
  result_.sources = sources;
  result_.part = sources.part ? sources.part : plan.part;
  result_.model_notes = plan.notes;
}

std::string RevisionMaker::title(const Requirement& r) const {
  const std::string words = describe(result_.carried, r);
  return r.balloon > 0 ? fmt::format("{}: {}", r.balloon, words) : words;
}

Done RevisionMaker::compareModel() {
  const PartModel &was = *plan_.part, &is = *result_.part;
  result_.comparison = compareModels(was, is);
  if (!result_.sources.part) return {};
  if (const auto& elsewhere = result_.comparison.elsewhere)
    return fail("The newer model lies elsewhere in its file: {} it agrees with the older one. "
                "Export it in the frame of the older one.",
                wordsOfMove(*elsewhere, Vec3::Zero()));
  if (result_.comparison.found < 0.15)
    return fail("The two models have hardly a surface in common ({} % of the area); they are not "
                "two states of one part.",
                std::lround(100 * result_.comparison.found));
  const auto called = [&](const std::vector<FaceId>& faces) {
    std::string names;
    for (const NominalFeature& f : plan_.spec.features)
      if (!f.faces.empty() &&
          std::includes(faces.begin(), faces.end(), f.faces.begin(), f.faces.end()))
        names += (names.empty() ? "" : ", ") + f.name;
    return names;
  };
  for (ModelChange& c : changesOf(was, is, result_.comparison, called)) {
    RevisionEntry e;
    e.subject = RevisionSubject::Model;
    e.fate = c.isNew()                     ? RevisionFate::New
             : c.fate == SurfaceFate::Gone ? RevisionFate::Gone
                                           : RevisionFate::Changed;
    e.words = c.words;
    e.settled = true;
    e.surfaces = c.fate;
    e.before = std::move(c.before);
    e.now = std::move(c.now);
    for (const NominalFeature& f : plan_.spec.features)
      if (std::any_of(f.faces.begin(), f.faces.end(), [&](FaceId face) {
            return std::binary_search(e.before.begin(), e.before.end(), face);
          }))
        e.features.push_back(f.id);
    if (e.fate == RevisionFate::New)
      e.detail = "it is measured when a requirement asks for it";
    else if (e.features.empty())
      e.detail = "nothing is measured there";
    else if (c.fate == SurfaceFate::Moved)
      e.detail = "its touches move with it";
    else if (e.fate == RevisionFate::Changed)
      e.detail = "its touches are planned anew";
    result_.entries.push_back(std::move(e));
  }
  return {};
}

void RevisionMaker::carryFeatures() {
  result_.features = carriedFeatures(plan_, *result_.part, result_.comparison);
  Specification& spec = result_.carried;
  spec = plan_.spec;
  for (const CarriedFeature& c : result_.features) {
    if (c.fate == SurfaceFate::Gone) {
      gone_.insert(c.id);
      continue;
    }
    spec.features.at(c.id) = c.nominal;
    if (c.why_anew.empty() || c.fate == SurfaceFate::Resized || c.fate == SurfaceFate::Reshaped)
      continue;
    RevisionEntry e;
    e.subject = RevisionSubject::Touches;
    e.words = c.nominal.name + " is touched anew";
    e.detail = c.why_anew;
    e.settled = true;
    e.features = {c.id};
    e.before = plan_.nominal(c.id).faces;
    e.now = c.nominal.faces;
    result_.entries.push_back(std::move(e));
  }
  // What is constructed from what is gone goes with it.
  for (bool more = true; more;) {
    more = false;
    for (const NominalFeature& f : spec.features)
      if (f.from && !gone_.count(f.id) &&
          std::any_of(f.from->of.begin(), f.from->of.end(),
                      [&](FeatureId of) { return gone_.count(of) > 0; })) {
        gone_.insert(f.id);
        more = true;
        RevisionEntry e;
        e.subject = RevisionSubject::Model;
        e.fate = RevisionFate::Gone;
        e.words = f.name + " is gone with what it is constructed from";
        e.settled = true;
        e.features = {f.id};
        result_.entries.push_back(std::move(e));
      }
  }
  for (const FeatureId id : gone_)
    spec.features.erase(id);
}

void RevisionMaker::carryRequirements() {
  Specification& spec = result_.carried;
  for (Requirement& r : spec.requirements)
    r.features = left(r.features, gone_);
  for (Datum& d : spec.datums) {
    d.features = left(d.features, gone_);
    for (const CarriedFeature& c : result_.features)
      if (c.fate == SurfaceFate::Moved && d.features == std::vector{c.id})
        for (DatumTarget& t : d.targets) {
          t.point = c.move * t.point;
          if (t.to) t.to = c.move * *t.to;
        }
  }
}

std::map<FeatureId, FeatureId> RevisionMaker::mapped(const Specification& from,
                                                     const FacesNow& faces_now, bool add) {
  Specification& spec = result_.carried;
  std::map<FeatureId, FeatureId> to;
  for (const NominalFeature& f : from.features) {
    const NominalFeature* found = nullptr;
    if (f.from) {
      Construction c = *f.from;
      mapInto(c.of, to);
      for (const NominalFeature& known : spec.features)
        if (known.from == c) found = &known;
      if (!found && add && c.of.size() == f.from->of.size()) {
        NominalFeature fresh = f;
        fresh.id = spec.features.next();
        fresh.name = freeFeatureName(spec, f.name);
        fresh.from = c;
        to[f.id] = fresh.id;
        spec.features.push_back(fresh);
      }
    } else {
      const auto faces = faces_now(f.faces);
      // The one with these faces; else one of the kind that has them among its own.
      for (const bool exactly : {true, false})
        for (const NominalFeature& known : spec.features)
          if (!found && !known.isConstructed() && !faces.empty() &&
              known.ideal.type == f.ideal.type && known.as_touched == f.as_touched &&
              (exactly ? known.faces == faces
                       : std::includes(known.faces.begin(), known.faces.end(), faces.begin(),
                                       faces.end())))
            found = &known;
      if (!found && add && !faces.empty()) {
        NominalFeature fresh = f;
        fresh.id = spec.features.next();
        fresh.name = freeFeatureName(spec, featureName(f.ideal));
        fresh.faces = faces;
        to[f.id] = fresh.id;
        spec.features.insert(touchedIn(spec), fresh);
      }
    }
    if (found) to[f.id] = found->id;
  }
  return to;
}

void RevisionMaker::changed(const Requirement& was, Requirement is) {
  const std::string difference = differenceOf(result_.carried, was, is);
  RevisionEntry e;
  e.subject = RevisionSubject::Requirement;
  e.words = title(is);
  e.detail = difference;
  e.features = is.features;
  e.was = was;
  e.is = std::move(is);
  told_.insert(was.id);
  result_.entries.push_back(std::move(e));
}

void RevisionMaker::compare(const std::vector<RequirementId>& ids,
                            const std::vector<Requirement>& is,
                            const std::function<const Requirement*(const Requirement&)>& base,
                            const std::vector<Requirement>& taken_out) {
  std::vector<Requirement> was;
  for (const RequirementId id : ids)
    was.push_back(result_.carried.requirement(id));
  auto pairs = pairRequirements(was, is);
  std::map<RequirementId, RequirementId> numbers; // of the source to those here
  std::vector<bool> used(is.size(), false);
  for (std::size_t w = 0; w < was.size(); ++w)
    if (pairs[w]) numbers[is[*pairs[w]].id] = was[w].id, used[*pairs[w]] = true;
  alsoFromElsewhere(was, pairs, is, used, numbers);
  const auto above = [&](const Requirement& r) {
    const auto found = numbers.find(r.upper_segment);
    return found == numbers.end() ? RequirementId{} : found->second;
  };
  for (std::size_t w = 0; w < was.size(); ++w) {
    if (!pairs[w]) {
      RevisionEntry e;
      e.subject = RevisionSubject::Requirement;
      e.fate = RevisionFate::Gone;
      e.words = title(was[w]) + " is gone";
      e.was = was[w];
      e.features = plan_.spec.requirement(was[w].id).features;
      e.settled = was[w].features.empty() && !e.features.empty();
      if (e.settled) e.detail = "so are its features";
      told_.insert(was[w].id);
      result_.entries.push_back(std::move(e));
      continue;
    }
    Requirement next = takenOver(was[w], is[*pairs[w]]);
    next.upper_segment = above(is[*pairs[w]]);
    const Requirement* before = base ? base(was[w]) : nullptr;
    const bool lost = was[w].features.size() < plan_.spec.requirement(was[w].id).features.size();
    if (asksTheSame(was[w], next) || (before && !lost && asksTheSame(*before, is[*pairs[w]]))) {
      if (lost) {
        changed(plan_.spec.requirement(was[w].id), next);
        continue;
      }
      // Stays; where the newer source says it is known from now on.
      Requirement& stays = result_.carried.requirements.at(was[w].id);
      stays.entity = next.entity;
      stays.spot = next.spot;
      continue;
    }
    changed(lost ? plan_.spec.requirement(was[w].id) : was[w], next);
  }
  for (std::size_t i = 0; i < is.size(); ++i) {
    const bool out = std::any_of(taken_out.begin(), taken_out.end(),
                                 [&](const Requirement& t) { return asksTheSame(t, is[i]); });
    if (used[i] || out) continue;
    RevisionEntry e;
    e.subject = RevisionSubject::Requirement;
    e.fate = RevisionFate::New;
    Requirement fresh = is[i];
    fresh.balloon = 0;
    fresh.id = result_.carried.requirements.next();
    result_.carried.requirements.reserveIdsBelow(RequirementId{fresh.id.value + 1});
    numbers[is[i].id] = fresh.id;
    fresh.upper_segment = above(is[i]);
    e.words = title(fresh) + " is new";
    if (fresh.features.empty()) e.detail = "its features are still to be picked";
    e.features = fresh.features;
    e.is = std::move(fresh);
    result_.entries.push_back(std::move(e));
  }
}

// What is asked here already, on the word of another source or of nobody's, is not new.
void RevisionMaker::alsoFromElsewhere(std::vector<Requirement>& was,
                                      std::vector<std::optional<std::size_t>>& pairs,
                                      const std::vector<Requirement>& is, std::vector<bool>& used,
                                      std::map<RequirementId, RequirementId>& numbers) const {
  std::vector<Requirement> others, free;
  std::vector<std::size_t> of;
  for (const Requirement& r : result_.carried.requirements)
    if (!told_.count(r.id) && !r.features.empty() &&
        std::none_of(was.begin(), was.end(), [&](const Requirement& w) { return w.id == r.id; }))
      others.push_back(r);
  for (std::size_t i = 0; i < is.size(); ++i)
    if (!used[i] && !is[i].features.empty()) free.push_back(is[i]), of.push_back(i);
  const auto more = pairRequirements(others, free);
  for (std::size_t k = 0; k < others.size(); ++k) {
    if (!more[k]) continue;
    const std::size_t i = of[*more[k]];
    was.push_back(others[k]);
    pairs.push_back(i);
    used[i] = true;
    numbers[is[i].id] = others[k].id;
  }
}

void RevisionMaker::compareDatums(const std::vector<Datum>& was, const std::vector<Datum>& is) {
  const auto with = [](const std::vector<Datum>& all, const std::string& letter) -> const Datum* {
    const auto found =
        std::find_if(all.begin(), all.end(), [&](const Datum& d) { return d.letter == letter; });
    return found == all.end() ? nullptr : &*found;
  };
  const auto entry = [&](RevisionFate fate, const Datum* before, const Datum* now) {
    RevisionEntry e;
    e.subject = RevisionSubject::Datum;
    e.fate = fate;
    if (before) e.datum_was = *before;
    if (now) e.datum_is = *now;
    e.features = (now ? now : before)->features;
    std::string names;
    for (const FeatureId id : e.features)
      if (const NominalFeature* f = result_.carried.features.find(id))
        names += (names.empty() ? "" : ", ") + f->name;
    const std::string& letter = (now ? now : before)->letter;
    e.words = fate == RevisionFate::New    ? fmt::format("Datum {} is new: {}", letter, names)
              : fate == RevisionFate::Gone ? fmt::format("Datum {} is gone", letter)
                                           : fmt::format("Datum {} is now {}", letter, names);
    if (before && now && before->features == now->features) e.detail = "with other targets";
    result_.entries.push_back(std::move(e));
  };
  for (const Datum& d : is) {
    const Datum* before = with(was, d.letter);
    if (!before)
      entry(RevisionFate::New, nullptr, &d);
    else if (before->features != d.features || before->targets != d.targets)
      entry(RevisionFate::Changed, before, &d);
  }
  for (const Datum& d : was)
    if (!with(is, d.letter)) entry(RevisionFate::Gone, &d, nullptr);
}

// Model, touches, datums, requirements by their numbers, new ones last.
void RevisionMaker::order() {
  std::stable_sort(result_.entries.begin(), result_.entries.end(),
                   [](const RevisionEntry& a, const RevisionEntry& b) {
                     const auto key = [](const RevisionEntry& e) {
                       return std::pair(static_cast<int>(e.subject), e.was ? e.was->balloon
                                                                     : e.fate == RevisionFate::New
                                                                         ? 1 << 20
                                                                         : 0);
                     };
                     return key(a) < key(b);
                   });
  result_.stayed = plan_.spec.requirements.size() - told_.size();
}

Result<Revision> RevisionMaker::make() {
  if (!plan_.part) return fail("There is no part in this routine.");
  if (auto done = compareModel(); !done) return pass(done.error());
  carryFeatures();
  carryRequirements();
  fromModel();
  for (const RevisedDrawing& d : result_.sources.drawings)
    fromDrawing(d), fromTitle(d);
  contradicted();
  order();
  return std::move(result_);
}

} // namespace alder
