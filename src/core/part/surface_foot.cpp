#include "part/surface_foot.h"

#include "part/vectors.h"
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <GeomAdaptor_Surface.hxx>
#include <Geom_Surface.hxx>
#include <Standard_Failure.hxx>
#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

constexpr int kSamples = 64; // along each parameter
constexpr int kCells = 24;   // along the longest side of the samples' box

} // namespace

struct SurfaceFoot::Impl {
  Handle(Geom_Surface) surface;
  GeomAdaptor_Surface adaptor; // remembers the span last asked for
  double u0 = 0, u1 = 0, v0 = 0, v1 = 0;
  double sign = 1;
  std::shared_ptr<GeomAPI_ProjectPointOnSurf> projector; // made when first needed
  Points samples;
  // Samples by cell of a grid over their box: those of cell c are from[c] to from[c + 1].
  Vec3 low = Vec3::Zero();
  double cell = 1;
  int nx = 1, ny = 1, nz = 1;
  std::vector<int> from, order;

  explicit Impl(const TopoDS_Face& face) {
    surface = BRep_Tool::Surface(face);
    sign = face.Orientation() == TopAbs_REVERSED ? -1 : 1;
    surface->Bounds(u0, u1, v0, v1);
    if (std::max({std::abs(u0), std::abs(u1), std::abs(v0), std::abs(v1)}) > 1e50)
      BRepTools::UVBounds(face, u0, u1, v0, v1);
    adaptor.Load(surface, u0, u1, v0, v1);
    for (int i = 0; i < kSamples; ++i)
      for (int j = 0; j < kSamples; ++j)
        samples.push_back(vec(adaptor.Value(u0 + (u1 - u0) * i / (kSamples - 1),
                                            v0 + (v1 - v0) * j / (kSamples - 1))));
    fillCells();
  }

  int index(double x, double lower, int n) const {
    return std::clamp(static_cast<int>(std::floor((x - lower) / cell)), 0, n - 1);
  }
  void fillCells() {
    Box3 box;
    for (const Vec3& p : samples)
      box.extend(p);
    low = box.min();
    cell = std::max(box.sizes().maxCoeff() / kCells, 1e-9);
    const auto count = [&](int axis) {
      return std::max(1, static_cast<int>(std::ceil(box.sizes()[axis] / cell)));
    };
    nx = count(0), ny = count(1), nz = count(2);
    std::vector<int> home;
    from.assign(static_cast<std::size_t>(nx * ny * nz) + 1, 0);
    for (const Vec3& p : samples) {
      home.push_back((index(p.x(), low.x(), nx) * ny + index(p.y(), low.y(), ny)) * nz +
                     index(p.z(), low.z(), nz));
      ++from[static_cast<std::size_t>(home.back()) + 1];
    }
    for (std::size_t c = 1; c < from.size(); ++c)
      from[c] += from[c - 1];
    order.resize(samples.size());
    std::vector<int> next(from.begin(), from.end() - 1);
    for (std::size_t s = 0; s < home.size(); ++s)
      order[static_cast<std::size_t>(next[static_cast<std::size_t>(home[s])]++)] =
          static_cast<int>(s);
  }

  // The nearest sample, shell by shell of cells round the point's own.
  int nearest(const Vec3& p) const {
    const int cx = index(p.x(), low.x(), nx), cy = index(p.y(), low.y(), ny),
              cz = index(p.z(), low.z(), nz);
    int best = -1;
    double best_distance = 1e300;
    // A point outside the box is farther from its cells than they are wide.
    const Vec3 inside = p.cwiseMax(low).cwiseMin(low + cell * Vec3(nx, ny, nz));
    const double outside = (p - inside).norm();
    for (int shell = 0; shell <= std::max({nx, ny, nz}); ++shell) {
      const double reached = (shell - 1) * cell;
      if (best >= 0 && reached > 0 && best_distance < reached * reached + outside * outside) break;
      for (int x = std::max(0, cx - shell); x <= std::min(nx - 1, cx + shell); ++x)
        for (int y = std::max(0, cy - shell); y <= std::min(ny - 1, cy + shell); ++y)
          for (int z = std::max(0, cz - shell); z <= std::min(nz - 1, cz + shell); ++z) {
            if (std::max({std::abs(x - cx), std::abs(y - cy), std::abs(z - cz)}) != shell) continue;
            const auto c = static_cast<std::size_t>((x * ny + y) * nz + z);
            for (int k = from[c]; k < from[c + 1]; ++k) {
              const int s = order[static_cast<std::size_t>(k)];
              const double d = (samples[static_cast<std::size_t>(s)] - p).squaredNorm();
              if (d < best_distance || (d == best_distance && s < best))
                best_distance = d, best = s;
            }
          }
    }
    return best;
  }

