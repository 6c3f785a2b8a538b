// Sizes, distances and angles of a STEP file with their values, limits and fits.
#pragma once

#include "part/aspect_resolver.h"

namespace alder {

std::vector<PmiDimension> readDimensions(const StepText& text, const AspectResolver& aspects,
                                         std::vector<Note>& notes);

} // namespace alder
