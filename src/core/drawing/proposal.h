// What a drawing asks for, read from the texts of its sheets and proposed to a person.
#pragma once

#include "drawing/pointers.h"
#include "requirement/typed/typed.h"

namespace alder {

enum class ProposedAs {
  Requirement,
  Basic,     // theoretically exact dimension
  Reference, // auxiliary dimension
  Datum,
  Thread,
  Texture,
  Note,
  Title,         // of the title block
  NotUnderstood, // looks like a dimension or an indicator; `says` tells why it is none
};
std::string_view name(ProposedAs as); // "requirement", "basic", ..., "surface_texture"

struct DrawingProposal {
  ProposedAs as = ProposedAs::Requirement;
  int page = 1;
  TextBox box;
  std::string text;           // as read
  std::vector<Typed> typed;   // one, of chamfers two; of notes and titles none
  std::string caption;        // of a title: "Drawing number"
  std::string says;           // what was not understood, or not taken over; one line
  int callout = 0;            // those with the same number stand together; 0: alone
  bool lower_segment = false; // of the indicator above
  bool scanned = false;       // told from a picture: to be looked at, and never sure
  std::vector<Pointer> pointers;
};

struct DrawingReading {
  std::vector<DrawingProposal> proposals; // page by page, from above and from the left
  LengthUnit unit = LengthUnit::Millimetre;
  std::string unit_from; // the note that says so; empty: taken for granted
  std::optional<GeneralTolerances> general;
  std::string general_from;   // the note
  std::vector<double> scales; // written anywhere, 2 for 2:1; without repeats
};

struct ReadingSettings {
  std::optional<LengthUnit> unit; // in place of what the drawing says
  ToleranceStandard standard = ToleranceStandard::Iso;
  int first_page = 1; // of the sheets given
};

DrawingReading readingOf(const std::vector<DrawingSheet>& sheets,
                         const ReadingSettings& settings = {});

// What a person framed, read as one text; nothing there: an empty text.
std::string textWithin(const DrawingSheet& sheet, const Box2& frame);

} // namespace alder
