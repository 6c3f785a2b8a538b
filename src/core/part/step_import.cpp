#include "part/step_import.h"

#include "base/files.h"
#include "part/model.h"
#include "part/pmi/pmi_reader.h"
#include "part/recognise.h"
#include "part/step_text.h"
#include "part/validation.h"

#include <BRepGProp.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_Printer.hxx>
#include <Poly_Triangulation.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <Standard_Failure.hxx>
#include <StepData_StepModel.hxx>
#include <StepShape_ConnectedFaceSet.hxx>
#include <StepShape_FaceSurface.hxx>
#include <StepShape_ManifoldSolidBrep.hxx>
#include <StepShape_ShellBasedSurfaceModel.hxx>
#include <TDF_ChildIterator.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_ListIteratorOfListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TransferBRep.hxx>
#include <Transfer_TransientProcess.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XCAFPrs.hxx>
#include <XSControl_TransferReader.hxx>
#include <XSControl_WorkSession.hxx>
#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <sstream>
#include <unordered_map>

namespace alder {
namespace {

std::mutex& libraryMutex() {
  static std::mutex mutex;
  return mutex;
}

std::string labelName(const TDF_Label& label) {
  Handle(TDataStd_Name) attribute;
  if (!label.FindAttribute(TDataStd_Name::GetID(), attribute)) return {};
  const TCollection_ExtendedString& wide = attribute->Get();
  std::string text(static_cast<std::size_t>(wide.LengthOfCString()) + 1, '\0');
  Standard_PCharacter out = text.data();
  text.resize(static_cast<std::size_t>(wide.ToUTF8CString(out)));
  return text;
}

using FaceIndex = std::unordered_map<const TopoDS_TShape*, std::vector<FaceId>>;

class Importer {
 public:
  Importer(std::string bytes, const std::string& label)
      : label_(label) {
    part_->bytes = std::move(bytes);
  }

  Result<PartPtr> run(const Progress& progress) {
    plain_ = plainStep(part_->bytes);
    auto text = StepText::parse(plain_.bytes);
    if (!text) return fail("{}: {}", label_, text.error().message);
    part_->schema = text->schema();
    progress.step(0.1, "Reading geometry");
    if (auto done = readGeometry(); !done) return pass(done.error());
    if (progress.cancelled()) return cancelledError();
    progress.step(0.5, "Meshing");
    collectFaces();
    collectMesh();
    if (progress.cancelled()) return cancelledError();
    progress.step(0.8, "Recognising surfaces");
    part_->surfaces = recogniseSurfaces(*part_);
    progress.step(0.9, "Reading tolerances");
    indexEntities();
    part_->pmi = readPmi(
        *text, [this](int entity) { return facesOfEntity(entity); }, part_->notes);
    compareWithFile(
        *text, [this] { return sums(); }, part_->notes);
    numbersOfTheFile();
    return PartPtr(part_);
  }

 private:
  ShapeSums sums() const {
    GProp_GProps volume, area;
    BRepGProp::VolumeProperties(part_->shape, volume);
    BRepGProp::SurfaceProperties(part_->shape, area);
    const gp_Pnt c = volume.CentreOfMass();
    const Box3 box = part_->mesh.box();
    return {volume.Mass(), area.Mass(), Vec3(c.X(), c.Y(), c.Z()),
            box.isEmpty() ? 0 : box.diagonal().norm()};
  }

  // As they stand in it, where they were changed for reading.
  void numbersOfTheFile() {
    const auto put = [this](EntityNumber& n) { n = plain_.original(static_cast<int>(n)); };
    for (Face& f : part_->faces)
      put(f.entity);
    for (PmiDatum& d : part_->pmi.datums)
      put(d.entity);
    for (PmiDimension& d : part_->pmi.dimensions)
      put(d.entity);
    for (PmiTolerance& t : part_->pmi.tolerances) {
      put(t.entity);
      put(t.upper_segment);
    }
    for (PmiCallout& c : part_->pmi.callouts)
      put(c.of);
    for (PmiView& v : part_->pmi.views) {
      put(v.entity);
      for (EntityNumber& shown : v.shows)
        put(shown);
    }
    for (Note& n : part_->notes) {
      put(n.entity);
      for (EntityNumber& on : n.on)
        put(on);
    }
  }

