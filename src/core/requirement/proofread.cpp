#include "requirement/proofread.h"

#include "base/units.h"
#include "requirement/datum_freedom.h"
#include "requirement/formula.h"
#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

using K = Characteristic;

bool isLocation(K k) {
  return k == K::Position || k == K::Coaxiality || k == K::Symmetry || k == K::SurfaceProfile;
}
bool hasSize(const Ideal& i) {
  return i.type == SurfaceType::Cylinder || i.type == SurfaceType::Sphere ||
         i.type == SurfaceType::Slot;
}
bool isRound(const Ideal& i) {
  return hasAxis(i) || i.type == SurfaceType::Sphere || i.type == SurfaceType::Torus;
}

std::string words(K kind) {
  std::string w(name(kind));
  std::replace(w.begin(), w.end(), '_', ' ');
  return w;
}

std::string lettersOf(const DatumReference& d) {
  std::string text;
  for (const auto& letter : d.letters)
    text += (text.empty() ? "" : "-") + letter;
  return text;
}

class Proofreader {
 public:
  Proofreader(const Specification& spec, const Requirement& r)
      : spec_(spec)
      , r_(r)
      , standard_(spec.standardOf(r))
      , asme_(standard_ != ToleranceStandard::Iso) {
    if (!r.features.empty()) ideal_ = &spec.feature(r.features[0]).ideal;
  }

  std::vector<Remark> run() {
    if (r_.kind == K::Value) {
      formula();
      limits();
    } else if (!ideal_) {
      say("It is tied to no feature of the model; choose the faces it speaks of.");
    } else if (!isDimension(r_.kind)) {
      value();
      fitsTheFeature();
      datums();
      modifiers();
      zone();
      hierarchy();
    } else {
      limits();
      dimension();
    }
    return std::move(remarks_);
  }

 private:
  void say(std::string what) { remarks_.push_back({std::move(what), {}, {}}); }
  template <class F> void say(std::string what, std::string fix, F&& change) {
    Requirement corrected = r_;
    change(corrected);
    remarks_.push_back({std::move(what), std::move(fix), std::move(corrected)});
  }
  void leaveOutDatum(std::string what, std::size_t index) {
    say(std::move(what), "Leave out datum " + lettersOf(r_.datums[index]),
        [&](Requirement& x) { x.datums.erase(x.datums.begin() + static_cast<long>(index)); });
  }

  void limits() {
    if (isDimension(r_.kind) && !hasLower(r_) && !hasUpper(r_)) say("It has no limit.");
    if (r_.lower > r_.upper)
      say("The lower limit is above the upper one.", "Exchange the limits",
          [](Requirement& x) { std::swap(x.lower, x.upper), x.tolerance = x.upper - x.lower; });
  }

  void dimension() {
    if (r_.kind == K::Distance && r_.features.size() < 2 && r_.along == Along::Direct)
      say("A distance needs two features, or an axis along which one counts.");
    if (r_.kind == K::Angle && r_.features.size() < 2 && r_.along == Along::Direct &&
        ideal_->type != SurfaceType::Cone)
      say("An angle needs two features, a cone, or an axis about which one counts.");
    if (r_.kind == K::Angle && r_.along == Along::Radial)
      say("An angle counts about X, Y or Z.", "Make it about Z",
          [](Requirement& x) { x.along = Along::Z; });
  }

  // What the formula refers to must be there and must not lead back here.
  void formula() {
    if (r_.formula.empty()) return say("It has no formula yet.");
    const auto references = referencesIn(r_.formula);
    if (!references) return say(references.error().message);
    if (auto readable = checkFormula(r_.formula); !readable) return say(readable.error().message);
    for (const FormulaReference& ref : *references)
      if (ref.balloon > 0 && ref.balloon != r_.balloon && !requirementOf(ref.balloon))
        return say("There is no requirement " + ref.text + ".");
      else if (ref.balloon == 0 &&
               std::none_of(spec_.features.begin(), spec_.features.end(),
                            [&](const NominalFeature& f) { return f.name == ref.feature; }))
        return say("There is no feature \"" + ref.feature + "\".");
    std::set<int> seen;
    std::string way = "#" + std::to_string(r_.balloon);
    if (leadsBack(*references, seen, way)) say("A value cannot depend on itself: " + way + ".");
  }

  const Requirement* requirementOf(int balloon) const {
    for (const Requirement& other : spec_.requirements)
      if (other.balloon == balloon) return &other;
    return nullptr;
  }

