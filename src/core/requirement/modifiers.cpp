#include "requirement/modifiers.h"

#include "base/units.h"
#include "requirement/plane_indicator.h"
#include <algorithm>

namespace alder {
namespace {

using Field = ModifierField;
using K = Characteristic;

Field choice(std::string label, std::string id, std::string edit, std::vector<std::string> items,
             std::size_t current, std::function<void(Requirement&, std::size_t)> set) {
  return {std::move(label), std::move(id), std::move(edit), "",
          Field::Choice{std::move(items), current, std::move(set)}};
}

Field length(std::string label, std::string id, std::string edit, double value, int decimals,
             std::string unset, std::function<void(Requirement&, double)> set) {
  return {std::move(label), std::move(id), std::move(edit), "",
          Field::Figure{value, true, decimals, std::move(unset), std::move(set)}};
}

// The planes that each datum gives direction to; which of them cannot hold the axis or line, the
// judge says.
Field planes(const Specification& spec, const Requirement& r, std::string label, std::string id,
             std::optional<PlaneIndicator> Requirement::*field) {
  std::vector<std::optional<PlaneIndicator>> all{{}};
  for (const Datum& d : spec.datums)
    for (const auto relation :
         {PlaneRelation::Parallel, PlaneRelation::Perpendicular, PlaneRelation::Including})
      if (const PlaneIndicator indicator{relation, d.letter}; planesOf(spec, indicator))
        all.emplace_back(indicator);
  if (std::find(all.begin(), all.end(), r.*field) == all.end())
    all.push_back(r.*field); // of a datum that is gone: shown, not lost
  std::vector<std::string> items;
  for (const auto& each : all)
    items.push_back(each ? symbol(*each) : "not stated");
  const auto current = std::find(all.begin(), all.end(), r.*field) - all.begin();
  return choice(label, std::move(id), "Change the " + label, std::move(items),
                static_cast<std::size_t>(current),
                [all, field](Requirement& x, std::size_t index) { x.*field = all[index]; });
}

// May be held by one placement with others, and be a pattern.
bool isLocated(K kind) {
  return !isDimension(kind) && !isForm(kind) && !isOrientation(kind) && !isRunout(kind);
}

std::string signedFigure(double v) {
  return (v > 0 ? "+" : "") + shortFigure(v);
}

} // namespace

ZoneBand zoneBand(const Requirement& r) {
  return {r.unequal - r.tolerance / 2, r.unequal + r.tolerance / 2};
}

double zoneMiddle(const Requirement& r) {
  return r.unequal;
}

double zoneProjection(const Requirement& r) {
  return r.projected;
}

void setZoneBand(Requirement& r, const ZoneBand& band) {
  r.tolerance = band.upper - band.lower;
  r.unequal = (band.lower + band.upper) / 2;
}

std::vector<ModifierSign> signsBehindValue(const Requirement& r, ToleranceStandard standard) {
  std::vector<ModifierSign> signs;
  const auto both = [&](std::string text) { signs.push_back({text, text}); };
  if (r.free_offset) both("OZ");
  if (r.unequal != 0) both("UZ" + signedFigure(r.unequal));
  if (r.projected > 0)
    signs.push_back({"P " + shortFigure(r.projected), "Ⓟ" + shortFigure(r.projected)});
  if (r.unit_length > 0) both("/ " + shortFigure(r.unit_length));
  if (r.separate) both(standard == ToleranceStandard::Iso ? "SZ" : "SEP REQT");
  if (r.together > 0) both("SIM" + std::to_string(r.together));
  return signs;
}

std::string circledSigns(const Requirement& r) {
  std::string letters;
  if (r.material == MaterialModifier::Maximum) letters += 'M';
  if (r.material == MaterialModifier::Least) letters += 'L';
  if (r.reciprocity) letters += 'R';
  return letters;
}

std::string describe(const std::vector<DatumReference>& datums) {
  std::string text;
  for (const auto& d : datums) {
    if (!text.empty()) text += " | ";
    for (std::size_t i = 0; i < d.letters.size(); ++i)
      text += (i ? "-" : "") + d.letters[i];
    if (d.material == MaterialModifier::Maximum) text += " M";
    if (d.material == MaterialModifier::Least) text += " L";
    if (!d.may_fix.empty()) text += " [" + d.may_fix + "]";
  }
  return text;
}

SignReading readSignBehindValue(typed::Scanner& in, const ReadLength& length, Requirement& r) {
  const auto above_zero = [&](double& into, const char* wrong) -> SignReading {
    const auto v = length();
    if (!v || !(*v > 0)) return {true, wrong};
    into = *v;
    return {true, {}};
  };
  const std::size_t from = in.at();
  if (in.takeCircled('M', true)) {
    r.material = MaterialModifier::Maximum;
  } else if (in.takeCircled('L', true)) {
    r.material = MaterialModifier::Least;
  } else if (in.takeCircled('R', true)) {
    r.reciprocity = true;
  } else if (in.takeWord("oz")) {
    r.free_offset = true;
  } else if (in.takeWord("uz")) {
    const auto v = length();
    if (!v) return {true, "UZ needs where the middle of the zone lies, as UZ+0.02"};
    r.unequal = *v;
  } else if (in.takeCircled('U', false)) { // how much of the zone lies outside
    const auto v = length();
    if (!v) return {true, "U needs how much of the zone lies outside, as U 0.02"};
    r.unequal = *v - r.tolerance / 2;
  } else if (in.takeCircled('P', true)) {
    in.blanks();
    const bool figure = (in.next() >= U'0' && in.next() <= U'9') || in.next() == U'.';
    if (!figure) { // a datum P
      in.back(from);
      return {};
    }
    return above_zero(r.projected, "P needs how far the zone is projected, as P 20");
  } else if (in.take(U'/')) {
    return above_zero(r.unit_length, "after / the length is missing, as 0.1/100");
  } else if (in.takeWord("cz")) {
    r.separate = false;
  } else if (in.takeWord("sz") || in.takeWords("sep reqt")) {
    r.separate = true;
  } else if (in.takeWord("sim")) {
    const auto number = in.figure(false);
    if (!number || number->is_signed || number->decimals > 0 || number->value < 1 ||
        number->value > 99)
      return {true, "SIM needs its number, as SIM1"};
    r.together = static_cast<int>(number->value);
  } else {
    return {};
  }
  return {true, {}};
}

SignReading readSignOfDatum(typed::Scanner& in, DatumReference& d) {
  if (in.takeCircled('M', true)) {
    d.material = MaterialModifier::Maximum;
  } else if (in.takeCircled('L', true)) {
    d.material = MaterialModifier::Least;
  } else if (in.take(U'[')) {
    constexpr std::u32string_view kFreedoms = U"xyzuvw";
    for (; in.next() != 0 && kFreedoms.find(in.next()) != std::u32string_view::npos;
         in.back(in.at() + 1))
      d.may_fix += static_cast<char>(in.next());
    if (!in.take(U']')) return {true, "in [ ] stand letters of xyzuvw that the datum may fix"};
  } else {
    return {};
  }
  return {true, {}};
}

SignReading readPlaneIndicator(typed::Scanner& in, Requirement& r) {
  const bool orientation = in.takeWords("orientation plane"),
             intersection = !orientation && in.takeWords("intersection plane");
  if (!orientation && !intersection) return {};
  std::optional<PlaneRelation> relation;
  if (in.take(U'∥') || (in.take(U'/') && in.take(U'/')))
    relation = PlaneRelation::Parallel;
  else if (in.take(U'⟂') || in.take(U'⊥'))
    relation = PlaneRelation::Perpendicular;
  else if (in.take(U'='))
    relation = PlaneRelation::Including;
  const auto letter = in.letters();
  if (!relation || !letter)
    return {true, "a plane indicator has // or ⟂ or = and the letter of a datum"};
  (orientation ? r.zone_plane : r.section_plane) = PlaneIndicator{*relation, *letter};
  return {true, {}};
}

void divideModifiers(Requirement& r, double by) {
  for (double* length : {&r.unequal, &r.projected, &r.unit_length})
    *length /= by;
}

std::vector<Field> valueModifiers(const Requirement& r) {
  std::vector<Field> fields;
  if (isProfile(r.kind))
    fields.push_back(length("offset, UZ", "unequal", "Change requirement", r.unequal, 4, "",
                            [](Requirement& x, double v) { x.unequal = v; }));
  return fields;
}

std::vector<Field> datumModifiers(const Requirement& r) {
  std::vector<Field> fields;
  for (std::size_t i = 0; i < r.datums.size(); ++i) {
    std::string letters;
    for (const auto& l : r.datums[i].letters)
      letters += (letters.empty() ? "" : "-") + l;
    const auto set = [i](Requirement& x, const std::string& typed) {
      if (i < x.datums.size()) x.datums[i].may_fix = typed;
    };
    fields.push_back({letters + " constrains", "locks" + std::to_string(i),
                      "Change what a datum constrains",
                      "Degrees of freedom that this datum constrains: x y z along, u v w about the "
                      "axes of the part",
                      Field::Letters{r.datums[i].may_fix, "xyzuvw", "all it can", set}});
  }
  return fields;
}

std::vector<Field> zoneModifiers(const Specification& spec, const Requirement& r) {
  std::vector<Field> fields;
  const Ideal* ideal = r.features.empty() ? nullptr : &spec.feature(r.features[0]).ideal;
  const bool of_axis = (isOrientation(r.kind) || r.kind == K::Position) && ideal && hasAxis(*ideal);
  const bool iso = spec.standardOf(r) == ToleranceStandard::Iso;
  if (r.kind == K::Size)
    fields.push_back(choice("envelope", "envelope", "Change the envelope requirement",
                            {"by the standard", "required Ⓔ"}, r.envelope,
                            [](Requirement& x, std::size_t i) { x.envelope = i == 1; }));
  if (of_axis)
    fields.push_back(length("projected zone", "projected", "Project the zone", r.projected, 3, "no",
                            [](Requirement& x, double v) { x.projected = v; }));
  if (of_axis && r.zone == Zone::Planar)
    fields.push_back(planes(spec, r, "orientation plane", "zonePlane", &Requirement::zone_plane));
  if (r.kind == K::LineProfile || r.kind == K::Straightness)
    fields.push_back(
        planes(spec, r, "intersection plane", "sectionPlane", &Requirement::section_plane));
  if (r.kind == K::Straightness || r.kind == K::Flatness)
    fields.push_back(length("per unit length", "unitLength", "Limit the length", r.unit_length, 2,
                            "whole", [](Requirement& x, double v) { x.unit_length = v; }));
  if (r.material != MaterialModifier::None && !isDimension(r.kind))
    fields.push_back(choice("reciprocity", "reciprocity", "Change the reciprocity",
                            {"no", "to the size Ⓡ"}, r.reciprocity,
                            [](Requirement& x, std::size_t i) { x.reciprocity = i == 1; }));
  if (isProfile(r.kind))
    fields.push_back(choice("zone lies", "freeOffset", "Change where the zone lies",
                            {"about the nominal", "at any offset (OZ)"}, r.free_offset,
                            [](Requirement& x, std::size_t i) {
                              x.free_offset = i == 1;
                              if (x.free_offset) x.unequal = 0;
                            }));
  if (isLocated(r.kind))
    fields.push_back({"SIM group", "together", "Change the SIM group", "",
                      Field::Figure{static_cast<double>(r.together), false, 0, "none",
                                    [](Requirement& x, double v) {
                                      x.together = std::max(0, static_cast<int>(v));
                                    }}});
  if ((r.features.size() > 1 || !iso) && isLocated(r.kind))
    fields.push_back(
        choice(iso ? "pattern" : "simultaneous", "separate", "Change the pattern",
               iso ? std::vector<std::string>{"CZ", "SZ"}
                   : std::vector<std::string>{"by the standard", "separate (SEP REQT)"},
               r.separate, [](Requirement& x, std::size_t i) { x.separate = i == 1; }));
  return fields;
}

std::vector<Remark> modifierRemarks(const Specification& spec, const Requirement& r) {
  std::vector<Remark> remarks;
  const ToleranceStandard standard = spec.standardOf(r);
  const auto say = [&](std::string what, std::string fix, auto change) {
    Requirement corrected = r;
    change(corrected);
    remarks.push_back({std::move(what), std::move(fix), std::move(corrected)});
  };
  if (r.reciprocity) {
    const auto drop = [](Requirement& x) { x.reciprocity = false; };
    if (r.material == MaterialModifier::None)
      say("R goes with M or L: it hands what they leave unused to the size.", "Leave out R", drop);
    else if (standard != ToleranceStandard::Iso)
      say("ASME Y14.5 knows no reciprocity.", "Leave out R", drop);
  }
  if (r.free_offset) {
    const auto drop = [](Requirement& x) { x.free_offset = false; };
    if (!isProfile(r.kind))
      say("Only the zone of a profile can be offset.", "Leave out the offset", drop);
    else if (standard == ToleranceStandard::Asme2009)
      say("ASME Y14.5-2009 has no dynamic profile.", "Leave out the offset", drop);
    else if (r.unequal != 0)
      say("A zone that may lie anywhere has no middle of its own.", "Leave out its middle",
          [](Requirement& x) { x.unequal = 0; });
  }
  return remarks;
}

} // namespace alder
