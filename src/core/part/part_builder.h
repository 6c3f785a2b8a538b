// The part that is made of a CAD file's document, whichever kind of file it came from: faces with
// their ideal geometry and neighbours, bodies, triangles, recognised surfaces.
#pragma once

#include "part/cad_document.h"
#include <optional>
#include <unordered_map>

namespace alder {

// Which bodies of the file are the part. Numbers are those of PartModel::bodies.
struct BodyChoice {
  // None: those that the file does not show are left out, unless it shows none.
  std::optional<std::vector<int>> left_out;
};

// Faces by the CAD library's shape: each place of a component has faces of its own.
using FaceIndex = std::unordered_map<const TopoDS_TShape*, std::vector<FaceId>>;

class PartBuilder {
 public:
  PartBuilder(PartModel& part, const CadDocument& document)
      : part_(part)
      , document_(document) {}

  // Bodies with their faces. Error: a choice that leaves nothing, or speaks of what is not there.
  Done collectFaces(const BodyChoice& choice, const std::string& label);
  void collectMesh();
  const FaceIndex& index() const { return index_; }

 private:
  Done choose(const BodyChoice& choice, const std::string& label);
  void addFace(const TopoDS_Face& shape, int body);
  void linkNeighbours();
  void applyColours();

  PartModel& part_;
  const CadDocument& document_;
  FaceIndex index_;
};

// Triangles of any shape, tagged with the index of the face in exploration order.
Mesh meshOf(const TopoDS_Shape& shape, double deflection);

} // namespace alder