  Done readGeometry() {
    std::istringstream in(plain_.bytes);
    reader_.SetColorMode(true);
    reader_.SetNameMode(true);
    reader_.SetGDTMode(false);
    reader_.SetLayerMode(false);
    reader_.SetViewMode(false);
    if (reader_.ChangeReader().ReadStream(label_.c_str(), in) != IFSelect_RetDone)
      return fail("{}: the STEP data cannot be read; export it again from the CAD system.", label_);
    document_ = new TDocStd_Document("BinXCAF");
    if (!reader_.Transfer(document_))
      return fail("{}: holds no shape that can be built; export solids as AP203, AP214 or AP242.",
                  label_);
    const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document_->Main());
    TDF_LabelSequence roots;
    shapes->GetFreeShapes(roots);
    TopoDS_Compound all;
    BRep_Builder builder;
    builder.MakeCompound(all);
    for (int i = 1; i <= roots.Length(); ++i) {
      const TopoDS_Shape shape = XCAFDoc_ShapeTool::GetShape(roots.Value(i));
      if (shape.IsNull()) continue;
      builder.Add(all, shape);
      if (part_->name.empty()) part_->name = labelName(roots.Value(i));
      XCAFPrs::CollectStyleSettings(roots.Value(i), TopLoc_Location(), styles_);
    }
    part_->shape =
        roots.Length() == 1 ? XCAFDoc_ShapeTool::GetShape(roots.Value(1)) : TopoDS_Shape(all);
    if (!TopExp_Explorer(part_->shape, TopAbs_FACE).More())
      return fail("{}: holds no faces; export solids or surfaces, not a drawing.", label_);
    if (part_->name.empty()) part_->name = label_;
    return {};
  }

  void collectFaces() {
    // Bodies are solids; faces outside any solid form one more body.
    for (TopExp_Explorer s(part_->shape, TopAbs_SOLID); s.More(); s.Next())
      addBody(s.Current());
    Body loose{"surfaces", static_cast<int>(part_->faces.size()), 0};
    for (TopExp_Explorer f(part_->shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next())
      addFace(TopoDS::Face(f.Current()), static_cast<int>(part_->bodies.size()));
    loose.face_count = static_cast<int>(part_->faces.size()) - loose.first_face;
    if (loose.face_count > 0) part_->bodies.push_back(loose);
    linkNeighbours();
    applyColors();
  }

  void addBody(const TopoDS_Shape& solid) {
    Body body{"body " + std::to_string(part_->bodies.size() + 1),
              static_cast<int>(part_->faces.size()), 0};
    for (TopExp_Explorer f(solid, TopAbs_FACE); f.More(); f.Next())
      addFace(TopoDS::Face(f.Current()), static_cast<int>(part_->bodies.size()));
    body.face_count = static_cast<int>(part_->faces.size()) - body.first_face;
    part_->bodies.push_back(body);
  }

  void addFace(const TopoDS_Face& shape, int body) {
    Face face;
    face.id = FaceId{static_cast<int>(part_->faces.size())};
    face.ideal = idealOf(shape);
    face.body = body;
    GProp_GProps properties;
    BRepGProp::SurfaceProperties(shape, properties);
    face.area = properties.Mass();
    const gp_Pnt centre = properties.CentreOfMass();
    if (face.ideal.type == SurfaceType::Plane) {
      const Vec3 c(centre.X(), centre.Y(), centre.Z());
      face.ideal.point =
          c - (c - face.ideal.point).dot(face.ideal.direction) * face.ideal.direction;
    }
    index_[shape.TShape().get()].push_back(face.id);
    part_->faces.push_back(face);
    part_->face_shapes.push_back(shape);
  }

  void linkNeighbours() {
    std::unordered_map<const TopoDS_TShape*, std::vector<FaceId>> by_edge;
    for (const Face& face : part_->faces)
      for (TopExp_Explorer e(part_->shapeOf(face.id), TopAbs_EDGE); e.More(); e.Next())
        by_edge[e.Current().TShape().get()].push_back(face.id);
    for (const auto& [edge, faces] : by_edge)
      for (FaceId a : faces)
        for (FaceId b : faces)
          // instances of one component share edges, but not places
          if (a != b && part_->face(a).body == part_->face(b).body)
            part_->faces[a.value].neighbours.push_back(b);
    for (Face& face : part_->faces) {
      auto& n = face.neighbours;
      std::sort(n.begin(), n.end());
      n.erase(std::unique(n.begin(), n.end()), n.end());
    }
  }

  void applyColors() {
    for (int i = 1; i <= styles_.Extent(); ++i) {
      if (!styles_.FindFromIndex(i).IsSetColorSurf()) continue;
      const Quantity_Color c = styles_.FindFromIndex(i).GetColorSurf();
      for (TopExp_Explorer f(styles_.FindKey(i), TopAbs_FACE); f.More(); f.Next())
        for (FaceId id : index_[f.Current().TShape().get()])
          part_->faces[id.value].color = {float(c.Red()), float(c.Green()), float(c.Blue())};
    }
  }

  void collectMesh() {
    // Fine enough that triangles stay within 0.02 mm of faces of up to 100 mm, relative beyond.
    part_->mesh = meshOf(part_->shape, 0.02);
    for (std::size_t i = 0; i < part_->mesh.triangles.size(); ++i) {
      Box3& box = part_->faces[part_->mesh.tags[i]].box;
      for (int v : part_->mesh.triangles[i])
        box.extend(part_->mesh.vertices[v]);
    }
    for (Face& face : part_->faces)
      if (face.box.isEmpty()) {
        part_->notes.push_back({0, "face " + std::to_string(face.id.value + 1) +
                                       " cannot be meshed; it is not seen by clash checks"});
        face.box.extend(face.ideal.point);
      }
  }

  std::vector<FaceId> facesOfEntity(int entity) {
    const auto found = by_entity_.find(entity);
    if (found == by_entity_.end()) return {};
    for (FaceId face : found->second)
      if (const auto times = placed_.extract(face))
        part_->notes.push_back(
            {entity, fmt::format("the face is placed {} times; its tolerances are "
                                 "judged at the first place",
                                 times.mapped())});
    return found->second;
  }

  void indexEntities() {
    const auto model = Handle(StepData_StepModel)::DownCast(reader_.Reader().WS()->Model());
    const auto process = reader_.Reader().WS()->TransferReader()->TransientProcess();
    for (int i = 1; i <= model->NbEntities(); ++i) {
      const Handle(Standard_Transient) entity = model->Value(i);
      if (!entity->IsKind(STANDARD_TYPE(StepShape_FaceSurface)) &&
          !entity->IsKind(STANDARD_TYPE(StepShape_ConnectedFaceSet)) &&
          !entity->IsKind(STANDARD_TYPE(StepShape_ManifoldSolidBrep)) &&
          !entity->IsKind(STANDARD_TYPE(StepShape_ShellBasedSurfaceModel)))
        continue;
      const TopoDS_Shape shape = TransferBRep::ShapeResult(process, entity);
      if (shape.IsNull()) continue;
      const int number = model->IdentLabel(entity);
      auto& faces = by_entity_[number];
      for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
        const auto found = index_.find(f.Current().TShape().get());
        if (found == index_.end()) continue;
        if (entity->IsKind(STANDARD_TYPE(StepShape_FaceSurface)))
          for (FaceId face : found->second)
            part_->faces[static_cast<std::size_t>(face.value)].entity = number;
        // A tolerance on a component that is placed several times is judged on its first place.
        if (found->second.size() > 1) placed_[found->second.front()] = found->second.size();
        faces.push_back(found->second.front());
      }
      std::sort(faces.begin(), faces.end());
    }
  }

