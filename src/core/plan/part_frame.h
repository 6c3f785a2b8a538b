// A named part frame: how the CAD frame is found in what was measured. Lengths mm, angles radians.
#pragma once

#include "base/error.h"
#include "base/id.h"
#include "geometry/vec.h"
#include <string>
#include <string_view>
#include <vector>

namespace alder {

// InOrder: each stage fixes what those before it leave free (ISO 5459), which is levelling, turning
// and origin. Else all features together, by least squares or so that the worst is least.
enum class FrameFit { InOrder, LeastSquares, LeastWorst };
std::string_view name(FrameFit fit); // "in order", "least squares", "least worst"

// Features that act together.
struct FrameStage {
  std::vector<FeatureId> features;
  std::string
      locks; // of "xyzuvw", along and about the CAD axes, what it may fix; empty: all it can
  friend bool operator==(const FrameStage&, const FrameStage&) = default;
};

struct PartFrame {
  std::string name;
  FrameFit fit = FrameFit::InOrder;
  std::vector<FrameStage> stages;
  // Directions of "xyzuvw" in which a fit of all together may not move the part, such as those that
  // a machine tool of three axes cannot correct.
  std::string held;
  // Where the features should be instead of where the model has them: the found frame is moved back
  // by this, CAD axes.
  Vec3 shift = Vec3::Zero(), turn = Vec3::Zero();
  friend bool operator==(const PartFrame&, const PartFrame&) = default;
};

// A name, and letters of "xyzuvw" each once.
Done validate(const PartFrame& frame);

} // namespace alder
