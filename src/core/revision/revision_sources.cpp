// What the sources of a revision ask for: the newer model's tolerances, the newer drawing, its
// title block, and the geometry where nothing else speaks.
#include "base/units.h"
#include "requirement/fits.h"
#include "requirement/from_pmi.h"
#include "requirement/general_tolerances.h"
#include "requirement/model_figure.h"
#include "requirement/requirement_pairs.h"
#include "revision/revision_maker.h"
#include <algorithm>
#include <cmath>

namespace alder {

void RevisionMaker::fromModel() {
  if (!result_.sources.part) return;
  result_.model_notes = result_.part->notes;
  Specification asked = specificationFromPmi(*result_.part, result_.model_notes);
  for (Note& n : result_.model_notes)
    n.seen = std::any_of(plan_.notes.begin(), plan_.notes.end(),
                         [&](const Note& old) { return old.seen && old.text == n.text; });
  std::vector<RequirementId> was;
  for (const Requirement& r : result_.carried.requirements)
    if (r.entity != 0) was.push_back(r.id);
  if (asked.requirements.empty()) {
    if (!was.empty())
      result_.notes.push_back(
          "The newer model carries no tolerances; those of the older one stay.");
    return;
  }
  std::vector<Note> unused;
  Specification said = specificationFromPmi(*plan_.part, unused);
  const auto to = mapped(
      asked, [](const std::vector<FaceId>& faces) { return faces; }, true);
  const auto old = mapped(
      said,
      [&](const std::vector<FaceId>& faces) {
        return facesNow(*plan_.part, *result_.part, result_.comparison, faces);
      },
      false);
  std::vector<Requirement> is;
  for (Requirement r : asked.requirements) {
    mapInto(r.features, to);
    is.push_back(std::move(r));
  }
  for (Requirement& r : said.requirements)
    mapInto(r.features, old);
  for (Specification* spec : {&asked, &said})
    for (Datum& d : spec->datums)
      mapInto(d.features, spec == &asked ? to : old);
  // Of the datums those that the older model named; others are the programmer's own.
  std::vector<Datum> datums;
  for (const Datum& d : result_.carried.datums) {
    const Datum* before = said.datum(d.letter);
    const Datum* now = asked.datum(d.letter);
    if (before && now && before->features == now->features && before->targets == now->targets)
      datums.push_back(*now); // the file says what it said
    else if (before || now)
      datums.push_back(d);
  }
  std::vector<Datum> now;
  for (const Datum& d : asked.datums) {
    const Datum* before = said.datum(d.letter);
    const bool taken_out = before && *before == d && !result_.carried.datum(d.letter);
    if (!taken_out) now.push_back(d);
  }
  compareDatums(datums, now);
  std::vector<Requirement> taken_out;
  for (const Requirement& s : said.requirements)
    if (std::none_of(plan_.spec.requirements.begin(), plan_.spec.requirements.end(),
                     [&](const Requirement& r) { return r.entity == s.entity; }))
      taken_out.push_back(s);
  compare(
      was, is,
      [&](const Requirement& r) -> const Requirement* {
        for (const Requirement& s : said.requirements)
          if (s.entity == r.entity && s.kind == r.kind) return &s;
        return nullptr;
      },
      taken_out);
}

void RevisionMaker::fromDrawing(const RevisedDrawing& drawing) {
  if (drawing.replaces.empty()) {
    result_.notes.push_back(drawing.file.name + " is added; take from it what it asks for.");
    return;
  }
  Specification empty;
  empty.standard = plan_.spec.standard;
  std::vector<ProposalChoice> choices;
  for (std::size_t i = 0; i < drawing.reading.proposals.size(); ++i) {
    const DrawingProposal& p = drawing.reading.proposals[i];
    const Vec2 middle = p.box.middle();
    const bool refused = std::any_of(
        drawing.file.refused.begin(), drawing.file.refused.end(), [&](const RefusedSpot& s) {
          return s.page == p.page && std::hypot(s.x - middle.x(), s.y - middle.y()) < 0.5;
        });
    if (refused || (p.as != ProposedAs::Requirement && p.as != ProposedAs::Datum)) continue;
    choices.push_back({i, sureFaces(drawing.reading, drawing.ties, i)});
  }
  const auto as_is = [](const std::vector<FaceId>& faces) { return faces; };
  std::vector<RequirementId> was;
  std::vector<Requirement> were;
  for (const Requirement& r : result_.carried.requirements)
    if (r.spot && r.spot->drawing == drawing.replaces) was.push_back(r.id), were.push_back(r);
  // Where a person told it the features the older one had, the newer one has them too.
  AcceptedDrawing accepted =
      acceptProposals(*result_.part, empty, drawing.reading, drawing.file.name, choices);
  std::vector<Requirement> asked;
  std::vector<std::size_t> of; // the choice that each comes from
  const auto read = [&] {
    asked.clear(), of.clear();
    const auto to = mapped(accepted.spec, as_is, true);
    for (const AcceptedProposal& a : accepted.taken)
      for (const RequirementId id : a.requirements) {
        Requirement r = accepted.spec.requirement(id);
        mapInto(r.features, to);
        asked.push_back(std::move(r));
        of.push_back(a.proposal);
      }
    for (Datum& d : accepted.spec.datums)
      mapInto(d.features, to);
  };
  const Specification before = result_.carried;
  read();
  const auto pairs = pairRequirements(were, asked);
  bool more = false;
  for (std::size_t w = 0; w < were.size(); ++w) {
    if (!pairs[w] || were[w].features.empty() || !asked[*pairs[w]].features.empty()) continue;
    for (ProposalChoice& c : choices)
      if (c.proposal == of[*pairs[w]])
        for (const FeatureId id : were[w].features) {
          const auto& faces = before.feature(id).faces;
          c.faces.insert(c.faces.end(), faces.begin(), faces.end());
          more = more || !faces.empty();
        }
  }
  if (more) {
    result_.carried = before;
    accepted = acceptProposals(*result_.part, empty, drawing.reading, drawing.file.name, choices);
    read();
  }
  std::vector<Datum> datums;
  for (const Datum& d : result_.carried.datums) {
    const Datum* now = accepted.spec.datum(d.letter);
    if (now && std::includes(d.features.begin(), d.features.end(), now->features.begin(),
                             now->features.end()))
      datums.push_back(*now);
    else if (now)
      datums.push_back(d);
  }
  compareDatums(datums, accepted.spec.datums);
  compare(was, asked, {}, {});
  const auto& general = drawing.reading.general;
  if (general && *general != plan_.spec.general)
    result_.notes.push_back(fmt::format(
        "The newer drawing states general tolerances {}; the "
        "routine has {}.",
        name(*general),
        plan_.spec.general.rule == GeneralRule::None ? "none" : name(plan_.spec.general)));
}

// What is known of the part and stands otherwise in the newer title block.
void RevisionMaker::fromTitle(const RevisedDrawing& drawing) {
  PartHeader header = plan_.header;
  std::string words;
  for (const auto& [caption, text] : titleOf(drawing.reading)) {
    const auto field = headerFieldOf(caption);
    if (!field || header[*field].empty() || header[*field] == text) continue;
    words += fmt::format("{}{} {}, now {}", words.empty() ? "" : "; ", alder::words(*field),
                         header[*field], text);
    header[*field] = text;
  }
  if (words.empty()) return;
  RevisionEntry e;
  e.subject = RevisionSubject::Header;
  e.words = words;
  e.header_is = std::move(header);
  result_.entries.push_back(std::move(e));
}

void RevisionMaker::contradicted() {
  if (!result_.sources.part) return;
  std::vector<Requirement> stay;
  for (const Requirement& r : result_.carried.requirements)
    if (!told_.count(r.id)) stay.push_back(r);
  for (const Requirement& r : stay) {
    const Requirement& whole = plan_.spec.requirement(r.id);
    if (r.features.empty() && !whole.features.empty()) {
      RevisionEntry e;
      e.subject = RevisionSubject::Requirement;
      e.fate = RevisionFate::Gone;
      e.words = title(r) + " is gone";
      e.detail = "its features are no longer on the part";
      e.settled = true;
      e.was = whole;
      e.features = whole.features;
      told_.insert(r.id);
      result_.entries.push_back(std::move(e));
      continue;
    }
    if (r.features.size() < whole.features.size()) {
      changed(whole, r);
      result_.entries.back().settled = true;
      continue;
    }
    const auto before = modelFigure(plan_.spec, r), now = modelFigure(result_.carried, r);
    if (!before || !now || std::abs(*before - *now) < 1e-4) continue;
    if (std::abs(*before - r.nominal) > 1e-3 || !isDimension(r.kind)) continue;
    Requirement is = r;
    is.nominal = *now;
    is.lower += *now - *before, is.upper += *now - *before;
    if (!r.fit.empty())
      if (const auto limits = limitDeviations(r.fit, is.nominal)) {
        is.lower = is.nominal + limits->lower, is.upper = is.nominal + limits->upper;
        is.tolerance = is.upper - is.lower;
      }
    changed(r, is);
    result_.entries.back().detail += "; the newer model has it so";
  }
}

} // namespace alder
