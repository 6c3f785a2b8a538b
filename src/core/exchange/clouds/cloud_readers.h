// The readers behind readCloudFile, one for each form.
#pragma once

#include "exchange/clouds/block_reader.h"
#include "exchange/clouds/cloud_file.h"
#include "geometry/mesh.h"

namespace alder {

Done readTextCloud(BlockReader& in, CloudFile& out);
Done readPlyCloud(BlockReader& in, CloudFile& out);
Done readStlCloud(BlockReader& in, CloudFile& out, bool text);

// Points on measured triangles, no farther apart than a small share of the whole, with the normals
// of the triangles. A triangle smaller than that gives its middle.
Done sampleMesh(const std::vector<Triangle>& triangles, const std::string& label, CloudFile& out);

// Fields of a line, parted by blanks, or by `separator` where there is one.
void splitFields(std::string_view line, char separator, std::vector<std::string_view>& fields);
// A figure in full; with a decimal comma where asked. Also "nan" and "inf".
std::optional<double> cloudFigure(std::string_view text, bool comma);

} // namespace alder
