// Semantic PMI out of the records of a STEP file (AP203 edition 2, AP214, AP242). The rule: each
// attribute that bears on a requirement is used, or told.
#pragma once

#include "part/pmi/pmi.h"
#include "part/step_text.h"
#include <functional>

namespace alder {

// `facesOf(id)` gives the part's faces for a topological entity (face, shell or solid) of the file,
// none if unknown. What cannot be understood becomes a note with the entity's id.
using FacesOfEntity = std::function<std::vector<FaceId>(int entity)>;
Pmi readPmi(const StepText& text, const FacesOfEntity& facesOf, std::vector<Note>& notes);

} // namespace alder
