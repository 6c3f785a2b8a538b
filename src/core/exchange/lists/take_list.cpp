#include "exchange/lists/take_list.h"

#include "drawing/accept.h"
#include "plan/references.h"
#include <algorithm>
#include <charconv>
#include <map>
#include <set>

namespace alder {
namespace {

std::optional<int> wholeNumber(const std::string& text) {
  int n = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), n);
  return error == std::errc() && end == text.data() + text.size() && n > 0 ? std::optional(n)
                                                                           : std::nullopt;
}

std::string rowName(const std::string& label, const ListedRequirement& row) {
  return fmt::format("{} line {}{}", label, row.line,
                     row.number.empty() ? "" : " (" + row.number + ")");
}

// The same asked of the same; numbers and places do not count.
bool asksSame(const Requirement& a, Requirement b) {
  b.id = a.id, b.balloon = a.balloon, b.spot = a.spot, b.key = a.key, b.sheet_zone = a.sheet_zone;
  b.entity = a.entity, b.decimals = a.decimals, b.written_decimals = a.written_decimals;
  return a == b;
}

} // namespace

TakenList takeList(const PartModel& part, const Specification& spec, const RequirementList& list,
                   const std::string& label) {
  DrawingReading reading;
  std::vector<const ListedRequirement*> of; // by proposal
  TakenList result;
  for (const ListedRequirement& row : list.rows) {
    if (!row.fault.empty()) {
      result.notes.push_back(fmt::format("{}: {}: {}", rowName(label, row),
                                         row.text.empty() ? "not taken over" : row.text,
                                         row.fault));
      continue;
    }
    DrawingProposal p;
    p.text = row.text;
    p.typed = row.typed;
    reading.proposals.push_back(std::move(p));
    of.push_back(&row);
  }
  const DrawingTies ties = tiesOf(reading, {}, part);
  std::vector<ProposalChoice> choices;
  for (std::size_t i = 0; i < of.size(); ++i)
    choices.push_back({i, sureFaces(reading, ties, i)});
  AcceptedDrawing accepted = acceptProposals(part, spec, reading, {}, choices);
  std::set<int> used;
  for (const Requirement& r : spec.requirements)
    used.insert(r.balloon);
  std::map<RequirementId, std::optional<int>> wanted;
  for (const auto* group : {&accepted.taken, &accepted.refused})
    for (const AcceptedProposal& a : *group)
      for (const std::string& remark : a.remarks)
        result.notes.push_back(fmt::format("{}: {}: {}", rowName(label, *of[a.proposal]),
                                           of[a.proposal]->text, remark));
  for (const AcceptedProposal& a : accepted.taken) {
    const ListedRequirement& row = *of[a.proposal];
    for (const RequirementId id : a.requirements) {
      Requirement& r = accepted.spec.requirements.at(id);
      r.key = row.key;
      r.sheet_zone = row.sheet_zone;
      const bool there = !r.features.empty() &&
                         std::any_of(spec.requirements.begin(), spec.requirements.end(),
                                     [&](const Requirement& known) { return asksSame(known, r); });
      if (there) {
        result.notes.push_back(
            fmt::format("{}: {} is there already", rowName(label, row), row.text));
        accepted.spec.requirements.erase(id);
        continue;
      }
      wanted[id] = a.requirements.size() == 1 ? wholeNumber(row.number) : std::nullopt;
      result.taken.push_back(id);
      result.tied += !r.features.empty();
    }
  }
  for (auto& [id, number] : wanted)
    if (number && used.insert(*number).second)
      accepted.spec.requirements.at(id).balloon = *number;
    else
      number.reset();
  int next = used.empty() ? 0 : *used.rbegin();
  for (const auto& [id, number] : wanted)
    if (!number) accepted.spec.requirements.at(id).balloon = ++next;
  dropUnasked(accepted.spec, spec);
  result.spec = std::move(accepted.spec);
  return result;
}

} // namespace alder
