#include "part/face_region.h"

#include "part/surface_foot.h"
#include "part/vectors.h"
#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <BRep_Tool.hxx>
#include <ElSLib.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace alder {
namespace {

gp_Pnt pnt(const Vec3& v) {
  return {v.x(), v.y(), v.z()};
}

void appendEdge(const TopoDS_Edge& edge, std::vector<Segment>& out) {
  const BRepAdaptor_Curve curve(edge);
  const int steps = curve.GetType() == GeomAbs_Line ? 1 : 48;
  const double first = curve.FirstParameter(), last = curve.LastParameter();
  Vec3 from = vec(curve.Value(first));
  for (int i = 1; i <= steps; ++i) {
    const Vec3 to = vec(curve.Value(first + (last - first) * i / steps));
    out.push_back({from, to});
    from = to;
  }
}

} // namespace

struct FaceRegion::OneFace {
  FaceId id;
  TopoDS_Face shape;
  BRepAdaptor_Surface surface;
  mutable BRepTopAdaptor_FClass2d inside;
  double u0 = 0, u1 = 0, v0 = 0, v1 = 0;
  std::unique_ptr<SurfaceFoot> foot; // freeform only

  OneFace(FaceId face_id, const TopoDS_Face& face)
      : id(face_id)
      , shape(face)
      , surface(face)
      , inside(face, 1e-6) {
    BRepTools::UVBounds(face, u0, u1, v0, v1);
    const auto type = surface.GetType();
    const bool freeform = type != GeomAbs_Plane && type != GeomAbs_Cylinder &&
                          type != GeomAbs_Cone && type != GeomAbs_Sphere && type != GeomAbs_Torus;
    // The untrimmed surface: a foot point just beyond the face's edge is still a foot point.
    if (freeform) foot = std::make_unique<SurfaceFoot>(face);
  }

  bool parameters(const Vec3& p, double& u, double& v) const {
    const gp_Pnt point = pnt(p);
    switch (surface.GetType()) {
    case GeomAbs_Plane:
      ElSLib::Parameters(surface.Plane(), point, u, v);
      break;
    case GeomAbs_Cylinder:
      ElSLib::Parameters(surface.Cylinder(), point, u, v);
      break;
    case GeomAbs_Cone:
      ElSLib::Parameters(surface.Cone(), point, u, v);
      break;
    case GeomAbs_Sphere:
      ElSLib::Parameters(surface.Sphere(), point, u, v);
      break;
    case GeomAbs_Torus:
      ElSLib::Parameters(surface.Torus(), point, u, v);
      break;
    default: {
      const auto found = foot->at(p);
      if (!found) return false;
      u = found->u, v = found->v;
    }
    }
    const auto shift = [](double x, double low, double high, double period) {
      while (x < low - 1e-9 && x + period <= high + 1e-9)
        x += period;
      while (x > high + 1e-9 && x - period >= low - 1e-9)
        x -= period;
      return x;
    };
    if (surface.IsUPeriodic()) u = shift(u, u0, u1, surface.UPeriod());
    if (surface.IsVPeriodic()) v = shift(v, v0, v1, surface.VPeriod());
    return true;
  }

  bool contains(double u, double v) const { return inside.Perform(gp_Pnt2d(u, v)) == TopAbs_IN; }

  SurfacePoint evaluate(double u, double v) const {
    gp_Pnt p;
    gp_Vec du, dv;
    surface.D1(u, v, p, du, dv);
    gp_Vec n = du.Crossed(dv);
    if (shape.Orientation() == TopAbs_REVERSED) n.Reverse();
    const Vec3 normal(n.X(), n.Y(), n.Z());
    return {vec(p), normal.norm() > 1e-12 ? Vec3(normal.normalized()) : Vec3::Zero(), id, u, v};
  }
};

FaceRegion::FaceRegion(const PartModel& part, const std::vector<FaceId>& faces) {
  std::unordered_map<const TopoDS_TShape*, int> uses;
  for (FaceId id : faces) {
    faces_.push_back(std::make_unique<OneFace>(id, part.shapeOf(id)));
    for (TopExp_Explorer e(part.shapeOf(id), TopAbs_EDGE); e.More(); e.Next())
      ++uses[e.Current().TShape().get()];
  }
  for (FaceId id : faces)
    for (TopExp_Explorer e(part.shapeOf(id), TopAbs_EDGE); e.More(); e.Next()) {
      const TopoDS_Edge& edge = TopoDS::Edge(e.Current());
      // Seams and edges between the region's own faces are inside it: they are met twice.
      if (uses[edge.TShape().get()] > 1 || BRep_Tool::Degenerated(edge)) continue;
      try {
        appendEdge(edge, edge_segments_);
      } catch (const Standard_Failure&) {
        // An edge without a usable curve bounds nothing that could be measured.
      }
    }
}

FaceRegion::~FaceRegion() = default;
FaceRegion::FaceRegion(FaceRegion&&) noexcept = default;

