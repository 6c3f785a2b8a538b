#include "scan.h"

#include "base/random.h"
#include "part/vectors.h"
#include <BRepAdaptor_Surface.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Tool.hxx>
#include <Poly_Triangulation.hxx>
#include <TopLoc_Location.hxx>
#include <algorithm>
#include <cstring>

namespace alder::demo {
namespace {

// The triangles of a face by the surface's parameters.
struct Patch {
  FaceId face;
  BRepAdaptor_Surface surface;
  double sign = 1;
  std::vector<std::array<gp_Pnt2d, 3>> triangles;
};

} // namespace

Scan scanOf(const PartModel& part, const ScanSettings& s) {
  std::vector<Patch> patches;
  std::vector<double> until; // area
  std::vector<std::pair<std::size_t, std::size_t>> which;
  double total = 0;
  Box3 box;
  for (const Face& face : part.faces) {
    const TopoDS_Face& shape = part.shapeOf(face.id);
    TopLoc_Location location;
    Handle(Poly_Triangulation) mesh = BRep_Tool::Triangulation(shape, location);
    if (mesh.IsNull() || !mesh->HasUVNodes()) {
      BRepMesh_IncrementalMesh(shape, 0.05, Standard_False, 0.2);
      mesh = BRep_Tool::Triangulation(shape, location);
    }
    if (mesh.IsNull() || !mesh->HasUVNodes()) continue;
    patches.push_back({face.id,
                       BRepAdaptor_Surface(shape),
                       shape.Orientation() == TopAbs_REVERSED ? -1.0 : 1.0,
                       {}});
    for (int t = 1; t <= mesh->NbTriangles(); ++t) {
      std::array<int, 3> corner{};
      mesh->Triangle(t).Get(corner[0], corner[1], corner[2]);
      std::array<Vec3, 3> place;
      std::array<gp_Pnt2d, 3> uv;
      for (std::size_t k = 0; k < 3; ++k) {
        place[k] = vec(mesh->Node(corner[k]).Transformed(location.Transformation()));
        uv[k] = mesh->UVNode(corner[k]);
        box.extend(place[k]);
      }
      total += (place[1] - place[0]).cross(place[2] - place[0]).norm() / 2;
      until.push_back(total);
      which.emplace_back(patches.size() - 1, patches.back().triangles.size());
      patches.back().triangles.push_back(uv);
    }
  }
  Random random(s.seed);
  Scan scan;
  scan.points.reserve(s.points);
  scan.normals.reserve(s.points);
  for (std::size_t tried = 0; scan.points.size() < s.points && tried < 20 * s.points; ++tried) {
    if (s.spatter > 0 && random.uniform() < s.spatter) {
      Vec3 p = box.center();
      for (int k = 0; k < 3; ++k)
        p[k] += 1.3 * box.sizes()[k] * (random.uniform() - 0.5);
      scan.points.push_back(s.motion * p);
      scan.normals.push_back(Vec3::UnitZ());
      continue;
    }
    const double at = random.uniform() * total;
    const auto k =
        static_cast<std::size_t>(std::upper_bound(until.begin(), until.end(), at) - until.begin());
    if (k >= which.size()) continue;
    Patch& patch = patches[which[k].first];
    const auto& t = patch.triangles[which[k].second];
    double a = random.uniform(), b = random.uniform();
    if (a + b > 1) a = 1 - a, b = 1 - b;
    const double u = t[0].X() + a * (t[1].X() - t[0].X()) + b * (t[2].X() - t[0].X()),
                 v = t[0].Y() + a * (t[1].Y() - t[0].Y()) + b * (t[2].Y() - t[0].Y());
    gp_Pnt p;
    gp_Vec du, dv;
    patch.surface.D1(u, v, p, du, dv);
    const gp_Vec across = du.Crossed(dv);
    Vec3 normal(across.X(), across.Y(), across.Z());
    if (normal.norm() < 1e-12) continue;
    normal = patch.sign * normal.normalized();
    const Vec3 place = vec(p);
    if (s.seen && !s.seen(place, normal)) continue;
    const double height =
        (s.height ? s.height(patch.face, place, normal) : 0) + s.noise * random.normal();
    scan.points.push_back(s.motion * (place + height * normal));
    scan.normals.push_back(turn(s.motion, normal));
  }
  return scan;
}

std::string plyOf(const Scan& scan, bool normals) {
  std::string out = "ply\nformat binary_little_endian 1.0\nelement vertex " +
                    std::to_string(scan.points.size()) +
                    "\nproperty float x\nproperty float y\nproperty float z\n";
  if (normals) out += "property float nx\nproperty float ny\nproperty float nz\n";
  out += "end_header\n";
  const auto add = [&](const Vec3& v) {
    for (int k = 0; k < 3; ++k) {
      const auto f = static_cast<float>(v[k]);
      char raw[sizeof f];
      std::memcpy(raw, &f, sizeof f);
      out.append(raw, sizeof f);
    }
  };
  for (std::size_t i = 0; i < scan.points.size(); ++i) {
    add(scan.points[i]);
    if (normals) add(scan.normals[i]);
  }
  return out;
}

} // namespace alder::demo
