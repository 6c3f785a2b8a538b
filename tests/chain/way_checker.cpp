// Checks a way without any of Alderpoint's code: reads path.csv, the bodies of `rehearse --json`
// and the STEP file, and looks with fcl whether ball or shaft enter the part or the table.
//
//   way-checker PATH.csv REHEARSAL.json PART.step
//
// Prints "clear", or the first places where it is not. Exit status 0, 1, or 2: bad input.
#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Tool.hxx>
#include <IMeshTools_Parameters.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Poly_Triangulation.hxx>
#include <STEPControl_Reader.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <cmath>
#include <cstdio>
#include <fcl/fcl.h>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>

namespace {

using Vec = fcl::Vector3d;
using Model = fcl::BVHModel<fcl::OBBRSSd>;

constexpr double kChord = 0.002; // of the triangles, mm
// The ball may be deeper than this in the triangles before it clashes: they lie off the true
// surface, most at the poles of small spheres. Where it touches, by more; shafts are allowed
// nothing.
constexpr double kAllowed = 0.05, kAllowedAtTouch = 0.25;

struct Row {
  std::string kind, stylus, tip;
  Vec ball, direction, machine;
  double diameter = 0, a = 0, b = 0;
  bool touches = false;
};
struct Segment {
  double from = 0, to = 0, diameter = 0;
};

std::vector<std::string> cells(const std::string& line) {
  std::vector<std::string> all(1);
  bool quoted = false;
  for (const char c : line) {
    if (c == '"')
      quoted = !quoted;
    else if (c == ',' && !quoted)
      all.emplace_back();
    else
      all.back() += c;
  }
  return all;
}

std::vector<Row> readPath(const char* file) {
  std::ifstream in(file);
  std::string line;
  std::getline(in, line);
  std::map<std::string, std::size_t> at;
  const auto heads = cells(line);
  for (std::size_t i = 0; i < heads.size(); ++i)
    at[heads[i]] = i;
  std::vector<Row> rows;
  while (std::getline(in, line)) {
    const auto c = cells(line);
    const auto number = [&](const char* name) { return std::stod(c.at(at.at(name))); };
    Row r;
    r.kind = c.at(at.at("kind"));
    r.stylus = c.at(at.at("stylus"));
    r.tip = c.at(at.at("tip"));
    r.ball = Vec(number("px"), number("py"), number("pz"));
    r.machine = Vec(number("x"), number("y"), number("z"));
    r.direction = Vec(number("dx"), number("dy"), number("dz"));
    r.diameter = number("ball_diameter");
    r.a = number("a"), r.b = number("b");
    rows.push_back(r);
  }
  return rows;
}

std::map<std::pair<std::string, std::string>, std::vector<Segment>> readBodies(const char* file) {
  std::ifstream in(file);
  const auto json = nlohmann::json::parse(in);
  std::map<std::pair<std::string, std::string>, std::vector<Segment>> bodies;
  for (const auto& b : json.at("bodies"))
    for (const auto& s : b.at("segments"))
      bodies[{b.at("stylus"), b.at("tip")}].push_back(
          {s.at("from_mm"), s.at("to_mm"), s.at("diameter_mm")});
  return bodies;
}

// Triangles of spheres apart: at the poles of small ones the library leaves some that lie half a
// millimetre off the surface.
struct Part {
  std::shared_ptr<Model> spheres, others;
  TopoDS_Shape exact;
};

std::shared_ptr<Model> modelOf(const TopoDS_Shape& shape, bool spheres) {
  std::vector<Vec> points;
  std::vector<fcl::Triangle> triangles;
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) {
    const TopoDS_Face face = TopoDS::Face(e.Current());
    if ((BRepAdaptor_Surface(face).GetType() == GeomAbs_Sphere) != spheres) continue;
    TopLoc_Location place;
    const auto mesh = BRep_Tool::Triangulation(face, place);
    if (mesh.IsNull()) continue;
    const std::size_t first = points.size();
    for (int i = 1; i <= mesh->NbNodes(); ++i) {
      const gp_Pnt p = mesh->Node(i).Transformed(place.Transformation());
      points.emplace_back(p.X(), p.Y(), p.Z());
    }
    for (int i = 1; i <= mesh->NbTriangles(); ++i) {
      int a, b, c;
      mesh->Triangle(i).Get(a, b, c);
      triangles.emplace_back(first + a - 1, first + b - 1, first + c - 1);
    }
  }
  if (triangles.empty()) return nullptr;
  auto model = std::make_shared<Model>();
  model->beginModel();
  model->addSubModel(points, triangles);
  model->endModel();
  return model;
}

Part readPart(const char* file) {
  Message::DefaultMessenger()->ChangePrinters().Clear();
  STEPControl_Reader reader;
  if (reader.ReadFile(file) != IFSelect_RetDone) return {};
  reader.TransferRoots();
  const TopoDS_Shape shape = reader.OneShape();
  IMeshTools_Parameters fine;
  fine.Deflection = fine.DeflectionInterior = kChord;
  fine.Angle = fine.AngleInterior = 0.03;
  fine.InParallel = fine.ControlSurfaceDeflection = true;
  BRepMesh_IncrementalMesh(shape, fine);
  return {modelOf(shape, true), modelOf(shape, false), shape};
}

