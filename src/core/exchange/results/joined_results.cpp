#include "exchange/results/joined_results.h"

#include "base/hash.h"
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

// The points of one feature of the routine, each as a touch of it.
struct JoinedPoints {
  const StatedPoints* stated = nullptr;
  FeatureId feature;
  bool as_planned = false;
  std::vector<Touch> touches;
};

constexpr double kSamePlace = 0.01, kSameTouch = 2; // mm

// Each is the touch of its number, or, where the file names no nominal places, near to it.
bool asPlanned(const Feature& feature, const StatedPoints& points) {
  const bool nominal = points.nominals.size() == points.rows.size();
  for (std::size_t i = 0; i < points.rows.size(); ++i) {
    const auto touch = static_cast<std::size_t>(points.numbers[i]) - 1;
    if (points.numbers[i] < 1 || touch >= feature.touches.size()) return false;
    const Vec3& said = nominal ? points.nominals[i] : points.places[i];
    if ((said - feature.touches[touch].point).norm() > (nominal ? kSamePlace : kSameTouch))
      return false;
  }
  return true;
}

// Towards which it was touched, where nothing says it: out of the face that lies nearest.
Vec3 normalAt(const NominalSurface& surface, const NominalFeature& feature, const Vec3& place) {
  std::pair<double, Vec3> best{1e300, Vec3::UnitZ()};
  for (const FaceId face : feature.faces)
    if (const double off = std::abs(surface.distance(face, place)); off < best.first)
      best = {off, surface.normal(face, place)};
  return best.second;
}

// False: they do not lie on the feature.
bool joinTouches(const Plan& plan, const MeshTree& part, JoinedPoints& joined) {
  const StatedPoints& points = *joined.stated;
  joined.as_planned = asPlanned(plan.feature(joined.feature), points);
  const auto& planned = plan.feature(joined.feature).touches;
  if (joined.as_planned) {
    for (const int number : points.numbers)
      joined.touches.push_back(planned[static_cast<std::size_t>(number) - 1]);
    return true;
  }
  const NominalFeature& feature = plan.nominal(joined.feature);
  const NominalSurface surface(plan.part, feature);
  for (std::size_t i = 0; i < points.rows.size(); ++i) {
    const Vec3 place =
        points.nominals.size() == points.rows.size() ? points.nominals[i] : points.places[i];
    const Vec3 normal = points.normals.size() == points.rows.size()
                            ? points.normals[i]
                            : normalAt(surface, feature, place);
    joined.touches.push_back({place, normal, FaceId{}, 0});
  }
  return settleTouches(plan, part, joined.feature, joined.touches);
}

// Columns and rows of a run. Points that were not touched as the routine plans it say themselves
// which ring and face they are of.
std::string tableOf(const ResultsOfPart& part, const std::vector<JoinedPoints>& all) {
  const bool own = part.columns.ends_with(",row,face,noise");
  const bool free = !own && std::any_of(all.begin(), all.end(),
                                        [](const JoinedPoints& j) { return !j.as_planned; });
  const bool nominals = part.columns.find(",nx,ny,nz") != std::string::npos;
  std::string text = "feature," + part.columns;
  if (free) text += std::string(nominals ? "" : ",nx,ny,nz") + ",row,face,noise";
  text += "\n";
  for (const JoinedPoints& j : all)
    for (std::size_t i = 0; i < j.stated->rows.size(); ++i) {
      text += idText(j.feature) + "," + j.stated->rows[i];
      if (free) {
        const Touch& t = j.touches[i];
        if (!nominals)
          text += fmt::format(",{:.6f},{:.6f},{:.6f}", t.point.x(), t.point.y(), t.point.z());
        text += fmt::format(",{},{},0", t.row, t.face.value);
      }
      text += "\n";
    }
  return text;
}

void joinPoints(const Plan& plan, const MeshTree& mesh,
                const std::map<std::string, FeatureId>& identities, const ResultFile& file,
                ResultsOfPart& part, std::vector<std::string>& remarks) {
  const bool own = part.columns.ends_with(",row,face,noise");
  std::vector<JoinedPoints> all;
  for (const StatedPoints& points : part.points) {
    const auto tell = [&](const char* what) {
      remarks.push_back(fmt::format("Line {}: the {} points of {} {}.", points.line,
                                    points.rows.size(),
                                    points.name.empty() ? "a feature" : points.name, what));
    };
    const auto feature = featureOf(plan, identities, points);
    if (!feature || plan.nominal(*feature).isConstructed()) {
      tell("are of no feature of this routine");
      continue;
    }
    all.push_back({&points, *feature, own, {}});
    if (own || joinTouches(plan, mesh, all.back())) continue;
    all.pop_back();
    tell("do not lie on it as this routine has it");
  }
  if (all.empty()) return;
  const std::string table = tableOf(part, all);
  std::string text;
  bool id = false;
  for (const std::string& line : part.head) {
    text += line + "\n";
    id |= line.starts_with("# run: ");
  }
  if (!id) text += "# run: " + hashText(hashOfLong(table, hashOf(part.serial))) + "\n";
  text += "# results of: " + file.name + " (" + resultFileHash(file.bytes) + ")\n" + table;
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
  const MeshTree mesh(plan.part->mesh);
  for (const Requirement& r : plan.spec.requirements)
    requirements[ids.uuid(qif::Thing::CharacteristicItem, r.id.value)] = r.id;
  for (const NominalFeature& f : plan.spec.features)
    features[ids.uuid(qif::Thing::FeatureItem, f.id.value)] = f.id;
  for (ResultsOfPart& part : file.read.parts) {
    for (StatedResult& v : part.values)
      if (const auto known = requirements.find(v.uuid); known != requirements.end())
        v.requirement = known->second;
    if (!part.points.empty()) joinPoints(plan, mesh, features, file, part, file.read.remarks);
  }
}

} // namespace alder
