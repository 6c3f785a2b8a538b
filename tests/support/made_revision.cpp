#include "made_revision.h"

#include "base/random.h"
#include "part/recognise.h"
#include "pmi_writer.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <algorithm>

namespace alder::test {
namespace {

constexpr double kCell = 32, kThick = 14;

enum class Shape { Hole, Stepped, Sunk, Pocket, Slot, Boss };

struct Item {
  Shape shape = Shape::Hole;
  double x = 0, y = 0;
  double size = 8, more = 0; // of a stepped one how much wider; of a pocket its depth
};

struct Plate {
  double length = 0, width = 0;
  std::vector<Item> items;
};

TopoDS_Shape rod(double x, double y, double z, double diameter, double length) {
  return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, y, z), gp_Dir(0, 0, 1)), diameter / 2, length)
      .Shape();
}

TopoDS_Shape block(double x0, double y0, double z0, double x1, double y1, double z1) {
  return BRepPrimAPI_MakeBox(gp_Pnt(x0, y0, z0), gp_Pnt(x1, y1, z1)).Shape();
}

TopoDS_Shape toolOf(const Item& i) {
  const double x = i.x, y = i.y, d = i.size;
  switch (i.shape) {
  case Shape::Hole:
    return rod(x, y, -1, d, kThick + 2);
  case Shape::Stepped:
    return BRepAlgoAPI_Fuse(rod(x, y, -1, d, kThick + 2), rod(x, y, kThick - 5, d + i.more, 6))
        .Shape();
  case Shape::Sunk: {
    const gp_Ax2 at(gp_Pnt(x, y, kThick - 4), gp_Dir(0, 0, 1));
    return BRepAlgoAPI_Fuse(rod(x, y, -1, d, kThick + 2),
                            BRepPrimAPI_MakeCone(at, 2.5, 2.5 + 5, 5).Shape())
        .Shape();
  }
  case Shape::Pocket:
    return block(x - 7, y - 5, kThick - i.more, x + 7, y + 5, kThick + 1);
  case Shape::Slot: {
    TopoDS_Shape s = block(x - 5, y - d / 2, -1, x + 5, y + d / 2, kThick + 1);
    s = BRepAlgoAPI_Fuse(s, rod(x - 5, y, -1, d, kThick + 2)).Shape();
    return BRepAlgoAPI_Fuse(s, rod(x + 5, y, -1, d, kThick + 2)).Shape();
  }
  case Shape::Boss:
    return rod(x, y, kThick - 1, d, 9);
  }
  return {};
}

TopoDS_Shape unified(const TopoDS_Shape& shape) {
  ShapeUpgrade_UnifySameDomain unify(shape, true, true, false);
  unify.Build();
  TopExp_Explorer solid(unify.Shape(), TopAbs_SOLID);
  return solid.Current();
}

TopoDS_Shape built(const Plate& plate, bool backwards) {
  TopoDS_Shape body =
      backwards ? BRepAlgoAPI_Fuse(block(0, 0, 0, plate.length / 2, plate.width, kThick),
                                   block(plate.length / 2, 0, 0, plate.length, plate.width, kThick))
                      .Shape()
                : block(0, 0, 0, plate.length, plate.width, kThick);
  std::vector<Item> items = plate.items;
  if (backwards) std::reverse(items.begin(), items.end());
  for (const Item& i : items)
    body = i.shape == Shape::Boss ? BRepAlgoAPI_Fuse(body, toolOf(i)).Shape()
                                  : BRepAlgoAPI_Cut(body, toolOf(i)).Shape();
  return unified(body);
}

class PlateMaker {
 public:
  explicit PlateMaker(unsigned seed)
      : random_(seed * 104729ull + 7) {}

  void make(Plate& before, Plate& now, std::vector<MadeChange>& changes) {
    const int across = 4 + pick(2), up = 3;
    before.length = kCell * across + 10, before.width = kCell * up + 10;
    now.length = before.length, now.width = before.width;
    if (pick(3) == 0) {
      now.length += 4;
      changes.push_back({SurfaceFate::Moved, Vec3(4, 0, 0)});
    }
    for (int a = 0; a < across; ++a)
      for (int u = 0; u < up; ++u)
        cell(5 + kCell * (a + 0.5), 5 + kCell * (u + 0.5), before, now, changes);
  }

 private:
  int pick(int below) { return static_cast<int>(random_.bits() % static_cast<unsigned>(below)); }

  void cell(double x, double y, Plate& before, Plate& now, std::vector<MadeChange>& changes) {
    Item item{static_cast<Shape>(pick(6)), x, y, 6.0 + pick(3), 5.0 + pick(2)};
    if (item.shape == Shape::Sunk) item.size = 4;
    const int what = pick(10);
    if (what == 0) return;
    if (what == 1) {
      now.items.push_back(item);
      changes.push_back({SurfaceFate::New, Vec3::Zero()});
      return;
    }
    before.items.push_back(item);
    if (what == 2) {
      changes.push_back({SurfaceFate::Gone, Vec3::Zero()});
      return;
    }
    if (what == 3 || what == 4) {
      const Vec3 by(random_.uniform(0.2, 2.5), what == 3 ? 0 : -random_.uniform(0.2, 2.5), 0);
      item.x += by.x(), item.y += by.y();
      changes.push_back({SurfaceFate::Moved, by});
    }
    if (what == 5 && item.shape != Shape::Slot) {
      if (item.shape == Shape::Stepped || item.shape == Shape::Pocket)
        item.more += 1;
      else
        item.size += 0.5;
      changes.push_back(item.shape == Shape::Pocket
                            ? MadeChange{SurfaceFate::Moved, Vec3(0, 0, -1)}
                            : MadeChange{SurfaceFate::Resized, Vec3::Zero()});
    }
    now.items.push_back(item);
  }

