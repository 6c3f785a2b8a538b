#include "part/step_place.h"

namespace alder {
namespace {

std::optional<Vec3> vectorAt(const StepText& text, int id, const char* type) {
  const auto instance = text.anyInstance(id);
  const StepRecord* r = instance ? instance->find(type) : nullptr;
  if (!r || r->values.size() < 2 || r->values[1].items.size() != 3) return {};
  Vec3 v;
  for (int k = 0; k < 3; ++k) {
    const StepValue& c = r->values[1].items[static_cast<std::size_t>(k)];
    if (c.kind != StepValue::Kind::Number) return {};
    v[k] = c.number;
  }
  return v;
}

} // namespace

std::optional<Vec3> pointAt(const StepText& text, int cartesian_point) {
  return vectorAt(text, cartesian_point, "CARTESIAN_POINT");
}

std::optional<StepPlace> placeAt(const StepText& text, int axis2_placement_3d, double mm_per_unit) {
  const auto instance = text.anyInstance(axis2_placement_3d);
  const StepRecord* r = instance ? instance->find("AXIS2_PLACEMENT_3D") : nullptr;
  if (!r || r->values.size() < 2) return {};
  const auto origin = pointAt(text, r->values[1].reference);
  if (!origin) return {};
  StepPlace place;
  place.origin = *origin * mm_per_unit;
  const auto direction = [&](std::size_t i) -> std::optional<Vec3> {
    if (i >= r->values.size() || !r->values[i].isReference()) return {};
    return vectorAt(text, r->values[i].reference, "DIRECTION");
  };
  if (const auto z = direction(2); z && z->norm() > 0) place.z = z->normalized();
  Vec3 x = direction(3).value_or(Vec3::UnitX());
  x -= x.dot(place.z) * place.z;
  if (x.norm() < 1e-9) x = place.z.unitOrthogonal();
  place.x = x.normalized();
  return place;
}

} // namespace alder
