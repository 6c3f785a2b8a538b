#include "part/cad_document.h"

#include <BRep_Builder.hxx>
#include <TDataStd_Name.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_DataMapOfShapeInteger.hxx>
#include <TopoDS_Compound.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_LayerTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XCAFPrs.hxx>
#include <map>

namespace alder {
namespace {

std::string labelName(const TDF_Label& label) {
  Handle(TDataStd_Name) attribute;
  if (!label.FindAttribute(TDataStd_Name::GetID(), attribute)) return {};
  const TCollection_ExtendedString& wide = attribute->Get();
  std::string text(static_cast<std::size_t>(wide.LengthOfCString()) + 1, '\0');
  Standard_PCharacter out = text.data();
  text.resize(static_cast<std::size_t>(wide.ToUTF8CString(out)));
  return text;
}

class Walker {
 public:
  explicit Walker(const Handle(TDocStd_Document) & document)
      : colours_(XCAFDoc_DocumentTool::ColorTool(document->Main()))
      , layers_(XCAFDoc_DocumentTool::LayerTool(document->Main()))
      , shapes_(XCAFDoc_DocumentTool::ShapeTool(document->Main())) {}

  Result<CadDocument> run(const std::string& label) {
    TDF_LabelSequence roots;
    shapes_->GetFreeShapes(roots);
    TopoDS_Compound all;
    BRep_Builder builder;
    builder.MakeCompound(all);
    for (int i = 1; i <= roots.Length(); ++i) {
      const TopoDS_Shape shape = XCAFDoc_ShapeTool::GetShape(roots.Value(i));
      if (shape.IsNull()) continue;
      builder.Add(all, shape);
      if (result_.name.empty()) result_.name = labelName(roots.Value(i));
      XCAFPrs::CollectStyleSettings(roots.Value(i), TopLoc_Location(), result_.styles);
      visit(roots.Value(i), TopLoc_Location(), -1, false);
    }
    result_.shape =
        roots.Length() == 1 ? XCAFDoc_ShapeTool::GetShape(roots.Value(1)) : TopoDS_Shape(all);
    if (!TopExp_Explorer(result_.shape, TopAbs_FACE).More())
      return fail("{}: holds no faces; export solids or surfaces, not a drawing.", label);
    if (result_.name.empty()) result_.name = label;
    collectBodies();
    return std::move(result_);
  }

 private:
  bool isHidden(const TDF_Label& label) const {
    return !colours_->IsVisible(label) || isOnHiddenLayer(label);
  }
  bool isOnHiddenLayer(const TDF_Label& label) const {
    TDF_LabelSequence on;
    layers_->GetLayers(label, on);
    for (int i = 1; i <= on.Length(); ++i)
      if (!layers_->IsVisible(on.Value(i))) return true;
    return false;
  }

  // `at` is where the component lies in the root.
  void visit(const TDF_Label& label, const TopLoc_Location& at, int parent, bool hidden) {
    TDF_Label of = label;
    if (XCAFDoc_ShapeTool::IsReference(label)) XCAFDoc_ShapeTool::GetReferredShape(label, of);
    hidden = hidden || isHidden(label) || isHidden(of);
    CadComponent component{labelName(of), parent, hidden};
    if (component.name.empty()) component.name = labelName(label);
    const int self = static_cast<int>(result_.components.size());
    result_.components.push_back(std::move(component));
    const TopLoc_Location here = at * XCAFDoc_ShapeTool::GetLocation(label);
    if (XCAFDoc_ShapeTool::IsAssembly(of)) {
      TDF_LabelSequence children;
      XCAFDoc_ShapeTool::GetComponents(of, children);
      for (int i = 1; i <= children.Length(); ++i)
        visit(children.Value(i), here, self, hidden);
      return;
    }
    const TopoDS_Shape shape = XCAFDoc_ShapeTool::GetShape(of).Moved(here);
    for (TopExp_Explorer s(shape, TopAbs_SOLID); s.More(); s.Next())
      home_.Bind(s.Current(), self);
    for (TopExp_Explorer f(shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next())
      home_.Bind(f.Current(), self);
    // Solids of one component may have names and be hidden one by one.
    TDF_LabelSequence parts;
    XCAFDoc_ShapeTool::GetSubShapes(of, parts);
    for (int i = 1; i <= parts.Length(); ++i) {
      const TopoDS_Shape part = XCAFDoc_ShapeTool::GetShape(parts.Value(i)).Moved(here);
      if (part.IsNull() || part.ShapeType() != TopAbs_SOLID) continue;
      if (const std::string name = labelName(parts.Value(i)); !name.empty())
        names_.push_back({part, name});
      if (isHidden(parts.Value(i))) hidden_.push_back(part);
    }
  }

  // In the order in which their faces are numbered: solids, then what is in none.
  void collectBodies() {
    for (int i = 1; i <= result_.styles.Extent(); ++i)
      if (!result_.styles.FindFromIndex(i).IsVisible())
        hidden_.push_back(result_.styles.FindKey(i));
    for (TopExp_Explorer s(result_.shape, TopAbs_SOLID); s.More(); s.Next())
      addBody(s.Current(), s.Current(), true);
    TopoDS_Compound loose;
    BRep_Builder builder;
    builder.MakeCompound(loose);
    TopoDS_Shape first;
    for (TopExp_Explorer f(result_.shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next()) {
      if (first.IsNull()) first = f.Current();
      builder.Add(loose, f.Current());
    }
    if (!first.IsNull()) addBody(loose, first, false);
    std::map<int, int> count; // bodies of a component
    for (const CadBody& b : result_.bodies)
      ++count[b.component];
    std::map<int, int> number;
    for (CadBody& b : result_.bodies) {
      if (!b.name.empty()) continue;
      b.name = b.component >= 0 ? result_.components[static_cast<std::size_t>(b.component)].name
                                : std::string();
      if (b.name.empty()) b.name = b.solid ? "body" : "surfaces";
      if (count[b.component] > 1) b.name += " · " + std::to_string(++number[b.component]);
    }
  }
  void addBody(const TopoDS_Shape& shape, const TopoDS_Shape& known, bool solid) {
    CadBody body{shape, solid, "", -1, false};
    if (const int* home = home_.Seek(known)) body.component = *home;
    if (body.component >= 0)
      body.hidden = result_.components[static_cast<std::size_t>(body.component)].hidden;
    if (solid)
      for (const TopoDS_Shape& h : hidden_)
        body.hidden = body.hidden || h.IsSame(shape);
    for (const auto& [of, name] : names_)
      if (of.IsSame(shape)) body.name = name;
    result_.bodies.push_back(std::move(body));
  }

  Handle(XCAFDoc_ColorTool) colours_;
  Handle(XCAFDoc_LayerTool) layers_;
  Handle(XCAFDoc_ShapeTool) shapes_;
  CadDocument result_;
  TopTools_DataMapOfShapeInteger home_; // solids and loose faces, as placed
  std::vector<std::pair<TopoDS_Shape, std::string>> names_;
  std::vector<TopoDS_Shape> hidden_;
};

} // namespace

Result<CadDocument> readDocument(const Handle(TDocStd_Document) & document,
                                 const std::string& label) {
  return Walker(document).run(label);
}

} // namespace alder
