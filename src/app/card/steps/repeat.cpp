// A step whose steps are done again elsewhere: where, and what was found there.
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include "geometry/place_text.h"
#include "plan/constructions/constructed_feature.h"
#include <QClipboard>
#include <QGuiApplication>

namespace alder::app {
namespace {

constexpr std::size_t kMostShown = 30; // copies; the others are seen in the list of steps

} // namespace

void Card::stepFields(StepId id, const RepeatStep& s) {
  stepLine("name", "repeatName", s.name, [this, id, s](const std::string& v) {
    RepeatStep changed = s;
    changed.name = v;
    document_.changeStep(id, changed);
  });
  const auto change = [this, id, s](const std::function<void(Pattern&)>& how) {
    Pattern pattern = s.pattern;
    how(pattern);
    document_.changePattern(id, pattern);
  };
  choice("pattern", "patternKind",
         {"in a row", "in rows", "about an axis", "mirrored", "as listed"},
         static_cast<int>(s.pattern->kind), [change](int index) {
           change([&](Pattern& p) { p.kind = static_cast<PatternKind>(index); });
         });
  patternFields(id, s.pattern);
  choice("requirements", "repeatRequirements", {"original only", "copied too"},
         s.requirements ? 1 : 0, [this, id, s](int index) {
           RepeatStep changed = s;
           changed.requirements = index == 1;
           document_.changeStep(id, changed);
         });
  copyRows(id, s);
  link("Write the copies out as steps", "ungroup", [this] { document_.ungroupSteps(); });
}

void Card::patternFields(StepId id, const Pattern& pattern) {
  const auto change = [this, id, pattern](const std::function<void(Pattern&)>& how) {
    Pattern changed = pattern;
    how(changed);
    document_.changePattern(id, changed);
  };
  const auto count = [&](const QString& label, const char* name, int Pattern::*member) {
    quantity(label, name, Quantity::Plain, 0, pattern.*member, [change, member](double v) {
      change([&](Pattern& p) { p.*member = static_cast<int>(v); });
    });
  };
  const auto place = [&](const QString& label, const char* name, Vec3 Pattern::*member) {
    stepLine(label, name, placeText(pattern.*member), [this, change, member](const std::string& v) {
      const auto read = placeFromText(v);
      if (!read)
        emit document_.message(QString("“%1” is not three numbers, such as 10, 0, 0").arg(text(v)),
                               true);
      else
        change([&](Pattern& p) { p.*member = *read; });
    });
  };
  using enum PatternKind;
  if (pattern.kind == Linear || pattern.kind == Grid) {
    count(pattern.kind == Grid ? "in a row" : "places", "patternCount", &Pattern::count);
    place("spacing", "patternStep", &Pattern::step);
  }
  if (pattern.kind == Grid) {
    count("rows", "patternRows", &Pattern::rows);
    place("to the next row", "patternRow", &Pattern::to_row);
  }
  if (pattern.kind == Rotary) {
    count("places", "patternCount", &Pattern::count);
    quantity(
        "spacing", "patternAngle", Quantity::Angle, 3, pattern.angle,
        [change](double v) { change([&](Pattern& p) { p.angle = v; }); }, "equal");
  }
  if (pattern.kind == Listed) listedRows(id, pattern);
  if (pattern.kind == Linear || pattern.kind == Grid) return;
  aboutFeature(id, pattern);
  place(pattern.kind == Mirrored ? "mirror at" : "axis at", "patternPoint", &Pattern::point);
  place(pattern.kind == Mirrored ? "normal" : "direction", "patternAxis", &Pattern::axis);
}

// The axis, or the mirror, from a feature of the part.
void Card::aboutFeature(StepId id, const Pattern& pattern) {
  const Plan& plan = document_.plan();
  const bool mirror = pattern.kind == PatternKind::Mirrored;
  QStringList names{"as typed"};
  std::vector<FeatureId> features;
  for (const NominalFeature& f : plan.spec.features) {
    const SurfaceType type = f.ideal.type;
    const bool plane = type == SurfaceType::Plane || type == SurfaceType::Slot;
    const bool axis = type == SurfaceType::Cylinder || type == SurfaceType::Cone;
    if (mirror ? !plane : !axis) continue;
    names << text(f.name);
    features.push_back(f.id);
  }
  choice("about", "patternAbout", names, 0, [this, id, pattern, features](int index) {
    if (index == 0) return;
    const Ideal i = document_.plan().nominal(features[static_cast<std::size_t>(index) - 1]).ideal;
    Pattern changed = pattern;
    changed.point = i.point, changed.axis = i.direction;
    document_.changePattern(id, changed);
  });
}

void Card::listedRows(StepId id, const Pattern& pattern) {
  for (std::size_t k = 0; k < std::min(pattern.places.size(), kMostShown); ++k) {
    const ListedPlace& p = pattern.places[k];
    stepLine(QString::number(k + 2), QString("patternPlace%1").arg(k).toLatin1(),
             placeText(p.shift), [this, id, pattern, k](const std::string& v) {
               const auto read = placeFromText(v);
               Pattern changed = pattern;
               if (read)
                 changed.places[k].shift = *read;
               else if (trimmed(v).empty())
                 changed.places.erase(changed.places.begin() + static_cast<std::ptrdiff_t>(k));
               else
                 return void(emit document_.message(
                     QString("“%1” is not three numbers, such as 10, 0, 0").arg(text(v)), true));
               document_.changePattern(id, changed);
             });
  }
  link("Add a place", "addPlace", [this, id, pattern] {
    Pattern changed = pattern;
    changed.places.push_back(pattern.places.empty() ? ListedPlace{Vec3(10, 0, 0), 0}
                                                    : pattern.places.back());
    document_.changePattern(id, changed);
  });
  link("Paste places", "pastePlaces",
       [this, id] { document_.pastePlaces(id, QGuiApplication::clipboard()->text()); });
  link("Copy places", "copyPlaces", [pattern] {
    QGuiApplication::clipboard()->setText(QString::fromStdString(listedText(pattern.places)));
  });
  paragraph("Rows of a spreadsheet: x, y, z and perhaps a turn in degrees; the first row is the "
            "original.");
}

// What each copy measures; a click leaves it out or takes it in.
void Card::copyRows(StepId id, const RepeatStep& s) {
  const Plan& plan = document_.plan();
  const std::size_t at = indexOf(plan.steps, id);
  const auto originals = originalsOf(plan.steps, at);
  head(QString("%1 copies").arg(s.copies.size()));
  for (std::size_t k = 0; k < std::min(s.copies.size(), kMostShown); ++k) {
    const RepeatCopy& copy = s.copies[k];
    QString found, missing;
    bool own = false;
    for (FeatureId original : originals) {
      const FeatureId feature = copy.of(original);
      if (!feature.valid()) {
        missing = text(whyNoCopy(plan, at, k, original));
        continue;
      }
      found += (found.isEmpty() ? "" : ", ") + text(plan.nominal(feature).name);
      own = own || !followsOriginal(plan, feature);
    }
    if (found.isEmpty()) {
      paragraph(QString("%1 · %2.").arg(k + 2).arg(missing), "error");
      continue;
    }
    const QString words = QString("%1 · %2%3")
                              .arg(k + 2)
                              .arg(found)
                              .arg(copy.skipped ? " · left out"
                                   : own        ? " · changed"
                                                : "");
    link(words, QString("copy%1").arg(k + 2).toLatin1(), [this, id, k, skipped = copy.skipped] {
      document_.skipCopy(id, k, !skipped);
    })->setToolTip(copy.skipped ? "Take this copy in again" : "Leave this copy out");
    if (!missing.isEmpty()) paragraph("Not all of it: " + missing + ".", "error");
  }
  if (s.copies.size() > kMostShown)
    paragraph(QString("And %1 more.").arg(s.copies.size() - kMostShown));
}

// Of a feature that is a copy.
void Card::copyOfRows(FeatureId feature) {
  const Plan& plan = document_.plan();
  const auto place = copyPlaceOf(plan.steps, feature);
  if (!place) return;
  const auto& repeat = std::get<RepeatStep>(plan.steps[place->step].body);
  const bool follows = followsOriginal(plan, feature);
  const bool skipped = repeat.copies[place->copy].skipped;
  head(QString("Copy %1 of %2").arg(place->copy + 2).arg(text(plan.nominal(place->original).name)));
  paragraph(skipped   ? "Left out."
            : follows ? "It follows its original; what is changed here holds for this copy alone."
                      : "Changed here: it no longer follows its original.");
  if (!follows)
    link("As the original again", "asOriginal",
         [this, feature] { document_.followOriginals({feature}); });
  link(skipped ? "Take this copy in again" : "Leave this copy out", "skipCopy",
       [this, id = plan.steps[place->step].id, copy = place->copy, skipped] {
         document_.skipCopy(id, copy, !skipped);
       });
}

// Made of steps that are selected.
StepOffer Card::offerOf(const Document&, const RepeatStep*) {
  return {};
}

} // namespace alder::app
