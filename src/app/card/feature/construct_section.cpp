#include "card/card.h"
#include "card/words.h"
#include "judge/conditioning.h"
#include "judge/nominal_figure.h"
#include "plan/constructions/constructed_feature.h"
#include "requirement/datum_targets.h"
#include "requirement/likely.h"
#include <QLineEdit>
#include <algorithm>

namespace alder::app {
namespace {

QString namesOf(const Plan& plan, const std::vector<FeatureId>& features) {
  QString names;
  for (FeatureId id : features)
    names += (names.isEmpty() ? "" : ", ") + text(plan.nominal(id).name);
  return names;
}

QString kindOf(const Ideal& i) {
  if (isPoint(i)) return "point";
  if (isLine(i)) return "line";
  if (isCircle(i)) return "circle";
  return text(name(i.type));
}

Requirement limited(Characteristic kind, std::vector<FeatureId> features, double nominal,
                    double width) {
  Requirement r;
  r.kind = kind;
  r.features = std::move(features);
  r.nominal = nominal;
  r.lower = nominal - width, r.upper = nominal + width;
  r.tolerance = 2 * width;
  return r;
}

} // namespace

void Card::constructedSection(const NominalFeature& f) {
  const Plan& plan = document_.plan();
  QString proves;
  for (const Requirement& r : plan.spec.requirements)
    if (std::find(r.features.begin(), r.features.end(), f.id) != r.features.end())
      proves += (proves.isEmpty() ? "" : ", ") + QString::number(r.balloon);
  if (layout_->count() > 0) layout_->addSpacing(12);
  const QString kind = kindOf(f.ideal), how = text(words(f.from->kind));
  title(text(f.name), (how.startsWith(kind) ? how : kind + " · " + how) +
                          (proves.isEmpty() ? "" : " · for requirements " + proves));
  if (addsFirst()) requireSection({f.id});
  auto* name_field = new QLineEdit(text(f.name));
  name_field->setObjectName("featureName");
  connect(name_field, &QLineEdit::editingFinished, this, [this, name_field, id = f.id] {
    const auto typed = name_field->text().trimmed().toStdString();
    editSpecification("Rename", [=](Specification& s) { s.features.at(id).name = typed; });
  });
  row("name", name_field);
  constructionFields(f);
  head("Constructed from");
  for (FeatureId parent : f.from->of)
    link(text(plan.nominal(parent).name), "parent",
         [this, parent] { document_.selectFeatures({parent}); });
  head("Place");
  Requirement none;
  none.features = {f.id};
  const JudgedRun* run = document_.currentRun();
  const auto measured =
      run ? conditioned(plan, none, run->measured()) : Result<Conditioned>(Conditioned{});
  static constexpr const char* kAxes[]{"X", "Y", "Z"};
  std::optional<Shaped> actual;
  if (measured)
    if (const auto m = measured->measured.find(f.id); m != measured->measured.end())
      if (auto shape = measuredShape(f, m->second)) actual = std::move(*shape);
  const auto pair = [&](double nominal, const std::optional<double>& value) {
    return text(figure(nominal, 3)) + (value ? "  →  " + text(figure(*value, 4)) : QString());
  };
  for (int k = 0; k < 3; ++k)
    figureRow(kAxes[k], pair(f.ideal.point[k],
                             actual ? std::optional(actual->ideal.point[k]) : std::nullopt));
  if (f.ideal.diameter > 0)
    figureRow("diameter", pair(f.ideal.diameter,
                               actual ? std::optional(actual->ideal.diameter) : std::nullopt));
  if (!run)
    paragraph("Nominal; the actual follows when its parents are measured.");
  else if (!measured || measured->why.count(f.id))
    paragraph(measured ? text(measured->why.at(f.id)) : text(measured.error().message), "error");
  link("Remove " + text(f.name), "removeFeature",
       [this, id = f.id] { document_.removeFeature(id); });
}

// The figures of the construction itself.
void Card::constructionFields(const NominalFeature& f) {
  const auto change = [this, id = f.id](auto setter) {
    return [this, id, setter](double v) {
      editSpecification("Change the construction",
                        [=](Specification& s) { setter(*s.features.at(id).from, v); });
    };
  };
  const Construction& c = *f.from;
  if (c.kind == ConstructionKind::GaugeCircle)
    quantity("gauge diameter", "gaugeDiameter", Quantity::Length, 3, c.diameter,
             change([](Construction& x, double v) { x.diameter = v; }));
  if (c.kind == ConstructionKind::Section)
    quantity("ring", "ring", Quantity::Plain, 0, c.row + 1,
             change([](Construction& x, double v) { x.row = static_cast<int>(v) - 1; }));
  if (c.kind != ConstructionKind::Copy) return;
  static constexpr const char* kMoves[]{"move X", "move Y", "move Z"};
  static constexpr const char* kTurns[]{"turn X", "turn Y", "turn Z"};
  for (int k = 0; k < 3; ++k)
    quantity(kMoves[k], kMoves[k], Quantity::Length, 3, c.offset[k],
             change([k](Construction& x, double v) { x.offset[k] = v; }));
  for (int k = 0; k < 3; ++k)
    quantity(kTurns[k], kTurns[k], Quantity::Angle, 3, c.turn[k],
             change([k](Construction& x, double v) { x.turn[k] = v; }));
}

// What can be made of the selection, the likely first.
void Card::constructSection(const std::vector<FeatureId>& features) {
  const auto proposals = proposeConstructions(document_.plan(), features);
  if (proposals.empty()) return;
  head(features.size() == 1 ? QString("Construct from it")
                            : QString("Construct from %1 features").arg(features.size()));
  int number = 0;
  for (const Proposal& p : proposals)
    link(text(p.words), QString("construct%1").arg(number++).toUtf8(),
         [this, c = p.construction] { document_.construct(c); });
}

// Where alone a datum is touched: typed, or taken from the place picked in the stage.
void Card::targetFields(const Datum& datum) {
  auto* targets = new QLineEdit(text(describe(datum.targets)));
  targets->setObjectName("datumTargets");
  targets->setPlaceholderText("the whole surface");
  targets->setToolTip(
      "Datum targets, parted by ; - a point \"10, 20, 0\", an area \"10, 20, 0 ø8\", "
      "a line \"10, 20, 0 to 30, 20, 0\"");
  targets->setCursorPosition(0);
  connect(targets, &QLineEdit::editingFinished, this, [this, targets, l = datum.letter] {
    if (targets->isModified()) document_.setTargets(l, targets->text().toStdString());
    targets->setModified(false);
  });
  row("datum targets", targets);
  if (const auto& p = document_.selection().picked)
    link(QString("Target where picked: %1").arg(text(describe({{*p, {}, 0}}))), "pickTarget",
         [this, datum, at = *p] {
           std::vector<DatumTarget> all = datum.targets;
           const auto rounded = [](double v) { return std::round(v * 100) / 100; };
           all.push_back({at.unaryExpr(rounded), {}, 0});
           document_.setTargets(datum.letter, describe(all));
         });
}

// What can be demanded of the selection, with the nominal figure already in place.
void Card::requireSection(const std::vector<FeatureId>& features) {
  const Plan& plan = document_.plan();
  head("Add requirement");
  addRequirements(features);
  auto* letter = new QLineEdit;
  letter->setObjectName("datumLetter");
  letter->setPlaceholderText("none");
  letter->setAlignment(Qt::AlignRight);
  for (const Datum& d : plan.spec.datums)
    if (d.features == features) letter->setText(text(d.letter));
  connect(letter, &QLineEdit::editingFinished, this, [this, letter, features] {
    const QString typed = letter->text().trimmed().toUpper();
    if (letter->isModified()) document_.setDatum(features, typed.toStdString());
    letter->setModified(false);
  });
  row("datum", letter);
  for (const Datum& d : plan.spec.datums)
    if (d.features == features) targetFields(d);
}

// With the nominal figure already in place; the likeliest first.
void Card::addRequirements(const std::vector<FeatureId>& features) {
  const Plan& plan = document_.plan();
  const auto demand = [&](const QString& label, const char* id, Requirement r) {
    link(label, id, [this, r] { document_.require(r); });
  };
  const auto all_are = [&](auto predicate) {
    return std::all_of(features.begin(), features.end(),
                       [&](FeatureId id) { return predicate(plan.nominal(id).ideal); });
  };
  const Ideal& first = plan.nominal(features[0]).ideal;
  const bool constructed = plan.nominal(features[0]).isConstructed();
  for (const LikelyRequirement& l : likelyRequirements(first, plan.spec.datums)) {
    Requirement r = l.requirement;
    r.features = features;
    const bool sized =
        all_are([&](const Ideal& i) { return i.type == first.type && i.diameter > 0; });
    if (r.kind == Characteristic::Size && sized)
      demand(features.size() == 1 ? text(l.words) : QString("%1 × size").arg(features.size()),
             "demandSize", r);
    else if (isForm(r.kind) && features.size() == 1 && !constructed)
      demand(text(l.words), ("demand_" + std::string(name(r.kind))).c_str(), r);
  }
  if (features.size() == 2) {
    Requirement r = limited(Characteristic::Distance, features, 0, 0.1);
    const double nominal = nominalFigure(plan, r).value_or(0);
    demand(QString("Distance, now %1 mm").arg(nominal, 0, 'f', 3), "demandDistance",
           limited(Characteristic::Distance, features, nominal, 0.1));
    if (all_are([](const Ideal& i) { return !isPoint(i) && i.type != SurfaceType::Freeform; })) {
      r.kind = Characteristic::Angle;
      const double angle = nominalFigure(plan, r).value_or(0);
      demand(QString("Angle, now %1°").arg(degrees(angle), 0, 'f', 3), "demandAngle",
             limited(Characteristic::Angle, features, angle, radians(0.1)));
    }
  }
  Requirement indicator;
  indicator.features = features;
  indicator.tolerance = indicator.upper = 0.1;
  const bool located = all_are([](const Ideal& i) { return i.type != SurfaceType::Freeform; });
  indicator.kind = located ? Characteristic::Position : Characteristic::SurfaceProfile;
  if (located)
    indicator.zone = hasAxis(first)                      ? Zone::Diametral
                     : first.type == SurfaceType::Sphere ? Zone::Spherical
                                                         : Zone::Planar;
  demand("Tolerance indicator", "demandIndicator", indicator);
}

// Constructed features, and a value of figures that are already there.
void Card::constructedList() {
  head("Constructed features");
  bool any = false;
  for (const NominalFeature& f : document_.plan().spec.features)
    if (f.from) {
      any = true;
      link(text(f.name) + " · " + namesOf(document_.plan(), f.from->of), "constructed",
           [this, id = f.id] { document_.selectFeatures({id}); });
    }
  if (!any) paragraph("None. Select features to construct from, several with Ctrl.");
  link("Add a value by formula", "demandValue", [this] { document_.addValue(); });
}

} // namespace alder::app
