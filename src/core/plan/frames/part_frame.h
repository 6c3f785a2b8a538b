// A named part frame: how the CAD frame is found in what was measured. Lengths mm, angles radians.
#pragma once

#include "base/error.h"
#include "base/id.h"
#include "geometry/vec.h"
#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

// InOrder: each stage fixes what those before it leave free (ISO 5459), which is levelling, turning
// and origin. Else all features together: by least squares; so that the worst is least; or so that
// the largest share of its band that a point uses is least.
enum class FrameFit { InOrder, LeastSquares, LeastWorst, InsideBand };
inline constexpr std::array kFrameFits{FrameFit::InOrder, FrameFit::LeastSquares,
                                       FrameFit::LeastWorst, FrameFit::InsideBand};
// "in order", "least squares", "minimax", "inside the band"
std::string_view name(FrameFit fit);

// How far a surface may lie off where the model has it, outward positive.
struct Band {
  double lower = 0, upper = 0;
  friend bool operator==(const Band&, const Band&) = default;
};

// Features that act together.
struct FrameStage {
  std::vector<FeatureId> features;
  std::string
      locks; // of "xyzuvw", along and about the CAD axes, what it may fix; empty: all it can
  double weight = 1;        // deviations count this many times where all are fitted together
  std::optional<Band> band; // none: that of the tightest profile tolerance of each feature
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

// A name, letters of "xyzuvw" each once, weights above 0, bands that are open.
Done validate(const PartFrame& frame);

} // namespace alder