  Random random_;
};

// Faces of a shape by what they are.
demo::FaceShapes where(const TopoDS_Shape& shape, const std::function<bool(const Ideal&)>& is) {
  demo::FaceShapes faces;
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next())
    if (is(idealOf(TopoDS::Face(e.Current())))) faces.push_back(TopoDS::Face(e.Current()));
  return faces;
}

demo::FaceShapes plane(const TopoDS_Shape& shape, const Vec3& normal, double at) {
  return where(shape, [&](const Ideal& i) {
    return i.type == SurfaceType::Plane && (i.direction - normal).norm() < 1e-9 &&
           std::abs(i.point.dot(normal) - at) < 1e-6;
  });
}

demo::FaceShapes bore(const TopoDS_Shape& shape, double x, double y) {
  return where(shape, [&](const Ideal& i) {
    return i.type == SurfaceType::Cylinder && std::hypot(i.point.x() - x, i.point.y() - y) < 1e-6;
  });
}

struct Callouts {
  double position = 0.2, size = 0.1, flatness = 0.05;
};

Result<std::string> withTolerances(const Plate& plate, bool backwards, const Callouts& c) {
  const TopoDS_Shape shape = built(plate, backwards);
  auto writer = demo::PmiWriter::begin(shape, "cover", backwards ? "INCH" : "MM");
  if (!writer) return pass(writer.error());
  const auto bottom = plane(shape, -Vec3::UnitZ(), 0), front = plane(shape, -Vec3::UnitY(), 0),
             left = plane(shape, -Vec3::UnitX(), 0);
  writer->datum("A", bottom);
  writer->datum("B", front);
  writer->datum("C", left);
  writer->tolerance({ToleranceType::Flatness, c.flatness, bottom});
  writer->distance(bottom, plane(shape, Vec3::UnitZ(), kThick), kThick, -0.1, 0.1);
  std::vector<Item> items = plate.items;
  if (backwards) std::reverse(items.begin(), items.end());
  for (const Item& i : items) {
    if (i.shape == Shape::Slot) {
      auto sides = plane(shape, Vec3::UnitY(), i.y - i.size / 2);
      const auto other = plane(shape, -Vec3::UnitY(), -(i.y + i.size / 2));
      sides.insert(sides.end(), other.begin(), other.end());
      writer->size({"linear distance", sides, i.size, -0.05, 0.05, {}, 2});
      continue;
    }
    const auto faces = bore(shape, i.x, i.y);
    const bool first = i.x < kCell, second = i.y < kCell;
    writer->size({"diameter", faces, i.size, first && second ? -c.size : -0.1, 0.1, {}, 2});
    demo::ToleranceSpec position;
    position.type = ToleranceType::Position;
    position.magnitude = first && !second ? c.position : 0.2;
    position.faces = faces;
    position.datums = {{"A"}, {"B"}, {"C"}};
    position.zone = ZoneForm::Cylindrical;
    writer->tolerance(position);
  }
  return writer->text();
}

} // namespace

Result<MadeRevision> revisedPlate(unsigned seed) {
  try {
    Plate before, now;
    MadeRevision made;
    PlateMaker(seed).make(before, now, made.changes);
    auto a = demo::PmiWriter::begin(built(before, false), "plate", "MM");
    if (!a) return pass(a.error());
    auto b = demo::PmiWriter::begin(built(now, true), "plate", seed % 2 ? "INCH" : "MM");
    if (!b) return pass(b.error());
    made.before = a->text(), made.now = b->text();
    return made;
  } catch (const Standard_Failure& e) {
    return fail("plate {}: {}", seed, e.GetMessageString());
  }
}

Result<MadeRevision> revisedSpecification() {
  Plate plate{150, 90, {}};
  for (const double y : {20.0, 70.0})
    for (const double x : {20.0, 55.0, 90.0, 130.0})
      plate.items.push_back({Shape::Hole, x, y, 8, 0});
  plate.items.push_back({Shape::Slot, 75, 45, 8, 0});
  Plate now = plate;
  now.items[2].x += 1.5;
  now.items[5].y -= 2, now.items[5].x += 1;
  now.items.pop_back();
  now.items.push_back({Shape::Hole, 30, 45, 8, 0});
  MadeRevision made;
  made.changes = {{SurfaceFate::Moved, Vec3(1.5, 0, 0)},
                  {SurfaceFate::Moved, Vec3(1, -2, 0)},
                  {SurfaceFate::Gone, Vec3::Zero()},
                  {SurfaceFate::New, Vec3::Zero()}};
  auto a = withTolerances(plate, false, {});
  if (!a) return pass(a.error());
  auto b = withTolerances(now, true, {0.3, 0.05, 0.02});
  if (!b) return pass(b.error());
  made.before = *a, made.now = *b;
  return made;
}

} // namespace alder::test
