#include "bench/bench.h"

#include "base/files.h"
#include "base/units.h"
#include "bench/json_fields.h"
#include "bench/solids.h"
#include <cmath>

namespace alder {
namespace {

AngleRange readRange(const JsonFields& f) {
  AngleRange r{radians(f.number("min")), radians(f.number("max")), radians(f.positive("step"))};
  if (r.high < r.low) f.complain("max", "must not be below min");
  return r;
}

Machine readMachine(const JsonFields& f) {
  Machine m;
  m.name = f.text("name", "machine");
  const auto volume = f.object("volume_mm");
  m.volume = Box3(volume.vector("min"), volume.vector("max"));
  if ((m.volume.sizes().array() <= 0).any())
    volume.complain("max", "must lie above min on each axis");
  m.speed = f.vector("speed_mm_s");
  m.acceleration = f.vector("acceleration_mm_s2");
  if ((m.speed.array() <= 0).any()) f.complain("speed_mm_s", "must be above 0 on each axis");
  if ((m.acceleration.array() <= 0).any())
    f.complain("acceleration_mm_s2", "must be above 0 on each axis");
  m.touch_speed = f.positive("touch_speed_mm_s");
  m.touch_seconds = f.number("touch_seconds", 0.3);
  m.probing_noise = f.number("probing_noise_mm", 0);
  return m;
}

Rod readRod(const JsonFields& f) {
  return {f.vector("from"), f.vector("to"), f.positive("diameter_mm"), f.text("part", "head")};
}

Head readHead(const JsonFields& f) {
  Head h;
  h.name = f.text("name", "head");
  h.a = readRange(f.object("a_deg"));
  h.b = readRange(f.object("b_deg"));
  h.turn_speed = radians(f.positive("turn_deg_s"));
  h.turn_seconds = f.number("turn_seconds", 1);
  for (const auto& rod : f.list("rods"))
    h.rods.push_back(readRod(rod));
  return h;
}

// A tip is a chain of elements from the ball up to the pivot. A side tip first runs along its own
// direction to the stem, then up the stem.
Tip readTip(const JsonFields& f) {
  Tip tip;
  tip.name = f.text("name", "1");
  tip.ball_diameter = f.positive("ball_diameter_mm");
  tip.direction = f.vector("direction", -Vec3::UnitZ());
  if (tip.direction.norm() < 1e-9) f.complain("direction", "must not be zero");
  tip.direction.normalize();
  Vec3 at = Vec3::Zero(), along = -tip.direction;
  double reached = 0;
  bool straight = true;
  const auto elements = f.list("elements");
  if (elements.empty()) f.complain("elements", "must name at least one element");
  for (const auto& e : elements) {
    const double length = e.positive("length_mm"), diameter = e.positive("diameter_mm");
    if (e.flag("on_stem", false) && (along - Vec3::UnitZ()).norm() > 1e-12) {
      along = Vec3::UnitZ();
      straight = false;
    }
    const Vec3 next = at + length * along;
    tip.rods.push_back({at, next, diameter, e.text("part")});
    tip.segments.push_back({reached, reached + length, diameter, e.text("part")});
    reached += length;
    at = next;
  }
  if (!straight) tip.segments.clear();
  tip.pivot_to_ball = -at;
  return tip;
}

Stylus readStylus(const JsonFields& f) {
  Stylus s;
  s.name = f.text("name");
  for (const auto& tip : f.list("tips"))
    s.tips.push_back(readTip(tip));
  if (s.tips.empty()) f.complain("tips", "must name at least one tip");
  return s;
}

FixtureBody readBody(const JsonFields& f) {
  FixtureBody body;
  body.name = f.text("name");
  const auto kind = f.text("kind", "rest");
  body.kind = kind == "plate"   ? FixtureKind::Plate
              : kind == "clamp" ? FixtureKind::Clamp
                                : FixtureKind::Rest;
  for (const auto& b : f.list("boxes")) {
    const Box3 box(b.vector("min"), b.vector("max"));
    Frame turned = Frame::Identity();
    turned.linear() =
        Eigen::AngleAxisd(radians(b.number("turn_z_deg", 0)), Vec3::UnitZ()).toRotationMatrix();
    turned.translation() = b.vector("at", Vec3::Zero());
    if ((box.sizes().array() <= 0).any()) b.complain("max", "must lie above min on each axis");
    body.mesh.appendBox(box, turned, 0);
  }
  for (const auto& c : f.list("cylinders"))
    appendCylinder(body.mesh, c.vector("from"), c.vector("to"), c.positive("diameter_mm"));
  if (body.mesh.triangles.empty()) f.complain("boxes", "or cylinders must hold a solid");
  return body;
}

Fixture readFixture(const JsonFields& f) {
  Fixture fixture;
  for (const auto& body : f.list("bodies"))
    fixture.bodies.push_back(readBody(body));
  if (f.has("placement")) {
    const auto p = f.object("placement");
    fixture.placement =
        frameOf(p.vector("origin"), p.vector("z", Vec3::UnitZ()), p.vector("x", Vec3::UnitX()));
  }
  return fixture;
}

} // namespace

double AngleRange::nearest(double angle) const {
  const auto clampToStep = [&](double v) {
    const double steps = std::round((v - low) / step);
    const double most = std::floor((high - low) / step + 1e-9);
    return low + std::clamp(steps, 0.0, most) * step;
  };
  double best = clampToStep(angle);
  for (const double turned : {angle - 2 * kPi, angle + 2 * kPi})
    if (const double c = clampToStep(turned); std::abs(c - turned) < std::abs(best - angle) - 1e-12)
      best = c;
  return best;
}

bool AngleRange::holds(double angle) const {
  return angle >= low - 1e-9 && angle <= high + 1e-9;
}

Mat3 headTurn(double a, double b) {
  return (Eigen::AngleAxisd(b, Vec3::UnitZ()) * Eigen::AngleAxisd(-a, Vec3::UnitX()))
      .toRotationMatrix();
}

Vec3 shankDirection(const Tip& tip, double a, double b) {
  return -(headTurn(a, b) * tip.direction);
}

Result<Bench> readBench(const std::string& text, const std::string& label) {
  auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  Bench bench;
  bench.name = f.text("name", "bench");
  bench.machine = readMachine(f.object("machine"));
  bench.head = readHead(f.object("head"));
  for (const auto& s : f.list("styli"))
    bench.styli.push_back(readStylus(s));
  if (bench.styli.empty()) f.complain("styli", "must name at least one stylus");
  if (f.has("sphere")) {
    const auto s = f.object("sphere");
    bench.has_sphere = true;
    bench.sphere.centre = s.vector("centre");
    bench.sphere.diameter = s.positive("diameter_mm");
    Vec3 below = bench.sphere.centre;
    below.z() = 0;
    bench.sphere.foot = s.vector("foot", below);
    bench.sphere.stem_diameter = s.number("stem_diameter_mm", 8);
    if (bench.sphere.stem_diameter <= 0 || bench.sphere.stem_diameter >= bench.sphere.diameter)
      s.complain("stem_diameter_mm", "must lie between 0 and the diameter of the sphere");
  }
  if (f.has("qualification")) {
    const auto q = f.object("qualification");
    bench.qualification.form = q.number("form_mm", bench.qualification.form);
    bench.qualification.diameter = q.number("diameter_mm", bench.qualification.diameter);
    bench.qualification.valid_hours = q.number("valid_hours", bench.qualification.valid_hours);
  }
  if (f.has("fixture")) bench.fixture = readFixture(f.object("fixture"));
  if (auto done = f.done(); !done) return pass(done.error());
  bench.json = text;
  return bench;
}

Result<Bench> defaultBench() {
  const auto path = dataFolder() / "assets" / "bench.json";
  auto text = readFile(path);
  if (!text) return pass(text.error());
  return readBench(*text, path.filename().string());
}

} // namespace alder
