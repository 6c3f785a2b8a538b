#include "stage/stage.h"

#include "base/units.h"
#include "bench/solids.h"
#include "plan/constructions/constructed_feature.h"
#include "route/shell_travel.h"
#include "stage/occt_color.h"
#include "stage/overlay.h"
#include "stage/transformation.h"
#include "stage/zone_geometry.h"
#include <AIS_Shape.hxx>
#include <Graphic3d_AspectFillArea3d.hxx>
#include <Prs3d_Drawer.hxx>
#include <Prs3d_LineAspect.hxx>
#include <QResizeEvent>
#include <SelectMgr_EntityOwner.hxx>
#include <StdSelect_BRepOwner.hxx>
#include <StdSelect_ViewerSelector3d.hxx>
#include <TopoDS.hxx>
#include <algorithm>
#include <cmath>
#include <utility>

namespace alder::app {

Stage::Stage(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , theme_(theme)
    , view_(new OcctView)
    , overlay_(new StageOverlay(*this, document, theme)) {
  setMinimumSize(200, 240); // beside a drawing it is narrow
  view_->setBackground(theme.color("stage_top"), theme.color("stage_bottom"));
  // Qt's window falls over a child whose OpenGL context cannot be made, even a hidden one.
  if (view_->missing().isEmpty()) {
    view_->setParent(this);
    view_->lower();
  } else {
    connect(this, &QObject::destroyed, view_, &QObject::deleteLater);
  }
  connect(view_, &OcctView::becameReady, this, [this] {
    fit_pending_ = true;
    rebuildPart();
    rebuildScene();
  });
  connect(view_, &OcctView::cameraChanged, overlay_, qOverload<>(&QWidget::update));
  connect(view_, &OcctView::cameraChanged, this, &Stage::clipBySection);
  connect(view_, &OcctView::clicked, this, &Stage::pick);
  connect(view_, &OcctView::led, this, &Stage::leadShank);
  connect(view_, &OcctView::ledOff, this, &Stage::forceShank);
  view_->setHolds([this](const QPointF& at) { return holdLabel(at) || holdSection(at); });
  connect(view_, &OcctView::heldTo, this, [this](const QPointF& at) {
    if (held_) held_->middle += at - std::exchange(held_->from, at);
    if (held_section_) dragSection(at);
    overlay_->update();
  });
  connect(view_, &OcctView::letGo, this, [this](bool moved) {
    dropLabel(moved);
    if (const auto held = std::exchange(held_section_, std::nullopt); held && moved)
      document_.sectionAt(held->at);
  });
  connect(view_, &OcctView::hovered, this, [this](const QPoint& at) {
    if (!view_->ready()) return;
    view_->context()->MoveTo(at.x(), at.y(), view_->view(), false);
    if (findUnderMouse()) overlay_->update();
    view_->redraw();
  });
  connect(&document_, &Document::opened, this, [this] {
    fit_pending_ = true;
    rebuildPart();
  });
  connect(&document_, &Document::planChanged, this, &Stage::rebuildScene);
  connect(&document_, &Document::routedChanged, this, &Stage::rebuildScene);
  connect(&document_, &Document::runsChanged, this, &Stage::rebuildScene);
  connect(&document_, &Document::selectionChanged, this, &Stage::rebuildScene);
  connect(&document_, &Document::benchFocusChanged, this, &Stage::rebuildScene);
  connect(&document_, &Document::playheadChanged, this, [this] {
    if (fixtureState() != shown_state_) return rebuildScene();
    moveTool();
    view_->redraw();
    overlay_->update();
  });
}

void Stage::resizeEvent(QResizeEvent* event) {
  view_->setGeometry(rect());
  overlay_->setGeometry(rect());
  QWidget::resizeEvent(event);
}

void Stage::setCalm(bool calm) {
  if (std::exchange(calm_, calm) != calm) rebuildScene();
}

void Stage::setDesk(Desk desk) {
  desk_ = desk;
  rebuildScene();
}

QPointF Stage::project(const Vec3& p) const {
  return view_->project(p.x(), p.y(), p.z());
}

Vec3 Stage::anchorOf(FeatureId id) const {
  const Plan& plan = document_.plan();
  const auto& touches = plan.feature(id).touches;
  if (touches.empty())
    return plan.placement * (plan.nominal(id).faces.empty()
                                 ? plan.nominal(id).ideal.point // constructed
                                 : plan.part->face(plan.nominal(id).faces.front()).box.center());
  gp_Dir eye = view_->ready() ? view_->view()->Camera()->Direction() : gp_Dir(0, 0, -1);
  // the touch that faces the eye most, nearest to it
  const Touch* best = &touches.front();
  double most = -1e300;
  for (const Touch& t : touches) {
    const Vec3 p = plan.placement * t.point, n = turn(plan.placement, t.normal),
               e(eye.X(), eye.Y(), eye.Z());
    const double worth = -e.dot(p) + (n.dot(e) < 0 ? 1000 : 0);
    if (worth > most) most = worth, best = &t;
  }
  return plan.placement * best->point;
}

namespace {

// Polylines, or single points, in the CAD frame.
std::vector<Points> outlineOf(const Shaped& s) {
  const Ideal& i = s.ideal;
  const Frame frame = frameOf(i.point, i.direction);
  Points line;
  if (i.type == SurfaceType::Sphere && i.diameter <= 0) return {{i.point}};
  if (i.type == SurfaceType::Plane || i.type == SurfaceType::Slot) {
    Box3 box; // in the plane
    for (const Vec3& p : s.points)
      box.extend(frame.inverse() * p);
    if (box.isEmpty() || box.diagonal().norm() < 1) box = Box3(Vec3(-10, -10, 0), Vec3(10, 10, 0));
    const Vec3 a = box.min(), b = box.max();
    for (const auto& [x, y] :
         {std::pair{a.x(), a.y()}, {b.x(), a.y()}, {b.x(), b.y()}, {a.x(), b.y()}, {a.x(), a.y()}})
      line.push_back(frame * Vec3(x, y, 0));
    return {line};
  }
  std::vector<Points> all;
  if (i.length > 0) all.push_back({i.point, i.point + i.length * i.direction});
  if (i.diameter > 0) {
    for (int k = 0; k <= 48; ++k)
      line.push_back(frame * Vec3(i.diameter / 2 * std::cos(k * kPi / 24),
                                  i.diameter / 2 * std::sin(k * kPi / 24), 0));
    all.push_back(std::move(line));
  }
  return all;
}

} // namespace

void Stage::rebuildPart() {
  if (!view_->ready() || !document_.isOpen()) return;
  const auto& context = view_->context();
  if (!part_.IsNull()) context->Remove(part_, false);
  cap_.Nullify(); // it went with the part
  shown_part_ = document_.plan().part;
  part_ = new AIS_ColoredShape(shapeTaken(*shown_part_));
  const Handle(Prs3d_Drawer)& drawer = part_->Attributes();
  drawer->SetAutoTriangulation(false); // the triangles of the import are shown as they are
  drawer->SetFaceBoundaryDraw(true);
  drawer->SetFaceBoundaryAspect(
      new Prs3d_LineAspect(occtColor(theme_.color("ink")), Aspect_TOL_SOLID, 0.8));
  part_->SetMaterial(Graphic3d_MaterialAspect(Graphic3d_NOM_PLASTIC));
  part_->SetColor(occtColor(theme_.color("part")));
  // with the selection mode at once: without one the object is never known to the selector
  context->Display(part_, AIS_Shaded, AIS_Shape::SelectionMode(TopAbs_FACE), false);
  const Handle(Prs3d_Drawer) hover = context->HighlightStyle(Prs3d_TypeOfHighlight_LocalDynamic);
  hover->SetColor(occtColor(theme_.color("accent")));
  shown_view_.reset();
  shown_kept_.clear();
  rebuildScene();
}

void Stage::recolorPart() {
  if (part_.IsNull()) return;
  part_->ClearCustomAspects();
  const bool grey = desk_ == Desk::Verdict;
  part_->SetColor(occtColor(theme_.color(grey ? "part_grey" : "part")));
  // setting a colour takes the boundary lines along
  part_->Attributes()->FaceBoundaryAspect()->SetColor(occtColor(theme_.color("second")));
  const Plan& plan = document_.plan();
  for (FeatureId f : document_.selection().features) {
    if (map_.of(f)) continue; // its colours tell deviations
    for (FaceId face : plan.nominal(f).faces)
      part_->SetCustomColor(plan.part->shapeOf(face),
                            occtColor(theme_.color("accent").lighter(150)));
  }
  for (FaceId face : document_.selection().faces)
    part_->SetCustomColor(plan.part->shapeOf(face), occtColor(theme_.color("accent").lighter(150)));
  view_->context()->Redisplay(part_, false);
  // through the context, so that picking moves along
  view_->context()->SetLocation(part_, TopLoc_Location(transformation(plan.placement)));
}

void Stage::showObject(SceneGeometry geometry) {
  if (geometry.mesh.triangles.empty() && geometry.lines.empty() && geometry.points.empty()) return;
  Handle(SceneObject) object = new SceneObject(std::move(geometry));
  view_->context()->Display(object, 0, -1, false);
  objects_.push_back(object);
}

void Stage::rebuildScene() {
  if (!view_->ready() || !document_.isOpen() || part_.IsNull()) {
    overlay_->update();
    return;
  }
  if (shown_part_ != document_.plan().part) return rebuildPart(); // it went over to another model
  for (const auto& o : objects_)
    view_->context()->Remove(o, false);
  objects_.clear();
  map_ = desk_ == Desk::Verdict ? document_.deviationMap() : DeviationMap{};
  under_mouse_.reset(), not_seen_ = left_out_ = 0;
  recolorPart();
  if (desk_ == Desk::Bench || desk_ == Desk::Routine || desk_ == Desk::Rehearsal) showFixture();
  if (desk_ == Desk::Routine) showShell();
  if (desk_ == Desk::Routine || desk_ == Desk::Part) showTouches();
  if (desk_ == Desk::Routine || desk_ == Desk::Rehearsal) showWay();
  if (desk_ == Desk::Rehearsal) showClashes();
  if (desk_ == Desk::Part || desk_ == Desk::Verdict) showConstructed();
  if (desk_ == Desk::Verdict) {
    if (!document_.section() || map_.places.empty()) showZones(); // a section has its own limits
    showDeviations();
    showPlaces();
  }
  clipBySection();
  moveTool();
  setHome();
  if (fit_pending_) {
    fit_pending_ = false;
    view_->look(OcctView::Standard::Iso);
  }
  view_->redraw();
  overlay_->update();
}

double Stage::pointRadius() const {
  return std::clamp(0.0055 * document_.plan().part->mesh.box().sizes().norm(), 0.2, 6.0);
}

// What "the whole part" means here: the part, in the Bench desk with fixture and some of the table.
void Stage::setHome() {
  const Plan& plan = document_.plan();
  Box3 box = transformed(plan.part->mesh.box(), plan.placement);
  if (desk_ == Desk::Bench) {
    for (const auto& body : plan.bench.fixture.bodies)
      box.extend(body.mesh.box());
    box.extend(box.max() + Vec3(0, 0, 0.5 * box.sizes().z()));
  }
  const Vec3 pad = 0.06 * box.sizes();
  Bnd_Box home;
  home.Update(box.min().x() - pad.x(), box.min().y() - pad.y(), box.min().z() - pad.z(),
              box.max().x() + pad.x(), box.max().y() + pad.y(), box.max().z() + pad.z());
  view_->setHome(home);
}

// Clamps are opened and closed in the course of a routine.
int Stage::fixtureState() const {
  const Routed* routed = document_.routed();
  if (!routed || routed->way.positions.empty() || desk_ == Desk::Bench) return 0;
  const auto& times = routed->rehearsal.times;
  const auto next = std::lower_bound(times.begin(), times.end(), document_.playhead());
  const auto i = std::min(static_cast<std::size_t>(next - times.begin()), times.size() - 1);
  return routed->way.steps[static_cast<std::size_t>(routed->way.positions[i].step)].state;
}

void Stage::showFixture() {
  shown_state_ = fixtureState();
  const Routed* routed = document_.routed();
  const Fixture& fixture = routed && shown_state_ > 0
                               ? routed->way.states[static_cast<std::size_t>(shown_state_)]
                               : document_.plan().bench.fixture;
  for (const FixtureBody& body : fixture.bodies) {
    SceneGeometry g;
    g.mesh = body.mesh;
    const bool opens = body.kind == FixtureKind::Clamp || body.kind == FixtureKind::Vice;
    const bool focused = desk_ == Desk::Bench && body.name == document_.benchFocus().body;
    g.mesh_color = theme_.color(focused ? "accent" : opens ? "swap" : "fixture");
    showObject(std::move(g));
  }
  if (desk_ != Desk::Bench) return;
  for (BenchSolid& solid : benchSolids(document_.plan().bench)) {
    SceneGeometry g;
    g.mesh = std::move(solid.mesh);
    g.mesh_color = theme_.color("unmeasured");
    showObject(std::move(g));
  }
}

void Stage::showShell() {
  if (!document_.routed()) return;
  const Box3 box = shellBox(document_.plan(), document_.routed()->obstacles);
  Frame axes = Frame::Identity();
  axes.linear() = shellAxes(document_.plan());
  SceneGeometry g;
  g.mesh.appendBox(box, axes, 0);
  // the table side is barred and stays open
  g.mesh.triangles.erase(g.mesh.triangles.begin(), g.mesh.triangles.begin() + 2);
  g.mesh_color = theme_.color("accent");
  g.transparency = 0.93;
  const auto corner = [&](int i) {
    return Vec3(axes * box.corner(static_cast<Box3::CornerType>(i)));
  };
  g.lines = {{corner(4), corner(5), corner(7), corner(6), corner(4)},
             {corner(0), corner(4)},
             {corner(1), corner(5)},
             {corner(2), corner(6)},
             {corner(3), corner(7)}};
  g.line_color = theme_.color("accent");
  g.dashed = true;
  showObject(std::move(g));
}

void Stage::showTouches() {
  const Plan& plan = document_.plan();
  const auto& selected = document_.selection().features;
  SceneGeometry points, normals;
  for (const Feature& f : plan.features) {
    const bool chosen = std::find(selected.begin(), selected.end(), f.id) != selected.end();
    if (desk_ == Desk::Part && !chosen) continue;
    for (std::size_t i = 0; i < f.touches.size(); ++i) {
      const Touch& t = f.touches[i];
      const Vec3 p = plan.placement * t.point, n = turn(plan.placement, t.normal);
      // A touch that cannot be made as it is is crossed out.
      if (chosen && !document_.touchFaults(f.id)[i].empty()) {
        const Vec3 aside = 2.5 * pointRadius() * anyPerpendicular(n), other = aside.cross(n);
        normals.lines.push_back({p + aside + other, p - aside - other});
        normals.lines.push_back({p + aside - other, p - aside + other});
      }
      points.points.push_back({p + 0.2 * n, theme_.color(chosen ? "outside" : "accent")});
      if (chosen) normals.lines.push_back({p, p + f.recipe.approach * 2 * n});
    }
  }
  points.point_radius = pointRadius();
  normals.line_color = theme_.color("outside");
  normals.line_width = 1.5;
  showObject(std::move(points));
  showObject(std::move(normals));
}

// Constructed features as what they are: points, lines, circles, planes by their outline.
void Stage::showConstructed() {
  const Plan& plan = document_.plan();
  const auto& selected = document_.selection().features;
  SceneGeometry all, chosen;
  for (const NominalFeature& f : plan.spec.features) {
    if (!f.from) continue;
    const bool mine = std::find(selected.begin(), selected.end(), f.id) != selected.end();
    SceneGeometry& g = mine ? chosen : all;
    for (Points line : outlineOf(nominalShape(plan, f.id))) {
      for (Vec3& p : line)
        p = plan.placement * p;
      if (line.size() > 1)
        g.lines.push_back(std::move(line));
      else
        g.points.push_back({line.front(), theme_.color(mine ? "outside" : "accent")});
    }
  }
  for (SceneGeometry* g : {&all, &chosen}) {
    g->line_color = theme_.color(g == &chosen ? "outside" : "accent");
    g->line_width = g == &chosen ? 2.5 : 1.5;
    g->dashed = g == &all;
    g->point_radius = 1.6 * pointRadius();
    g->on_top = true;
    showObject(std::move(*g));
  }
}

void Stage::showWay() {
  if (calm_) return;
  const Routed* routed = document_.routed();
  if (!routed) return;
  const auto& selection = document_.selection();
  SceneGeometry all, chosen;
  Points current;
  for (std::size_t i = 0; i < routed->way.positions.size(); ++i) {
    const Position& p = routed->way.positions[i];
    const bool mine = selection.step >= 0
                          ? p.step == selection.step
                          : std::find(selection.features.begin(), selection.features.end(),
                                      p.feature) != selection.features.end();
    if (mine && i > 0 && p.kind != MoveKind::Turn && p.kind != MoveKind::Swap)
      chosen.lines.push_back({routed->way.positions[i - 1].ball, p.ball});
    if (p.kind == MoveKind::Turn || p.kind == MoveKind::Swap) {
      if (current.size() > 1) all.lines.push_back(current);
      current.clear();
    }
    current.push_back(p.ball);
  }
  if (current.size() > 1) all.lines.push_back(current);
  all.line_color = theme_.color("hop");
  all.line_width = 1;
  chosen.line_color = theme_.color("accent");
  chosen.line_width = 2.5;
  if (desk_ == Desk::Rehearsal || selection.features.empty()) showObject(std::move(all));
  showObject(std::move(chosen));
}

void Stage::showClashes() {
  const Routed* routed = document_.routed();
  if (!routed) return;
  SceneGeometry g;
  for (const Clash& c : routed->rehearsal.clashes) {
    const auto i = static_cast<std::size_t>(c.position);
    const double end = routed->rehearsal.times[i],
                 start = i > 0 ? routed->rehearsal.times[i - 1] : end;
    const double share = end > start ? (c.seconds - start) / (end - start) : 1;
    const Vec3 from = i > 0 ? routed->way.positions[i - 1].ball : routed->way.positions[i].ball;
    g.points.push_back(
        {from + share * (routed->way.positions[i].ball - from), theme_.color("outside")});
  }
  g.point_radius = 3 * pointRadius();
  g.on_top = true;
  showObject(std::move(g));
}

// Measured points of the selected requirement (all if none is), coloured by their deviation in
// shares of the tolerance, with whiskers that show it enlarged.
void Stage::showDeviations() {
  const auto* run = document_.currentRun();
  if (!run) return;
  const Plan& plan = document_.plan();
  SceneGeometry points, whiskers, contacts;
  const Measurements& measured = run->measured();
  for (const auto& [id, e] : run->details) {
    if (document_.selection().requirement && *document_.selection().requirement != id) continue;
    for (const FeatureResult& f : e.features) {
      const auto m = measured.find(f.feature);
      if (m == measured.end()) continue;
      if (isOfCloud(m->second)) continue; // stage_places.cpp
      for (std::size_t i = 0; i < m->second.points.size(); ++i) {
        const bool own = i < f.deviations.size();
        if (own && !std::isfinite(f.deviations[i])) continue; // left out as an outlier
        const double width = drawnWidth(f), half = std::max(width / 2, 1e-9);
        const double share = own ? (f.deviations[i] - f.moved) / half : (f.share > 1 ? 1.0 : 0.0);
        const double off = own ? f.deviations[i] - f.moved : 0;
        const double shown = enlarged(off, width);
        const bool holds = std::any_of(f.contacts.begin(), f.contacts.end(),
                                       [&](const Contact& c) { return c.point == i; });
        const Vec3 p = plan.placement * m->second.nominals[i];
        Vec3 n = Vec3::Zero();
        for (const Touch& t : plan.feature(f.feature).touches)
          if ((t.point - m->second.nominals[i]).norm() < 1e-6) n = turn(plan.placement, t.normal);
        const Vec3 tip = p + n * shown;
        points.points.push_back({tip + 0.2 * n, theme_.deviationColor(share)});
        if (holds) contacts.points.push_back({tip + 0.2 * n, theme_.color("ink")});
        if (own) whiskers.lines.push_back({p, tip});
      }
    }
  }
  points.point_radius = 1.2 * pointRadius();
  points.on_top = true;
  whiskers.line_color = theme_.color("second");
  whiskers.line_width = 1.5;
  whiskers.on_top = true;
  contacts.point_radius = 1.9 * pointRadius(); // dark behind the coloured one: what holds the zone
  showObject(std::move(whiskers));
  showObject(std::move(contacts));
  showObject(std::move(points));
}

// Zones of the selected requirement; of all at once they would hide the part.
void Stage::showZones() {
  const auto& selected = document_.selection().requirement;
  const Evaluation* e = selected ? document_.evaluation(*selected) : nullptr;
  if (!e) return;
  const Plan& plan = document_.plan();
  for (const FeatureResult& f : e->features)
    for (SceneGeometry& g : zoneGeometry(plan, plan.spec.requirement(*selected), f,
                                         exaggerationFor(f.allowed), theme_)) {
      g.point_radius = 1.4 * pointRadius();
      showObject(std::move(g));
    }
}

// By the user's own factor as it is, else no farther than three half tolerances.
double Stage::enlarged(double off, double allowed) const {
  const double most = 1.5 * std::max(allowed, 2e-9);
  return exaggerationFor(allowed) *
         (document_.exaggeration() > 0 ? off : std::clamp(off, -most, most));
}

// Without a factor of the user's own half a tolerance is shown six millimetres wide.
double Stage::exaggerationFor(double allowed) const {
  const double own = document_.exaggeration();
  return own > 0 ? own : 12 / std::max(allowed, 1e-9);
}

FaceId Stage::faceAt(const QPoint& at) {
  if (!view_->ready()) return {};
  const auto& context = view_->context();
  context->MoveTo(at.x(), at.y(), view_->view(), false);
  if (!context->HasDetected()) return {};
  const Handle(StdSelect_BRepOwner) owner =
      Handle(StdSelect_BRepOwner)::DownCast(context->DetectedOwner());
  if (owner.IsNull() || !owner->HasShape()) return {};
  const auto& faces = document_.plan().part->face_shapes;
  for (std::size_t i = 0; i < faces.size(); ++i)
    if (faces[i].IsSame(owner->Shape())) return FaceId{static_cast<int>(i)};
  return {};
}

std::optional<FeatureId> Stage::featureOf(FaceId face) const {
  std::optional<FeatureId> best;
  for (const NominalFeature& f : document_.plan().spec.features)
    if (std::binary_search(f.faces.begin(), f.faces.end(), face) &&
        (!best || f.faces.size() < document_.plan().nominal(*best).faces.size()))
      best = f.id;
  return best;
}

void Stage::pick(const QPoint& at, bool add) {
  if (!document_.isOpen() || !view_->ready()) return;
  if (const auto requirement = overlay_->requirementAt(QPointF(at) / devicePixelRatioF()))
    return document_.selectRequirement(*requirement);
  if (desk_ == Desk::Bench)
    if (const auto body = fixtureAt(at)) return document_.setBenchFocus({-1, *body});
  const FaceId face = faceAt(at);
  const auto feature = face.valid() ? featureOf(face) : std::nullopt;
  const auto place = pickedPlace(); // before the scene is another
  if (desk_ == Desk::Verdict && face.valid() && place) document_.sectionThrough(*place);
  if (!feature) return pickFace(face, add);
  std::vector<FeatureId> features = add ? document_.selection().features : std::vector<FeatureId>{};
  const auto found = std::find(features.begin(), features.end(), *feature);
  if (found != features.end())
    features.erase(found);
  else
    features.push_back(*feature);
  document_.selectFeatures(std::move(features), place);
}

std::optional<Vec3> Stage::pickedPlace() const {
  if (!view_->ready()) return {};
  const auto& selector = view_->context()->MainSelector();
  if (selector->NbPicked() == 0) return {};
  const gp_Pnt p = selector->PickedPoint(1);
  return document_.plan().placement.inverse() * Vec3(p.X(), p.Y(), p.Z());
}

// A face that nothing measures yet.
void Stage::pickFace(FaceId face, bool add) {
  if (!face.valid()) {
    if (!add) document_.clearSelection();
    return;
  }
  std::vector<FaceId> faces = add ? document_.selection().faces : std::vector<FaceId>{};
  if (const auto found = std::find(faces.begin(), faces.end(), face); found != faces.end())
    faces.erase(found);
  else
    faces.push_back(face);
  document_.selectFaces(std::move(faces), pickedPlace());
}

// Against the touched side of the selection, a little from above and aside so that depth is seen.
gp_Dir Stage::viewDirection() const {
  const Plan& plan = document_.plan();
  Vec3 out = Vec3::Zero();
  for (FeatureId f : document_.selection().features)
    for (const Touch& t : plan.feature(f).touches)
      out += turn(plan.placement, t.normal);
  if (out.norm() > 1e-9) out.normalize();
  const Vec3 aside = out.cross(Vec3::UnitZ());
  const Vec3 eye = out + Vec3(0, 0, 0.55) + 0.35 * (aside.norm() > 0.2 ? aside : Vec3(0.5, -1, 0));
  return {-eye.x(), -eye.y(), -eye.z()};
}

void Stage::frameSelection() {
  if (!document_.isOpen() || !view_->ready()) return;
  const Plan& plan = document_.plan();
  Box3 box;
  for (FeatureId f : document_.selection().features)
    for (FaceId face : plan.nominal(f).faces)
      box.extend(transformed(plan.part->face(face).box, plan.placement));
  if (box.isEmpty()) return view_->fitAll();
  view_->view()->Camera()->SetDirection(viewDirection());
  view_->view()->Camera()->SetUp(gp_Dir(0, 0, 1));
  Bnd_Box bounds;
  const Vec3 pad = Vec3::Constant(0.35 * box.sizes().norm());
  bounds.Update(box.min().x() - pad.x(), box.min().y() - pad.y(), box.min().z() - pad.z(),
                box.max().x() + pad.x(), box.max().y() + pad.y(), box.max().z() + pad.z());
  view_->view()->FitAll(bounds, 0.02, false);
  overlay_->update();
  view_->redraw();
}

} // namespace alder::app
