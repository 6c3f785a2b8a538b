// Names of attributes of our own, for what QIF has no element for. docs/qif/README.md tells what
// stands in each.
#pragma once

namespace alder::qif {

inline constexpr const char* kOwnJudging = "alderpoint.judging";
inline constexpr const char* kOwnFeature = "alderpoint.feature";
inline constexpr const char* kOwnDatum = "alderpoint.datum";
inline constexpr const char* kOwnMeasuring = "alderpoint.measuring";
inline constexpr const char* kOwnPlan = "alderpoint.plan";
inline constexpr const char* kOwnRun = "alderpoint.run";
inline constexpr const char* kOwnValue = "alderpoint.value";

} // namespace alder::qif
