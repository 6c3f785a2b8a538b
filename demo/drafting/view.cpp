#include "drafting/view.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepLib.hxx>
#include <BRepPrimAPI_MakeHalfSpace.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <GCPnts_TangentialDeflection.hxx>
#include <HLRAlgo_Projector.hxx>
#include <HLRBRep_Algo.hxx>
#include <HLRBRep_HLRToShape.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Circ.hxx>
#include <gp_Pln.hxx>
#include <numbers>

namespace alder::demo {
namespace {

gp_Dir dir(const Vec3& v) {
  return {v.x(), v.y(), v.z()};
}

std::vector<Vec3> pointsOf(const BRepAdaptor_Curve& curve) {
  std::vector<Vec3> points;
  const GCPnts_TangentialDeflection along(curve, 0.05, 0.02);
  for (int i = 1; i <= along.NbPoints(); ++i)
    points.emplace_back(along.Value(i).X(), along.Value(i).Y(), along.Value(i).Z());
  return points;
}

// Lines of 45 degrees where the cut face is, between an even and an odd crossing of its edges.
std::vector<std::pair<Vec2, Vec2>> hatch(const std::vector<std::vector<Vec2>>& edges) {
  constexpr double kApart = 3;
  const Vec2 u = Vec2(1, 1).normalized(), v = Vec2(-1, 1).normalized();
  double low = 1e9, high = -1e9;
  for (const auto& e : edges)
    for (const Vec2& p : e)
      low = std::min(low, v.dot(p)), high = std::max(high, v.dot(p));
  std::vector<std::pair<Vec2, Vec2>> lines;
  for (double at = std::ceil(low / kApart) * kApart + 0.0137; at < high; at += kApart) {
    std::vector<double> crossings;
    for (const auto& e : edges)
      for (std::size_t i = 1; i < e.size(); ++i) {
        const double a = v.dot(e[i - 1]) - at, b = v.dot(e[i]) - at;
        if ((a < 0) != (b < 0))
          crossings.push_back(u.dot(e[i - 1]) + a / (a - b) * u.dot(e[i] - e[i - 1]));
      }
    std::sort(crossings.begin(), crossings.end());
    for (std::size_t i = 1; i < crossings.size(); i += 2)
      lines.emplace_back(at * v + crossings[i - 1] * u, at * v + crossings[i] * u);
  }
  return lines;
}

class Projection {
 public:
  Projection(Paper& paper, const ViewSpec& spec, const TopoDS_Shape& shape)
      : paper_(paper)
      , spec_(spec) {
    Handle(HLRBRep_Algo) algo = new HLRBRep_Algo;
    algo->Add(shape);
    algo->Projector(HLRAlgo_Projector(
        gp_Ax2(gp_Pnt(0, 0, 0), dir(spec.right.cross(spec.up)), dir(spec.right))));
    algo->Update();
    algo->Hide();
    HLRBRep_HLRToShape lines(algo);
    draw(lines.VCompound(), Pen::Thick);
    draw(lines.OutLineVCompound(), Pen::Thick);
    if (spec.hidden) draw(lines.HCompound(), Pen::Hidden);
  }

 private:
  void draw(const TopoDS_Shape& lines, Pen pen) {
    if (lines.IsNull()) return;
    BRepLib::BuildCurves3d(lines);
    for (TopExp_Explorer e(lines, TopAbs_EDGE); e.More(); e.Next()) {
      const BRepAdaptor_Curve curve(TopoDS::Edge(e.Current()));
      const auto at = [&](double x, double y) -> Vec2 { return spec_.at + spec_.scale * Vec2(x, y); };
      if (curve.GetType() == GeomAbs_Circle) {
        const gp_Circ c = curve.Circle();
        const gp_Dir x = c.XAxis().Direction();
        const double sign = c.Axis().Direction().Z(), begin = std::atan2(x.Y(), x.X());
        double from = begin + sign * curve.FirstParameter(),
               to = begin + sign * curve.LastParameter();
        if (to < from) std::swap(from, to);
        paper_.arc(at(c.Location().X(), c.Location().Y()), spec_.scale * c.Radius(), from, to, pen);
        continue;
      }
      std::vector<Vec2> points;
      for (const Vec3& p : pointsOf(curve))
        points.push_back(at(p.x(), p.y()));
      if ((points.front() - points.back()).norm() > 0.05 || points.size() > 2)
        paper_.lines(points, false, pen);
    }
  }

  Paper& paper_;
  const ViewSpec& spec_;
};

} // namespace

void View::draw(Paper& paper, const TopoDS_Shape& whole) const {
  const Vec3 toward = spec_.right.cross(spec_.up);
  TopoDS_Shape shape = whole;
  if (spec_.cut) {
    const Vec3 at = *spec_.cut * toward, before = at + toward;
    const TopoDS_Face plane = BRepBuilderAPI_MakeFace(
        gp_Pln(gp_Pnt(at.x(), at.y(), at.z()), dir(toward)));
    shape = BRepAlgoAPI_Cut(
                whole, BRepPrimAPI_MakeHalfSpace(plane, gp_Pnt(before.x(), before.y(), before.z()))
                           .Solid())
                .Shape();
    std::vector<std::vector<Vec2>> edges;
    for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
      const BRepAdaptor_Surface surface(TopoDS::Face(f.Current()));
      if (surface.GetType() != GeomAbs_Plane) continue;
      const gp_Pln pln = surface.Plane();
      const Vec3 n(pln.Axis().Direction().X(), pln.Axis().Direction().Y(),
                   pln.Axis().Direction().Z()),
          p(pln.Location().X(), pln.Location().Y(), pln.Location().Z());
      if (n.cross(toward).norm() > 1e-6 || std::abs(p.dot(toward) - *spec_.cut) > 1e-6) continue;
      for (TopExp_Explorer e(f.Current(), TopAbs_EDGE); e.More(); e.Next()) {
        edges.emplace_back();
        for (const Vec3& q : pointsOf(BRepAdaptor_Curve(TopoDS::Edge(e.Current()))))
          edges.back().push_back(on(q));
      }
    }
    for (const auto& [a, b] : hatch(edges))
      paper.line(a, b);
  }
  Projection(paper, spec_, shape);
}

} // namespace alder::demo
