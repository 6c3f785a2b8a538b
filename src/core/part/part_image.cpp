#include "part/part_image.h"

#include <BinTools.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <cstring>
#include <sstream>
#include <type_traits>

namespace alder {
namespace {

constexpr std::string_view kMark = "alderpoint part 2\n";

// Both directions go through the same list of fields. Where a structure is taken apart below, a
// field that is added to it and not listed does not compile.
class Writer {
 public:
  static constexpr bool kReads = false;
  void raw(void* data, std::size_t size) { bytes_.append(static_cast<const char*>(data), size); }
  std::size_t count(std::size_t n) {
    raw(&n, sizeof n);
    return n;
  }
  std::string bytes_;
};

class Reader {
 public:
  static constexpr bool kReads = true;
  explicit Reader(std::string_view bytes)
      : left_(bytes) {}
  void raw(void* data, std::size_t size) {
    if (size > left_.size()) {
      short_ = true;
      std::memset(data, 0, size);
      return;
    }
    std::memcpy(data, left_.data(), size);
    left_.remove_prefix(size);
  }
  std::size_t count(std::size_t) {
    std::size_t n = 0;
    raw(&n, sizeof n);
    if (n > left_.size()) n = 0, short_ = true; // each entry takes a byte at least
    return n;
  }
  std::string_view left_;
  bool short_ = false;
};

template <class A, class... Fields> void all(A& a, Fields&... fields) {
  (field(a, fields), ...);
}

template <class A, class T>
requires(std::is_arithmetic_v<T> || std::is_enum_v<T>) void field(A& a, T& value) {
  a.raw(&value, sizeof value);
}
template <class A, class Tag> void field(A& a, Id<Tag>& id) {
  a.raw(&id.value, sizeof id.value);
}
template <class A> void field(A& a, Vec3& v) {
  a.raw(v.data(), 3 * sizeof(double));
}
template <class A> void field(A& a, std::string& text) {
  text.resize(a.count(text.size()));
  a.raw(text.data(), text.size());
}
template <class A, class T, std::size_t N> void field(A& a, std::array<T, N>& values) {
  for (T& v : values)
    field(a, v);
}
template <class A, class T> void field(A& a, std::optional<T>& value) {
  bool there = value.has_value();
  field(a, there);
  if (A::kReads) value = there ? std::optional<T>(T{}) : std::nullopt;
  if (there) field(a, *value);
}
template <class A, class T> void field(A& a, std::vector<T>& values) {
  values.resize(a.count(values.size()));
  for (T& v : values)
    field(a, v);
}
template <class A> void field(A& a, Box3& box) {
  all(a, box.min(), box.max());
}
template <class A> void field(A& a, Ideal& ideal) {
  auto& [type, point, direction, diameter, half_angle, length, hole] = ideal;
  all(a, type, point, direction, diameter, half_angle, length, hole);
}
template <class A> void field(A& a, Face& face) {
  auto& [id, ideal, area, box, body, color, neighbours, entity] = face;
  all(a, id, ideal, area, box, body, color, neighbours, entity);
}
template <class A> void field(A& a, Surface& surface) {
  auto& [id, ideal, faces] = surface;
  all(a, id, ideal, faces);
}
template <class A> void field(A& a, Body& body) {
  auto& [name, first, count, component, hidden, left_out] = body;
  all(a, name, first, count, component, hidden, left_out);
}
template <class A> void field(A& a, CadComponent& component) {
  auto& [name, parent, hidden] = component;
  all(a, name, parent, hidden);
}
template <class A> void field(A& a, Mesh& mesh) {
  auto& [vertices, triangles, tags] = mesh;
  all(a, vertices, triangles, tags);
}
template <class A> void field(A& a, Note& note) {
  auto& [entity, text, on, seen] = note;
  all(a, entity, text, on, seen);
}
template <class A> void field(A& a, PmiDatumReference& d) {
  auto& [letters, material, modifiers] = d;
  all(a, letters, material, modifiers);
}
template <class A> void field(A& a, PmiDatumTarget& t) {
  auto& [entity, point, to, diameter] = t;
  all(a, entity, point, to, diameter);
}
template <class A> void field(A& a, PmiDatum& d) {
  auto& [entity, letter, faces, targets, made_of] = d;
  all(a, entity, letter, faces, targets, made_of);
}
template <class A> void field(A& a, PmiDimension& d) {
  auto& [entity, name, type, spherical, selection, faces, faces2, nominal, lower, upper, fit,
         decimals, count, modifiers] = d;
  all(a, entity, name, type, spherical, selection, faces, faces2, nominal, lower, upper, fit,
      decimals, count, modifiers);
}
template <class A> void field(A& a, PmiTolerance& t) {
  auto& [entity, name, type, magnitude, zone, material, modifiers, unequal, projected,
         projected_from, maximum, unit_size, datums, faces, all_over, upper_segment, together] = t;
  all(a, entity, name, type, magnitude, zone, material, modifiers, unequal, projected,
      projected_from, maximum, unit_size, datums, faces, all_over, upper_segment, together);
}
template <class A> void field(A& a, PmiCallout& c) {
  auto& [of, at] = c;
  all(a, of, at);
}
template <class A> void field(A& a, CutPlane& plane) {
  auto& [normal, at] = plane;
  all(a, normal, at);
}
template <class A> void field(A& a, PmiView& v) {
  auto& [entity, name, corner, right, up, towards, width, height, eye, cut, section, shows] = v;
  all(a, entity, name, corner, right, up, towards, width, height, eye, cut, section, shows);
}
template <class A> void field(A& a, Pmi& pmi) {
  auto& [datums, dimensions, tolerances, callouts, views] = pmi;
  all(a, datums, dimensions, tolerances, callouts, views);
}
// The file's bytes stay with who has them; shapes are kept apart, see shapeBytes.
template <class A> void field(A& a, PartModel& part) {
  auto& [name, schema, bytes, shape, face_shapes, faces, components, bodies, surfaces, mesh, pmi,
         notes] = part;
  (void)bytes, (void)shape, (void)face_shapes;
  all(a, name, schema, faces, components, bodies, surfaces, mesh, pmi, notes);
}

std::string shapeBytes(const TopoDS_Shape& shape) {
  if (shape.IsNull()) return {}; // of a mesh
  std::ostringstream out;
  BinTools::Write(shape, out);
  return out.str();
}

// In the order in which the importer collects them: solids first, then what is in none.
std::vector<TopoDS_Face> facesOf(const TopoDS_Shape& shape) {
  std::vector<TopoDS_Face> faces;
  for (TopExp_Explorer s(shape, TopAbs_SOLID); s.More(); s.Next())
    for (TopExp_Explorer f(s.Current(), TopAbs_FACE); f.More(); f.Next())
      faces.push_back(TopoDS::Face(f.Current()));
  for (TopExp_Explorer f(shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next())
    faces.push_back(TopoDS::Face(f.Current()));
  return faces;
}

} // namespace

std::string partImage(const PartModel& part) {
  Writer writer;
  writer.bytes_ = kMark;
  std::string shape = shapeBytes(part.shape);
  field(writer, shape);
  // Writing changes nothing; the list of fields is the same for both.
  field(writer, const_cast<PartModel&>(part)); // NOLINT(cppcoreguidelines-pro-type-const-cast)
  return std::move(writer.bytes_);
}

Result<std::shared_ptr<PartModel>> partFromImage(const std::string& image) {
  if (!image.starts_with(kMark)) return fail("no part came back from the reader of CAD files.");
  auto part = std::make_shared<PartModel>();
  Reader reader(std::string_view(image).substr(kMark.size()));
  std::string shape;
  field(reader, shape);
  field(reader, *part);
  if (reader.short_) return fail("the part came back incomplete from the reader of CAD files.");
  try {
    std::istringstream in(shape);
    if (!shape.empty()) BinTools::Read(part->shape, in);
    if (!shape.empty()) part->face_shapes = facesOf(part->shape);
  } catch (const Standard_Failure& failure) {
    return fail("the shape cannot be built ({}).", failure.GetMessageString());
  }
  if (part->face_shapes.size() != part->faces.size())
    return fail("the shape came back incomplete from the reader of CAD files.");
  return part;
}

} // namespace alder
