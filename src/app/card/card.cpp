#include "card/card.h"

#include "card/callout_label.h"
#include "card/fields.h"
#include "requirement/proofread.h"
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <algorithm>
#include <map>

namespace alder::app {
namespace {

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

QString shownFigure(const Requirement& r, double value) {
  return text(figure(r.kind == Characteristic::Angle ? degrees(value) : value, r.decimals)) +
         (r.kind == Characteristic::Angle ? "°" : " mm");
}

} // namespace

Card::Card(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , theme_(theme)
    , area_(new QScrollArea) {
  setObjectName("card");
  setAttribute(Qt::WA_StyledBackground);
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  outer->addWidget(area_);
  area_->setWidgetResizable(true);
  area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area_->setFrameShape(QFrame::NoFrame);
  for (auto signal : {&Document::opened, &Document::planChanged, &Document::routedChanged,
                      &Document::runsChanged, &Document::selectionChanged})
    connect(&document_, signal, this, &Card::refreshLater);
  rebuild();
}

void Card::setDesk(Desk desk) {
  desk_ = desk;
  refreshLater();
}

void Card::refreshLater() {
  if (pending_) return;
  pending_ = true;
  QTimer::singleShot(0, this, &Card::rebuild);
}

void Card::rebuild() {
  pending_ = false;
  const QString focused = focusWidget() ? focusWidget()->objectName() : QString();
  const bool had_focus = focusWidget() && focusWidget()->hasFocus();
  page_ = new QWidget;
  page_->setObjectName("card");
  layout_ = new QVBoxLayout(page_);
  layout_->setContentsMargins(16, 16, 14, 16);
  layout_->setSpacing(5);
  const auto& selection = document_.selection();
  if (!document_.isOpen()) {
    paragraph("Nothing is open.");
  } else if (desk_ == Desk::Bench) {
    benchSection();
  } else if (desk_ == Desk::Verdict && selection.requirement) {
    verdictSection(document_.plan().spec.requirement(*selection.requirement));
  } else if (desk_ == Desk::Rehearsal && selection.features.empty()) {
    clashSection();
  } else if (selection.features.empty() && !selection.requirement) {
    overview();
  } else {
    if (selection.requirement && desk_ == Desk::Part)
      requirementSection(document_.plan().spec.requirement(*selection.requirement));
    if (!selection.features.empty() && desk_ != Desk::Verdict) {
      featureSection(selection.features);
      accessSection(selection.features);
    }
    if (desk_ == Desk::Rehearsal) clashSection();
  }
  layout_->addStretch();
  area_->setWidget(page_);
  // the field that was being edited stays the one with the keyboard
  if (had_focus && !focused.isEmpty())
    if (auto* again = page_->findChild<QWidget*>(focused)) again->setFocus();
}

void Card::title(const QString& heading, const QString& below) {
  auto* label = new QLabel(heading);
  label->setFont(theme_.strong(11));
  label->setWordWrap(true);
  layout_->addWidget(label);
  if (!below.isEmpty()) paragraph(below);
}

void Card::head(const QString& heading) {
  auto* label = new QLabel(heading.toUpper());
  label->setFont(theme_.strong(8));
  label->setProperty("role", "head");
  layout_->addSpacing(8);
  layout_->addWidget(label);
}

void Card::paragraph(const QString& words, const char* role) {
  auto* label = new QLabel(words);
  label->setFont(theme_.text(8.5));
  label->setWordWrap(true);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  label->setProperty("role", role);
  layout_->addWidget(label);
}

void Card::figureRow(const QString& label, const QString& value) {
  auto* line = new QHBoxLayout;
  auto* left = new QLabel(label);
  left->setWordWrap(true);
  auto* right = new QLabel(value);
  right->setFont(theme_.figures(9));
  right->setTextInteractionFlags(Qt::TextSelectableByMouse);
  line->addWidget(left, 1);
  line->addWidget(right);
  layout_->addLayout(line);
}

void Card::row(const QString& label, QWidget* field) {
  auto* line = new QHBoxLayout;
  auto* left = new QLabel(label);
  left->setBuddy(field);
  field->setFont(qobject_cast<QComboBox*>(field) ? theme_.text(9) : theme_.figures(9));
  field->setFixedWidth(126);
  field->setAccessibleName(label);
  line->addWidget(left, 1);
  line->addWidget(field);
  layout_->addLayout(line);
}

void Card::overview() {
  const Plan& plan = document_.plan();
  title(text(plan.name), QString("%1 requirements, %2 features. Select one to see and change it.")
                             .arg(plan.spec.requirements.size())
                             .arg(plan.features.size()));
  head("Datums");
  for (const Datum& d : plan.spec.datums) {
    QString features;
    for (FeatureId f : d.features)
      features += (features.isEmpty() ? "" : ", ") + text(plan.nominal(f).name);
    figureRow(text(d.letter), features);
  }
  if (plan.spec.datums.empty()) paragraph("The model defines none.");
  head(QString("Notes (%1)").arg(plan.notes.size()));
  if (plan.notes.empty()) paragraph("Everything in the file was taken over.");
  for (const Note& n : plan.notes)
    paragraph((n.entity ? QString("#%1 ").arg(n.entity) : QString()) + text(n.text));
}

void Card::benchSection() {
  const Plan& plan = document_.plan();
  title(text(plan.bench.name), text(plan.bench.machine.name + " · " + plan.bench.head.name));
  head("Part in the machine");
  const Vec3 origin = plan.placement.translation();
  static constexpr const char* kAxes[]{"X", "Y", "Z"};
  for (int k = 0; k < 3; ++k) {
    auto* field = new QuantityEdit(Quantity::Length, 3);
    field->setObjectName(QString("origin") + kAxes[k]);
    field->setValue(origin[k]);
    connect(field, &QuantityEdit::entered, this, [this, k](double v) {
      Frame f = document_.plan().placement;
      f.translation()[k] = v;
      document_.edit("Move the part", {SetPlacement{f}});
    });
    row(QString("origin %1").arg(kAxes[k]), field);
  }
  auto* turned = new QuantityEdit(Quantity::Angle, 2);
  turned->setObjectName("turnZ");
  turned->setValue(0);
  connect(turned, &QuantityEdit::entered, this, [this](double v) {
    Frame f = document_.plan().placement;
    f.linear() = Eigen::AngleAxisd(v, Vec3::UnitZ()).toRotationMatrix() * f.linear();
    document_.edit("Turn the part", {SetPlacement{f}});
  });
  row("turn about Z by", turned);
  head("Safe shell, distance");
  static constexpr const char* kSides[]{"left", "front", "", "right", "back", "top"};
  for (int side : {5, 0, 3, 1, 4}) {
    auto* field = new QuantityEdit(Quantity::Length, 1);
    field->setObjectName(QString("shell") + kSides[side]);
    field->setValue(side < 3 ? plan.shell.offset_low[side] : plan.shell.offset_high[side - 3]);
    connect(field, &QuantityEdit::entered, this, [this, side](double v) {
      Shell shell = document_.plan().shell;
      (side < 3 ? shell.offset_low[side] : shell.offset_high[side - 3]) = v;
      document_.edit("Change the shell", {SetShell{shell}});
    });
    row(kSides[side], field);
  }
  paragraph("The table side is barred.");
  head("Styli");
  for (const Stylus& s : plan.bench.styli)
    figureRow(text(s.name), QString("%1 tip%2, %3 mm")
                                .arg(s.tips.size())
                                .arg(s.tips.size() == 1 ? "" : "s")
                                .arg(s.tips.front().pivot_to_ball.norm(), 0, 'f', 0));
  head("Fixture");
  for (const FixtureBody& b : plan.bench.fixture.bodies)
    paragraph(text(b.name));
  if (plan.bench.fixture.bodies.empty()) paragraph("none");
}

void Card::editRequirement(const QString& what, const std::function<void(Requirement&)>& change) {
  const auto& selected = document_.selection().requirement;
  if (!selected) return;
  Requirement r = document_.plan().spec.requirement(*selected);
  change(r);
  document_.edit(what, {SetRequirement{r}});
}

void Card::requirementSection(const Requirement& r) {
  title(QString("Requirement %1").arg(r.balloon), QString());
  layout_->addWidget(new CalloutLabel(theme_, r, {}));
  remarkSection(r);
  head("Values");
  const Quantity quantity = r.kind == Characteristic::Angle ? Quantity::Angle : Quantity::Length;
  const auto field = [&](const QString& label, const char* id, double value, auto setter) {
    auto* edit = new QuantityEdit(quantity, 4);
    edit->setObjectName(id);
    edit->setValue(value);
    connect(edit, &QuantityEdit::entered, this, [=, this](double v) {
      editRequirement("Change requirement", [=](Requirement& x) { setter(x, v); });
    });
    row(label, edit);
  };
  if (isDimension(r.kind)) {
    field("nominal", "nominal", r.nominal, [](Requirement& x, double v) {
      x.lower += v - x.nominal, x.upper += v - x.nominal, x.nominal = v;
    });
    field("lower limit", "lower", r.lower, [](Requirement& x, double v) {
      x.lower = v, x.tolerance = x.upper - x.lower, x.fit.clear();
    });
    field("upper limit", "upper", r.upper, [](Requirement& x, double v) {
      x.upper = v, x.tolerance = x.upper - x.lower, x.fit.clear();
    });
  } else {
    field("tolerance", "tolerance", r.tolerance,
          [](Requirement& x, double v) { x.tolerance = x.upper = v; });
    if (r.kind == Characteristic::SurfaceProfile)
      field("zone moved out by", "unequal", r.unequal,
            [](Requirement& x, double v) { x.unequal = v; });
  }
  judgedBySection(r);
  const auto why = whyNotCovered(document_.plan(), r);
  if (!why.empty()) {
    head("Not covered");
    paragraph(text(why), "error");
  }
  if (r.entity) paragraph(QString("From the CAD file, entity #%1").arg(r.entity));
}

// What the proofreader says, each correction one press away; the first has a key.
void Card::remarkSection(const Requirement& r) {
  bool first = true;
  for (const Remark& remark : proofread(document_.plan().spec, r)) {
    paragraph(text(remark.says), "error");
    if (!remark.corrected) continue;
    auto* button = new QPushButton(text(remark.fix) + (first ? "    Ctrl+Return" : QString()));
    button->setObjectName(first ? "applyCorrection" : "applyOther");
    button->setProperty("role", "link");
    if (first) button->setShortcut(QKeySequence("Ctrl+Return"));
    first = false;
    connect(button, &QPushButton::clicked, this,
            [this, corrected = *remark.corrected, fix = text(remark.fix)] {
              document_.edit(fix, {SetRequirement{corrected}});
            });
    layout_->addWidget(button);
  }
}

// Which standard and associations the figure comes from.
void Card::judgedBySection(const Requirement& r) {
  head("Judged by");
  const auto choose = [&](const QString& label, const char* id, const QStringList& items,
                          int current, auto setter) {
    auto* box = new QComboBox;
    box->setObjectName(id);
    box->addItems(items);
    box->setCurrentIndex(current);
    connect(box, &QComboBox::activated, this, [this, setter](int index) {
      editRequirement("Change how it is judged", [=](Requirement& x) { setter(x, index); });
    });
    row(label, box);
  };
  const Specification& spec = document_.plan().spec;
  choose("standard", "standard",
         {spec.standard == ToleranceStandard::Iso ? "project's (ISO)" : "project's (ASME)", "ISO",
          "ASME"},
         r.standard ? 1 + static_cast<int>(*r.standard) : 0, [](Requirement& x, int index) {
           x.standard.reset();
           if (index > 0) x.standard = static_cast<ToleranceStandard>(index - 1);
         });
  struct Choice {
    const char* label;
    AssociateBy by;
  };
  std::vector<Choice> choices{{"by the standard", AssociateBy::Standard},
                              {"least squares", AssociateBy::LeastSquares}};
  const Ideal* ideal = r.features.empty() ? nullptr : &spec.feature(r.features[0]).ideal;
  const bool sized =
      ideal && (ideal->type == SurfaceType::Cylinder || ideal->type == SurfaceType::Sphere ||
                ideal->type == SurfaceType::Slot);
  if (!isRunout(r.kind) && !isProfile(r.kind))
    choices.push_back({"minimum zone", AssociateBy::MinimumZone});
  if (sized && !isRunout(r.kind) && !isProfile(r.kind)) {
    choices.push_back({"inscribed", AssociateBy::MaximumInscribed});
    choices.push_back({"circumscribed", AssociateBy::MinimumCircumscribed});
  }
  if (sized && r.kind == Characteristic::Size) {
    choices.push_back({"two-point, smallest", AssociateBy::TwoPointMin});
    choices.push_back({"two-point, largest", AssociateBy::TwoPointMax});
  }
  const bool chosen = r.kind != Characteristic::Distance && r.kind != Characteristic::Angle &&
                      !isRunout(r.kind) && !isProfile(r.kind);
  if (chosen) {
    QStringList labels;
    int current = 0;
    for (const Choice& c : choices) {
      if (c.by == r.association) current = static_cast<int>(labels.size());
      labels += c.label;
    }
    choose("feature", "association", labels, current, [choices](Requirement& x, int index) {
      x.association = choices[static_cast<std::size_t>(index)].by;
    });
  }
  if (!r.datums.empty())
    choose("datums", "datumAssociation", {"outside material", "least squares"},
           r.datum_association == AssociateBy::LeastSquares ? 1 : 0, [](Requirement& x, int index) {
             x.datum_association = index ? AssociateBy::LeastSquares : AssociateBy::Standard;
           });
}

void Card::editRecipe(const QString& what, const std::function<void(Recipe&)>& change) {
  std::vector<Edit> edits;
  for (FeatureId f : document_.selection().features) {
    Recipe recipe = document_.plan().feature(f).recipe;
    change(recipe);
    edits.push_back(SetRecipe{f, recipe, {}, {}});
  }
  document_.edit(what, std::move(edits));
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
    for (FeatureId id : document_.selection().features)
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
    for (FeatureId id : document_.selection().features) {
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

void Card::verdictSection(const Requirement& r) {
  const Evaluation* e = document_.evaluation(r.id);
  layout_->addWidget(new CalloutLabel(theme_, r, e ? e->verdict : Verdict::Unmeasured));
  if (!e || !e->actual) {
    paragraph(e ? text(e->how) : "Not measured yet: run the routine, or open measured points.");
    return;
  }
  const FeatureResult& worst = e->features.front();
  if (e->features.size() > 1)
    figureRow(QString("worst, %1").arg(text(document_.plan().nominal(worst.feature).name)),
              shownFigure(r, worst.actual));
  else
    figureRow("actual", shownFigure(r, *e->actual));
  if (isDimension(r.kind)) {
    figureRow("nominal", shownFigure(r, r.nominal));
    figureRow("limits", shownFigure(r, e->lower).remove(" mm") + " … " + shownFigure(r, e->upper));
    figureRow("deviation", shownFigure(r, *e->deviation));
  } else {
    const double bonus = worst.allowed - r.tolerance;
    figureRow(bonus > 1e-9 ? QString("allowed, %1 + bonus %2")
                                 .arg(text(shortFigure(r.tolerance)))
                                 .arg(text(shortFigure(bonus)))
                           : QString("allowed"),
              shownFigure(r, worst.allowed));
  }
  figureRow("tolerance used", QString("%1 %").arg(100 * e->share, 0, 'f', 0));
  const bool located =
      (r.kind == Characteristic::Position || r.kind == Characteristic::Coaxiality) &&
      r.zone != Zone::Planar;
  if (located) layout_->addWidget(new ZonePicture(theme_, document_.plan(), r, *e));
  if (e->features.size() > 1 && !located) {
    head("Features");
    for (const FeatureResult& f : e->features)
      figureRow(text(document_.plan().nominal(f.feature).name), shownFigure(r, f.actual));
  }
  head("How");
  paragraph(text(e->how));
  std::size_t touches = 0;
  for (FeatureId id : r.features)
    touches += document_.plan().feature(id).touches.size();
  paragraph(QString("%1 touches on %2 feature%3, run %4.")
                .arg(touches)
                .arg(r.features.size())
                .arg(r.features.size() == 1 ? "" : "s")
                .arg(text(document_.currentRun()->name)));
}

// Where the seconds go, and the narrowest place, to which the playhead can be taken.
void Card::timeShares(const Routed& routed) {
  const auto& times = routed.rehearsal.times;
  std::map<StepKind, double> seconds;
  for (const Step& s : routed.way.steps) {
    if (s.last < s.first) continue;
    const double start = s.first > 0 ? times[static_cast<std::size_t>(s.first) - 1] : 0;
    seconds[s.kind] += times[static_cast<std::size_t>(s.last)] - start;
  }
  head("Time");
  static constexpr std::pair<StepKind, const char*> kRows[]{{StepKind::Measure, "measuring"},
                                                            {StepKind::Hop, "hops"},
                                                            {StepKind::Turn, "head turns"},
                                                            {StepKind::Swap, "stylus swaps"},
                                                            {StepKind::Manual, "touches by hand"}};
  for (const auto& [kind, label] : kRows)
    figureRow(label, QString("%1 s").arg(seconds[kind], 0, 'f', 1));
  const int at = routed.rehearsal.least_at;
  if (at < 0) return;
  const Position& p = routed.way.positions[static_cast<std::size_t>(at)];
  head("Narrowest place");
  auto* button = new QPushButton(QString("%1 mm at %2 s")
                                     .arg(routed.rehearsal.least_clearance, 0, 'f', 2)
                                     .arg(times[static_cast<std::size_t>(at)], 0, 'f', 1));
  button->setProperty("role", "link");
  connect(button, &QPushButton::clicked, this,
          [this, step = p.step, second = times[static_cast<std::size_t>(at)]] {
            document_.selectStep(step);
            document_.setPlayhead(second);
          });
  layout_->addWidget(button);
  paragraph(text(routed.way.steps[static_cast<std::size_t>(p.step)].text));
}

void Card::clashSection() {
  const Routed* routed = document_.routed();
  if (!routed) return paragraph("Being routed …");
  const auto& r = routed->rehearsal;
  title(r.clear()
            ? "Clear"
            : QString("%1 clash%2").arg(r.clashes.size()).arg(r.clashes.size() == 1 ? "" : "es"),
        QString("%1 s, %2 m, least clearance %3 mm")
            .arg(r.seconds, 0, 'f', 1)
            .arg(r.path / 1000, 0, 'f', 2)
            .arg(r.least_clearance, 0, 'f', 2));
  timeShares(*routed);
  for (const Clash& c : r.clashes) {
    auto* button = new QPushButton(QString("%1 s  %2 meets %3, %4 mm")
                                       .arg(c.seconds, 0, 'f', 1)
                                       .arg(text(c.moving))
                                       .arg(text(c.still))
                                       .arg(c.depth, 0, 'f', 2));
    button->setProperty("role", "link");
    connect(button, &QPushButton::clicked, this, [this, c] {
      document_.selectStep(c.step);
      document_.setPlayhead(c.seconds);
    });
    layout_->addWidget(button);
    paragraph(text(routed->way.steps[static_cast<std::size_t>(c.step)].text));
  }
  for (const Note& n : routed->way.notes)
    paragraph(text(n.text), "error");
}

} // namespace alder::app
