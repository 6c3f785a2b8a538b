#include "judge/datum_system.h"

namespace alder {

Result<DatumSystem> datumSystemOf(const Plan& plan, const Requirement& r,
                                  const Measurements& measured) {
  DatumSystem system;
  std::vector<DatumStage> stages;
  for (const DatumReference& reference : r.datums) {
    DatumStage stage;
    for (const auto& letter : reference.letters) {
      stage.name += (stage.name.empty() ? "" : "-") + letter;
      const Datum* datum = plan.spec.datum(letter);
      if (!datum || datum->features.empty()) return fail("datum {} has no feature", letter);
      for (FeatureId id : datum->features) {
        const auto m = measured.find(id);
        if (m == measured.end())
          return fail("datum {} ({}) is not measured", letter, plan.nominal(id).name);
        if (static_cast<int>(m->second.points.size()) < 3)
          return fail("datum {} ({}) has too few points", letter, plan.nominal(id).name);
        const NominalSurface surface(plan.part, plan.nominal(id));
        for (auto& group : surface.group(m->second.points, m->second.faces, 0))
          stage.surfaces.push_back(std::move(group));
      }
    }
    system.how += (system.how.empty() ? "" : "|") + stage.name;
    stages.push_back(std::move(stage));
  }
  if (stages.empty()) {
    Points all;
    for (FeatureId id : r.features)
      if (const auto m = measured.find(id); m != measured.end())
        all.insert(all.end(), m->second.points.begin(), m->second.points.end());
    system.fit.centre = centroid(all);
    for (const Vec3& p : all)
      system.fit.scale = std::max(system.fit.scale, (p - system.fit.centre).norm());
    system.fit.freedom = system.fit.allFreedom();
    return system;
  }
  auto fit = fitInOrder(stages, Frame::Identity());
  if (!fit) return pass(fit.error());
  system.fit = std::move(*fit);
  return system;
}

} // namespace alder
