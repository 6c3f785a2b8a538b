// A section through the deviation map: what lies before the plane is taken away, and along the
// outlines stand the deviations, enlarged, between the limits.
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

// Does the picture still hold the place, CAD frame?
bool Stage::isKept(const Vec3& place) const {
  if (clip_.IsNull() || !document_.section()) return true;
  const CutPlane& plane = document_.section()->plane;
  const double height = plane.normal.dot(place) - plane.at;
  return (clipsAway() ? -height : height) > -1e-6;
}

bool Stage::clipsAway() const {
  const gp_Dir d = view_->view()->Camera()->Direction();
  const Vec3 normal = turn(document_.plan().placement, document_.section()->plane.normal);
  return normal.dot(Vec3(d.X(), d.Y(), d.Z())) < 0;
}

// Takes away what lies between the eye and the plane; turned round when the eye goes to the other
// side. What is drawn in the plane itself stays.
void Stage::clipBySection() {
  constexpr double kBefore = 0.05, kCap = 0.02; // the plane, mm
  if (!view_->ready() || !document_.isOpen() || part_.IsNull()) return;
  const bool wanted = desk_ == Desk::Verdict && document_.section() && !map_.places.empty();
  if (!wanted) {
    if (!clip_.IsNull()) view_->view()->RemoveClipPlane(clip_);
    if (!cap_.IsNull()) part_->RemoveClipPlane(cap_);
    clip_.Nullify(), cap_.Nullify();
    return;
  }
  const Frame& placement = document_.plan().placement;
  const CutPlane& plane = document_.section()->plane;
  const Vec3 kept = (clipsAway() ? -1 : 1) * turn(placement, plane.normal),
             at = placement * Vec3(plane.at * plane.normal);
  const auto half = [&](double before) {
    const Vec3 from = at - before * kept;
    return gp_Pln(gp_Pnt(from.x(), from.y(), from.z()), gp_Dir(kept.x(), kept.y(), kept.z()));
  };
  if (clip_.IsNull()) {
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
  clip_->SetEquation(half(kBefore));
  cap_->SetEquation(half(kCap));
}

} // namespace alder::app
