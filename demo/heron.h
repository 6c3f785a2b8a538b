// The demo part TW-40 "Heron", a gauge head of Saltmarsh Instruments, with its tolerances; its
// fixture, bench and a set of defects. Everything in demo/data is written by this code.
#pragma once

#include "base/error.h"
#include <TopoDS_Shape.hxx>
#include <string>

namespace alder::demo {

// B is the demo. In C two holes of the circle lie elsewhere, a vent hole is new, the keyway is
// gone, and three tolerances are closer.
enum class HeronRevision { B, C };

TopoDS_Shape heronShape(HeronRevision revision = HeronRevision::B);
// STEP AP242 with all tolerances; unit MM, INCH or M.
Result<std::string> heronStep(const std::string& unit = "MM",
                              HeronRevision revision = HeronRevision::B);
Result<std::string> heronPlainStep(HeronRevision revision = HeronRevision::B); // without any
std::string benchJson(bool with_fixture); // machine, head, styli, sphere; the Heron's fixture
std::string defectsJson();                // what the simulated part has wrong

} // namespace alder::demo
