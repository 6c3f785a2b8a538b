#include "part/plain_import.h"

#include "base/temporary_file.h"
#include "part/library_lock.h"
#include "part/recognise.h"

#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepLib.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <BinTools.hxx>
#include <IGESCAFControl_Reader.hxx>
#include <IGESData_IGESEntity.hxx>
#include <IGESData_IGESModel.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Solid.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XSControl_WorkSession.hxx>
#include <algorithm>
#include <fmt/format.h>
#include <sstream>

namespace alder {
namespace {

// Faces that belong to no solid, sewn where their edges meet; what closes becomes a solid.
class Sewer {
 public:
  explicit Sewer(CadDocument& document)
      : document_(document) {}

  void run(std::vector<Note>& notes) {
    std::vector<CadBody> bodies, loose;
    for (CadBody& b : document_.bodies)
      (b.solid ? bodies : loose).push_back(std::move(b));
    builder_.MakeCompound(open_);
    for (const CadBody& b : loose)
      sew(b, bodies);
    if (open_faces_ > 0) {
      bodies.push_back({open_, false, loose.front().name, loose.front().component, false});
      notes.push_back(
          {0,
           fmt::format("{} of the file {} no volume: the side without material was taken from the "
                       "file; see that touches come from there",
                       open_faces_ == 1 ? "one surface" : fmt::format("{} surfaces", open_faces_),
                       open_faces_ == 1 ? "encloses" : "enclose")});
    }
    TopoDS_Compound all;
    builder_.MakeCompound(all);
    for (const CadBody& b : bodies)
      if (b.solid) builder_.Add(all, b.shape);
    if (open_faces_ > 0)
      for (TopExp_Explorer f(open_, TopAbs_FACE); f.More(); f.Next())
        builder_.Add(all, f.Current());
    document_.shape = all;
    document_.bodies = std::move(bodies);
  }

 private:
  void sew(const CadBody& body, std::vector<CadBody>& bodies) {
    constexpr double kGap = 0.01; // mm, between edges that are one
    BRepBuilderAPI_Sewing sewing(kGap);
    for (TopExp_Explorer f(body.shape, TopAbs_FACE); f.More(); f.Next())
      sewing.Add(f.Current());
    sewing.Perform();
    const TopoDS_Shape sewn = sewing.SewedShape();
    int number = 0;
    for (TopExp_Explorer s(sewn, TopAbs_SHELL); s.More(); s.Next()) {
      const TopoDS_Shell shell = TopoDS::Shell(s.Current());
      if (!BRep_Tool::IsClosed(shell)) {
        keepOpen(shell, TopAbs_SHAPE);
        continue;
      }
      TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(shell).Solid();
      BRepLib::OrientClosedSolid(solid);
      bodies.push_back({solid, true,
                        ++number == 1 ? body.name : fmt::format("{} · {}", body.name, number),
                        body.component, body.hidden});
    }
    keepOpen(sewn, TopAbs_SHELL);
  }
  void keepOpen(const TopoDS_Shape& shape, TopAbs_ShapeEnum outside_of) {
    for (TopExp_Explorer f(shape, TopAbs_FACE, outside_of); f.More(); f.Next())
      builder_.Add(open_, f.Current()), ++open_faces_;
  }

