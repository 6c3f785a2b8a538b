// CAD files of all kinds, written by the CAD library or by hand, for tests of what reads them.
#pragma once

#include "base/error.h"
#include "part/model.h"
#include <string>

namespace alder::test {

// As solids (entity 186), or as surfaces that only meet (144). `unit` as IGES names it: MM, INCH,
// M.
std::string igesOf(const TopoDS_Shape& shape, bool solids, const std::string& unit = "MM");
std::string brepOf(const TopoDS_Shape& shape, bool binary);

// An assembly: "frame" (a plate 100 x 60 x 10) once; "pins" with two "pin" (ø8 x 30), turned and
// moved as a whole; and "tool", a block 20 x 20 x 20, which the file does not show.
std::string assemblyStep();

// A box of these sizes, its low corner at the origin. `binary`: of PLY and STL.
std::string boxStl(const Vec3& size, bool binary);
std::string boxPly(const Vec3& size, bool binary);
// Two of them side by side as components of one object, the second moved by (100, 0, 0) units.
std::string boxes3mf(const Vec3& size, const std::string& unit);

} // namespace alder::test
