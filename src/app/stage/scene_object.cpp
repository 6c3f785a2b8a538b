#include "stage/scene_object.h"

#include "stage/occt_color.h"
#include <Graphic3d_ArrayOfPolylines.hxx>
#include <Graphic3d_ArrayOfTriangles.hxx>
#include <Graphic3d_AspectFillArea3d.hxx>
#include <Graphic3d_AspectLine3d.hxx>
#include <Graphic3d_Group.hxx>
#include <Prs3d_Presentation.hxx>
#include <algorithm>
#include <cmath>
#include <numbers>

namespace alder::app {
namespace {

void addMesh(const Handle(Prs3d_Presentation) & presentation, const SceneGeometry& g) {
  const auto& mesh = g.mesh;
  const int count = static_cast<int>(mesh.triangles.size());
  Handle(Graphic3d_ArrayOfTriangles) array = new Graphic3d_ArrayOfTriangles(3 * count, 0, true);
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Triangle t = mesh.triangle(i);
    const Vec3 n = (t.b - t.a).cross(t.c - t.a).normalized();
    for (const Vec3* v : {&t.a, &t.b, &t.c})
      array->AddVertex(gp_Pnt(v->x(), v->y(), v->z()), gp_Dir(n.x(), n.y(), n.z() + 1e-12));
  }
  const Handle(Graphic3d_Group) group = presentation->NewGroup();
  Graphic3d_MaterialAspect material(Graphic3d_NOM_PLASTIC);
  material.SetColor(occtColor(g.mesh_color));
  material.SetTransparency(static_cast<float>(g.transparency));
  Handle(Graphic3d_AspectFillArea3d) aspect = new Graphic3d_AspectFillArea3d(
      Aspect_IS_SOLID, occtColor(g.mesh_color), occtColor(g.mesh_color), Aspect_TOL_SOLID, 1.0,
      material, material);
  if (g.flat) aspect->SetShadingModel(Graphic3d_TOSM_UNLIT);
  group->SetPrimitivesAspect(aspect);
  group->AddPrimitiveArray(array);
}

void addLines(const Handle(Prs3d_Presentation) & presentation, const SceneGeometry& g) {
  int vertices = 0;
  for (const auto& line : g.lines)
    vertices += static_cast<int>(line.size());
  Handle(Graphic3d_ArrayOfPolylines) array =
      new Graphic3d_ArrayOfPolylines(vertices, static_cast<int>(g.lines.size()));
  for (const auto& line : g.lines) {
    array->AddBound(static_cast<int>(line.size()));
    for (const Vec3& p : line)
      array->AddVertex(gp_Pnt(p.x(), p.y(), p.z()));
  }
  const Handle(Graphic3d_Group) group = presentation->NewGroup();
  group->SetPrimitivesAspect(new Graphic3d_AspectLine3d(
      occtColor(g.line_color), g.dashed ? Aspect_TOL_DASH : Aspect_TOL_SOLID, g.line_width));
  group->AddPrimitiveArray(array);
}

void addPoints(const Handle(Prs3d_Presentation) & presentation, const SceneGeometry& g) {
  // one mesh a colour
  std::vector<std::pair<QColor, SceneGeometry>> groups;
  for (const auto& p : g.points) {
    auto found = std::find_if(groups.begin(), groups.end(),
                              [&](const auto& e) { return e.first == p.color; });
    if (found == groups.end()) found = groups.insert(groups.end(), {p.color, SceneGeometry{}});
    found->second.mesh.append(ballMesh(p.at, g.point_radius, 5), Frame::Identity());
  }
  for (auto& [color, group] : groups) {
    group.mesh_color = color;
    addMesh(presentation, group);
  }
}

} // namespace

SceneObject::SceneObject(SceneGeometry geometry)
    : geometry_(std::move(geometry)) {
  SetZLayer(geometry_.on_top ? Graphic3d_ZLayerId_Topmost : Graphic3d_ZLayerId_Default);
}

void SceneObject::Compute(const Handle(PrsMgr_PresentationManager) &,
                          const Handle(Prs3d_Presentation) & presentation,
                          const Standard_Integer mode) {
  if (mode != 0) return;
  if (!geometry_.mesh.triangles.empty()) addMesh(presentation, geometry_);
  if (!geometry_.lines.empty()) addLines(presentation, geometry_);
  if (!geometry_.points.empty()) addPoints(presentation, geometry_);
}

Mesh ballMesh(const Vec3& centre, double radius, int rings) {
  Mesh mesh;
  const int sides = rings * 8 / 5;
  for (int r = 0; r <= rings; ++r)
    for (int s = 0; s < sides; ++s) {
      const double polar = std::numbers::pi * r / rings, turn = 2 * std::numbers::pi * s / sides;
      mesh.vertices.push_back(centre + radius * Vec3(std::sin(polar) * std::cos(turn),
                                                     std::sin(polar) * std::sin(turn),
                                                     std::cos(polar)));
    }
  for (int r = 0; r < rings; ++r)
    for (int s = 0; s < sides; ++s) {
      const int a = r * sides + s, b = r * sides + (s + 1) % sides;
      if (r > 0) mesh.triangles.push_back({a, a + sides, b});
      if (r < rings - 1) mesh.triangles.push_back({b, a + sides, b + sides});
    }
  mesh.tags.assign(mesh.triangles.size(), 0);
  return mesh;
}

} // namespace alder::app
