// Which kind of CAD file it is, by what is in it and not by its name.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace alder {

enum class CadKind { Step, Iges, Brep, Stl, Ply, ThreeMf };

// None: none of these.
std::optional<CadKind> cadKindOf(std::string_view bytes);
std::string_view name(CadKind kind);   // "IGES"
std::string_view ending(CadKind kind); // ".igs"
// Triangles only: good for a fixture, not for a part.
bool isMesh(CadKind kind);
// Endings of files that can be a part, or a fixture as well; with the dot, lower case.
bool isPartEnding(std::string_view ending);

} // namespace alder
