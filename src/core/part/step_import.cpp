#include "part/step_import.h"

#include "base/files.h"
#include "part/left_out.h"
#include "part/library_lock.h"
#include "part/pmi/pmi_reader.h"
#include "part/recognise.h"
#include "part/step_text.h"
#include "part/validation.h"

#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <Standard_Failure.hxx>
#include <StepData_StepModel.hxx>
#include <StepShape_ConnectedFaceSet.hxx>
#include <StepShape_FaceSurface.hxx>
#include <StepShape_ManifoldSolidBrep.hxx>
#include <StepShape_ShellBasedSurfaceModel.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TransferBRep.hxx>
#include <Transfer_TransientProcess.hxx>
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

class Importer {
 public:
  Importer(std::string bytes, const std::string& label, const BodyChoice& choice)
      : label_(label)
      , choice_(choice) {
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
    PartBuilder builder(*part_, content_);
    if (auto done = builder.collectFaces(choice_, label_); !done) return pass(done.error());
    builder.collectMesh();
    index_ = builder.index();
    if (progress.cancelled()) return cancelledError();
    progress.step(0.8, "Recognising surfaces");
    part_->surfaces = recogniseSurfaces(*part_);
    progress.step(0.9, "Reading tolerances");
    indexEntities();
    part_->pmi = readPmi(
        *text, [this](int entity) { return facesOfEntity(entity); }, part_->notes);
    dropLeftOut(*part_);
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
    reader_.SetLayerMode(true);
    reader_.SetViewMode(false);
    if (reader_.ChangeReader().ReadStream(label_.c_str(), in) != IFSelect_RetDone)
      return fail("{}: the STEP data cannot be read; export it again from the CAD system.", label_);
    document_ = new TDocStd_Document("BinXCAF");
    if (!reader_.Transfer(document_))
      return fail("{}: holds no shape that can be built; export solids as AP203, AP214 or AP242.",
                  label_);
    auto read = readDocument(document_, label_);
    if (!read) return pass(read.error());
    content_ = std::move(*read);
    part_->shape = content_.shape, part_->name = content_.name;
    return {};
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
        const auto taken = std::count_if(found->second.begin(), found->second.end(),
                                         [this](FaceId face) { return part_->takes(face); });
        const auto first = std::find_if(found->second.begin(), found->second.end(),
                                        [this](FaceId face) { return part_->takes(face); });
        const FaceId judged = taken > 0 ? *first : found->second.front();
        if (taken > 1) placed_[judged] = static_cast<std::size_t>(taken);
        faces.push_back(judged);
      }
      std::sort(faces.begin(), faces.end());
    }
  }

  std::string label_;
  BodyChoice choice_;
  PlainStep plain_;
  std::shared_ptr<PartModel> part_ = std::make_shared<PartModel>();
  STEPCAFControl_Reader reader_;
  Handle(TDocStd_Document) document_;
  CadDocument content_;
  FaceIndex index_;
  std::unordered_map<int, std::vector<FaceId>> by_entity_;
  std::map<FaceId, std::size_t> placed_; // more than once, and not yet noted
};

} // namespace

Result<PartPtr> importStep(std::string bytes, const std::string& label, const Progress& progress,
                           const BodyChoice& choice) {
  const std::lock_guard lock(libraryMutex());
  if (bytes.empty()) return fail("{}: the file is empty.", label);
  try {
    silenceLibrary();
    return Importer(std::move(bytes), label, choice).run(progress);
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