class Checker {
 public:
  explicit Checker(const Part& part)
      : part_(part) {}

  // Ball and shaft, each grown by `by`: does one of them enter the part with the ball there?
  // The radius less what the ball is allowed. Where it touches, spheres are left to the figures.
  const char* meets(double ball_radius, bool touches, const std::vector<Segment>& shaft,
                    const Vec& at, const Vec& along, double by) const {
    const auto ball = std::make_shared<fcl::Sphered>(std::max(0.01, ball_radius) + by);
    if ((enters(part_.others, ball, at, along) ||
         (!touches && enters(part_.spheres, ball, at, along))) &&
        (by > 0 || entersExactly(ball->radius, touches, at)))
      return "ball";
    for (const Segment& s : shaft) {
      const double from = std::max(s.from, 0.0), length = s.to - from;
      if (length < 0.05) continue; // lies within the ball
      const auto rod = std::make_shared<fcl::Cylinderd>(s.diameter / 2 + by, length + 2 * by);
      const Vec middle = at + (from + length / 2) * along;
      if (enters(part_.others, rod, middle, along) || enters(part_.spheres, rod, middle, along))
        return "shaft";
    }
    return nullptr;
  }

 private:
  static bool enters(const std::shared_ptr<Model>& part,
                     const std::shared_ptr<fcl::CollisionGeometryd>& shape, const Vec& at,
                     const Vec& along) {
    if (!part) return false;
    fcl::Transform3d pose = fcl::Transform3d::Identity();
    pose.translation() = at;
    pose.linear() = Eigen::Quaterniond::FromTwoVectors(Vec::UnitZ(), along).toRotationMatrix();
    const fcl::CollisionObjectd moving(shape, pose), still(part);
    fcl::CollisionRequestd request;
    fcl::CollisionResultd result;
    return fcl::collide(&moving, &still, request, result) > 0;
  }

  // The triangles are not always those of the surface: of a small cup one may span its mouth.
  bool entersExactly(double radius, bool touches, const Vec& at) const {
    const TopoDS_Vertex centre = BRepBuilderAPI_MakeVertex(gp_Pnt(at.x(), at.y(), at.z())).Vertex();
    for (TopExp_Explorer e(part_.exact, TopAbs_FACE); e.More(); e.Next()) {
      const TopoDS_Face face = TopoDS::Face(e.Current());
      if (touches && BRepAdaptor_Surface(face).GetType() == GeomAbs_Sphere) continue;
      const BRepExtrema_DistShapeShape distance(centre, face);
      if (!distance.IsDone() || distance.Value() < radius) return true;
    }
    return false;
  }

  Part part_;
};

} // namespace

int main(int argc, char** argv) {
  if (argc != 4) {
    std::fprintf(stderr, "way-checker PATH.csv REHEARSAL.json PART.step\n");
    return 2;
  }
  const auto rows = readPath(argv[1]);
  const auto bodies = readBodies(argv[2]);
  const auto part = readPart(argv[3]);
  if (!part.others || rows.empty()) {
    std::fprintf(stderr, "way-checker: nothing to check\n");
    return 2;
  }
  const Checker checker(part);
  int clashes = 0;
  for (std::size_t i = 1; i < rows.size(); ++i) {
    const Row &from = rows[i - 1], &to = rows[i];
    if (to.stylus.empty() || from.stylus.empty()) continue; // put away in the rack
    if (to.kind == "turn" || to.kind == "swap") continue;   // the ball goes round its pivot
    const auto shaft = bodies.find({to.stylus, to.tip});
    if (shaft == bodies.end()) {
      std::printf("row %zu: no bodies of %s\n", i + 1, to.stylus.c_str());
      return 2;
    }
    const double length = (to.ball - from.ball).norm();
    const bool at_surface = to.kind == "touch" || to.kind == "retract" || to.kind == "manual";
    const bool in_sphere = at_surface || to.kind == "approach";
    const double radius = to.diameter / 2 - (at_surface ? kAllowedAtTouch : kAllowed);
    const char* met = nullptr;
    Vec at = from.ball;
    // What grown by a step meets nothing may go that step.
    for (double s = 0; !met;) {
      at = length > 0 ? Vec(from.ball + s / length * (to.ball - from.ball)) : to.ball;
      double step = 0;
      for (const double by : {100.0, 20.0, 4.0, 1.0, 0.25, 0.05})
        if (!checker.meets(radius, in_sphere, shaft->second, at, to.direction, by)) {
          step = by;
          break;
        }
      if (step == 0) met = checker.meets(radius, in_sphere, shaft->second, at, to.direction, 0);
      if (s >= length) break;
      s = std::min(length, s + std::max(step, 0.02));
    }
    if (!met && to.machine.z() - to.diameter / 2 < -1e-6) met = "ball (in the table)";
    if (met && ++clashes <= 5)
      std::printf("row %zu (%s): the %s enters at %.3f %.3f %.3f\n", i + 1, to.kind.c_str(), met,
                  at.x(), at.y(), at.z());
  }
  std::printf("%s: %zu rows, %d clashes\n", clashes ? "not clear" : "clear", rows.size(), clashes);
  return clashes ? 1 : 0;
}
