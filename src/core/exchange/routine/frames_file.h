// Part frames in a file of their own (*.json), for other routines and other programs: how they are
// found, features by name, and where the part lay by them. Format in docs/files.md.
#pragma once

#include "bench/json_fields.h"
#include "plan/plan.h"

namespace alder {

struct FramesFile {
  std::vector<PartFrame> frames;
  std::vector<KeptFrame> kept; // places of the part, CAD frame in the machine frame
};

// Those that a stage names; what is not touched in this routine is complained of.
std::vector<FeatureId> featuresByName(const JsonFields& stage, const Plan& plan);

std::string framesText(const Plan& plan, const FramesFile& file);
// Error names the field, or the feature that this routine does not have.
Result<FramesFile> framesFromText(const std::string& text, const std::string& label,
                                  const Plan& plan);

// Those of the routine with those of the file, which replace what has their names.
std::vector<PartFrame> withFrames(std::vector<PartFrame> frames,
                                  const std::vector<PartFrame>& more);

} // namespace alder
