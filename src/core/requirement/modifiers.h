// The modifiers of a size or tolerance in one place: how they are written, which can stand on a
// requirement and what they may be, what the standards say against them. What they do to a figure
// is in judge/, how they come from the model in from_pmi.cpp.
#pragma once

#include "requirement/proofread.h"
#include "requirement/typed/scanner.h"
#include <functional>
#include <variant>

namespace alder {

// Where the zone of a profile lies, from the nominal outward (ISO 1101 UZ, ASME Y14.5 U); mm.
struct ZoneBand {
  double lower = 0, upper = 0;
};
ZoneBand zoneBand(const Requirement& r);
double zoneMiddle(const Requirement& r);
// How far beyond the primary datum's side the zone of an axis reaches (P); 0: it lies on the
// feature.
double zoneProjection(const Requirement& r);
void setZoneBand(Requirement& r, const ZoneBand& band);

// Behind the value in the indicator, in order: in one line of plain text ("P 5"), and as drawn.
struct ModifierSign {
  std::string plain, drawn;
};
std::vector<ModifierSign> signsBehindValue(const Requirement& r, ToleranceStandard standard);
// Drawn in circles after them: "M", "LR".
std::string circledSigns(const Requirement& r);
// "A | B M | C-D"
std::string describe(const std::vector<DatumReference>& datums);

// The same read where a person or a drawing has written it.
struct SignReading {
  bool taken = false;
  std::string wrong; // what is missing of a sign that was begun
};
using ReadLength = std::function<std::optional<double>()>; // at the scanner, mm
SignReading readSignBehindValue(typed::Scanner& in, const ReadLength& length, Requirement& r);
SignReading readSignOfDatum(typed::Scanner& in, DatumReference& datum);
SignReading readPlaneIndicator(typed::Scanner& in, Requirement& r); // "orientation plane // A"
// All lengths among them divided.
void divideModifiers(Requirement& r, double by);

// One that a person may set on this requirement.
struct ModifierField {
  struct Choice {
    std::vector<std::string> items;
    std::size_t current = 0;
    std::function<void(Requirement&, std::size_t)> set;
  };
  struct Figure {
    double value = 0; // mm, or a count
    bool length = true;
    int decimals = 3;
    std::string unset; // what zero means
    std::function<void(Requirement&, double)> set;
  };
  struct Letters {
    std::string value, allowed;
    std::string unset; // what none of them means
    std::function<void(Requirement&, const std::string&)> set;
  };
  std::string label, id;
  std::string edit; // what changing it is called
  std::string explains;
  std::variant<Choice, Figure, Letters> input;
};
// What belongs to the tolerance value, to its datums, and to the zone or distance.
std::vector<ModifierField> valueModifiers(const Requirement& r);
std::vector<ModifierField> datumModifiers(const Requirement& r);
std::vector<ModifierField> zoneModifiers(const Specification& spec, const Requirement& r);

// What the standards say against those that it has.
std::vector<Remark> modifierRemarks(const Specification& spec, const Requirement& r);

} // namespace alder
