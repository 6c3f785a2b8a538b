// Proposals of a drawing taken over into a specification.
#pragma once

#include "drawing/tie.h"
#include "requirement/specification.h"

namespace alder {

struct ProposalChoice {
  std::size_t proposal = 0;  // in the reading
  std::vector<FaceId> faces; // of its features; none: a requirement that waits for its features
};

struct AcceptedProposal {
  std::size_t proposal = 0;
  std::vector<RequirementId> requirements; // one, or none of a datum
  std::vector<std::string> remarks;        // a line each
};

struct AcceptedDrawing {
  Specification spec; // with new features behind those that were there
  std::vector<AcceptedProposal> taken;
  std::vector<AcceptedProposal> refused; // why: its remark; nothing of it is in the specification
};

// Requirements, datums, and the general tolerances that the drawing states where there are none
// yet. Balloons go on in the order of the choices; lower segments find the segment above.
// `drawing`: the name of the file, which the requirements remember with their place; empty: none.
AcceptedDrawing acceptProposals(const PartModel& part, const Specification& spec,
                                const DrawingReading& reading, const std::string& drawing,
                                const std::vector<ProposalChoice>& choices);

// Of the title block: captions and what stands below them, page by page, each caption once.
std::vector<std::pair<std::string, std::string>> titleOf(const DrawingReading& reading);

// Whose features are sure, those; else none.
std::vector<FaceId> sureFaces(const DrawingReading& reading, const DrawingTies& ties,
                              std::size_t proposal);
// What is taken with one keystroke: all requirements and datums whose features are sure.
std::vector<ProposalChoice> sureChoices(const DrawingReading& reading, const DrawingTies& ties);

} // namespace alder
