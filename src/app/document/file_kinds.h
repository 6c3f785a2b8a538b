// Patterns for file choosers; endings in both cases, since choosers tell them apart.
#pragma once

#include <QString>

namespace alder::app {

inline const QString kPartPatterns =
    "*.step *.stp *.igs *.iges *.brep *.brp *.STEP *.STP *.IGS *.IGES *.BREP *.BRP";
inline const QString kMeshPatterns = "*.stl *.ply *.3mf *.STL *.PLY *.3MF";

// Is it a CAD file that can be a part, by its name?
bool isPartFile(const QString& path);

} // namespace alder::app
