#include "heron_scan.h"

#include "base/units.h"
#include "rehearse/defects.h"
#include "scan.h"
#include <cmath>
#include <map>

namespace alder::demo {

std::string heronScan(const Plan& plan) {
  struct Made {
    Ideal ideal;
    FeatureDefect defect;
  };
  std::map<FaceId, Made> made;
  for (const auto& [id, defect] : asMade(plan, {}).features)
    for (const FaceId face : plan.nominal(id).faces)
      made[face] = {plan.nominal(id).ideal, defect};
  for (const NominalFeature& f : plan.spec.features)
    if (f.name == "Boss ø60")
      for (const FaceId face : f.faces) {
        made[face].ideal = f.ideal;
        made[face].defect.lobes = 3;
        made[face].defect.lobe_amplitude = 0.06;
      }
  ScanSettings s;
  s.points = 80000, s.noise = 0.006, s.seed = 40, s.spatter = 0.002;
  s.motion.linear() = Eigen::AngleAxisd(2.4, Vec3(0.5, -0.7, 0.4).normalized()).toRotationMatrix();
  s.motion.translation() = Vec3(-84, 212, 460);
  s.height = [&](FaceId face, const Vec3& place, const Vec3& normal) {
    const auto found = made.find(face);
    if (found == made.end()) return 0.0;
    const auto& [ideal, d] = found->second;
    double h = normal.dot(d.move) + d.offset + (ideal.hole ? -0.5 : 0.5) * d.resize;
    if (d.lobes > 0) {
      const Vec3 q = frameOf(ideal.point, ideal.direction).inverse() * place;
      h += d.lobe_amplitude * std::cos(d.lobes * std::atan2(q.y(), q.x()));
    }
    return h;
  };
  return plyOf(scanOf(*plan.part, s), false);
}

} // namespace alder::demo
