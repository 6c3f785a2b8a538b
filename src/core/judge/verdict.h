// The verdict on a requirement, with the figures and how they came about.
#pragma once

#include "fit/association.h"
#include "judge/measurement.h"
#include <optional>
#include <string>

namespace alder {

// Near: within, but the share of the tolerance used is above the one from which to warn. NotProved:
// the uncertainty leaves open whether it is within (ISO 14253-1). Names are those used in files.
enum class Verdict { Within, Near, NotProved, Outside, Unmeasured };
inline constexpr int kVerdictCount = 5;
std::string_view name(Verdict verdict); // "within", "near", "not proved", "outside", "unmeasured"
std::string_view
words(Verdict verdict); // for people: "near a limit", "not measured", else its name

// One feature of a pattern.
struct FeatureResult {
  FeatureId feature;
  double actual = 0;             // mm or radians, as the requirement counts
  double allowed = 0;            // zone with bonus; of dimensions the width of the limits
  double share = 0;              // of the tolerance used; above 1 is outside
  Vec3 offset = Vec3::Zero();    // position: actual from nominal, in the datum system, CAD axes
  Vec3 unshifted = Vec3::Zero(); // the same before a datum shift
  std::vector<double>
      deviations;                // per measured point from nominal, outward positive; NaN: left out
  std::vector<Contact> contacts; // form: the points that hold the zone
  // Located and oriented axes, planes and centres: places on the nominal one and how far the actual
  // one lies off there, in the datum system, CAD axes.
  std::vector<std::pair<Vec3, Vec3>> samples;
  double moved = 0;                      // where the middle of a profile zone lies, outward
  Verdict verdict = Verdict::Unmeasured; // of this feature by itself
};

// By which deviations are drawn and coloured: the tolerance; where there is none, of a single
// limit, twice the largest deviation that is not left out.
double drawnWidth(const FeatureResult& result);

struct Evaluation {
  RequirementId requirement;
  Verdict verdict = Verdict::Unmeasured;
  std::optional<double> actual;    // mm or radians
  std::optional<double> deviation; // dimensions: actual - nominal
  double lower = 0, upper = 0;     // limits that applied, with bonus and reciprocity
  double share = 0;
  double guard = 0;                    // of the uncertainty, 0: none given
  std::vector<FeatureResult> features; // worst first
  std::string how; // standard, associations, datum system; or why there is no figure
};

// The figures of it alone, as many parts have them.
struct BriefVerdict {
  Verdict verdict = Verdict::Unmeasured;
  std::optional<double> actual; // this and the rest as above
  double lower = 0, upper = 0;
  double share = 0;
  friend bool operator==(const BriefVerdict&, const BriefVerdict&) = default;
};
BriefVerdict brief(const Evaluation& evaluation);
using BriefVerdicts = std::map<RequirementId, BriefVerdict>;
BriefVerdicts brief(const std::vector<Evaluation>& evaluations);

// Null: that requirement was not judged with them.
const Evaluation* evaluationOf(const std::vector<Evaluation>& all, RequirementId requirement);

} // namespace alder