  CadDocument& document_;
  BRep_Builder builder_;
  TopoDS_Compound open_;
  int open_faces_ = 0;
};

Result<PartPtr> built(std::shared_ptr<PartModel> part, const Handle(TDocStd_Document) & document,
                      const std::string& label, const Progress& progress,
                      const BodyChoice& choice) {
  auto content = readDocument(document, label);
  if (!content) return pass(content.error());
  if (std::any_of(content->bodies.begin(), content->bodies.end(),
                  [](const CadBody& b) { return !b.solid; }))
    Sewer(*content).run(part->notes);
  part->shape = content->shape, part->name = content->name;
  if (progress.cancelled()) return cancelledError();
  progress.step(0.5, "Meshing");
  PartBuilder builder(*part, *content);
  if (auto done = builder.collectFaces(choice, label); !done) return pass(done.error());
  builder.collectMesh();
  if (progress.cancelled()) return cancelledError();
  progress.step(0.8, "Recognising surfaces");
  part->surfaces = recogniseSurfaces(*part);
  return PartPtr(part);
}

int blanked(const Handle(IGESData_IGESModel) & model) {
  int count = 0;
  for (int i = 1; i <= model->NbEntities(); ++i)
    if (const Handle(IGESData_IGESEntity) e = model->Entity(i);
        !e.IsNull() && e->BlankStatus() == 1 && e->SubordinateStatus() % 2 == 0)
      ++count;
  return count;
}

Handle(TDocStd_Document) emptyDocument() {
  const Handle(TDocStd_Document) document = new TDocStd_Document("BinXCAF");
  XCAFDoc_DocumentTool::Set(document->Main());
  return document;
}

Result<PartPtr> readIges(std::shared_ptr<PartModel> part, const std::string& label,
                         const Progress& progress, const BodyChoice& choice) {
  // The library reads IGES from files only.
  auto file = TemporaryFile::with(part->bytes);
  if (!file) return pass(file.error());
  IGESCAFControl_Reader reader;
  reader.SetColorMode(true);
  reader.SetNameMode(true);
  reader.SetLayerMode(true);
  reader.SetReadVisible(true);
  progress.step(0.1, "Reading geometry");
  if (reader.ReadFile(file->path().c_str()) != IFSelect_RetDone)
    return fail("{}: the IGES data cannot be read; export it again from the CAD system.", label);
  Handle(TDocStd_Document) document = emptyDocument();
  if (!reader.Transfer(document))
    return fail("{}: holds no shape that can be built; export solids or trimmed surfaces.", label);
  if (const int count = blanked(reader.IGESModel()); count > 0)
    part->notes.push_back({0, fmt::format("{} blanked entit{} of the file {} left out", count,
                                          count == 1 ? "y" : "ies", count == 1 ? "is" : "are")});
  return built(std::move(part), document, label, progress, choice);
}

Result<PartPtr> readBrep(std::shared_ptr<PartModel> part, const std::string& label,
                         const Progress& progress, const BodyChoice& choice) {
  progress.step(0.1, "Reading geometry");
  TopoDS_Shape shape;
  std::istringstream text(part->bytes);
  BRepTools::Read(shape, text, BRep_Builder());
  if (shape.IsNull()) {
    std::istringstream binary(part->bytes);
    BinTools::Read(shape, binary);
  }
  if (shape.IsNull())
    return fail("{}: the BREP data cannot be read; write it again, or give STEP.", label);
  const Handle(TDocStd_Document) document = emptyDocument();
  XCAFDoc_DocumentTool::ShapeTool(document->Main())->AddShape(shape, false);
  part->notes.push_back({0, "BREP has no unit: its lengths were taken as mm"});
  auto read = built(part, document, label, progress, choice);
  if (read) part->name = label.substr(0, label.rfind('.'));
  return read;
}

template <class Read>
Result<PartPtr> imported(std::string bytes, std::string schema, const std::string& label,
                         const Read& read) {
  const std::lock_guard lock(libraryMutex());
  silenceLibrary();
  auto part = std::make_shared<PartModel>();
  part->bytes = std::move(bytes), part->schema = std::move(schema);
  try {
    return read(std::move(part));
  } catch (const Standard_Failure& failure) {
    return fail("{}: the geometry cannot be built ({}); export it again from the CAD system.",
                label, failure.GetMessageString());
  }
}

} // namespace

Result<PartPtr> importIges(std::string bytes, const std::string& label, const Progress& progress,
                           const BodyChoice& choice) {
  return imported(std::move(bytes), "IGES", label, [&](std::shared_ptr<PartModel> part) {
    return readIges(std::move(part), label, progress, choice);
  });
}

Result<PartPtr> importBrep(std::string bytes, const std::string& label, const Progress& progress,
                           const BodyChoice& choice) {
  return imported(std::move(bytes), "BREP", label, [&](std::shared_ptr<PartModel> part) {
    return readBrep(std::move(part), label, progress, choice);
  });
}

} // namespace alder
