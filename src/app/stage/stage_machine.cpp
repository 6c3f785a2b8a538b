// The machine in the stage: its moving part at the playhead, the way just gone, the stylus being
// built; and the fixture under the cursor.
#include "bench/solids.h"
#include "stage/occt_color.h"
#include "stage/overlay.h"
#include "stage/stage.h"
#include "stage/transformation.h"
#include <algorithm>

namespace alder::app {
namespace {

// Index of the position that the machine is on its way to at `seconds`.
std::size_t positionAt(const std::vector<double>& times, double seconds) {
  const auto next = std::lower_bound(times.begin(), times.end(), seconds);
  return next == times.end() ? times.size() - 1 : static_cast<std::size_t>(next - times.begin());
}

// Ball or disc about the origin.
Mesh tipMesh(const Tool& tool) {
  if (tool.disc.empty()) return ballMesh(Vec3::Zero(), tool.ball_radius);
  Mesh disc;
  const Vec3 half = tool.rim * tool.ball_radius * tool.shank;
  appendCylinder(disc, -half, half, 2 * tool.ball_radius);
  return disc;
}

} // namespace

// The stylus that is being built in the Bench desk, hanging beside the part at A0 B0 in place of
// the one that the playhead would show.
std::optional<Position> Stage::builtStylus() const {
  const Plan& plan = document_.plan();
  const int index = document_.benchFocus().stylus;
  if (desk_ != Desk::Bench || index < 0 || index >= static_cast<int>(plan.bench.styli.size()))
    return {};
  const Box3 box = transformed(plan.part->mesh.box(), plan.placement);
  Position p;
  p.kind = MoveKind::Hop;
  p.ball = Vec3(box.max().x() + 40, box.min().y(), box.max().z() + 20);
  p.access = {index, 0, 0, 0};
  return p;
}

void Stage::moveTool() {
  if (!view_->ready()) return;
  const Routed* routed = document_.routed();
  const bool shown = document_.isOpen() && routed && !routed->way.positions.empty() &&
                     (desk_ == Desk::Rehearsal || desk_ == Desk::Routine || desk_ == Desk::Bench);
  const auto drop = [this] {
    for (const auto& o : tool_)
      view_->context()->Remove(o, false);
    tool_.clear();
    if (!trail_.IsNull()) view_->context()->Remove(trail_, false);
    trail_.Nullify();
  };
  if (!shown) return drop();
  const auto& times = routed->rehearsal.times;
  const std::size_t i = positionAt(times, document_.playhead());
  Position to = routed->way.positions[i];
  Vec3 ball = to.ball;
  const auto placed = ledStylus() ? ledStylus() : builtStylus();
  if (placed) to = *placed, ball = to.ball;
  if (!placed && i > 0 && times[i] > times[i - 1] && to.kind != MoveKind::Turn &&
      to.kind != MoveKind::Swap) {
    const double share = (document_.playhead() - times[i - 1]) / (times[i] - times[i - 1]);
    ball = routed->way.positions[i - 1].ball +
           std::clamp(share, 0.0, 1.0) * (to.ball - routed->way.positions[i - 1].ball);
  }
  const bool blocked = led_ && led_->reached < led_->touches;
  if (tool_.empty() || tool_blocked_ != blocked || !(tool_access_ == to.access) ||
      tool_bare_ != to.bare || tool_bench_ != document_.plan().bench.json) {
    drop();
    tool_access_ = to.access;
    tool_bare_ = to.bare;
    tool_blocked_ = blocked;
    tool_bench_ = document_.plan().bench.json;
    const Bench& bench = document_.plan().bench;
    const Tool tool = to.bare ? bareToolOf(bench, to.access) : toolOf(bench, to.access);
    SceneGeometry balls, rods;
    if (tool.ball_radius > 0) balls.mesh = tipMesh(tool);
    balls.mesh_color = theme_.color("ball");
    for (const Rod& rod : tool.rods) {
      if (rod.part == "ram") continue;   // would hide the part
      if (rod.part == "disc") continue;  // of another tip: its rods only stand for it
      if ((rod.b - rod.a).norm() < 1e-9) // a ball of a star
        balls.mesh.append(ballMesh(rod.a, rod.diameter / 2), Frame::Identity());
      else
        appendCylinder(rods.mesh, rod.a, rod.b, rod.diameter);
    }
    rods.mesh_color = theme_.color(blocked ? "outside" : "tool");
    for (auto* g : {&balls, &rods}) {
      Handle(SceneObject) object = new SceneObject(std::move(*g));
      view_->context()->Display(object, 0, -1, false);
      tool_.push_back(object);
    }
  }
  Frame at = Frame::Identity();
  at.translation() = ball;
  for (const auto& o : tool_)
    o->SetLocalTransformation(transformation(at));
  showTrail(i, ball);
  if (following_) {
    const auto& camera = view_->view()->Camera();
    const gp_Vec by(camera->Center(), gp_Pnt(ball.x(), ball.y(), ball.z()));
    gp_Trsf move;
    move.SetTranslation(by);
    camera->Transform(move);
    overlay_->update();
  }
}

// The way that the ball has just come, so that the eye can follow it when it plays fast.
void Stage::showTrail(std::size_t position, const Vec3& ball) {
  constexpr double kSeconds = 12;
  if (!trail_.IsNull()) view_->context()->Remove(trail_, false);
  trail_.Nullify();
  if (desk_ != Desk::Rehearsal) return;
  const Routed* routed = document_.routed();
  SceneGeometry g;
  Points line{ball};
  for (std::size_t k = position; k-- > 0;) {
    if (routed->rehearsal.times[k] < document_.playhead() - kSeconds) break;
    line.push_back(routed->way.positions[k].ball);
  }
  if (line.size() < 2) return;
  g.lines = {line};
  g.line_color = theme_.color("accent");
  g.line_width = 3;
  trail_ = new SceneObject(std::move(g));
  view_->context()->Display(trail_, 0, -1, false);
}

void Stage::setFollowing(bool following) {
  following_ = following;
  moveTool();
  view_->redraw();
}

// A body of the fixture under the cursor, nearer than the part.
std::optional<std::string> Stage::fixtureAt(const QPoint& at) const {
  double x = 0, y = 0, z = 0, dx = 0, dy = 0, dz = 0;
  view_->view()->ConvertWithProj(at.x(), at.y(), x, y, z, dx, dy, dz);
  const Vec3 along = Vec3(dx, dy, dz).normalized(), from = Vec3(x, y, z) - 1e5 * along;
  const Routed* routed = document_.routed();
  double nearest = routed ? routed->obstacles.part.firstHit(from, along).value_or(1e300) : 1e300;
  std::optional<std::string> found;
  for (const FixtureBody& body : document_.plan().bench.fixture.bodies)
    if (const auto hit = MeshTree(body.mesh).firstHit(from, along); hit && *hit < nearest)
      nearest = *hit, found = body.name;
  return found;
}

} // namespace alder::app
