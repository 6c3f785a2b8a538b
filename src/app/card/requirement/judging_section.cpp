#include "card/card.h"
#include "card/words.h"
#include "requirement/modifiers.h"
#include <QLineEdit>
#include <QRegularExpressionValidator>
#include <algorithm>

namespace alder::app {
namespace {

struct AssociationChoice {
  const char* label;
  AssociateBy by;
};

// What makes sense of this kind of requirement on this kind of feature.
std::vector<AssociationChoice> associationsFor(const Requirement& r, const Ideal* ideal) {
  std::vector<AssociationChoice> all{{"by the standard", AssociateBy::Standard}};
  if (isRunout(r.kind) || isProfile(r.kind) || r.kind == Characteristic::Distance ||
      r.kind == Characteristic::Angle || r.kind == Characteristic::Value)
    return {};
  all.push_back({"least squares", AssociateBy::LeastSquares});
  all.push_back({"minimum zone", AssociateBy::MinimumZone});
  const bool sized =
      ideal && (ideal->type == SurfaceType::Cylinder || ideal->type == SurfaceType::Sphere ||
                ideal->type == SurfaceType::Slot);
  if (ideal && ideal->type == SurfaceType::Plane && !isForm(r.kind))
    all.push_back({"tangent plane", AssociateBy::Tangent});
  if (sized) {
    all.push_back({"inscribed", AssociateBy::MaximumInscribed});
    all.push_back({"circumscribed", AssociateBy::MinimumCircumscribed});
  }
  if (sized && r.kind == Characteristic::Size) {
    all.push_back({"two-point, least", AssociateBy::TwoPointMin});
    all.push_back({"two-point, most", AssociateBy::TwoPointMax});
    all.push_back({"two-point, mean", AssociateBy::TwoPointMean});
    all.push_back({"two-point, median", AssociateBy::TwoPointMedian});
    all.push_back({"two-point, mid-range", AssociateBy::TwoPointMidRange});
    all.push_back({"two-point, range", AssociateBy::TwoPointRange});
    if (ideal->type == SurfaceType::Cylinder) {
      all.push_back({"circumference diameter", AssociateBy::Circumference});
      all.push_back({"area diameter", AssociateBy::Area});
    }
  }
  return all;
}

} // namespace

void Card::editSpecification(const QString& what,
                             const std::function<void(Specification&)>& change) {
  Specification spec = document_.plan().spec;
  change(spec);
  document_.edit(what, {SetSpecification{std::move(spec)}});
}

// Which standard, associations, zone and filter the figure comes from.
void Card::judgedBySection(const Requirement& r) {
  head("Judged by");
  const Specification& spec = document_.plan().spec;
  choice("standard", "standard",
         {QString("project's, %1").arg(text(name(spec.standard))), "ISO", "ASME", "ASME-2009"},
         r.standard ? 1 + static_cast<int>(*r.standard) : 0, [this](int index) {
           editRequirement("Change the standard", [=](Requirement& x) {
             x.standard.reset();
             if (index > 0) x.standard = static_cast<ToleranceStandard>(index - 1);
           });
         });
  associationFields(r);
  zoneFields(r);
  const bool own = r.filtering.has_value();
  if (r.kind != Characteristic::Value) {
    choice("filter", "ownFilter", {"the features'", "its own"}, own ? 1 : 0, [this](int index) {
      editRequirement("Change the filter", [=](Requirement& x) {
        if (index == 0)
          x.filtering.reset();
        else if (!x.filtering)
          x.filtering = Filtering{};
      });
    });
    if (own)
      filterFields(*r.filtering, "requirement", [this](const Filtering& f) {
        editRequirement("Change the filter", [f](Requirement& x) { x.filtering = f; });
      });
  }
  quantity(
      "uncertainty U", "uncertainty",
      r.kind == Characteristic::Angle ? Quantity::Angle : Quantity::Length, 4,
      r.uncertainty.value_or(0),
      [this](double v) {
        editRequirement("Change the uncertainty", [v](Requirement& x) {
          x.uncertainty = v > 0 ? std::optional(v) : std::nullopt;
        });
      },
      "project's");
}

void Card::associationFields(const Requirement& r) {
  const Ideal* ideal =
      r.features.empty() ? nullptr : &document_.plan().spec.feature(r.features[0]).ideal;
  const auto choices = associationsFor(r, ideal);
  if (!choices.empty()) {
    QStringList labels;
    int current = 0;
    for (const AssociationChoice& c : choices) {
      if (c.by == r.association) current = static_cast<int>(labels.size());
      labels += c.label;
    }
    choice("feature", "association", labels, current, [this, choices](int index) {
      editRequirement("Change the association", [=](Requirement& x) {
        x.association = choices[static_cast<std::size_t>(index)].by;
      });
    });
  }
  if (r.datums.empty()) return;
  choice("datums", "datumAssociation", {"external", "least squares"},
         r.datum_association == AssociateBy::LeastSquares ? 1 : 0, [this](int index) {
           editRequirement("Change the association of its datums", [=](Requirement& x) {
             x.datum_association = index ? AssociateBy::LeastSquares : AssociateBy::Standard;
           });
         });
  modifierFields(datumModifiers(r));
}

// A field for each modifier that the core says can stand here.
void Card::modifierFields(const std::vector<ModifierField>& fields) {
  for (const ModifierField& f : fields) {
    const QString label = text(f.label), edit = text(f.edit);
    if (const auto* c = std::get_if<ModifierField::Choice>(&f.input)) {
      QStringList items;
      for (const std::string& item : c->items)
        items += text(item);
      choice(label, f.id.c_str(), items, static_cast<int>(c->current),
             [this, edit, set = c->set](int index) {
               editRequirement(edit,
                               [=](Requirement& x) { set(x, static_cast<std::size_t>(index)); });
             });
    } else if (const auto* v = std::get_if<ModifierField::Figure>(&f.input)) {
      quantity(
          label, f.id.c_str(), v->length ? Quantity::Length : Quantity::Plain, v->decimals,
          v->value,
          [this, edit, set = v->set](double value) {
            editRequirement(edit, [=](Requirement& x) { set(x, value); });
          },
          text(v->unset));
    } else if (const auto* l = std::get_if<ModifierField::Letters>(&f.input)) {
      auto* line = new QLineEdit(text(l->value));
      line->setObjectName(text(f.id));
      line->setPlaceholderText(text(l->unset));
      line->setToolTip(text(f.explains));
      line->setValidator(
          new QRegularExpressionValidator(QRegularExpression("[" + text(l->allowed) + "]*"), line));
      connect(line, &QLineEdit::editingFinished, this, [this, line, edit, set = l->set] {
        const auto typed = line->text().toStdString();
        editRequirement(edit, [=](Requirement& x) { set(x, typed); });
      });
      row(label, line);
    }
  }
}

// What shapes the zone, or the distance.
void Card::zoneFields(const Requirement& r) {
  const auto change = [this](const char* what, auto setter) {
    return [this, what, setter](auto v) {
      editRequirement(what, [=](Requirement& x) { setter(x, v); });
    };
  };
  if (r.kind == Characteristic::Distance || r.kind == Characteristic::Angle)
    choice(r.kind == Characteristic::Angle ? "seen along" : "along", "along",
           r.kind == Characteristic::Angle ? QStringList{"directly", "X", "Y", "Z"}
                                           : QStringList{"directly", "X", "Y", "Z", "from axis Z"},
           static_cast<int>(r.along), change("Change the direction", [](Requirement& x, int i) {
             x.along = static_cast<Along>(i);
           }));
  if (r.kind == Characteristic::Distance)
    choice("measured to", "extreme", {"its middle", "nearest point", "farthest point"},
           static_cast<int>(r.extreme), change("Change where it ends", [](Requirement& x, int i) {
             x.extreme = static_cast<Extreme>(i);
           }));
  modifierFields(zoneModifiers(document_.plan().spec, r));
}

void Card::filterFields(const Filtering& f, const QString& prefix,
                        std::function<void(const Filtering&)> change) {
  const auto id = [&](const char* name) { return prefix + name; };
  choice("profile", id("Filter").toUtf8(), {"as measured", "Gaussian", "robust Gaussian"},
         static_cast<int>(f.kind), [=](int index) {
           Filtering next = f;
           next.kind = static_cast<FilterKind>(index);
           if (next.kind != FilterKind::None && next.cutoff <= 0 && next.undulations <= 0)
             next.undulations = 15;
           change(next);
         });
  if (f.kind != FilterKind::None) {
    quantity(
        "cut-off", id("Cutoff").toUtf8(), Quantity::Length, 3, f.cutoff,
        [=](double v) {
          Filtering next = f;
          next.cutoff = v;
          if (v <= 0 && next.undulations <= 0) next.undulations = 15;
          change(next);
        },
        "by UPR");
    quantity(
        "cut-off, UPR", id("Undulations").toUtf8(), Quantity::Plain, 0, f.undulations,
        [=](double v) {
          Filtering next = f;
          next.undulations = v;
          change(next);
        },
        "none");
  }
  quantity(
      "outliers, σ ×", id("Sigma").toUtf8(), Quantity::Plain, 1, f.outlier_sigma,
      [=](double v) {
        Filtering next = f;
        next.outlier_sigma = v;
        change(next);
      },
      "keep");
  quantity(
      "farthest %", id("Percent").toUtf8(), Quantity::Plain, 2, 100 * f.outlier_share,
      [=](double v) {
        Filtering next = f;
        next.outlier_share = v / 100;
        change(next);
      },
      "keep");
}

// For the whole project: nothing is selected.
void Card::specificationFields() {
  const Specification& spec = document_.plan().spec;
  head("Judging");
  choice("standard", "projectStandard", {"ISO GPS", "ASME Y14.5-2018", "ASME Y14.5-2009"},
         static_cast<int>(spec.standard), [this](int index) {
           editSpecification("Change the standard", [index](Specification& s) {
             s.standard = static_cast<ToleranceStandard>(index);
           });
         });
  quantity("warn from %", "nearShare", Quantity::Plain, 0, 100 * spec.near_share, [this](double v) {
    editSpecification("Change from when to warn",
                      [v](Specification& s) { s.near_share = v / 100; });
  });
  quantity(
      "uncertainty U", "projectUncertainty", Quantity::Length, 4, spec.uncertainty,
      [this](double v) {
        editSpecification("Change the uncertainty", [v](Specification& s) { s.uncertainty = v; });
      },
      "none given");
  generalFields();
}

} // namespace alder::app