  bool leadsBack(const std::vector<FormulaReference>& references, std::set<int>& seen,
                 std::string& way) const {
    for (const FormulaReference& ref : references) {
      if (ref.balloon <= 0) continue;
      const std::string before = way;
      way += " -> " + ref.text;
      if (ref.balloon == r_.balloon) return true;
      const Requirement* other = requirementOf(ref.balloon);
      if (other && other->kind == K::Value && seen.insert(ref.balloon).second)
        if (const auto further = referencesIn(other->formula); further)
          if (leadsBack(*further, seen, way)) return true;
      way = before;
    }
    return false;
  }

  void value() {
    if (r_.tolerance < 0 || (r_.tolerance == 0 && r_.material == MaterialModifier::None))
      say("The tolerance is zero; only with M or L may it be.");
  }

  void fitsTheFeature() {
    const auto type = ideal_->type;
    const auto change = [&](K kind, const std::string& why) {
      say(why, "Make it " + words(kind), [kind](Requirement& x) { x.kind = kind; });
    };
    if (r_.kind == K::Flatness && type != SurfaceType::Plane && type != SurfaceType::Slot)
      say("Flatness is of planes, and this is a " + std::string(name(type)) + ".");
    if (r_.kind == K::Roundness && !isRound(*ideal_))
      say((asme_ ? "Circularity" : "Roundness") +
          std::string(" is of round features, and this is a ") + std::string(name(type)) + ".");
    if (r_.kind == K::Cylindricity && type != SurfaceType::Cylinder)
      hasAxis(*ideal_)
          ? change(K::Roundness, "Cylindricity is of cylinders; of a cone each section "
                                 "can be round.")
          : say("Cylindricity is of cylinders, and this is a " + std::string(name(type)) + ".");
    if (r_.kind == K::Coaxiality && !hasAxis(*ideal_))
      change(K::Position, "Coaxiality is of axes; this feature has none.");
    if (r_.kind == K::Symmetry && isRound(*ideal_))
      change(K::Position, "Symmetry is of mid planes; this feature has an axis or a centre.");
    if (standard_ == ToleranceStandard::Asme &&
        (r_.kind == K::Symmetry || r_.kind == K::Coaxiality))
      change(K::Position, "ASME Y14.5-2018 has no " + words(r_.kind) + "; position says the same.");
    if (asme_ && r_.kind == K::Position && !hasSize(*ideal_) && type != SurfaceType::Cone)
      change(
          K::SurfaceProfile,
          "ASME locates only features of size by position; a surface is located by its profile.");
  }

  void datums() {
    if (isForm(r_.kind) && !r_.datums.empty())
      return say("A form tolerance has no datums: form is judged by itself.",
                 "Leave out the datums", [](Requirement& x) { x.datums.clear(); });
    if (r_.datums.empty() && (isOrientation(r_.kind) || isRunout(r_.kind) ||
                              r_.kind == K::Coaxiality || r_.kind == K::Symmetry))
      return say("A " + words(r_.kind) + " needs a datum to refer to.");
    std::set<std::string> seen;
    for (std::size_t i = 0; i < r_.datums.size(); ++i) {
      const DatumReference& d = r_.datums[i];
      const auto text = lettersOf(d);
      for (const auto& letter : d.letters) {
        const Datum* datum = spec_.datum(letter);
        if (!datum || datum->features.empty())
          return leaveOutDatum("Datum " + letter + " is not defined on any feature.", i);
        if (!seen.insert(letter).second)
          return leaveOutDatum("Datum " + letter + " is named twice.", i);
        if (isOrientation(r_.kind) && datum->features == r_.features)
          return leaveOutDatum("Datum " + letter + " is the toleranced feature itself.", i);
      }
    }
    if (isRunout(r_.kind)) {
      bool axis = false;
      for (const DatumReference& d : r_.datums)
        for (const auto& letter : d.letters)
          axis |= hasAxis(spec_.feature(spec_.datum(letter)->features[0]).ideal);
      if (!axis) say("A runout is about an axis, and no datum has one.");
    }
    const auto taken = freedomTaken(spec_, r_.datums);
    std::string before;
    for (std::size_t i = 0; i < taken.size(); ++i) {
      if (taken[i] == 0)
        return leaveOutDatum("Datum " + lettersOf(r_.datums[i]) + " adds nothing: " + before +
                                 (i > 1 ? " already fix" : " already fixes") +
                                 " all that it could.",
                             i);
      before += (before.empty() ? "" : " and ") + lettersOf(r_.datums[i]);
    }
  }

