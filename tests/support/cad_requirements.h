// Requirements as the CAD library reads them from a file: a second reader, which shares no code
// with ours. One line each, sorted; the same of a specification, to compare with.
#pragma once

#include "requirement/specification.h"

namespace alder::test {

// "position 0.25 diametral M of A | B M on 2+0", "diameter 12 0.05/0.15 on 1+0"
std::vector<std::string> cadRequirements(const std::string& step);
// The library gives nominal values in the units of the file, deviations of angles in degrees, and
// those below the nominal without their sign. Limits on one side of the nominal it does not
// understand; tolerances per unit length, and unequally disposed ones without datums or with
// further modifiers, it does not read: they are left out here, as are modifiers of dimensions,
// which it looks for in a list without its type.
std::vector<std::string> cadWords(const Specification& spec, double mm_per_unit);

// Saved views as the library reads them; sizes in the file's units.
struct CadView {
  std::string name;
  Vec3 towards, up;
  double width = 0, height = 0;
};
std::vector<CadView> cadViews(const std::string& step);

} // namespace alder::test
