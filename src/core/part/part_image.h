// A part as bytes, to be handed from one process to another of the same build: shape, faces,
// triangles, tolerances and notes, but not the file that it was read from.
#pragma once

#include "part/model.h"

namespace alder {

std::string partImage(const PartModel& part);
// Error when the bytes are not such an image. Throws nothing.
Result<std::shared_ptr<PartModel>> partFromImage(const std::string& image);

} // namespace alder
