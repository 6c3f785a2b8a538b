// The shank of the selected feature's stylus turned by hand: dragged with Ctrl held, it points from
// the touch towards the cursor, at the angles that the head can take; let go, they are forced.
#include "base/units.h"
#include "plan/access_along.h"
#include "route/router.h"
#include "stage/overlay.h"
#include "stage/stage.h"
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

constexpr double kArm = 130; // pixels from the touch at which the shank lies across the view

// Out of the picture the nearer to the eye the closer the cursor is to the touch.
Vec3 shankTowards(const QPointF& off, const Vec3& right, const Vec3& up, const Vec3& eye) {
  const Vec2 flat(off.x() / kArm, -off.y() / kArm);
  const double out = std::sqrt(std::max(0.0, 1 - flat.squaredNorm()));
  return (flat.x() * right + flat.y() * up + out * eye).normalized();
}

} // namespace

void Stage::leadShank(const QPoint& at) {
  if (!view_->ready() || !document_.isOpen() || !document_.routed() || desk_ != Desk::Routine ||
      document_.selection().features.empty())
    return;
  const Plan& plan = document_.plan();
  const Feature& f = plan.feature(document_.selection().features.back());
  if (f.touches.empty() || plan.nominal(f.id).isConstructed()) return;
  const auto& camera = view_->view()->Camera();
  const gp_Dir d = camera->Direction(), u = camera->OrthogonalizedUp();
  const Vec3 eye(-d.X(), -d.Y(), -d.Z()), up(u.X(), u.Y(), u.Z());
  const QPointF off = QPointF(at) / devicePixelRatioF() - project(anchorOf(f.id));
  const Vec3 shank = shankTowards(off, up.cross(eye), up, eye);
  const Access now = f.access.valid() ? f.access : Access{0, 0, 0, 0};
  const Access access = accessAlong(plan.bench, now.stylus, now.tip, shank);
  if (led_ && led_->feature == f.id && led_->access == access) return;
  led_ = Led{f.id, access, 0, static_cast<int>(f.touches.size())};
  const Clearance clearance(plan, document_.routed()->obstacles);
  const Tool tool = toolOf(plan.bench, access);
  const FeatureRouter router(clearance, tool, f);
  led_->reached =
      static_cast<int>(std::count_if(f.touches.begin(), f.touches.end(), [&](const Touch& t) {
        return touchable(tool, turn(plan.placement, t.normal)) && router.reaches(t);
      }));
  moveTool();
  view_->redraw();
  overlay_->update();
}

void Stage::forceShank() {
  if (!led_) return;
  const Led led = *led_;
  led_.reset();
  document_.edit(
      QString("Force A%1 B%2").arg(shownDegrees(led.access.a)).arg(shownDegrees(led.access.b)),
      {SetAccess{led.feature, led.access, true}});
  moveTool(); // back to the playhead, whether the edit was taken or not
  view_->redraw();
  overlay_->update();
}

// At the touch that the anchor is, the ball on the surface.
std::optional<Position> Stage::ledStylus() const {
  if (!led_) return {};
  const Plan& plan = document_.plan();
  const Feature& f = plan.feature(led_->feature);
  const Vec3 anchor = anchorOf(f.id);
  const auto nearest =
      std::min_element(f.touches.begin(), f.touches.end(), [&](const Touch& a, const Touch& b) {
        return (plan.placement * a.point - anchor).norm() <
               (plan.placement * b.point - anchor).norm();
      });
  if (nearest == f.touches.end()) return {};
  Position p;
  p.kind = MoveKind::Hop;
  p.access = led_->access;
  p.ball = touchMove(plan, f, *nearest, plan.tip(led_->access).ball_diameter / 2).contact;
  return p;
}

QString Stage::ledText() const {
  if (!led_) return {};
  return QString("A%1 B%2 · reaches %3 of %4 touches")
      .arg(shownDegrees(led_->access.a))
      .arg(shownDegrees(led_->access.b))
      .arg(led_->reached)
      .arg(led_->touches);
}

} // namespace alder::app
