#include "drawing/accept.h"

#include "requirement/typed/on_features.h"
#include "requirement/typed/target.h"
#include <algorithm>
#include <map>

namespace alder {
namespace {

class Accepting {
 public:
  Accepting(const PartModel& part, const Specification& spec, const DrawingReading& reading,
            const std::string& drawing)
      : part_(part)
      , reading_(reading)
      , drawing_(drawing) {
    result_.spec = spec;
    if (reading.general && spec.general.rule == GeneralRule::None)
      result_.spec.general = *reading.general;
    for (const Requirement& r : spec.requirements)
      balloon_ = std::max(balloon_, r.balloon);
  }

  AcceptedDrawing take(const std::vector<ProposalChoice>& choices) {
    // Datums first: requirements speak of them.
    for (const bool datums : {true, false})
      for (const ProposalChoice& c : choices)
        if ((reading_.proposals[c.proposal].as == ProposedAs::Datum) == datums) one(c);
    return std::move(result_);
  }

 private:
  void one(const ProposalChoice& c) {
    const DrawingProposal& p = reading_.proposals[c.proposal];
    AcceptedProposal now{c.proposal, {}, {}};
    if (auto done = p.as == ProposedAs::Datum ? datum(p, c) : requirement(p, c, now); done) {
      result_.taken.push_back(std::move(now));
    } else {
      now.remarks = {done.error().message};
      result_.refused.push_back(std::move(now));
    }
  }

  Done datum(const DrawingProposal& p, const ProposalChoice& c) {
    const std::string& letter = p.typed.front().words;
    if (c.faces.empty()) return fail("Datum {} needs its features.", letter);
    const TypedTarget target = typedTarget(part_, result_.spec, {}, c.faces, 1);
    if (const Datum* there = result_.spec.datum(letter)) {
      if (there->features == target.features) return fail("Datum {} is there already.", letter);
      return fail("There is another datum {} already.", letter);
    }
    result_.spec = target.spec;
    result_.spec.datums.push_back({letter, target.features, {}});
    std::sort(result_.spec.datums.begin(), result_.spec.datums.end(),
              [](const Datum& a, const Datum& b) { return a.letter < b.letter; });
    return {};
  }

  Done requirement(const DrawingProposal& p, const ProposalChoice& c, AcceptedProposal& now) {
    std::vector<Requirement> all;
    if (c.faces.empty()) {
      auto open = withoutFeatures(p);
      if (!open) return pass(open.error());
      all.push_back(std::move(*open));
    } else {
      const TypedTarget target = typedTarget(part_, result_.spec, {}, c.faces, 1);
      auto laid = layOn(target.spec, target.features, p.typed, decidingLengths(part_, target.spec));
      if (!laid) return pass(laid.error());
      const GeneralTolerances general = result_.spec.general;
      result_.spec = target.spec;
      result_.spec.general = general;
      all = std::move(laid->requirements);
      now.remarks = std::move(laid->remarks);
    }
    for (Requirement& r : all) {
      r.id = result_.spec.requirements.next();
      r.balloon = ++balloon_;
      const Vec2 at = p.box.middle();
      if (!drawing_.empty()) r.spot = DrawingSpot{drawing_, p.page, at.x(), at.y()};
      if (p.lower_segment) {
        if (const auto above = upper_.find(p.callout); above != upper_.end())
          r.upper_segment = above->second;
        else
          now.remarks.push_back("the segment above it is not taken over");
      }
      if (p.callout > 0 && !p.lower_segment && !isDimension(r.kind)) upper_[p.callout] = r.id;
      now.requirements.push_back(r.id);
      result_.spec.requirements.push_back(std::move(r));
    }
    return {};
  }

  // As it is written; its features come later.
  Result<Requirement> withoutFeatures(const DrawingProposal& p) const {
    const Typed& t = p.typed.back();
    Requirement r = t.requirement;
    if (t.nominal_open) return fail("{} has no nominal without its features.", p.text);
    if (t.kind_open) r.kind = Characteristic::Distance;
    if (t.limits_open)
      if (auto done = giveGeneral(result_.spec, r, t.decimals, {}); !done)
        return pass(done.error());
    if (isDimension(r.kind)) r.tolerance = r.upper - r.lower;
    return r;
  }

  const PartModel& part_;
  const DrawingReading& reading_;
  const std::string& drawing_;
  AcceptedDrawing result_;
  int balloon_ = 0;
  std::map<int, RequirementId> upper_; // the last indicator of a callout
};

} // namespace

AcceptedDrawing acceptProposals(const PartModel& part, const Specification& spec,
                                const DrawingReading& reading, const std::string& drawing,
                                const std::vector<ProposalChoice>& choices) {
  return Accepting(part, spec, reading, drawing).take(choices);
}

std::vector<std::pair<std::string, std::string>> titleOf(const DrawingReading& reading) {
  std::vector<std::pair<std::string, std::string>> title;
  for (const DrawingProposal& p : reading.proposals) {
    if (p.as != ProposedAs::Title || p.caption.empty()) continue;
    const bool known = std::any_of(title.begin(), title.end(),
                                   [&](const auto& t) { return t.first == p.caption; });
    if (!known) title.emplace_back(p.caption, p.text);
  }
  return title;
}

std::vector<FaceId> sureFaces(const DrawingReading& reading, const DrawingTies& ties,
                              std::size_t proposal) {
  const auto& suggestions = ties.suggestions[proposal];
  if (reading.proposals[proposal].scanned || suggestions.empty() || !suggestions.front().sure)
    return {};
  return suggestions.front().faces;
}

std::vector<ProposalChoice> sureChoices(const DrawingReading& reading, const DrawingTies& ties) {
  std::vector<ProposalChoice> choices;
  for (std::size_t i = 0; i < reading.proposals.size(); ++i)
    if (auto faces = sureFaces(reading, ties, i); !faces.empty())
      choices.push_back({i, std::move(faces)});
  return choices;
}

} // namespace alder
