#include "bench/kit.h"

#include "base/units.h"
#include "bench/solids.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// A piece being built in its own frame: foot at the origin, Z up.
class Piece {
 public:
  Piece(FixtureBody& body, const JsonFields& f)
      : body_(body)
      , f_(f) {
    place_.linear() =
        Eigen::AngleAxisd(radians(f.number("toward_deg", 0)), Vec3::UnitZ()).toRotationMatrix();
    place_.translation() = f.vector("at");
    body_.open = f.flag("open", false);
  }

  double size(const char* key, double otherwise) const {
    const double v = f_.number(key, otherwise);
    if (!(v > 0)) f_.complain(key, "must be above 0");
    return std::max(v, 1e-3);
  }

  void box(const Vec3& low, const Vec3& high, double turn = 0) {
    Frame turned = place_;
    turned.linear() *= Eigen::AngleAxisd(turn, Vec3::UnitZ()).toRotationMatrix();
    body_.mesh.appendBox(Box3(low, high), turned, 0);
  }
  void cylinder(const Vec3& from, const Vec3& to, double diameter) {
    appendCylinder(body_.mesh, place_ * from, place_ * to, diameter);
  }
  // A straight prism along Y over a convex polygon in XZ, counter-clockwise with X right and Z up.
  void prism(const std::vector<Vec2>& polygon, double from_y, double to_y) {
    const int n = static_cast<int>(polygon.size()),
              first = static_cast<int>(body_.mesh.vertices.size());
    for (const double y : {from_y, to_y})
      for (const Vec2& p : polygon)
        body_.mesh.vertices.push_back(place_ * Vec3(p.x(), y, p.y()));
    const auto add = [&](int a, int b, int c) {
      body_.mesh.triangles.push_back({first + a, first + b, first + c});
      body_.mesh.tags.push_back(0);
    };
    for (int i = 0; i < n; ++i) {
      const int j = (i + 1) % n;
      add(i, n + j, j);
      add(i, n + i, n + j);
    }
    for (int i = 1; i + 1 < n; ++i) {
      add(0, i, i + 1);
      add(n, n + i + 1, n + i);
    }
  }
  void face(const char* name, const Vec3& at, const Vec3& normal) {
    body_.seats.push_back({name, false, place_ * at, turn(place_, normal).normalized()});
  }
  void axis(const char* name, const Vec3& at, const Vec3& direction) {
    body_.seats.push_back({name, true, place_ * at, turn(place_, direction).normalized()});
  }

  FixtureBody& body_;
  const JsonFields& f_;

 private:
  Frame place_ = Frame::Identity();
};

void plate(Piece& p) {
  const double length = p.size("length_mm", 220), width = p.size("width_mm", 220),
               height = p.size("height_mm", 20);
  p.body_.kind = FixtureKind::Plate;
  p.box({-length / 2, -width / 2, 0}, {length / 2, width / 2, height});
  p.face("top", {0, 0, height}, Vec3::UnitZ());
}

void rest(Piece& p) {
  const double height = p.size("height_mm", 70), diameter = p.size("diameter_mm", 14);
  p.body_.kind = FixtureKind::Rest;
  p.cylinder(Vec3::Zero(), {0, 0, height}, diameter);
  p.face("top", {0, 0, height}, Vec3::UnitZ());
  p.axis("axis", {0, 0, height}, Vec3::UnitZ());
  p.face("side", {diameter / 2, 0, height / 2}, Vec3::UnitX());
}

// A post with an arm towards the piece's X, and a screw that presses down at its end. Open, the arm
// is swung aside.
void clamp(Piece& p) {
  const double height = p.size("height_mm", 90), reach = p.size("reach_mm", 40),
               width = p.size("width_mm", 14), thickness = p.size("thickness_mm", 10),
               screw = p.size("screw_mm", 14);
  p.body_.kind = FixtureKind::Clamp;
  p.body_.can_open = true;
  const double swung = p.body_.open ? radians(p.f_.number("open_turn_deg", 110)) : 0;
  p.box({-width / 2, -width / 2, 0}, {width / 2, width / 2, height}, swung);
  p.box({-width / 2, -width / 2, height}, {reach + width / 2, width / 2, height + thickness},
        swung);
  const Vec3 end(reach * std::cos(swung), reach * std::sin(swung), height + thickness);
  p.cylinder(end, end + screw * Vec3::UnitZ(), width - 1);
  p.face("under the arm", {reach * std::cos(swung), reach * std::sin(swung), height},
         -Vec3::UnitZ());
}

