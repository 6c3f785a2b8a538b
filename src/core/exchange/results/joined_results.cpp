#include "exchange/results/joined_results.h"

#include "exchange/points/points_file.h"
#include "exchange/qif/qif_ids.h"
#include "exchange/results/bring_in.h"
#include "exchange/results/stated_lines.h"
#include "judge/judge.h"
#include "plan/id_text.h"
#include <algorithm>

namespace alder {
namespace {

std::optional<FeatureId> featureOf(const Plan& plan,
                                   const std::map<std::string, FeatureId>& identities,
                                   const StatedPoints& points) {
  if (const auto known = identities.find(points.uuid); known != identities.end())
    return known->second;
  if (!points.sought) return {};
  std::optional<std::pair<double, FeatureId>> best;
  for (const NominalFeature& f : plan.spec.features) {
    if (f.isConstructed()) continue;
    const auto off = distanceTo(f, *points.sought);
    if (!off) continue;
    const double far = *off + (f.name == points.name ? 0 : 1e4);
    if (!best || far < best->first) best = {far, f.id};
  }
  return best ? std::optional(best->second) : std::nullopt;
}

// Points that were not touched as the routine plans it belong to the face that lies nearest.
void joinPoints(const Plan& plan, const std::map<std::string, FeatureId>& identities,
                const ResultFile& file, ResultsOfPart& part, std::vector<std::string>& remarks) {
  std::string text;
  bool id = false;
  for (const std::string& line : part.head) {
    text += line + "\n";
    id |= line.starts_with("# run: ");
  }
  std::string rows;
  for (const StatedPoints& points : part.points) {
    const auto feature = featureOf(plan, identities, points);
    if (!feature || plan.nominal(*feature).isConstructed()) {
      remarks.push_back(fmt::format(
          "Line {}: the {} points of {} are of no feature of this routine.", points.line,
          points.rows.size(), points.name.empty() ? "a feature" : points.name));
      continue;
    }
    for (const std::string& row : points.rows)
      rows += idText(*feature) + "," + row + "\n";
  }
  if (rows.empty()) return;
  if (!id) text += "# run: " + hashText(hashOfLong(rows, hashOf(part.serial))) + "\n";
  text += "# results of: " + file.name + " (" + resultFileHash(file.bytes) + ")\n";
  text += "feature," + part.columns + "\n" + rows;
  const auto measured = measurementsIn(text, file.name, plan);
  if (!measured) {
    remarks.push_back("Its points cannot be judged: " + measured.error().message);
    return;
  }
  part.judged = knownFigures(plan.spec, brief(judgeAll(plan, *measured)));
  part.run = std::move(text);
}

} // namespace

void joinToRoutine(const Plan& plan, const KeptQif& kept, ResultFile& file) {
  const bool any =
      std::any_of(file.read.parts.begin(), file.read.parts.end(), [](const ResultsOfPart& p) {
        return !p.points.empty() ||
               std::any_of(p.values.begin(), p.values.end(),
                           [](const StatedResult& v) { return !v.uuid.empty(); });
      });
  if (!any) return;
  std::map<std::string, RequirementId> requirements;
  std::map<std::string, FeatureId> features;
  const qif::Ids ids(plan, kept);
  for (const Requirement& r : plan.spec.requirements)
    requirements[ids.uuid(qif::Thing::CharacteristicItem, r.id.value)] = r.id;
  for (const NominalFeature& f : plan.spec.features)
    features[ids.uuid(qif::Thing::FeatureItem, f.id.value)] = f.id;
  for (ResultsOfPart& part : file.read.parts) {
    for (StatedResult& v : part.values)
      if (const auto known = requirements.find(v.uuid); known != requirements.end())
        v.requirement = known->second;
    joinPoints(plan, features, file, part, file.read.remarks);
  }
}

} // namespace alder
