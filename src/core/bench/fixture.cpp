#include "bench/fixture.h"

#include "base/units.h"
#include "bench/kit.h"
#include "bench/solids.h"
#include "geometry/mesh_check.h"
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr std::array<std::string_view, 6> kKinds{"plate", "rest",    "clamp",
                                                 "vice",  "v block", "other"};
constexpr double kLeastVolume = 1e-3; // mm^3

FixtureKind readKind(const JsonFields& f) {
  const std::string kind = f.text("kind", "rest");
  for (std::size_t i = 0; i < kKinds.size(); ++i)
    if (kind == kKinds[i]) return static_cast<FixtureKind>(i);
  f.complain("kind", "must be plate, rest, clamp, vice, v block or other");
  return FixtureKind::Other;
}

Frame placeOf(const JsonFields& f) {
  Frame place = Frame::Identity();
  place.linear() =
      Eigen::AngleAxisd(radians(f.number("turn_z_deg", 0)), Vec3::UnitZ()).toRotationMatrix();
  place.translation() = f.vector("at", Vec3::Zero());
  return place;
}

void readBox(FixtureBody& body, const JsonFields& b) {
  const Box3 box(b.vector("min"), b.vector("max"));
  if ((box.sizes().array() <= 0).any()) {
    b.complain("max", "must lie above min on each axis");
    return;
  }
  const Frame place = placeOf(b);
  body.mesh.appendBox(box, place, 0);
  Vec3 top = box.center();
  top.z() = box.max().z();
  body.seats.push_back({"top", false, place * top, Vec3::UnitZ()});
}

void readCylinder(FixtureBody& body, const JsonFields& c) {
  const Vec3 from = c.vector("from"), to = c.vector("to");
  const double diameter = c.positive("diameter_mm");
  if ((to - from).norm() < 1e-6) {
    c.complain("to", "must differ from its other end; a cylinder without length has no volume");
    return;
  }
  appendCylinder(body.mesh, from, to, diameter);
  const Vec3 along = (to - from).normalized();
  body.seats.push_back({along.z() > 0.999 ? "top" : "end", false, to, along});
  body.seats.push_back({"axis", true, to, along});
}

// Vertices as [x, y, z], triangles as three indices of vertices, outward counter-clockwise.
void readMesh(FixtureBody& body, const JsonFields& f) {
  const Json& mesh = f.json();
  const auto rows = [&](const char* key) -> const Json* {
    if (mesh.is_object() && mesh.contains(key) && mesh[key].is_array()) return &mesh[key];
    f.complain(key, "must be a list of three numbers each");
    return nullptr;
  };
  const Json *vertices = rows("vertices"), *triangles = rows("triangles");
  if (!vertices || !triangles) return;
  const auto triple = [](const Json& row) {
    return row.is_array() && row.size() == 3 && row[0].is_number() && row[1].is_number() &&
           row[2].is_number();
  };
  Mesh read;
  for (const Json& v : *vertices) {
    if (!triple(v)) return f.complain("vertices", "must hold three numbers each");
    read.vertices.emplace_back(v[0].get<double>(), v[1].get<double>(), v[2].get<double>());
  }
  const auto count = static_cast<double>(read.vertices.size());
  for (const Json& t : *triangles) {
    std::array<int, 3> corner{};
    for (std::size_t k = 0; k < 3; ++k) {
      if (!triple(t) || t[k].get<double>() < 0 || t[k].get<double>() >= count)
        return f.complain("triangles", "must hold three numbers of vertices each, from 0");
      corner[k] = t[k].get<int>();
    }
    read.triangles.push_back(corner);
    read.tags.push_back(0);
  }
  body.mesh.append(read, Frame::Identity());
}

// A body that opens swings about an upright axis.
void swing(FixtureBody& body, const JsonFields& f) {
  const auto opens = f.object("opens");
  const Vec3 about = opens.vector("about");
  const double angle = radians(opens.number("turn_z_deg"));
  body.can_open = true;
  body.open = f.flag("open", false);
  if (!body.open) return;
  const Frame turned = Eigen::Translation3d(about) * Eigen::AngleAxisd(angle, Vec3::UnitZ()) *
                       Eigen::Translation3d(-about);
  Mesh swung;
  swung.append(body.mesh, turned);
  body.mesh = std::move(swung);
  for (Seat& s : body.seats)
    s.point = turned * s.point, s.direction = turn(turned, s.direction);
}

