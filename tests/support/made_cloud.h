// Files of points in many layouts, and a part's surface as it was made: what a scanner brings.
#pragma once

#include "rehearse/defects.h"
#include "scan.h"

namespace alder::test {

struct MadeCloudFile {
  std::string name, bytes;
  Points points;     // as they must be read
  Points normals;    // empty where the file has none that can be known
  bool mesh = false; // points on triangles: not these points themselves
};

// Layouts by turns: text with blanks, tabs, commas, semicolons; decimal points and commas; titles,
// counts, remarks; other columns; PLY in three forms with single and double precision; line ends.
constexpr int kCloudLayouts = 14;
MadeCloudFile madeCloudFile(int layout, unsigned seed);

// How far the surface of the part stands out of the nominal one, by the defects of its features.
std::function<double(FaceId, const Vec3&, const Vec3&)> heightsOf(const Plan& plan,
                                                                  const Defects& defects);

} // namespace alder::test
