// A section: what lies between it and the eye is taken away. Of a deviation map, the deviations
// stand along the outlines, enlarged, between the limits.
#include "stage/stage.h"

#include "stage/deviation_meshes.h"
#include "stage/occt_color.h"
#include <cmath>

namespace alder::app {

void Stage::showSection() {
  const Plan& plan = document_.plan();
  DeviationMeshes between; // the nominal outline and the enlarged one
  SceneGeometry outline, limits, measured;
  for (const SectionLine& line : deviationSection(plan, map_, document_.section()->plane)) {
    Points nominal;
    std::array<Points, 2> limit;
    std::vector<Points> runs(1);
    const double half = exaggerationFor(line.allowed) * line.allowed / 2;
    const SectionPoint* before = nullptr;
    for (const SectionPoint& p : line.points) {
      const auto out = [&](const SectionPoint& at, double by) {
        return plan.placement * (at.nominal + by * at.outward);
      };
      nominal.push_back(out(p, 0));
      if (line.feature.valid() && line.allowed > 0)
        limit[0].push_back(out(p, half)), limit[1].push_back(out(p, -half));
      if (!p.off) {
        if (!runs.back().empty()) runs.emplace_back();
        before = nullptr;
        continue;
      }
      const double off = enlarged(*p.off, line.allowed);
      runs.back().push_back(out(p, off));
      if (before)
        addQuad(between.at((before->share + p.share) / 2), out(*before, 0), out(p, 0), out(p, off),
                out(*before, enlarged(*before->off, line.allowed)));
      before = &p;
    }
    outline.lines.push_back(std::move(nominal));
    for (Points& l : limit)
      if (l.size() > 1) limits.lines.push_back(std::move(l));
    for (Points& l : runs)
      if (l.size() > 1) measured.lines.push_back(std::move(l));
  }
  between.take(theme_, [&](SceneGeometry g) {
    g.on_top = g.flat = true;
    showObject(std::move(g));
  });
  const auto show = [&](SceneGeometry& g, const char* color, double width, bool dashed) {
    g.line_color = theme_.color(color);
    g.line_width = width;
    g.dashed = dashed;
    g.on_top = true;
    showObject(std::move(g));
  };
  show(limits, "second", 1, true);
  show(outline, "ink", 1, false);
  show(measured, "ink", 2, false);
}

std::optional<CutPlane> Stage::cutNow() const {
  const auto& section = document_.section();
  if (!document_.isOpen() || !section || desk_ == Desk::Bench) return {};
  CutPlane plane = section->plane;
  if (held_section_) plane.at = held_section_->at;
  return plane;
}

// Does the picture still hold the place, CAD frame?
bool Stage::isKept(const Vec3& place) const {
  const auto plane = cutNow();
  if (clip_.IsNull() || !plane) return true;
  const double height = plane->height(place);
  return (clipsAway() ? -height : height) > -1e-6;
}

bool Stage::clipsAway() const {
  const gp_Dir d = view_->view()->Camera()->Direction();
  const Vec3 normal = turn(document_.plan().placement, cutNow()->normal);
  return normal.dot(Vec3(d.X(), d.Y(), d.Z())) < 0;
}

// Takes away what lies between the eye and the plane; turned round when the eye goes to the other
// side. What is drawn in the plane itself stays. Where the machine moves, of the part alone.
void Stage::clipBySection() {
  constexpr double kBefore = 0.05, kCap = 0.02; // the plane, mm
  if (!view_->ready() || !document_.isOpen() || part_.IsNull()) return;
  const auto plane = cutNow();
  const bool all = plane && (desk_ == Desk::Part || desk_ == Desk::Verdict);
  if (!all && !clip_.IsNull()) view_->view()->RemoveClipPlane(clip_), clip_.Nullify();
  if (!plane && !cap_.IsNull()) part_->RemoveClipPlane(cap_), cap_.Nullify();
  if (!plane) return;
  const Frame& placement = document_.plan().placement;
  const Vec3 kept = (clipsAway() ? -1 : 1) * turn(placement, plane->normal),
             at = placement * Vec3(plane->at * plane->normal);
  const auto half = [&](double before) {
    const Vec3 from = at - before * kept;
    return gp_Pln(gp_Pnt(from.x(), from.y(), from.z()), gp_Dir(kept.x(), kept.y(), kept.z()));
  };
  if (all && clip_.IsNull()) {
    clip_ = new Graphic3d_ClipPlane(half(kBefore));
    view_->view()->AddClipPlane(clip_);
  }
  if (cap_.IsNull()) {
    cap_ = new Graphic3d_ClipPlane(half(kCap));
    cap_->SetCapping(true);
    cap_->CappingAspect()->SetShadingModel(Graphic3d_TOSM_UNLIT);
    part_->AddClipPlane(cap_);
  }
  cap_->SetCappingColor(occtColor(theme_.color("part_grey").darker(108)));
  if (!clip_.IsNull()) clip_->SetEquation(half(kBefore));
  cap_->SetEquation(half(kCap));
}

std::optional<Stage::SectionFrame> Stage::sectionFrame() const {
  const auto plane = cutNow();
  if (!plane || !view_->ready()) return {};
  const Plan& plan = document_.plan();
  const Box3 box = plan.part->mesh.box();
  const Vec3 &n = plane->normal, u = anyPerpendicular(n), v = n.cross(u);
  const Vec3 middle = box.center() - plane->height(box.center()) * n;
  double wide = 0, high = 0;
  for (int k = 0; k < 8; ++k) {
    const Vec3 d = Vec3(box.corner(static_cast<Box3::CornerType>(k))) - middle;
    wide = std::max(wide, std::abs(d.dot(u))), high = std::max(high, std::abs(d.dot(v)));
  }
  wide *= 1.06, high *= 1.06;
  const auto seen = [&](const Vec3& p) { return project(plan.placement * p); };
  SectionFrame frame;
  const std::array<std::pair<int, int>, 4> corners{{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}};
  for (std::size_t k = 0; k < 4; ++k)
    frame.corners[k] = seen(middle + corners[k].first * wide * u + corners[k].second * high * v);
  // Places are projected to whole pixels: over a length that makes little of that.
  const double far = std::max(wide, high);
  const QPointF o = seen(middle);
  const auto length = [](const QPointF& d) { return std::hypot(d.x(), d.y()); };
  frame.along = (seen(middle + far * n) - o) / far;
  frame.scale = 1e-6;
  for (const Vec3& axis : {n, u, v})
    frame.scale = std::max(frame.scale, length(seen(middle + far * axis) - o) / far);
  // At the middle of the side that is farthest to the right; in the picture, however near it is.
  frame.handle = o;
  for (std::size_t k = 0; k < 4; ++k)
    if (const QPointF side = (frame.corners[k] + frame.corners[(k + 1) % 4]) / 2;
        side.x() > frame.handle.x())
      frame.handle = side;
  constexpr double kRim = 60;
  frame.handle.setX(std::clamp(frame.handle.x(), kRim, std::max(kRim, width() - kRim)));
  frame.handle.setY(std::clamp(frame.handle.y(), kRim, std::max(kRim, height() - kRim)));
  return frame;
}

bool Stage::holdSection(const QPointF& at) {
  constexpr double kReach = 14; // pixels
  held_section_.reset();
  const auto frame = sectionFrame();
  if (!frame || QLineF(frame->handle, at).length() > kReach) return false;
  const double now = document_.section()->plane.at;
  held_section_ = HeldSection{at, now, now};
  return true;
}

// In steps of about a pixel, so that figures are round. Seen along the normal, up is towards the
// eye.
void Stage::dragSection(const QPointF& to) {
  const auto frame = sectionFrame();
  if (!frame) return;
  const QPointF d = to - held_section_->from;
  const double square = QPointF::dotProduct(frame->along, frame->along);
  const double by = square > 0.01 * frame->scale * frame->scale
                        ? QPointF::dotProduct(d, frame->along) / square
                        : -d.y() / frame->scale * (clipsAway() ? 1 : -1);
  const double step = std::pow(10, std::floor(std::log10(1 / frame->scale)));
  held_section_->at = std::round((held_section_->at_first + by) / step) * step;
  clipBySection();
  view_->redraw();
}

} // namespace alder::app
