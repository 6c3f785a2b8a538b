#include "rehearse/defects.h"

#include "base/units.h"
#include "bench/json_fields.h"

namespace alder {

std::string idText(FeatureId f) { return "F" + std::to_string(f.value + 1); }
std::string idText(RequirementId r) { return "R" + std::to_string(r.value + 1); }

std::optional<FeatureId> featureNamed(const Plan& plan, const std::string& text) {
  for (const NominalFeature& f : plan.spec.features)
    if (f.name == text || idText(f.id) == text) return f.id;
  return {};
}

const FeatureDefect* Defects::of(FeatureId feature) const {
  for (const auto& [id, defect] : features)
    if (id == feature) return &defect;
  return nullptr;
}

namespace {

FeatureDefect readFeature(const JsonFields& f) {
  FeatureDefect d;
  d.move = f.vector("move_mm", Vec3::Zero());
  d.tilt = f.vector("tilt_deg", Vec3::Zero()) * (kPi / 180);
  d.resize = f.number("resize_mm", 0);
  if (f.has("lobes")) {
    const auto l = f.object("lobes");
    d.lobes = l.integer("count", 2);
    d.lobe_amplitude = l.number("amplitude_mm");
    d.lobe_phase = radians(l.number("phase_deg", 0));
    if (d.lobes < 1) l.complain("count", "must be 1 or more");
  }
  if (f.has("waves")) {
    const auto w = f.object("waves");
    d.waves = w.positive("count");
    d.wave_amplitude = w.number("amplitude_mm");
  }
  return d;
}

} // namespace

Result<Defects> readDefects(const std::string& text, const std::string& label, const Plan& plan) {
  auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  Defects result;
  if (f.has("part")) {
    const auto p = f.object("part");
    const Vec3 angle = p.vector("turn_deg", Vec3::Zero()) * (kPi / 180);
    const Vec3 origin = plan.placement.translation();
    result.misplacement = smallMotion(angle, p.vector("move_mm", Vec3::Zero()), origin);
  }
  for (const auto& item : f.list("features")) {
    const auto name = item.text("feature");
    const auto id = featureNamed(plan, name);
    if (!id)
      item.complain("feature", "\"" + name + "\" is not a feature of this routine");
    else
      result.features.emplace_back(*id, readFeature(item));
  }
  if (auto done = f.done(); !done) return pass(done.error());
  return result;
}

} // namespace alder
