// A CAD part as Alderpoint uses it: faces with ideal geometry, triangles, tolerance data, and the
// notes on what was not taken over. All in mm, in the CAD frame of the file's root.
#pragma once

#include "base/id.h"
#include "base/progress.h"
#include "geometry/mesh.h"
#include "part/pmi/pmi.h"
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <array>
#include <memory>
#include <string>
#include <vector>

namespace alder {

enum class SurfaceType { Plane, Cylinder, Cone, Sphere, Torus, Slot, Freeform };
std::string_view name(SurfaceType type);

// Ideal geometry of a face or of a recognised surface.
// Plane: a point of the plane and the outward normal. Cylinder, cone: `point` on the axis at the
// start of the extent, `direction` along the axis, for a cone towards its wide side; material
// reaches from 0 to `length` along it; the diameter is the one at `point`. Sphere: centre. Slot:
// two parallel planes that face each other (hole) or away; `point` on the mid plane, `direction`
// its normal, the diameter is the width.
struct Ideal {
  SurfaceType type = SurfaceType::Freeform;
  Vec3 point = Vec3::Zero();
  Vec3 direction = Vec3::UnitZ();
  double diameter = 0;
  double half_angle = 0;
  double length = 0;
  bool hole = false; // material outside, so that normals point to the axis or centre
  friend bool operator==(const Ideal&, const Ideal&) = default;
};

struct Face {
  FaceId id;
  Ideal ideal;
  double area = 0;
  Box3 box;
  int body = 0;
  std::array<float, 3> color{0.79f, 0.66f, 0.43f};
  std::vector<FaceId> neighbours; // share an edge, ascending
  EntityNumber entity = 0;        // in the file; the same at each place of a component
};

// One or several faces that are one surface: joined halves, or coplanar faces.
struct Surface {
  SurfaceId id;
  Ideal ideal;
  std::vector<FaceId> faces;
};

// A part or an assembly in the file's tree.
struct CadComponent {
  std::string name;
  int parent = -1;     // of PartModel::components; -1: it stands at the top
  bool hidden = false; // the file does not show it, or what it belongs to
  friend bool operator==(const CadComponent&, const CadComponent&) = default;
};

// A solid, or all faces that belong to none.
struct Body {
  std::string name;
  int first_face = 0, face_count = 0;
  int component = -1;    // of PartModel::components
  bool hidden = false;   // the file does not show it
  bool left_out = false; // is not of the part: without triangles and recognised surfaces
};

struct PartModel {
  std::string name;
  std::string schema;
  std::string bytes; // the file as given
  TopoDS_Shape shape;
  std::vector<TopoDS_Face> face_shapes; // by FaceId
  std::vector<Face> faces;              // by FaceId
  std::vector<CadComponent> components; // parents before children
  std::vector<Body> bodies;
  std::vector<Surface> surfaces; // partition of the faces of bodies that are the part, by SurfaceId
  Mesh mesh;                     // of the same faces; tags are FaceId values
  Pmi pmi;
  std::vector<Note> notes;

  const Face& face(FaceId id) const { return faces[static_cast<std::size_t>(id.value)]; }
  const TopoDS_Face& shapeOf(FaceId id) const {
    return face_shapes[static_cast<std::size_t>(id.value)];
  }
  // Is it of the part? Faces of bodies that are left out keep their numbers.
  bool takes(FaceId id) const {
    const auto body = static_cast<std::size_t>(face(id).body);
    return body >= bodies.size() || !bodies[body].left_out;
  }
};

// Numbers of the bodies that are left out, ascending.
std::vector<int> leftOut(const PartModel& part);
// The shape without them; the part's own where there are none.
TopoDS_Shape shapeTaken(const PartModel& part);

using PartPtr = std::shared_ptr<const PartModel>;

} // namespace alder
