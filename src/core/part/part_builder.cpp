#include "part/part_builder.h"

#include "part/recognise.h"

#include <BRepGProp.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <algorithm>

namespace alder {
namespace {

void addTriangles(const TopoDS_Face& face, int tag, Mesh& mesh) {
  TopLoc_Location location;
  const Handle(Poly_Triangulation) t = BRep_Tool::Triangulation(face, location);
  if (t.IsNull()) return;
  const int base = static_cast<int>(mesh.vertices.size());
  for (int i = 1; i <= t->NbNodes(); ++i) {
    const gp_Pnt p = t->Node(i).Transformed(location.Transformation());
    mesh.vertices.emplace_back(p.X(), p.Y(), p.Z());
  }
  for (int i = 1; i <= t->NbTriangles(); ++i) {
    int a = 0, b = 0, c = 0;
    t->Triangle(i).Get(a, b, c);
    if (face.Orientation() == TopAbs_REVERSED) std::swap(b, c);
    mesh.triangles.push_back({base + a - 1, base + b - 1, base + c - 1});
    mesh.tags.push_back(tag);
  }
}

void triangulate(const TopoDS_Shape& shape, double deflection) {
  BRepMesh_IncrementalMesh mesher(shape, deflection, false, 0.2, true);
}

} // namespace

Done PartBuilder::collectFaces(const BodyChoice& choice, const std::string& label) {
  part_.components = document_.components;
  for (const CadBody& b : document_.bodies) {
    Body body;
    body.name = b.name, body.component = b.component, body.hidden = b.hidden;
    body.first_face = static_cast<int>(part_.faces.size());
    const auto stop = b.solid ? TopAbs_SHAPE : TopAbs_SOLID;
    for (TopExp_Explorer f(b.shape, TopAbs_FACE, stop); f.More(); f.Next())
      addFace(TopoDS::Face(f.Current()), static_cast<int>(part_.bodies.size()));
    body.face_count = static_cast<int>(part_.faces.size()) - body.first_face;
    part_.bodies.push_back(std::move(body));
  }
  linkNeighbours();
  applyColours();
  return choose(choice, label);
}

Done PartBuilder::choose(const BodyChoice& choice, const std::string& label) {
  auto& bodies = part_.bodies;
  if (choice.left_out) {
    for (const int b : *choice.left_out) {
      if (b < 0 || b >= static_cast<int>(bodies.size()))
        return fail("{}: has {} bodies, there is no number {}.", label, bodies.size(), b + 1);
      bodies[static_cast<std::size_t>(b)].left_out = true;
    }
    if (std::all_of(bodies.begin(), bodies.end(), [](const Body& b) { return b.left_out; }))
      return fail("{}: one body at least must be the part.", label);
    return {};
  }
  const auto hidden = [](const Body& b) { return b.hidden; };
  if (std::all_of(bodies.begin(), bodies.end(), hidden)) return {};
  for (Body& b : bodies)
    b.left_out = b.hidden;
  return {};
}

void PartBuilder::addFace(const TopoDS_Face& shape, int body) {
  Face face;
  face.id = FaceId{static_cast<int>(part_.faces.size())};
  face.ideal = idealOf(shape);
  face.body = body;
  GProp_GProps properties;
  BRepGProp::SurfaceProperties(shape, properties);
  face.area = properties.Mass();
  const gp_Pnt centre = properties.CentreOfMass();
  if (face.ideal.type == SurfaceType::Plane) {
    const Vec3 c(centre.X(), centre.Y(), centre.Z());
    face.ideal.point = c - (c - face.ideal.point).dot(face.ideal.direction) * face.ideal.direction;
  }
  index_[shape.TShape().get()].push_back(face.id);
  part_.faces.push_back(face);
  part_.face_shapes.push_back(shape);
}

void PartBuilder::linkNeighbours() {
  std::unordered_map<const TopoDS_TShape*, std::vector<FaceId>> by_edge;
  for (const Face& face : part_.faces)
    for (TopExp_Explorer e(part_.shapeOf(face.id), TopAbs_EDGE); e.More(); e.Next())
      by_edge[e.Current().TShape().get()].push_back(face.id);
  for (const auto& [edge, faces] : by_edge)
    for (FaceId a : faces)
      for (FaceId b : faces)
        // instances of one component share edges, but not places
        if (a != b && part_.face(a).body == part_.face(b).body)
          part_.faces[static_cast<std::size_t>(a.value)].neighbours.push_back(b);
  for (Face& face : part_.faces) {
    auto& n = face.neighbours;
    std::sort(n.begin(), n.end());
    n.erase(std::unique(n.begin(), n.end()), n.end());
  }
}

void PartBuilder::applyColours() {
  for (int i = 1; i <= document_.styles.Extent(); ++i) {
    if (!document_.styles.FindFromIndex(i).IsSetColorSurf()) continue;
    const Quantity_Color c = document_.styles.FindFromIndex(i).GetColorSurf();
    for (TopExp_Explorer f(document_.styles.FindKey(i), TopAbs_FACE); f.More(); f.Next())
      for (FaceId id : index_[f.Current().TShape().get()])
        part_.faces[static_cast<std::size_t>(id.value)].color = {float(c.Red()), float(c.Green()),
                                                                 float(c.Blue())};
  }
}

void PartBuilder::collectMesh() {
  // Fine enough that triangles stay within 0.02 mm of faces of up to 100 mm, relative beyond.
  triangulate(document_.shape, 0.02);
  for (const Face& face : part_.faces)
    if (part_.takes(face.id)) addTriangles(part_.shapeOf(face.id), face.id.value, part_.mesh);
  for (std::size_t i = 0; i < part_.mesh.triangles.size(); ++i) {
    Box3& box = part_.faces[static_cast<std::size_t>(part_.mesh.tags[i])].box;
    for (int v : part_.mesh.triangles[i])
      box.extend(part_.mesh.vertices[static_cast<std::size_t>(v)]);
  }
  for (Face& face : part_.faces) {
    if (!face.box.isEmpty()) continue;
    if (part_.takes(face.id))
      part_.notes.push_back({0, "face " + std::to_string(face.id.value + 1) +
                                    " cannot be meshed; it is not seen by clash checks"});
    face.box.extend(face.ideal.point);
  }
}

Mesh meshOf(const TopoDS_Shape& shape, double deflection) {
  triangulate(shape, deflection);
  Mesh mesh;
  int tag = 0;
  for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next(), ++tag)
    addTriangles(TopoDS::Face(f.Current()), tag, mesh);
  return mesh;
}

} // namespace alder