  std::string label_;
  PlainStep plain_;
  std::shared_ptr<PartModel> part_ = std::make_shared<PartModel>();
  STEPCAFControl_Reader reader_;
  Handle(TDocStd_Document) document_;
  XCAFPrs_IndexedDataMapOfShapeStyle styles_;
  FaceIndex index_;
  std::unordered_map<int, std::vector<FaceId>> by_entity_;
  std::map<FaceId, std::size_t> placed_; // more than once, and not yet noted
};

} // namespace

Mesh meshOf(const TopoDS_Shape& shape, double deflection) {
  BRepMesh_IncrementalMesh mesher(shape, deflection, false, 0.2, true);
  Mesh mesh;
  int tag = 0;
  for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next(), ++tag) {
    TopLoc_Location location;
    const TopoDS_Face& face = TopoDS::Face(f.Current());
    const Handle(Poly_Triangulation) t = BRep_Tool::Triangulation(face, location);
    if (t.IsNull()) continue;
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
  return mesh;
}

Result<PartPtr> importStep(std::string bytes, const std::string& label, const Progress& progress) {
  const std::lock_guard lock(libraryMutex());
  if (bytes.empty()) return fail("{}: the file is empty.", label);
  try {
    Message::DefaultMessenger()->ChangePrinters().Clear();
    return Importer(std::move(bytes), label).run(progress);
  } catch (const Standard_Failure& failure) {
    return fail("{}: the geometry cannot be built ({}); export it again from the CAD system.",
                label, failure.GetMessageString());
  }
}

Result<PartPtr> importStepFile(const std::string& path, const Progress& progress) {
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  return importStep(std::move(*bytes), path, progress);
}

} // namespace alder
