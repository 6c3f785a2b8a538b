#include "report/part_view.h"

#include <algorithm>

namespace alder {
namespace {

constexpr int kSmallWidth = 180, kSmallHeight = 130;
constexpr double kSeenWithin = 0.4; // mm behind what the picture shows
constexpr double kFromBelow = 0.15; // of all touches that must be seen more to look from below
constexpr double kShare = 0.45;     // of the part that a picture of a requirement shows at least

double sizeOf(const PartModel& part) {
  Box3 box;
  for (const Vec3& v : part.mesh.vertices)
    box.extend(v);
  return box.isEmpty() ? 1 : box.diagonal().norm();
}

} // namespace

PartView wholeView(const Plan& plan) {
  const Mat3 back = plan.placement.linear().transpose();
  return {back * Vec3(0.55, -0.95, 0.85), back * Vec3::UnitZ(), {}, {}};
}

PartView viewOf(const KeptView& kept, double width, double height) {
  return {kept.towards, kept.up,
          PictureWindow{kept.centre, std::max(kept.width, kept.height * width / height)},
          kept.section};
}

ViewFinder::ViewFinder(const Plan& plan)
    : plan_(plan) {
  const PartView whole = wholeView(plan);
  sides_.push_back({whole, nullptr});
  const Mat3 back = plan.placement.linear().transpose();
  // Oblique ones before straight ones: they show where on the part it is.
  for (const double z : {0.8, -0.8, 0.0})
    for (int k = 0; k < 8; ++k) {
      const double t = kPi / 4 * k + kPi / 8;
      sides_.push_back(
          {{back * Vec3(std::cos(t), std::sin(t), z), back * Vec3::UnitZ(), {}, {}}, nullptr});
    }
  for (const double z : {1.0, -1.0})
    sides_.push_back({{back * Vec3(0.05, -0.15, z), back * Vec3::UnitY(), {}, {}}, nullptr});
}

PartView ViewFinder::viewOf(const Requirement& r) {
  Points touches, normals;
  Box3 box;
  for (FeatureId id : r.features) {
    for (const Touch& t : plan_.feature(id).touches) {
      touches.push_back(t.point), normals.push_back(t.normal);
      box.extend(t.point);
    }
    if (plan_.feature(id).touches.empty()) box.extend(plan_.nominal(id).ideal.point);
  }
  if (box.isEmpty()) return sides_.front().view;
  const Side* best = nullptr;
  double most = -1;
  for (Side& side : sides_) {
    if (!side.picture)
      side.picture = std::make_unique<PartPicture>(*plan_.part, side.view.toward, side.view.up,
                                                   kSmallWidth, kSmallHeight);
    const Vec3 eye = side.view.toward.normalized();
    double seen = 0;
    for (std::size_t i = 0; i < touches.size(); ++i) {
      const double facing = normals[i].dot(eye);
      if (facing > 0.05 && side.picture->visible(touches[i], kSeenWithin)) seen += 1 + 0.2 * facing;
    }
    seen /= std::max<double>(1, static_cast<double>(touches.size()));
    if (side.view.toward.dot(side.view.up) < -0.1) seen -= kFromBelow;
    if (seen > most + 0.02) most = seen, best = &side; // the ones before are liked better
  }
  PartView view = best->view;
  const double part = sizeOf(*plan_.part);
  const double wide = std::max(2.4 * box.diagonal().norm(), kShare * part);
  if (wide < 0.9 * part) view.window = PictureWindow{box.center(), wide};
  return view;
}

std::optional<Anchor> anchorOf(const Plan& plan, const Requirement& r, const PartPicture& picture,
                               FeatureId first) {
  std::vector<FeatureId> features = r.features;
  const auto found = std::find(features.begin(), features.end(), first);
  if (found != features.end()) std::rotate(features.begin(), found, found + 1);
  for (FeatureId id : features)
    for (const Touch& t : plan.feature(id).touches)
      if (picture.visible(t.point, kSeenWithin)) return Anchor{t.point, true};
  if (features.empty()) return {};
  const NominalFeature& f = plan.nominal(features.front());
  if (f.faces.empty()) return Anchor{f.ideal.point, false}; // a constructed feature
  return Anchor{plan.part->face(f.faces.front()).box.center(), false};
}

} // namespace alder