// Two jaws across X on a base; the jaw at -X is fixed.
void vice(Piece& p) {
  const double base = p.size("base_mm", 40), opening = p.size("opening_mm", 60),
               jaw = p.size("jaw_mm", 20), width = p.size("width_mm", 100),
               height = p.size("jaw_height_mm", 30), slack = p.size("open_by_mm", 15);
  p.body_.kind = FixtureKind::Vice;
  p.body_.can_open = true;
  const double gap = opening + (p.body_.open ? slack : 0);
  p.box({-opening / 2 - jaw, -width / 2, 0}, {opening / 2 + slack + jaw, width / 2, base});
  p.box({-opening / 2 - jaw, -width / 2, base}, {-opening / 2, width / 2, base + height});
  p.box({gap - opening / 2, -width / 2, base}, {gap - opening / 2 + jaw, width / 2, base + height});
  p.face("bed", {0, 0, base}, Vec3::UnitZ());
  p.face("fixed jaw", {-opening / 2, 0, base + height / 2}, Vec3::UnitX());
  p.face("moving jaw", {gap - opening / 2, 0, base + height / 2}, -Vec3::UnitX());
}

// A groove along Y in a block.
void vBlock(Piece& p) {
  const double length = p.size("length_mm", 60), width = p.size("width_mm", 50),
               height = p.size("height_mm", 45), angle = radians(p.size("groove_deg", 90)),
               groove = p.size("groove_mm", 34);
  p.body_.kind = FixtureKind::VBlock;
  if (angle >= radians(175)) p.f_.complain("groove_deg", "must be below 175");
  if (groove >= width) p.f_.complain("groove_mm", "must be below the width");
  const double deep = groove / 2 / std::tan(angle / 2);
  if (deep >= height) p.f_.complain("height_mm", "must be above the depth of the groove");
  const double low = height - deep, y = length / 2;
  p.prism({{-width / 2, 0}, {width / 2, 0}, {width / 2, low}, {-width / 2, low}}, -y, y);
  p.prism({{-width / 2, low}, {0, low}, {-groove / 2, height}, {-width / 2, height}}, -y, y);
  p.prism({{0, low}, {width / 2, low}, {width / 2, height}, {groove / 2, height}}, -y, y);
  const Vec3 left(std::cos(angle / 2), 0, std::sin(angle / 2));
  p.face("left of the groove", {-groove / 4, 0, (low + height) / 2}, left);
  p.face("right of the groove", {groove / 4, 0, (low + height) / 2}, {-left.x(), 0, left.z()});
  p.axis("groove", {0, 0, low}, Vec3::UnitY());
}

} // namespace

const std::vector<std::string>& kitPieces() {
  static const std::vector<std::string> kPieces{"rest", "clamp", "vice", "v block", "plate"};
  return kPieces;
}

Json kitPiece(const std::string& piece, const std::string& name, const Vec3& at) {
  Json j{{"name", name}, {"piece", piece}, {"at", toJson(at)}, {"toward_deg", 0}};
  const auto with = [&](std::initializer_list<std::pair<const char*, double>> sizes) {
    for (const auto& [key, value] : sizes)
      j[key] = value;
  };
  if (piece == "rest") with({{"height_mm", 70}, {"diameter_mm", 14}});
  if (piece == "clamp")
    with({{"height_mm", 90}, {"reach_mm", 40}, {"width_mm", 14}, {"thickness_mm", 10}});
  if (piece == "vice")
    with({{"base_mm", 40},
          {"opening_mm", 60},
          {"width_mm", 100},
          {"jaw_mm", 20},
          {"jaw_height_mm", 30}});
  if (piece == "v block")
    with({{"length_mm", 60},
          {"width_mm", 50},
          {"height_mm", 45},
          {"groove_mm", 34},
          {"groove_deg", 90}});
  if (piece == "plate") with({{"length_mm", 220}, {"width_mm", 220}, {"height_mm", 20}});
  return j;
}

void buildPiece(FixtureBody& body, const JsonFields& f) {
  Piece piece(body, f);
  const std::string kind = f.text("piece");
  if (kind == "rest")
    rest(piece);
  else if (kind == "clamp")
    clamp(piece);
  else if (kind == "vice")
    vice(piece);
  else if (kind == "v block")
    vBlock(piece);
  else if (kind == "plate")
    plate(piece);
  else
    f.complain("piece", "must be rest, clamp, vice, v block or plate");
}

} // namespace alder
