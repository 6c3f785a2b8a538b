#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include <algorithm>

namespace alder::app {

namespace {

std::vector<FeatureId> touchedOf(const Document& document) {
  auto all = document.selection().features;
  std::erase_if(all, [&](FeatureId id) { return document.plan().nominal(id).isDerived(); });
  return all;
}

} // namespace

void Card::editRecipe(const QString& what, const std::function<void(Recipe&)>& change) {
  std::vector<Edit> edits;
  for (FeatureId f : touchedOf(document_)) {
    Recipe recipe = document_.plan().feature(f).recipe;
    change(recipe);
    edits.push_back(SetRecipe{f, recipe, {}, {}});
  }
  document_.edit(what, std::move(edits));
}

// Derived features have no touches; a selection of both shows the touched ones' recipes.
void Card::featureSections(const std::vector<FeatureId>& features) {
  const Plan& plan = document_.plan();
  const auto touched = touchedOf(document_);
  if (features.size() == 1 && touched.empty())
    derivedSection(plan.nominal(features[0]));
  else if (!touched.empty())
    featureSection(touched);
  if (desk_ == Desk::Part) {
    if (!touched.empty()) {
      head("Filter of its points");
      filterFields(plan.nominal(touched[0]).filtering, "feature", [this](const Filtering& f) {
        editSpecification("Change the filter", [this, f](Specification& spec) {
          for (FeatureId id : touchedOf(document_))
            spec.features[static_cast<std::size_t>(id.value)].filtering = f;
        });
      });
    }
    requireSection(features);
    deriveSection(features);
  }
  if (!touched.empty()) accessSection(touched);
}

void Card::featureSection(const std::vector<FeatureId>& features) {
  const Plan& plan = document_.plan();
  const Feature& f = plan.feature(features.front());
  const NominalFeature& n = plan.nominal(f.id);
  QString proves;
  for (const Requirement& r : plan.spec.requirements)
    if (std::find(r.features.begin(), r.features.end(), f.id) != r.features.end())
      proves += (proves.isEmpty() ? "" : ", ") + QString::number(r.balloon);
  const QString heading =
      features.size() == 1 ? text(n.name) : QString("%1 features").arg(features.size());
  if (layout_->count() > 0) layout_->addSpacing(12);
  title(heading, QString("%1 · %2 touches%3")
                     .arg(QString::fromUtf8(name(n.ideal.type).data()))
                     .arg(f.touches.size())
                     .arg(proves.isEmpty() ? "" : " · proves " + proves));
  if (!f.why_not.empty()) paragraph(text(f.why_not), "error");
  head(QString("Touches · recipe “%1”").arg(text(f.recipe.name)));
  const auto field = [&](const QString& label, const char* id, Quantity quantity, int decimals,
                         double value, auto setter) {
    auto* edit = new QuantityEdit(quantity, decimals);
    edit->setObjectName(id);
    edit->setValue(value);
    if (std::string_view(id).ends_with("Depth")) edit->setZeroText("auto");
    connect(edit, &QuantityEdit::entered, this, [=, this](double v) {
      editRecipe(QString("Change %1").arg(label), [=](Recipe& r) { setter(r, v); });
    });
    row(label, edit);
  };
  const auto type = n.ideal.type;
  const bool round = type == SurfaceType::Cylinder || type == SurfaceType::Cone;
  if (type != SurfaceType::Plane && type != SurfaceType::Slot)
    field("rows", "rows", Quantity::Plain, 0, f.recipe.rows,
          [](Recipe& r, double v) { r.rows = static_cast<int>(v); });
  field(type == SurfaceType::Plane  ? "touches"
        : type == SurfaceType::Slot ? "per side"
                                    : "per row",
        "perRow", Quantity::Plain, 0, f.recipe.per_row,
        [](Recipe& r, double v) { r.per_row = static_cast<int>(v); });
  if (round) {
    field("first depth", "firstDepth", Quantity::Length, 2, f.recipe.first_depth,
          [](Recipe& r, double v) { r.first_depth = v; });
    field("last depth", "lastDepth", Quantity::Length, 2, f.recipe.last_depth,
          [](Recipe& r, double v) { r.last_depth = v; });
    field("start angle", "startAngle", Quantity::Angle, 1, f.recipe.start_angle,
          [](Recipe& r, double v) { r.start_angle = v; });
  }
  field("edge margin", "edgeMargin", Quantity::Length, 2, f.recipe.edge_margin,
        [](Recipe& r, double v) { r.edge_margin = v; });
  head("Way");
  field("approach", "approach", Quantity::Length, 2, f.recipe.approach,
        [](Recipe& r, double v) { r.approach = v; });
  auto* entry = new QComboBox;
  entry->setObjectName("entry");
  entry->addItems({"over the shell", "close"});
  entry->setCurrentIndex(f.entry == HopMode::Close ? 1 : 0);
  connect(entry, &QComboBox::activated, this, [this](int index) {
    std::vector<Edit> edits;
    for (FeatureId id : touchedOf(document_))
      edits.push_back(SetHop{id, index == 1 ? HopMode::Close : HopMode::Over});
    document_.edit("Change how it is entered", std::move(edits));
  });
  row("enter by", entry);
}

void Card::accessSection(const std::vector<FeatureId>& features) {
  const Plan& plan = document_.plan();
  const Feature& f = plan.feature(features.front());
  head(f.access_forced ? "Stylus and angles · forced" : "Stylus and angles");
  auto* stylus = new QComboBox;
  stylus->setObjectName("stylus");
  std::vector<std::pair<int, int>> tips;
  for (std::size_t s = 0; s < plan.bench.styli.size(); ++s)
    for (std::size_t t = 0; t < plan.bench.styli[s].tips.size(); ++t) {
      tips.emplace_back(static_cast<int>(s), static_cast<int>(t));
      stylus->addItem(text(plan.bench.styli[s].name + (plan.bench.styli[s].tips.size() > 1
                                                           ? " " + plan.bench.styli[s].tips[t].name
                                                           : "")));
      if (f.access.stylus == tips.back().first && f.access.tip == tips.back().second)
        stylus->setCurrentIndex(stylus->count() - 1);
    }
  const auto change = [this](const std::function<void(Access&)>& how) {
    std::vector<Edit> edits;
    for (FeatureId id : touchedOf(document_)) {
      Access a = document_.plan().feature(id).access;
      if (!a.valid()) a = {0, 0, 0, 0};
      how(a);
      a.a = document_.plan().bench.head.a.nearest(a.a);
      a.b = document_.plan().bench.head.b.nearest(a.b);
      edits.push_back(SetAccess{id, a, true});
    }
    document_.edit("Force stylus and angles", std::move(edits));
  };
  connect(stylus, &QComboBox::activated, this, [=](int index) {
    change([&](Access& a) { std::tie(a.stylus, a.tip) = tips[static_cast<std::size_t>(index)]; });
  });
  row("stylus", stylus);
  for (const bool is_a : {true, false}) {
    auto* edit = new QuantityEdit(Quantity::Angle, 1);
    edit->setObjectName(is_a ? "angleA" : "angleB");
    edit->setValue(is_a ? f.access.a : f.access.b);
    connect(edit, &QuantityEdit::entered, this,
            [=](double v) { change([=](Access& a) { (is_a ? a.a : a.b) = v; }); });
    row(is_a ? "angle A" : "angle B", edit);
  }
  paragraph("The head takes the nearest angle of its step.");
}

} // namespace alder::app
