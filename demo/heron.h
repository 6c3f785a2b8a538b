// The demo part TW-40 "Heron", a gauge head of Saltmarsh Instruments, with its tolerances; its
// fixture, bench and a set of defects. Everything in demo/data is written by this code.
#pragma once

#include "base/error.h"
#include <TopoDS_Shape.hxx>
#include <string>

namespace alder::demo {

TopoDS_Shape heronShape();
// STEP AP242 with all tolerances; unit MM, INCH or M.
Result<std::string> heronStep(const std::string& unit = "MM");
Result<std::string> heronPlainStep();     // without any
std::string benchJson(bool with_fixture); // machine, head, styli, sphere; the Heron's fixture
std::string defectsJson();                // what the simulated part has wrong

} // namespace alder::demo
