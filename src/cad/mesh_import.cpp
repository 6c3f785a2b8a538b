#include "mesh_import.h"

#include <assimp/Importer.hpp>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>
#include <map>
#include <memory>
#include <pugixml.hpp>
#include <zip.h>

namespace alder {
namespace {

struct CloseZip {
  void operator()(zip_t* z) const { zip_discard(z); }
};

// The unit of the model, which the library passes over.
Result<double> mmPerUnit(const std::string& bytes, const std::string& label) {
  static const std::map<std::string, double> kUnits{{"micron", 0.001},  {"millimeter", 1},
                                                    {"centimeter", 10}, {"inch", 25.4},
                                                    {"foot", 304.8},    {"meter", 1000}};
  zip_error_t error;
  zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
  const std::unique_ptr<zip_t, CloseZip> zip(
      source ? zip_open_from_source(source, ZIP_RDONLY, &error) : nullptr);
  if (!zip) {
    if (source) zip_source_free(source);
    return fail("{}: cannot be read as 3MF; write it again.", label);
  }
  for (zip_int64_t i = 0; i < zip_get_num_entries(zip.get(), 0); ++i) {
    const std::string name = zip_get_name(zip.get(), static_cast<zip_uint64_t>(i), 0);
    if (!name.ends_with(".model")) continue;
    zip_stat_t stat;
    zip_file_t* file = zip_fopen_index(zip.get(), static_cast<zip_uint64_t>(i), 0);
    if (!file || zip_stat_index(zip.get(), static_cast<zip_uint64_t>(i), 0, &stat) != 0) continue;
    std::string text(stat.size, '\0');
    const zip_int64_t read = zip_fread(file, text.data(), text.size());
    zip_fclose(file);
    text.resize(static_cast<std::size_t>(std::max<zip_int64_t>(0, read)));
    pugi::xml_document document;
    if (!document.load_string(text.c_str())) continue;
    const std::string unit = document.child("model").attribute("unit").as_string("millimeter");
    if (const auto known = kUnits.find(unit); known != kUnits.end()) return known->second;
    return fail("{}: the unit \"{}\" is not one of 3MF.", label, unit);
  }
  return fail("{}: holds no model; write it again.", label);
}

} // namespace

Result<Mesh> importMesh(const std::string& bytes, CadKind kind, const std::string& label) {
  double scale = 1;
  if (kind == CadKind::ThreeMf) {
    auto unit = mmPerUnit(bytes, label);
    if (!unit) return pass(unit.error());
    scale = *unit;
  }
  Assimp::Importer importer;
  const aiScene* scene = importer.ReadFileFromMemory(
      bytes.data(), bytes.size(), aiProcess_Triangulate | aiProcess_PreTransformVertices,
      std::string(ending(kind).substr(1)).c_str());
  Mesh mesh;
  for (unsigned m = 0; scene && m < scene->mNumMeshes; ++m) {
    const aiMesh& from = *scene->mMeshes[m];
    const int base = static_cast<int>(mesh.vertices.size());
    for (unsigned v = 0; v < from.mNumVertices; ++v)
      mesh.vertices.emplace_back(scale * from.mVertices[v].x, scale * from.mVertices[v].y,
                                 scale * from.mVertices[v].z);
    for (unsigned f = 0; f < from.mNumFaces; ++f) {
      const aiFace& face = from.mFaces[f];
      if (face.mNumIndices != 3) continue; // a line or a point
      mesh.triangles.push_back({base + static_cast<int>(face.mIndices[0]),
                                base + static_cast<int>(face.mIndices[1]),
                                base + static_cast<int>(face.mIndices[2])});
      mesh.tags.push_back(0);
    }
  }
  if (mesh.triangles.empty())
    return fail("{}: holds no triangles that can be read; write it as {} again.", label,
                name(kind));
  return mesh;
}

} // namespace alder
