// Where the points of a run came from when no machine touched them: a line above the table.
#pragma once

#include "judge/measurement.h"
#include <optional>
#include <string>

namespace alder {

struct CloudHead {
  std::string file, hash, form; // of the cloud
  std::string unit;             // its figures were taken as
  std::string fit;              // how it was placed: "ls", "worst", "datums of 12"
  std::size_t points = 0, used = 0;
  double rms = 0;                        // of those used, mm
  double edge = 0, reach = 0;            // left out along edges, and farther away; mm
  Frame placement = Frame::Identity();   // frame of the cloud, in mm -> CAD frame
  std::map<FeatureId, std::size_t> from; // points of the cloud in each feature
};

std::string cloudLine(const CloudHead& head); // with its line end
// Of the lines above a table; nothing where none is such a line, or it cannot be read.
std::optional<CloudHead> cloudHeadIn(const std::string& csv);

} // namespace alder
