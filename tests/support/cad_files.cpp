#include "cad_files.h"

#include "base/files.h"
#include "base/temporary_file.h"
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepTools.hxx>
#include <BinTools.hxx>
#include <IGESControl_Controller.hxx>
#include <IGESControl_Writer.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <array>
#include <cstring>
#include <sstream>
#include <zip.h>

namespace alder::test {
namespace {

std::vector<Vec3> corners(const Vec3& size) {
  std::vector<Vec3> all;
  for (int k = 0; k < 8; ++k)
    all.emplace_back(k & 1 ? size.x() : 0, k & 2 ? size.y() : 0, k & 4 ? size.z() : 0);
  return all;
}
constexpr std::array<std::array<int, 3>, 12> kTriangles{{{0, 2, 1},
                                                         {1, 2, 3},
                                                         {4, 5, 6},
                                                         {5, 7, 6},
                                                         {0, 1, 4},
                                                         {1, 5, 4},
                                                         {2, 6, 3},
                                                         {3, 6, 7},
                                                         {0, 4, 2},
                                                         {2, 4, 6},
                                                         {1, 3, 5},
                                                         {3, 7, 5}}};

template <class T> void put(std::string& bytes, T value) {
  std::array<char, sizeof(T)> raw{};
  std::memcpy(raw.data(), &value, sizeof(T));
  bytes.append(raw.data(), raw.size());
}

} // namespace

std::string igesOf(const TopoDS_Shape& shape, bool solids, const std::string& unit) {
  IGESControl_Controller::Init();
  IGESControl_Writer writer(unit.c_str(), solids ? 1 : 0);
  writer.AddShape(shape);
  writer.ComputeModel();
  std::ostringstream out;
  writer.Write(out);
  return out.str();
}

std::string brepOf(const TopoDS_Shape& shape, bool binary) {
  std::ostringstream out;
  if (binary)
    BinTools::Write(shape, out);
  else
    BRepTools::Write(shape, out);
  return out.str();
}

std::string assemblyStep() {
  Handle(TDocStd_Document) document = new TDocStd_Document("BinXCAF");
  XCAFDoc_DocumentTool::Set(document->Main());
  const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  const auto named = [](const TDF_Label& label, const char* name) {
    TDataStd_Name::Set(label, TCollection_ExtendedString(name));
    return label;
  };
  const auto at = [](double x, double y, double z, double turn) {
    gp_Trsf move, rotation;
    move.SetTranslation(gp_Vec(x, y, z));
    rotation.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)), turn);
    return TopLoc_Location(move * rotation);
  };
  const TDF_Label root = named(shapes->NewShape(), "gauge");
  const TDF_Label pins = named(shapes->NewShape(), "pins");
  const TDF_Label frame =
      named(shapes->AddShape(BRepPrimAPI_MakeBox(100, 60, 10).Shape(), false), "frame");
  const TDF_Label pin =
      named(shapes->AddShape(BRepPrimAPI_MakeCylinder(4, 30).Shape(), false), "pin");
  const TDF_Label tool =
      named(shapes->AddShape(BRepPrimAPI_MakeBox(20, 20, 20).Shape(), false), "tool");
  shapes->AddComponent(pins, pin, at(0, 0, 0, 0));
  shapes->AddComponent(pins, pin, at(40, 0, 0, 0));
  shapes->AddComponent(root, tool, at(200, 0, 0, 0));
  shapes->AddComponent(root, frame, at(0, 0, 0, 0));
  shapes->AddComponent(root, pins, at(30, 30, 10, 0.5));
  shapes->UpdateAssemblies();
  XCAFDoc_DocumentTool::ColorTool(document->Main())->SetVisibility(tool, false);
  STEPCAFControl_Writer writer;
  writer.SetColorMode(true);
  writer.SetNameMode(true);
  auto file = TemporaryFile::with("");
  if (!file || !writer.Transfer(document)) return {};
  if (writer.Write(file->path().c_str()) != IFSelect_RetDone) return {};
  return readFile(file->path()).value_or("");
}

