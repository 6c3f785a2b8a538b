#include "card/card.h"
#include "card/feature/reach_plot.h"
#include "card/fields.h"
#include "card/words.h"
#include "geometry/place_text.h"
#include "requirement/from_pmi.h"
#include "requirement/likely.h"
#include <algorithm>

namespace alder::app {

namespace {

std::vector<FeatureId> touchedOf(const Document& document) {
  auto all = document.selection().features;
  std::erase_if(all, [&](FeatureId id) { return document.plan().nominal(id).isConstructed(); });
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

// Of a feature that was picked in the picture what can be asked of it comes first.
bool Card::addsFirst() const {
  return desk_ == Desk::Part && !document_.selection().requirement;
}

// Constructed features have no touches; a selection of both shows the touched ones' recipes.
void Card::featureSections(const std::vector<FeatureId>& features) {
  const Plan& plan = document_.plan();
  const auto touched = touchedOf(document_);
  if (features.size() == 1 && touched.empty())
    constructedSection(plan.nominal(features[0]));
  else if (!touched.empty())
    featureSection(touched);
  if (desk_ == Desk::Part) {
    if (!touched.empty()) {
      head("Filter of its points");
      filterFields(plan.nominal(touched[0]).filtering, "feature", [this](const Filtering& f) {
        editSpecification("Change the filter", [this, f](Specification& spec) {
          for (FeatureId id : touchedOf(document_))
            spec.features.at(id).filtering = f;
        });
      });
    }
    if (!addsFirst()) requireSection(features);
    constructSection(features);
  }
  if (!touched.empty()) accessSection(touched);
  if (desk_ == Desk::Routine && !touched.empty()) {
    stepLinks();
    insertLinks();
  }
}

// Faces of the part that are no feature so far.
void Card::bareFaces(const std::vector<FaceId>& faces) {
  const PartModel& part = *document_.plan().part;
  const Face& face = part.face(faces.front());
  title(faces.size() == 1 ? text(featureName(face.ideal)) : QString("%1 faces").arg(faces.size()),
        "Nothing is measured here: no requirement speaks of it.");
  if (desk_ == Desk::Part) addToFaces(faces);
  for (FaceId id : faces) {
    const Ideal& i = part.face(id).ideal;
    Vec3 size = part.face(id).box.sizes();
    std::sort(size.data(), size.data() + 3, std::greater<>());
    figureRow(text(std::string(name(i.type))),
              i.diameter > 0 && hasAxis(i)
                  ? QString("ø %1 × %2 mm").arg(i.diameter, 0, 'f', 3).arg(i.length, 0, 'f', 1)
                  : QString("%1 × %2 mm").arg(size.x(), 0, 'f', 1).arg(size.y(), 0, 'f', 1));
  }
  link(faces.size() == 1 ? "Measure it" : "Measure them", "measureFaces",
       [this] { document_.measureFaces(); });
  paragraph("Touches, stylus and angles are planned as for all others, and it goes into the order "
            "where it costs least time. Requirements can then be laid on it in the Part desk.");
}

// Each also makes the face a feature.
void Card::addToFaces(const std::vector<FaceId>& faces) {
  const Plan& plan = document_.plan();
  head("Add requirement");
  for (const LikelyRequirement& l :
       likelyRequirements(plan.part->face(faces.front()).ideal, plan.spec.datums))
    link(text(l.words), ("add_" + std::string(name(l.requirement.kind))).c_str(),
         [this, r = l.requirement] { document_.requireOfFaces(r); });
  link("Datum " + text(freeDatumLetter(plan.spec)), "addDatum",
       [this] { document_.datumOfFaces(); });
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
                     .arg(proves.isEmpty() ? "" : " · for requirements " + proves));
  if (addsFirst()) requireSection(document_.selection().features);
  if (features.size() == 1) {
    constexpr int kMost = 5; // then they are only counted
    const auto& faults = document_.touchFaults(f.id);
    int bad = 0;
    for (std::size_t i = 0; i < faults.size(); ++i)
      if (!faults[i].empty() && ++bad <= kMost)
        paragraph(QString("Touch %1 is %2.").arg(i + 1).arg(text(faults[i])), "error");
    if (bad > kMost) paragraph(QString("And %1 more.").arg(bad - kMost), "error");
  }
  if (features.size() == 1) copyOfRows(f.id);
  head(QString("Touches · recipe “%1”").arg(text(f.recipe.name)));
  followedRecipe(f);
  const auto field = [&](const QString& label, const char* id, Quantity quantity, int decimals,
                         double value, auto setter) {
    auto* edit = new QuantityEdit(quantity, decimals);
    edit->setObjectName(id);
    edit->setValue(value);
    if (std::string_view(id).ends_with("Depth")) edit->setWordFor(0, "auto");
    connect(edit, &QuantityEdit::entered, this, [=, this](double v) {
      editRecipe(QString("Change %1").arg(label), [=](Recipe& r) { setter(r, v); });
    });
    row(label, edit);
  };
  const auto type = n.ideal.type;
  const bool round = type == SurfaceType::Cylinder || type == SurfaceType::Cone;
  strokeFields(f, type);
  const bool lines = type == SurfaceType::Plane && f.recipe.stroke != Stroke::Touches;
  const bool contour = isContour(f.recipe.stroke);
  if (!contour && ((type != SurfaceType::Plane && type != SurfaceType::Slot) || lines))
    field("sections", "rows", Quantity::Plain, 0, f.recipe.rows,
          [](Recipe& r, double v) { r.rows = static_cast<int>(v); });
  if (!contour)
    field(type == SurfaceType::Plane  ? "touches"
          : type == SurfaceType::Slot ? "per side"
                                      : "per section",
          "perRow", Quantity::Plain, 0, f.recipe.per_row,
          [](Recipe& r, double v) { r.per_row = static_cast<int>(v); });
  if (round && !contour) {
    field("first depth", "firstDepth", Quantity::Length, 2, f.recipe.first_depth,
          [](Recipe& r, double v) { r.first_depth = v; });
    field("last depth", "lastDepth", Quantity::Length, 2, f.recipe.last_depth,
          [](Recipe& r, double v) { r.last_depth = v; });
    field("start angle", "startAngle", Quantity::Angle, 1, f.recipe.start_angle,
          [](Recipe& r, double v) { r.start_angle = v; });
  }
  if (!contour)
    field("edge margin", "edgeMargin", Quantity::Length, 2, f.recipe.edge_margin,
          [](Recipe& r, double v) { r.edge_margin = v; });
  if (features.size() == 1 && document_.selection().picked) {
    link("Add a touch where picked", "addTouch", [this] { document_.addTouchWherePicked(); });
    link("Move the touch next to it there", "moveTouch",
         [this] { document_.moveTouchWherePicked(); });
    link("Remove the touch next to it", "removeTouch",
         [this] { document_.removeTouchWherePicked(); });
  }
  if (!isContour(f.recipe.stroke)) keepRecipe(f);
  if (features.size() == 1 && proves.isEmpty())
    link("Remove from the routine", "stopMeasuring",
         [this, id = f.id] { document_.stopMeasuring(id); });
  head("Way");
  field("approach", "approach", Quantity::Length, 2, f.recipe.approach,
        [](Recipe& r, double v) { r.approach = v; });
  strokeSpeeds(f);
  wayFields(features);
}

// How it is entered and left, and where in the order.
void Card::wayFields(const std::vector<FeatureId>& features) {
  const Feature& f = document_.plan().feature(features.front());
  choice("enter by", "entry", {"as proposed", "over the shell", "direct", "led by waypoints"},
         static_cast<int>(f.entry),
         [this](int index) { document_.enterBy(static_cast<HopMode>(index)); });
  choice("shell side", "through", {"nearest", "left", "front", "right", "back", "top"},
         f.through ? 1 + static_cast<int>(*f.through) : 0, [this](int index) {
           document_.enterThrough(index > 0 ? std::optional(static_cast<ShellSide>(index - 1))
                                            : std::nullopt);
         });
  choice("in the order", "pinned", {"may move", "stays behind the one before"}, f.pinned ? 1 : 0,
         [this](int index) {
           std::vector<Edit> edits;
           for (FeatureId id : touchedOf(document_))
             edits.push_back(SetPinned{id, index == 1});
           document_.edit(index == 1 ? "Pin its place" : "Let it move", std::move(edits));
         });
  if (features.size() == 1 && f.entry == HopMode::Led) waypointFields(f);
}

// Own waypoints, typed or taken from the way that is there.
void Card::waypointFields(const Feature& f) {
  auto* places = new QLineEdit(text(placesText(f.waypoints)));
  places->setObjectName("waypoints");
  places->setPlaceholderText("x, y, z; …");
  places->setToolTip("Places of the ball in the frame of the part, in order, parted by ;");
  places->setCursorPosition(0);
  connect(places, &QLineEdit::editingFinished, this, [this, places, id = f.id] {
    if (!places->isModified()) return;
    places->setModified(false);
    auto read = placesFromText(places->text().toStdString());
    if (!read) {
      emit document_.message(text(read.error().message), true);
      return;
    }
    document_.edit("Change the waypoints", {SetHop{id, HopMode::Led, std::move(*read)}});
  });
  row("via", places);
  link("Take the waypoints of the way shown", "takeWaypoints", [this, id = f.id] {
    const Routed* routed = document_.routed();
    if (!routed) return;
    const Frame back = document_.plan().placement.inverse();
    Points taken;
    for (const Position& p : routed->way.positions)
      if (p.kind == MoveKind::Hop && p.feature == id &&
          routed->way.steps[static_cast<std::size_t>(p.step)].kind == StepKind::Hop)
        taken.push_back(
            (back * p.ball).unaryExpr([](double v) { return std::round(v * 1000) / 1000; }));
    document_.edit("Take the waypoints", {SetHop{id, HopMode::Led, std::move(taken)}});
  });
}

void Card::accessSection(const std::vector<FeatureId>& features) {
  const Plan& plan = document_.plan();
  const Feature& f = plan.feature(features.front());
  head(f.access_forced ? "Stylus and angles · forced" : "Stylus and angles");
  auto* stylus = new ChoiceBox;
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
  if (f.access.valid() && plan.bench.has_sphere)
    if (const TipState state = document_.tipState(f.access); state != TipState::Qualified)
      paragraph("This tip is " + text(name(state)) + " at these angles.", "error");
  for (const bool is_a : {true, false}) {
    auto* edit = new QuantityEdit(Quantity::Angle, 1);
    edit->setObjectName(is_a ? "angleA" : "angleB");
    edit->setValue(is_a ? f.access.a : f.access.b);
    connect(edit, &QuantityEdit::entered, this,
            [=](double v) { change([=](Access& a) { (is_a ? a.a : a.b) = v; }); });
    row(is_a ? "angle A" : "angle B", edit);
  }
  if (features.size() == 1 && !f.touches.empty()) {
    paragraph("Dark: free. Light: some touches. Hatched: a clash.");
    auto* plot = new ReachPlot(theme_, f.access);
    if (const ReachMap* map = document_.reachOf(f.id)) plot->setMap(*map);
    connect(&document_, &Document::reachChanged, plot, [this, plot, id = f.id] {
      if (const ReachMap* map = document_.reachOf(id)) plot->setMap(*map);
    });
    connect(plot, &ReachPlot::picked, this,
            [change](double a, double b) { change([=](Access& x) { x.a = a, x.b = b; }); });
    layout_->addWidget(plot);
  }
  link(features.size() == 1 ? "Point it along its own axis or normal"
                            : "Point along " + text(plan.nominal(features.back()).name),
       "pointAlong", [this] { document_.pointAlongLast(); });
  if (f.access_forced)
    link("Let the program choose again", "freeAccess", [this] {
      std::vector<Edit> edits;
      for (FeatureId id : touchedOf(document_))
        edits.push_back(SetAccess{id, document_.plan().feature(id).access, false});
      document_.edit("Let the program choose", std::move(edits));
    });
  paragraph("Angles forced here are kept when the routine is drafted again.");
}

} // namespace alder::app
