#include "rehearse/simulated_machine.h"

#include "base/units.h"
#include <cmath>

namespace alder {
namespace {

// Height of the real surface over the ideal one at a place of the undisturbed feature.
double form(const FeatureDefect& d, const Ideal& ideal, const Vec3& p) {
  double height = 0;
  const Frame frame = frameOf(ideal.point, ideal.direction);
  const Vec3 q = frame.inverse() * p;
  if (d.lobes > 0)
    height += d.lobe_amplitude * std::cos(d.lobes * std::atan2(q.y(), q.x()) + d.lobe_phase);
  if (d.waves > 0) {
    const bool round = ideal.type == SurfaceType::Cylinder || ideal.type == SurfaceType::Cone;
    const double extent = round ? std::max(ideal.length, 1.0) : 100.0;
    const double place = round ? q.z() : q.x() + 0.5 * q.y();
    height += d.wave_amplitude * std::sin(2 * kPi * d.waves * place / extent);
  }
  return height;
}

} // namespace

SimulatedMachine::SimulatedMachine(const Plan& plan, const Defects& defects, std::uint64_t seed)
    : plan_(plan)
    , defects_(asMade(plan, defects))
    , true_placement_(defects.misplacement * plan.placement)
    , true_inverse_(true_placement_.inverse())
    , random_(seed) {}

NominalSurface& SimulatedMachine::surface(FeatureId feature) {
  auto found = surfaces_.find(feature);
  if (found == surfaces_.end())
    found = surfaces_.emplace(feature, NominalSurface(plan_.part, plan_.nominal(feature))).first;
  return found->second;
}

double SimulatedMachine::distance(FeatureId feature, FaceId face, const Vec3& machine_point) {
  Vec3 p = true_inverse_ * machine_point;
  const FeatureDefect* d = defects_.of(feature);
  if (!d) return surface(feature).distance(face, p);
  const Ideal& ideal = plan_.nominal(feature).ideal;
  p = smallMotion(d->tilt, d->move, ideal.point).inverse() * p;
  // A larger hole lies deeper in the material, a larger boss farther out of it.
  const double grown = (ideal.hole ? 1 : -1) * d->resize / 2;
  return surface(feature).distance(face, p) + grown - d->offset - form(*d, ideal, p);
}

Result<Vec3> SimulatedMachine::touch(FeatureId feature, FaceId face, double ball_radius,
                                     const Vec3& from, const Vec3& towards, double search) {
  const Vec3 step = towards - from;
  const double planned = step.norm();
  const Vec3 u = step / std::max(planned, 1e-12);
  double t = planned;
  bool met = false;
  for (int i = 0; i < 60 && !met; ++i) {
    const double gap = distance(feature, face, from + t * u) - ball_radius;
    t += gap; // the touch runs along the normal, so that the gap is nearly the way left
    met = std::abs(gap) < 1e-10;
    if (!std::isfinite(t) || t > planned + search || t < -search) break;
  }
  if (!met)
    return fail(
        "Touch on {} met nothing within the search distance; the part lies elsewhere than planned.",
        plan_.nominal(feature).name);
  return Vec3(from + (t + plan_.bench.machine.probing_noise * random_.normal()) * u);
}

} // namespace alder
