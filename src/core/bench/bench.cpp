#include "bench/bench.h"

#include "base/files.h"
#include "base/units.h"
#include "bench/json_fields.h"
#include "bench/solids.h"
#include <algorithm>
#include <cmath>
#include <filesystem>

namespace alder {
namespace {

AngleRange readRange(const JsonFields& f) {
  AngleRange r{radians(f.number("min")), radians(f.number("max")), radians(f.positive("step"))};
  if (r.high < r.low) f.complain("max", "must not be below min");
  return r;
}

std::array<bool, 3> readCarried(const JsonFields& f) {
  std::array<bool, 3> carried{};
  for (const char c : f.text("moves_with", "")) {
    const int axis = c - 'x';
    if (axis < 0 || axis > 2)
      f.complain("moves_with", "must name axes by x, y and z");
    else
      carried[static_cast<std::size_t>(axis)] = true;
  }
  return carried;
}

MachineBody readMachineBody(const JsonFields& f) {
  MachineBody body;
  body.name = f.text("name");
  body.carried = readCarried(f);
  for (const auto& b : f.list("boxes")) {
    const Box3 box(b.vector("min"), b.vector("max"));
    if ((box.sizes().array() <= 0).any())
      b.complain("max", "must lie above min on each axis");
    else
      body.boxes.push_back(box);
  }
  if (body.stands()) {
    for (const Box3& box : body.boxes)
      body.mesh.appendBox(box, Frame::Identity(), 0);
    body.boxes.clear();
    for (const auto& c : f.list("cylinders"))
      appendCylinder(body.mesh, c.vector("from"), c.vector("to"), c.positive("diameter_mm"));
    if (body.mesh.triangles.empty()) f.complain("boxes", "or cylinders must hold a solid");
  } else if (body.boxes.empty()) {
    f.complain("boxes", "must hold at least one; what moves is made of boxes");
  }
  return body;
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
  for (const auto& b : f.list("bodies"))
    m.bodies.push_back(readMachineBody(b));
  return m;
}

Rod readRod(const JsonFields& f) {
  return {f.vector("from"), f.vector("to"), f.positive("diameter_mm"), f.text("part", "head")};
}

Head readHead(const JsonFields& f) {
  Head h;
  h.name = f.text("name", "head");
  const std::string kind = f.text("kind", "indexing");
  h.kind = kind == "fixed"                          ? HeadKind::Fixed
           : kind == "continuous" || kind == "free" ? HeadKind::Free
                                                    : HeadKind::Indexing;
  if (kind != name(h.kind) && kind != "free") // as it was called before
    f.complain("kind", "must be fixed, indexing or continuous");
  if (h.kind == HeadKind::Fixed) {
    h.a = h.b = {0, 0, radians(5)};
  } else {
    h.a = readRange(f.object("a_deg"));
    h.b = readRange(f.object("b_deg"));
    h.a.any = h.b.any = h.kind == HeadKind::Free;
    h.turn_speed = radians(f.positive("turn_deg_s"));
  }
  h.turn_seconds = f.number("turn_seconds", 1);
  for (const auto& rod : f.list("rods"))
    h.rods.push_back(readRod(rod));
  return h;
}

Rack readRack(const JsonFields& f, const std::vector<Stylus>& styli) {
  Rack rack;
  rack.out = f.vector("out", -Vec3::UnitY());
  if (std::abs(rack.out.z()) > 1e-9 || rack.out.norm() < 1e-9)
    f.complain("out", "must be level and not zero");
  rack.out.normalize();
  rack.slide = f.number("slide_mm", 60);
  if (!(rack.slide > 0)) f.complain("slide_mm", "must be above 0");
  for (const auto& p : f.list("ports")) {
    const RackPort port{p.text("stylus"), p.vector("at")};
    if (std::none_of(styli.begin(), styli.end(),
                     [&](const Stylus& s) { return s.name == port.stylus; }))
      p.complain("stylus", fmt::format("\"{}\" is not among the styli", port.stylus));
    if (rack.portOf(port.stylus))
      p.complain("stylus", fmt::format("\"{}\" has a port already", port.stylus));
    rack.ports.push_back(port);
  }
  for (const auto& body : f.list("bodies")) {
    for (const auto& b : body.list("boxes")) {
      const Box3 box(b.vector("min"), b.vector("max"));
      if ((box.sizes().array() <= 0).any())
        b.complain("max", "must lie above min on each axis");
      else
        rack.mesh.appendBox(box, Frame::Identity(), 0);
    }
    for (const auto& c : body.list("cylinders"))
      appendCylinder(rack.mesh, c.vector("from"), c.vector("to"), c.positive("diameter_mm"));
  }
  return rack;
}

ProbeLimits readProbe(const JsonFields& f) {
  ProbeLimits p;
  p.name = f.text("name", "probe");
  p.length = f.number("stylus_length_mm", 0);
  p.grams = f.number("stylus_weight_g", 0);
  p.least_touch_speed = f.number("least_touch_speed_mm_s", 0);
  p.touch_speed = f.number("touch_speed_mm_s", 0);
  for (const auto& [key, value] :
       {std::pair{"stylus_length_mm", p.length}, std::pair{"stylus_weight_g", p.grams},
        std::pair{"least_touch_speed_mm_s", p.least_touch_speed},
        std::pair{"touch_speed_mm_s", p.touch_speed}})
    if (value < 0) f.complain(key, "must not be below 0");
  return p;
}

} // namespace

std::string_view name(HeadKind kind) {
  static constexpr std::array<std::string_view, 3> kNames{"fixed", "indexing", "continuous"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::vector<BenchSolid> benchSolids(const Bench& bench) {
  std::vector<BenchSolid> solids;
  if (bench.has_sphere) {
    const ReferenceSphere& s = bench.sphere;
    BenchSolid ball{"reference sphere", {}}, stem{"stem of the sphere", {}};
    appendBall(ball.mesh, s.centre, s.diameter);
    const Vec3 down = (s.foot - s.centre).normalized();
    appendCylinder(stem.mesh, s.centre + 0.48 * s.diameter * down, s.foot, s.stem_diameter);
    solids = {std::move(ball), std::move(stem)};
  }
  if (bench.rack && !bench.rack->mesh.triangles.empty())
    solids.push_back({"rack", bench.rack->mesh});
  for (const MachineBody& body : bench.machine.bodies)
    if (body.stands()) solids.push_back({body.name, body.mesh});
  return solids;
}

const RackPort* Rack::portOf(const std::string& stylus) const {
  for (const RackPort& p : ports)
    if (p.stylus == stylus) return &p;
  return nullptr;
}

Vec3 pivotAtPort(const Stylus& stylus, const RackPort& port) {
  return port.at + stylus.tips.front().probeLength() * Vec3::UnitZ();
}

std::vector<std::string> beyondProbe(const Bench& bench) {
  std::vector<std::string> found;
  const ProbeLimits& p = bench.probe;
  for (const Stylus& s : bench.styli) {
    if (p.length > 0 && s.length() > p.length)
      found.push_back(fmt::format("{} is {:g} mm long; {} carries up to {:g} mm", s.name,
                                  s.length(), p.name, p.length));
    if (p.grams > 0 && s.grams() > p.grams)
      found.push_back(fmt::format("{} weighs {:g} g; {} carries up to {:g} g", s.name, s.grams(),
                                  p.name, p.grams));
  }
  if (p.touch_speed > 0 && bench.machine.touch_speed > p.touch_speed)
    found.push_back(fmt::format("the machine touches at {:g} mm/s; {} takes up to {:g}",
                                bench.machine.touch_speed, p.name, p.touch_speed));
  if (bench.machine.touch_speed < p.least_touch_speed)
    found.push_back(fmt::format("the machine touches at {:g} mm/s; {} needs at least {:g}",
                                bench.machine.touch_speed, p.name, p.least_touch_speed));
  return found;
}

double AngleRange::nearest(double angle) const {
  const auto clampToStep = [&](double v) {
    if (any) return std::clamp(v, low, high);
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

int stepsOf(const AngleRange& r) {
  return 1 + static_cast<int>(std::floor((r.high - r.low) / r.step + 1e-9));
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
  for (std::size_t i = 0; i < bench.styli.size(); ++i)
    for (std::size_t k = 0; k < i; ++k)
      if (bench.styli[i].name == bench.styli[k].name)
        f.complain("styli", fmt::format("has two named \"{}\"", bench.styli[i].name));
  if (f.has("probe")) bench.probe = readProbe(f.object("probe"));
  if (f.has("rack")) bench.rack = readRack(f.object("rack"), bench.styli);
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
  if (f.has("controller"))
    bench.controller = readControllerNames(f.object("controller"), bench.styli);
  for (const Stylus& stylus : bench.styli)
    for (const Tip& tip : stylus.tips)
      bench.controller.tips.emplace_back(stylus.name, tip.name);
  bench.controller.turns = bench.head.kind != HeadKind::Fixed;
  bench.fixture = readFixtures(f);
  if (auto done = f.done(); !done) return pass(done.error());
  bench.json = text;
  return bench;
}

Result<Bench> defaultBench() {
  const auto path = dataFolder() / "assets" / "benches" / "curlew.json";
  auto text = readFile(path);
  if (!text) return pass(text.error());
  return readBench(*text, path.filename().string());
}

std::vector<std::string> shippedBenches() {
  std::vector<std::string> found;
  std::error_code none;
  for (const auto& e :
       std::filesystem::directory_iterator(dataFolder() / "assets" / "benches", none))
    if (e.path().extension() == ".json") found.push_back(e.path().string());
  std::sort(found.begin(), found.end());
  return found;
}

} // namespace alder