  void modifiers() {
    for (Remark& remark : modifierRemarks(spec_, r_))
      remarks_.push_back(std::move(remark));
    if (r_.material != MaterialModifier::None) {
      const std::string sign = r_.material == MaterialModifier::Maximum ? "M" : "L";
      const auto drop = [](Requirement& x) { x.material = MaterialModifier::None; };
      const bool median_form = (r_.kind == K::Straightness || r_.kind == K::Flatness);
      if (isRunout(r_.kind) || r_.kind == K::SurfaceProfile || r_.kind == K::LineProfile ||
          (isForm(r_.kind) && !median_form))
        say(sign + " is not allowed on " + words(r_.kind) + ": it is of a surface.",
            "Leave out " + sign, drop);
      else if (!hasSize(*ideal_))
        say(sign + " needs a feature of size, and this is a " + std::string(name(ideal_->type)) +
                ".",
            "Leave out " + sign, drop);
      else if (!spec_.sizeOf(r_.features[0]))
        say(sign + " needs a size with limits on the feature; without one there is no bonus.");
    }
    for (std::size_t i = 0; i < r_.datums.size(); ++i) {
      const DatumReference& d = r_.datums[i];
      if (d.material == MaterialModifier::None || d.letters.empty()) continue;
      const Datum* datum = spec_.datum(d.letters[0]);
      if (!datum || datum->features.empty()) continue;
      if (!hasSize(spec_.feature(datum->features[0]).ideal) || isRunout(r_.kind))
        say("A material modifier on datum " + lettersOf(d) +
                (isRunout(r_.kind) ? " is not allowed in a runout." : " needs a feature of size."),
            "Leave it out", [i](Requirement& x) { x.datums[i].material = MaterialModifier::None; });
    }
  }

  void zone() {
    const auto make = [&](Zone zone, std::string what, std::string fix) {
      say(std::move(what), std::move(fix), [zone](Requirement& x) { x.zone = zone; });
    };
    const bool surface = isRunout(r_.kind) || r_.kind == K::SurfaceProfile ||
                         r_.kind == K::LineProfile || r_.kind == K::Flatness ||
                         r_.kind == K::Roundness || r_.kind == K::Cylindricity;
    if (r_.zone != Zone::Planar && surface)
      make(Zone::Planar, "The zone of a " + words(r_.kind) + " has no diameter.", "Leave out ø");
    else if (r_.zone == Zone::Diametral && !hasAxis(*ideal_))
      ideal_->type == SurfaceType::Sphere
          ? make(Zone::Spherical, "The zone of a centre is a sphere.", "Make it Sø")
          : make(Zone::Planar,
                 "A " + std::string(name(ideal_->type)) +
                     " lies between two planes; its zone has no diameter.",
                 "Leave out ø");
    else if (r_.zone == Zone::Spherical && ideal_->type != SurfaceType::Sphere)
      make(hasAxis(*ideal_) ? Zone::Diametral : Zone::Planar, "Only a centre lies in a sphere.",
           "Leave out S");
  }

  // A tolerance that includes another must be wider than it.
  void hierarchy() {
    const auto halve = [&](const std::string& what, double wide) {
      say(what, "Make it " + shortFigure(wide / 2),
          [wide](Requirement& x) { x.tolerance = x.upper = wide / 2; });
    };
    if (r_.upper_segment.valid()) {
      const Requirement& upper = spec_.requirement(r_.upper_segment);
      if (r_.tolerance >= upper.tolerance)
        return halve("The lower segment is not tighter than the upper one (" +
                         shortFigure(upper.tolerance) + ") and so adds nothing.",
                     upper.tolerance);
    }
    if (r_.material != MaterialModifier::None) return;
    for (const Requirement& other : spec_.requirements) {
      if (other.id == r_.id || isDimension(other.kind) || other.features != r_.features ||
          other.material != MaterialModifier::None || r_.tolerance < other.tolerance)
        continue;
      const bool same_primary = !r_.datums.empty() && !other.datums.empty() &&
                                r_.datums[0].letters == other.datums[0].letters;
      const bool plane = ideal_->type == SurfaceType::Plane;
      const bool includes_form =
          isForm(r_.kind) && plane && (isOrientation(other.kind) || isLocation(other.kind));
      const bool includes_round = isForm(r_.kind) && !plane && r_.zone == Zone::Planar &&
                                  (isRunout(other.kind) || other.kind == K::SurfaceProfile);
      const bool includes_turn = isOrientation(r_.kind) && isLocation(other.kind) && same_primary;
      if (includes_form || includes_round || includes_turn)
        return halve("The " + words(other.kind) + " of requirement " +
                         std::to_string(other.balloon) + " (" + shortFigure(other.tolerance) +
                         ") already holds the " + words(r_.kind) +
                         "; it must be tighter to say more.",
                     other.tolerance);
    }
  }

  const Specification& spec_;
  const Requirement& r_;
  ToleranceStandard standard_;
  bool asme_;
  const Ideal* ideal_ = nullptr;
  std::vector<Remark> remarks_;
};

} // namespace

std::vector<Remark> proofread(const Specification& spec, const Requirement& requirement) {
  return Proofreader(spec, requirement).run();
}

} // namespace alder