std::optional<SurfacePoint> FaceRegion::at(const Vec3& point, double reach) const {
  std::optional<SurfacePoint> best;
  double best_distance = reach;
  for (const auto& face : faces_) {
    try {
      double u = 0, v = 0;
      if (!face->parameters(point, u, v) || !face->contains(u, v)) continue;
      const SurfacePoint sample = face->evaluate(u, v);
      const double distance = (sample.point - point).norm();
      if (distance > best_distance || sample.normal.isZero()) continue;
      best_distance = distance;
      best = sample;
    } catch (const Standard_Failure&) {
      continue;
    }
  }
  return best;
}

std::optional<SurfacePoint> FaceRegion::nearest(const Vec3& point) const {
  std::optional<SurfacePoint> best;
  for (const auto& face : faces_)
    if (const auto s = foot(face->id, point);
        s && !s->normal.isZero() &&
        (!best || (s->point - point).norm() < (best->point - point).norm()))
      best = s;
  return best;
}

std::vector<Points> FaceRegion::boundary() const {
  constexpr double kJoined = 1e-5; // mm between ends of edges that meet
  std::vector<Points> lines;
  std::vector<bool> used(edge_segments_.size(), false);
  for (std::size_t first = 0; first < edge_segments_.size(); ++first) {
    if (used[first]) continue;
    used[first] = true;
    Points line{edge_segments_[first].a, edge_segments_[first].b};
    for (bool more = true; more;) {
      more = false;
      for (std::size_t k = 0; k < edge_segments_.size(); ++k) {
        if (used[k]) continue;
        const Segment& s = edge_segments_[k];
        const auto joins = [&](const Vec3& end, const Vec3& p) {
          return (end - p).norm() < kJoined;
        };
        if (joins(line.back(), s.a))
          line.push_back(s.b);
        else if (joins(line.back(), s.b))
          line.push_back(s.a);
        else if (joins(line.front(), s.b))
          line.insert(line.begin(), s.a);
        else if (joins(line.front(), s.a))
          line.insert(line.begin(), s.b);
        else
          continue;
        used[k] = more = true;
      }
    }
    if ((line.front() - line.back()).norm() < kJoined) line.back() = line.front();
    lines.push_back(std::move(line));
  }
  return lines;
}

std::optional<SurfacePoint> FaceRegion::foot(FaceId id, const Vec3& point) const {
  for (const auto& face : faces_) {
    if (face->id != id) continue;
    try {
      double u = 0, v = 0;
      if (face->parameters(point, u, v)) return face->evaluate(u, v);
      return {}; // no foot point: too far beyond the end of the surface
    } catch (const Standard_Failure&) {
      return {};
    }
  }
  return {};
}

double FaceRegion::signedDistance(FaceId id, const Vec3& point) const {
  const auto s = foot(id, point);
  return s ? (point - s->point).dot(s->normal) : 0;
}

Vec3 FaceRegion::normalNear(FaceId id, const Vec3& point) const {
  const auto s = foot(id, point);
  return s ? s->normal : Vec3::UnitZ();
}

std::vector<SurfacePoint> FaceRegion::grid(int count) const {
  std::vector<SurfacePoint> result;
  double total = 0;
  std::vector<std::array<double, 2>> sizes; // rough size in mm along u and v
  for (const auto& f : faces_) {
    const double um = (f->u0 + f->u1) / 2, vm = (f->v0 + f->v1) / 2;
    gp_Pnt p;
    gp_Vec du, dv;
    f->surface.D1(um, vm, p, du, dv);
    sizes.push_back({std::max(1e-9, du.Magnitude() * (f->u1 - f->u0)),
                     std::max(1e-9, dv.Magnitude() * (f->v1 - f->v0))});
    total += sizes.back()[0] * sizes.back()[1];
  }
  const double step = std::sqrt(total / std::max(1, count));
  for (std::size_t i = 0; i < faces_.size(); ++i) {
    const auto& f = *faces_[i];
    const int nu = std::clamp(static_cast<int>(std::ceil(sizes[i][0] / step)), 3, 200);
    const int nv = std::clamp(static_cast<int>(std::ceil(sizes[i][1] / step)), 3, 200);
    for (int a = 0; a < nu; ++a)
      for (int b = 0; b < nv; ++b) {
        const double u = f.u0 + (f.u1 - f.u0) * (a + 0.5) / nu;
        const double v = f.v0 + (f.v1 - f.v0) * (b + 0.5) / nv;
        if (!f.contains(u, v)) continue;
        const SurfacePoint s = f.evaluate(u, v);
        if (!s.normal.isZero()) result.push_back(s);
      }
  }
  return result;
}

double FaceRegion::edgeDistance(const Vec3& point) const {
  double best = 1e300;
  for (const Segment& s : edge_segments_)
    best = std::min(best, (closestOnSegment(point, s) - point).squaredNorm());
  return std::sqrt(best);
}

} // namespace alder
