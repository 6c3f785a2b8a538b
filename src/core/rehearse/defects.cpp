#include "rehearse/defects.h"

#include "base/units.h"
#include "bench/json_fields.h"
#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <map>

namespace alder {

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
  d.offset = f.number("offset_mm", 0);
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

Defects asMade(const Plan& plan, const Defects& given) {
  std::map<FeatureId, FeatureDefect> all;
  // What a shop would aim at where the model's figure is far from it: the middle of the limits, or
  // a little within a single one.
  const auto aimed = [](double figure, const Requirement& r) -> std::optional<double> {
    constexpr double kWithin = 0.02;
    if (hasSingleLimit(r)) {
      if (shareOfLimits(r, figure) <= 1) return {};
      return hasUpper(r) ? r.upper - kWithin * std::abs(r.upper)
                         : r.lower + kWithin * std::abs(r.lower);
    }
    const double middle = (r.lower + r.upper) / 2;
    if (std::abs(figure - middle) <= 0.35 * (r.upper - r.lower)) return {};
    return middle;
  };
  for (const Requirement& r : plan.spec.requirements) {
    if (r.features.empty() || r.tolerance <= 0) continue;
    if (r.kind == Characteristic::Size) {
      for (FeatureId f : r.features) {
        const double factor = r.radius ? 2 : 1, size = plan.nominal(f).ideal.diameter;
        if (size <= 0) continue;
        if (const auto aim = aimed(size / factor, r)) all[f].resize = factor * *aim - size;
      }
    } else if (r.kind == Characteristic::Distance && r.features.size() == 2) {
      const Ideal &a = plan.nominal(r.features[0]).ideal, &b = plan.nominal(r.features[1]).ideal;
      if (a.type != SurfaceType::Plane || b.type != SurfaceType::Plane) continue;
      const double distance = (b.point - a.point).dot(a.direction);
      if (const auto aim = aimed(std::abs(distance), r))
        all[r.features[1]].move = (*aim * (distance < 0 ? -1 : 1) - distance) * a.direction;
    } else if (r.kind == Characteristic::SurfaceProfile &&
               std::abs(zoneMiddle(r)) > 0.35 * r.tolerance) {
      for (FeatureId f : r.features)
        all[f].offset = zoneMiddle(r);
    }
  }
  for (const auto& [f, d] : given.features) {
    FeatureDefect sum = d;
    sum.resize += all[f].resize;
    sum.move += all[f].move;
    sum.offset += all[f].offset;
    all[f] = sum;
  }
  Defects result{{}, given.misplacement};
  for (const NominalFeature& f : plan.spec.features) // the same surface
    if (f.portion)
      if (const auto whole = all.find(f.portion->of); whole != all.end()) all[f.id] = whole->second;
  result.features.assign(all.begin(), all.end());
  return result;
}

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