std::string boxStl(const Vec3& size, bool binary) {
  const auto at = corners(size);
  if (binary) {
    std::string bytes(80, ' ');
    put(bytes, static_cast<std::uint32_t>(kTriangles.size()));
    for (const auto& t : kTriangles) {
      for (int k = 0; k < 3; ++k)
        put(bytes, 0.0F);
      for (const int v : t)
        for (int k = 0; k < 3; ++k)
          put(bytes, static_cast<float>(at[static_cast<std::size_t>(v)][k]));
      put(bytes, std::uint16_t{0});
    }
    return bytes;
  }
  std::ostringstream out;
  out << "solid box\n";
  for (const auto& t : kTriangles) {
    out << "facet normal 0 0 0\nouter loop\n";
    for (const int v : t)
      out << "vertex " << at[static_cast<std::size_t>(v)].transpose() << "\n";
    out << "endloop\nendfacet\n";
  }
  out << "endsolid box\n";
  return out.str();
}

std::string boxPly(const Vec3& size, bool binary) {
  const auto at = corners(size);
  std::string bytes = std::string("ply\nformat ") + (binary ? "binary_little_endian" : "ascii") +
                      " 1.0\ncomment made by hand\nelement vertex 8\nproperty float x\n"
                      "property float y\nproperty float z\nelement face 12\n"
                      "property list uchar int vertex_indices\nend_header\n";
  std::ostringstream text;
  for (const Vec3& v : at)
    for (int k = 0; k < 3; ++k)
      binary ? put(bytes, static_cast<float>(v[k])) : void(text << v[k] << (k < 2 ? " " : "\n"));
  for (const auto& t : kTriangles) {
    binary ? put(bytes, std::uint8_t{3}) : void(text << 3);
    for (const int v : t)
      binary ? put(bytes, static_cast<std::int32_t>(v)) : void(text << " " << v);
    if (!binary) text << "\n";
  }
  return bytes + text.str();
}

std::string boxes3mf(const Vec3& size, const std::string& unit) {
  std::ostringstream model;
  model << R"(<?xml version="1.0" encoding="UTF-8"?><model unit=")" << unit
        << R"(" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources>)"
        << R"(<object id="1" type="model"><mesh><vertices>)";
  for (const Vec3& v : corners(size))
    model << "<vertex x=\"" << v.x() << "\" y=\"" << v.y() << "\" z=\"" << v.z() << "\"/>";
  model << "</vertices><triangles>";
  for (const auto& t : kTriangles)
    model << "<triangle v1=\"" << t[0] << "\" v2=\"" << t[1] << "\" v3=\"" << t[2] << "\"/>";
  model << R"(</triangles></mesh></object><object id="2" type="model"><components>)"
        << R"(<component objectid="1"/>)"
        << R"(<component objectid="1" transform="1 0 0 0 1 0 0 0 1 100 0 0"/>)"
        << R"(</components></object></resources><build><item objectid="2"/></build></model>)";
  const std::string types =
      R"(<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>)";
  const std::string relations =
      R"(<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>)";
  const std::string text = model.str();
  zip_error_t error;
  zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
  if (!target) return {};
  zip_source_keep(target);
  zip_t* zip = zip_open_from_source(target, ZIP_TRUNCATE, &error);
  if (!zip) return {};
  for (const auto& [name, bytes] :
       {std::pair<const char*, const std::string*>{"[Content_Types].xml", &types},
        {"_rels/.rels", &relations},
        {"3D/3dmodel.model", &text}})
    zip_file_add(zip, name, zip_source_buffer(zip, bytes->data(), bytes->size(), 0), 0);
  zip_close(zip);
  zip_stat_t stat;
  zip_source_stat(target, &stat);
  std::string bytes(stat.size, '\0');
  zip_source_open(target);
  zip_source_read(target, bytes.data(), bytes.size());
  zip_source_close(target);
  zip_source_free(target);
  return bytes;
}

} // namespace alder::test
