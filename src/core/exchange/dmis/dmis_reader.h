// A routine from a DMIS program (ISO 22093), for a part whose model is there. What of it is covered
// stands in docs/dmis.md.
#pragma once

#include "exchange/machine/program_file.h"

namespace alder {

// Notes with this beginning are statements that were not understood, kept in their place: "DMIS
// line 12: STATEMENT". They are written back as comments.
inline constexpr std::string_view kDmisNote = "DMIS line ";
// Comments with this beginning are steps that DMIS has no statement for: "step {JSON}", as in
// docs/files.md.
inline constexpr const char* kDmisOwnStep = "step ";
// Ends a group, which is such a step.
inline constexpr const char* kDmisGroupEnd = "end of group";
// With these, how a frame is found, beside the LOCATE that says it for other programs, and a place
// that is kept with the fixture.
inline constexpr const char* kDmisOwnFrame = "frame ";
inline constexpr const char* kDmisOwnPlace = "place ";

// Before TRANS and ROTATE that say where the part was planned to lie.
inline constexpr const char* kDmisPlanned = "where the part was planned to lie";

// Before the results of a tolerance that are one requirement of several features.
inline constexpr const char* kDmisAsOne = "one requirement of all: ";
// Said before words to the operator, and moves after them, that belong to the planned way: it is
// made anew when the program is read.
inline constexpr const char* kDmisOwnWay = "planned way";
inline constexpr const char* kDmisOwnWayEnd = "end of planned way";

Result<ProgramRead> readDmis(const std::string& program, const std::string& label, Plan base);

} // namespace alder
