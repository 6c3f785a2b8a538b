// Pieces that a fixture is built from, by their measures. Each stands at its foot `at` and is
// turned about the vertical by `toward_deg`, its own X; the fields of each are in docs/files.md.
#pragma once

#include "bench/fixture.h"

namespace alder {

// "rest", "clamp", "vice", "v block", "plate".
const std::vector<std::string>& kitPieces();
// Likely measures for a piece that is added anew, as its JSON.
Json kitPiece(const std::string& piece, const std::string& name, const Vec3& at);
// Builds mesh, seats and kind from the fields of a piece.
void buildPiece(FixtureBody& body, const JsonFields& fields);

} // namespace alder
