#include "exchange/dmis/dmis_own_features.h"

#include "plan/constructions/constructed_feature.h"
#include "plan/feature_edit.h"
#include "plan/touches/recipe_book.h"
#include "requirement/from_pmi.h"
#include <algorithm>

namespace alder::dmis {

std::optional<OwnKind> ownKind(const std::string& word) {
  if (word == "CIRCLE" || word == "ARC") return OwnKind::Circle;
  if (word == "LINE") return OwnKind::Line;
  if (word == "POINT" || word == "EDGEPT") return OwnKind::Point;
  return {};
}

std::string nameFrom(const Specification& spec, const std::string& wanted) {
  const bool taken = std::any_of(spec.features.begin(), spec.features.end(),
                                 [&](const NominalFeature& f) { return f.name == wanted; });
  return taken ? freeFeatureName(spec, wanted) : wanted;
}

bool answers(OwnKind kind, Characteristic asked) {
  using enum Characteristic;
  switch (kind) {
  case OwnKind::Circle:
    return asked == Size || asked == Roundness || asked == Position || asked == Distance ||
           asked == Coaxiality || asked == CircularRunout;
  case OwnKind::Line:
    return asked == Straightness;
  case OwnKind::Point:
    return asked == SurfaceProfile;
  }
  return false;
}

Result<OwnFeature> addOwnFeature(Plan& plan, OwnKind kind, const std::string& name,
                                 FeatureId carrier, std::vector<Touch> touches) {
  const NominalFeature& on = plan.nominal(carrier);
  const bool round = on.ideal.type == SurfaceType::Cylinder || on.ideal.type == SurfaceType::Cone;
  if (kind == OwnKind::Circle && !round)
    return fail("it is touched on a {}, which has no circles", alder::name(on.ideal.type));
  if (kind == OwnKind::Circle && touches.size() < 3)
    return fail("a circle needs three touches, it has {}", touches.size());
  if (kind == OwnKind::Line && touches.size() < 2) return fail("a line needs two touches");
  AddFeature add;
  add.nominal = on;
  add.nominal.id = plan.spec.features.next();
  add.nominal.name = nameFrom(plan.spec, kind == OwnKind::Circle ? name + " touches" : name);
  add.nominal.from.reset();
  add.nominal.as_touched = true;
  add.feature.id = add.nominal.id;
  add.feature.recipe = recipeFor(add.nominal, plan.spec, plan.book);
  // One ring, one line.
  for (Touch& t : touches)
    t.row = 0;
  add.feature.touches = std::move(touches);
  const FeatureId touched = add.nominal.id;
  if (auto added = addFeature(plan, add); !added) return pass(added.error());
  if (kind != OwnKind::Circle) return OwnFeature{kind, touched, touched};
  Construction section;
  section.kind = ConstructionKind::Section;
  section.of = {touched};
  auto spec = withConstructed(plan, section, nameFrom(plan.spec, name));
  if (!spec) return fail("{}", spec.error().message);
  plan.spec = std::move(*spec);
  Feature result;
  result.id = plan.spec.features.back().id;
  plan.features.push_back(result);
  return OwnFeature{kind, touched, result.id};
}

} // namespace alder::dmis
