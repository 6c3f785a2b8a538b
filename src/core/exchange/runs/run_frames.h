// Where a part lay by the frames of its run, as lines above the points of a stored run.
#pragma once

#include "run/run.h"

namespace alder {

// "# part frame {…}", and "# frame {…}" for each that was used by name, in order.
std::string frameLines(const Run& run);

struct RunFrames {
  std::optional<Frame> part;    // CAD frame in the machine frame, in which the points count
  std::vector<KeptFrame> named; // in the order of their use
};
// What cannot be read is passed over: the points do not depend on it.
RunFrames framesIn(const std::string& csv);

// Where the part lay: as told above the points, else found again from what was touched. Error as of
// alignedFrame, or where nothing tells it.
Result<Frame> partFrameOf(const Plan& plan, const std::string& csv, const std::string& label);

} // namespace alder