FixtureBody readInItsState(const JsonFields& f) {
  FixtureBody body;
  body.name = f.text("name");
  if (f.has("piece")) {
    buildPiece(body, f);
    return body;
  }
  body.kind = readKind(f);
  for (const auto& b : f.list("boxes"))
    readBox(body, b);
  for (const auto& c : f.list("cylinders"))
    readCylinder(body, c);
  if (f.has("mesh")) {
    FixtureBody own;
    readMesh(own, f.object("mesh"));
    body.mesh.append(own.mesh, placeOf(f));
  }
  if (body.mesh.triangles.empty())
    f.complain("boxes", "or cylinders, or a mesh, or the measures of a piece must hold a solid");
  else if (std::abs(volumeOf(body.mesh)) < kLeastVolume) // flat, or no solid at all
    f.complain("mesh", "has no volume; give a closed solid");
  if (f.has("opens")) swing(body, f);
  return body;
}

FixtureBody readBody(const JsonFields& f) {
  FixtureBody body = readInItsState(f);
  if (!body.can_open) return body;
  Json json = f.json();
  json["open"] = !body.open;
  body.other = readInItsState(JsonFields(json, "")).mesh; // what is wrong was said above
  return body;
}

void readBodies(const JsonFields& f, const Frame& place, const std::string& fixture,
                Fixture& into) {
  for (const auto& fields : f.list("bodies")) {
    FixtureBody body = readBody(fields);
    for (const FixtureBody& other : into.bodies)
      if (other.name == body.name)
        fields.complain("name", fmt::format("\"{}\" is there twice", body.name));
    Mesh placed;
    placed.append(body.mesh, place);
    body.mesh = std::move(placed);
    Mesh other;
    other.append(body.other, place);
    body.other = std::move(other);
    for (Seat& s : body.seats)
      s.point = place * s.point, s.direction = turn(place, s.direction);
    body.fixture = fixture;
    into.bodies.push_back(std::move(body));
  }
}

} // namespace

std::string_view name(FixtureKind kind) {
  return kKinds[static_cast<std::size_t>(kind)];
}

const KeptFrame* Fixture::frame(const std::string& wanted) const {
  for (const KeptFrame& f : frames)
    if (f.name == wanted) return &f;
  return nullptr;
}

KeptFrame readKeptFrame(const JsonFields& f) {
  const Vec3 z = f.vector("z", Vec3::UnitZ()), x = f.vector("x", Vec3::UnitX());
  KeptFrame kept{f.text("name"), Frame::Identity()};
  if (kept.name.empty()) f.complain("name", "must not be empty");
  if (z.cross(x).norm() < 1e-6)
    f.complain("z", "and x must be directions that are not parallel");
  else
    kept.placement = frameOf(f.vector("origin"), z, x);
  return kept;
}

Json toJson(const KeptFrame& frame) {
  return {{"name", frame.name},
          {"origin", toJson(Vec3(frame.placement.translation()))},
          {"z", toJson(Vec3(frame.placement.linear().col(2)))},
          {"x", toJson(Vec3(frame.placement.linear().col(0)))}};
}

void setOpen(Fixture& fixture, const std::string& name, bool open) {
  for (FixtureBody& body : fixture.bodies) {
    if (body.name != name || !body.can_open || body.open == open) continue;
    std::swap(body.mesh, body.other);
    body.open = open;
  }
}

Fixture readFixtures(const JsonFields& bench) {
  Fixture fixture;
  if (bench.has("fixture")) {
    const auto f = bench.object("fixture");
    readBodies(f, Frame::Identity(), f.text("name", "fixture"), fixture);
    if (f.has("placement")) {
      const auto p = f.object("placement");
      fixture.placement =
          frameOf(p.vector("origin"), p.vector("z", Vec3::UnitZ()), p.vector("x", Vec3::UnitX()));
    }
    for (const auto& kept : f.list("frames")) {
      fixture.frames.push_back(readKeptFrame(kept));
      if (fixture.frame(fixture.frames.back().name) != &fixture.frames.back())
        kept.complain("name", fmt::format("\"{}\" is there twice", fixture.frames.back().name));
    }
  }
  for (const auto& f : bench.list("fixtures"))
    readBodies(f, placeOf(f), f.text("name"), fixture);
  return fixture;
}

} // namespace alder
