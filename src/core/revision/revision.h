// A newer model or drawing of the routine's part beside the older one: all that differs, to be gone
// through one by one, and the routine that comes of it. What stayed keeps its features, touches,
// angles and hops; nothing is taken over that was not decided on.
#pragma once

#include "drawing/accept.h"
#include "plan/edit.h"
#include "revision/carried.h"
#include "route/clearance.h"

namespace alder {

struct RevisedDrawing {
  DrawingFile file;
  std::string replaces; // name of the routine's drawing in whose place it comes; empty: it is added
  DrawingReading reading;
  DrawingTies ties;                 // to the newer model
  std::vector<DrawingSheet> sheets; // for the places of balloons
};

struct RevisionSources {
  PartPtr part; // null: the model stays
  std::vector<RevisedDrawing> drawings;
};

// What the entry is about, and what became of it.
enum class RevisionSubject { Model, Touches, Header, Datum, Requirement };
enum class RevisionFate { Changed, New, Gone };
std::string_view name(RevisionSubject subject); // "model", "touches", ...
std::string_view name(RevisionFate fate);       // "changed", "new", "gone"

struct RevisionEntry {
  RevisionSubject subject = RevisionSubject::Model;
  RevisionFate fate = RevisionFate::Changed;
  std::string words;  // "Bore ø8 · 2 moved by 2 mm along +X", "12: position ø0.2 A B C"
  std::string detail; // what differs or follows, a line; may be empty
  // The revision leaves no choice: it can be seen, but not left as it was.
  bool settled = false;
  std::vector<FaceId> before, now;            // faces of either model that it speaks of
  std::vector<FeatureId> features;            // of the routine
  SurfaceFate surfaces = SurfaceFate::Stayed; // of a model entry
  std::optional<Requirement> was, is;         // features by their ids in `carried`
  std::optional<Datum> datum_was, datum_is;
  std::optional<PartHeader> header_is; // with what a newer title block says
};

enum class Decision { Open, Taken, Left };

struct Revision {
  RevisionSources sources;
  PartPtr part; // the newer model, or the one that stays
  ModelComparison comparison;
  std::vector<CarriedFeature> features; // touched ones of the routine
  Specification carried; // all that stays; and the features that `is` of the entries speak of
  std::vector<RevisionEntry> entries;
  std::size_t stayed = 0;         // requirements of the routine that are not among the entries
  std::vector<std::string> notes; // a line each, on the revision as a whole
  std::vector<Note> model_notes;  // of the newer model, in place of the plan's
};

// Error where the two are not two states of one part.
Result<Revision> revisionOf(const Plan& plan, const RevisionSources& sources);

// The routine with what was taken; what was left stays as it was. Error while an entry is open, and
// where a step, a frame or the alignment stands on what is gone; it names which. `obstacles`: for
// the part as it will be are made here.
Result<EditGroup> revisedRoutine(const Plan& plan, const Revision& revision,
                                 const std::vector<Decision>& decisions,
                                 const Progress& progress = {});

} // namespace alder
