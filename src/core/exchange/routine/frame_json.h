// Part frames as JSON, both directions. What names a feature there is for whoever writes the file.
#pragma once

#include "bench/json_fields.h"
#include "plan/frames/part_frame.h"
#include <functional>

namespace alder {

Json frameJson(const PartFrame& frame, const std::function<Json(FeatureId)>& feature);
// `features` reads those of a stage. What is wrong is complained of.
PartFrame readPartFrame(const JsonFields& f,
                        const std::function<std::vector<FeatureId>(const JsonFields&)>& features);

} // namespace alder
