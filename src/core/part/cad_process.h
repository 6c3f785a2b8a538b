// CAD files are read in a process of their own, alderpoint-cad: the CAD library may crash, hang or
// eat all memory over what it is given, the program may not.
#pragma once

#include "base/reader_process.h"
#include "part/part_builder.h"

namespace alder {

// As importCad, but whatever is in the file: one line of error, and this process lives on. Can be
// cancelled at any time; progress as the reader tells it.
Result<PartPtr> importCadApart(std::string bytes, const std::string& label,
                               const Progress& progress = {}, const BodyChoice& choice = {},
                               const ReaderLimits& limits = {});
Result<PartPtr> importCadFileApart(const std::string& path, const Progress& progress = {},
                                   const BodyChoice& choice = {}, const ReaderLimits& limits = {});
// The triangles of a CAD file, or of a mesh (STL, PLY, 3MF); mm. Of a mesh without unit mm is
// assumed.
Result<Mesh> meshApart(const std::string& bytes, const std::string& label,
                       const Progress& progress = {}, const ReaderLimits& limits = {});

} // namespace alder