  Foot footAt(double u, double v) const {
    gp_Pnt s;
    gp_Vec du, dv;
    adaptor.D1(u, v, s, du, dv);
    const gp_Vec n = du.Crossed(dv);
    Vec3 normal = sign * Vec3(n.X(), n.Y(), n.Z());
    if (normal.norm() > 1e-14) normal.normalize();
    return {u, v, vec(s), normal};
  }

  std::optional<Foot> newton(const Vec3& p) const {
    const int start = nearest(p);
    if (start < 0) return {};
    double u = u0 + (u1 - u0) * (start / kSamples) / (kSamples - 1);
    double v = v0 + (v1 - v0) * (start % kSamples) / (kSamples - 1);
    for (int step = 0; step < 20; ++step) {
      gp_Pnt s;
      gp_Vec su, sv, suu, svv, suv;
      adaptor.D2(u, v, s, su, sv, suu, svv, suv);
      const gp_Vec r(s.X() - p.x(), s.Y() - p.y(), s.Z() - p.z());
      const double f = r.Dot(su), g = r.Dot(sv);
      const double guu = su.SquareMagnitude(), gvv = sv.SquareMagnitude(), guv = su.Dot(sv);
      double a = guu + r.Dot(suu), b = guv + r.Dot(suv), c = gvv + r.Dot(svv);
      if (a <= 0 || a * c - b * b <= 1e-6 * guu * gvv) a = guu, b = guv, c = gvv; // not a valley
      const double det = a * c - b * b;
      if (!(det > 0)) return {};
      double du = (-f * c + g * b) / det, dv = (f * b - g * a) / det;
      const double nu = std::clamp(u + du, u0, u1), nv = std::clamp(v + dv, v0, v1);
      du = nu - u, dv = nv - v;
      const double moved =
          std::sqrt(std::max(0.0, du * du * guu + 2 * du * dv * guv + dv * dv * gvv));
      u = nu, v = nv;
      if (moved < 1e-9) {
        const Foot foot = footAt(u, v);
        const Vec3 d = p - foot.point;
        // On the border of the surface it is a foot point only if square to it.
        const double across = (d - d.dot(foot.normal) * foot.normal).norm();
        if (across > 1e-6 || foot.normal.isZero()) return {};
        return foot;
      }
    }
    return {};
  }

  std::optional<Foot> slowly(const Vec3& p) {
    try {
      if (!projector) {
        projector = std::make_shared<GeomAPI_ProjectPointOnSurf>();
        projector->Init(surface, u0, u1, v0, v1);
      }
      projector->Perform(gp_Pnt(p.x(), p.y(), p.z()));
      if (projector->NbPoints() == 0) return {};
      double u = 0, v = 0;
      projector->LowerDistanceParameters(u, v);
      return footAt(u, v);
    } catch (const Standard_Failure&) {
      return {};
    }
  }
};

SurfaceFoot::SurfaceFoot(const TopoDS_Face& face)
    : impl_(std::make_unique<Impl>(face)) {}
SurfaceFoot::~SurfaceFoot() = default;

std::optional<SurfaceFoot::Foot> SurfaceFoot::at(const Vec3& point) const {
  if (auto foot = impl_->newton(point)) return foot;
  return impl_->slowly(point);
}

std::optional<SurfaceFoot::Foot> SurfaceFoot::slowly(const Vec3& point) const {
  return impl_->slowly(point);
}

void SurfaceFoot::distances(const Points& points, double missing, std::vector<double>& out) const {
  out.assign(points.size(), missing);
  constexpr std::size_t kChunk = 4096;
  const std::size_t chunks = (points.size() + kChunk - 1) / kChunk;
  std::vector<char> found(points.size(), 0);
  tbb::parallel_for(std::size_t{0}, chunks, [&](std::size_t k) {
    Impl own(*impl_); // the adaptor's memory is not for two threads
    own.adaptor.Load(own.surface, own.u0, own.u1, own.v0, own.v1);
    for (std::size_t i = k * kChunk; i < std::min(points.size(), (k + 1) * kChunk); ++i)
      if (const auto foot = own.newton(points[i])) {
        out[i] = (points[i] - foot->point).dot(foot->normal);
        found[i] = 1;
      }
  });
  for (std::size_t i = 0; i < points.size(); ++i)
    if (!found[i])
      if (const auto foot = impl_->slowly(points[i]))
        out[i] = (points[i] - foot->point).dot(foot->normal);
}

} // namespace alder
