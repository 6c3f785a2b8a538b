// Profile filters and outliers. Lengths mm.
#pragma once

#include "base/error.h"
#include <functional>
#include <string>
#include <vector>

namespace alder {

enum class FilterKind {
  None,
  Gaussian, // ISO 16610-21; ends of open profiles by the moment criterion of ISO 16610-28
  Robust,   // ISO 16610-31: the same, blind to what stands out
};
std::string_view name(FilterKind kind); // "none", "gaussian", "robust"
Result<FilterKind> filterKindNamed(std::string_view name);

// What is done to the measured points before anything is associated: outliers go first.
struct Filtering {
  FilterKind kind = FilterKind::None;
  double cutoff = 0;        // wavelength passed by half, mm along the profile
  double undulations = 0;   // per revolution, of closed profiles; counts where no cut-off is given
  double outlier_sigma = 0; // farther out than this many standard deviations; 0: none
  double outlier_share = 0; // this share of the points, the farthest; 0: none
  bool any() const { return kind != FilterKind::None || outlier_sigma > 0 || outlier_share > 0; }
  friend bool operator==(const Filtering&, const Filtering&) = default;
};
Done validate(const Filtering& filtering);
// "robust Gaussian filter 15 undulations per revolution, outliers beyond 3 sigma left out"
std::string describe(const Filtering& filtering);

// Values over positions along a line, ascending, or round a closed curve of length `period`.
struct Profile {
  std::vector<double> positions, values;
  double period = 0; // 0: open
};

// The long waves of the profile: at `cutoff` half the amplitude is left. Unequal spacing is
// weighed. Straight lines pass an open filter unchanged.
std::vector<double> filtered(const Profile& profile, FilterKind kind, double cutoff);

// Which of `count` points stay. `deviations` returns the deviations of the points kept so far from
// the feature associated with them anew, in the same order. Repeated until nothing more goes. Error
// when fewer than half would be left, and when the association fails.
using DeviationsOf = std::function<Result<std::vector<double>>(const std::vector<std::size_t>&)>;
Result<std::vector<std::size_t>> withoutOutliers(std::size_t count, const Filtering& filtering,
                                                 const DeviationsOf& deviations);

} // namespace alder
