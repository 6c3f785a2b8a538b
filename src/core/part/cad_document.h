// What a CAD file holds before it becomes a part: shapes with names, colours and the tree of
// components, as the CAD library's document (XCAF) has them.
#pragma once

#include "part/model.h"
#include <TDocStd_Document.hxx>
#include <XCAFPrs_IndexedDataMapOfShapeStyle.hxx>

namespace alder {

// A solid, or the faces outside of any solid, in the order in which their faces are numbered.
struct CadBody {
  TopoDS_Shape shape;
  bool solid = true;
  std::string name;
  int component = -1; // of `components`; -1: of none that is known
  bool hidden = false;
};

struct CadDocument {
  TopoDS_Shape shape; // all of it
  std::string name;
  std::vector<CadComponent> components; // parents before children
  std::vector<CadBody> bodies;
  XCAFPrs_IndexedDataMapOfShapeStyle styles;
};

// `label` names the file in messages. Hidden is what the file marks as not shown: a component, a
// body, a layer, or a style of one of them.
Result<CadDocument> readDocument(const Handle(TDocStd_Document) & document,
                                 const std::string& label);

} // namespace alder
