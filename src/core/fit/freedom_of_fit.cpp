#include "fit/freedom_of_fit.h"

#include <algorithm>

namespace alder {
namespace {

bool isAxis(Shape shape) {
  return shape == Shape::Line || shape == Shape::Cylinder || shape == Shape::Cone;
}

} // namespace

SmallMatrix freeDirections(Shape shape, const Estimate& e, const FitConstraints& k,
                           const Vec3& cloud_centre, double reach, bool size_free) {
  if (k.changes) return *k.changes;
  const auto& parameters = parametersOf(shape);
  const auto n = static_cast<Eigen::Index>(parameters.size());
  SmallVector scale = SmallVector::Ones(n);
  std::vector<SmallVector> rows;
  const auto index = [&](Parameter p) {
    const auto found = std::find(parameters.begin(), parameters.end(), p);
    return found == parameters.end() ? Eigen::Index{-1} : found - parameters.begin();
  };
  const auto hold = [&](std::initializer_list<std::pair<Parameter, double>> terms) {
    SmallVector row = SmallVector::Zero(n);
    for (const auto& [p, factor] : terms)
      if (index(p) >= 0) row[index(p)] = factor;
    if (row.norm() > 0) rows.push_back(row);
  };
  for (Eigen::Index i = 0; i < n; ++i) {
    const Parameter p = parameters[static_cast<std::size_t>(i)];
    if (p == Parameter::TiltX || p == Parameter::TiltY || p == Parameter::Angle)
      scale[i] = 1 / std::max(reach, 1e-12);
  }
  if (!size_free || k.diameter) hold({{Parameter::Size, 1}});
  if (k.half_angle) hold({{Parameter::Angle, 1}});
  if (k.direction) hold({{Parameter::TiltX, 1}}), hold({{Parameter::TiltY, 1}});
  const Mat3 back = e.frame.linear().transpose();
  if (k.perpendicular) {
    const Vec3 v = back * k.perpendicular->normalized();
    hold({{Parameter::TiltX, v.x()}, {Parameter::TiltY, v.y()}});
  }
  if (k.through) {
    const Vec3 c = back * (*k.through - cloud_centre - e.frame.translation());
    if (isAxis(shape)) {
      hold({{Parameter::ShiftX, 1}, {Parameter::TiltX, c.z()}});
      hold({{Parameter::ShiftY, 1}, {Parameter::TiltY, c.z()}});
    } else if (shape == Shape::Plane || shape == Shape::Slot) {
      hold({{Parameter::ShiftZ, -1}, {Parameter::TiltX, c.x()}, {Parameter::TiltY, c.y()}});
    } else {
      for (Parameter p : {Parameter::ShiftX, Parameter::ShiftY, Parameter::ShiftZ})
        hold({{p, 1}});
    }
  }
  if (rows.empty()) return scale.asDiagonal();
  SmallMatrix held(static_cast<Eigen::Index>(rows.size()), n);
  for (std::size_t i = 0; i < rows.size(); ++i) {
    const SmallVector row = scale.cwiseProduct(rows[i]);
    held.row(static_cast<Eigen::Index>(i)) = row.transpose() / std::max(row.norm(), 1e-300);
  }
  return scale.asDiagonal() * nullSpace(held);
}

Estimate constrained(Shape shape, Estimate e, const FitConstraints& k, const Vec3& cloud_centre) {
  Vec3 z = e.frame.linear().col(2);
  if (k.direction) z = k.direction->normalized() * (k.direction->dot(z) < 0 ? -1 : 1);
  if (k.perpendicular) {
    const Vec3 v = k.perpendicular->normalized();
    const Vec3 flat = z - z.dot(v) * v;
    z = flat.norm() > 1e-9 ? Vec3(flat.normalized()) : anyPerpendicular(v);
  }
  if (k.direction || k.perpendicular)
    e.frame = frameOf(e.frame.translation(), z, e.frame.linear().col(0));
  if (k.diameter) e.radius = *k.diameter / 2;
  if (k.half_angle) e.half_angle = e.half_angle < 0 ? -*k.half_angle : *k.half_angle;
  if (k.through) {
    const Vec3 c = *k.through - cloud_centre;
    Vec3 origin = e.frame.translation();
    const Vec3 across = c - origin, along = across.dot(z) * z;
    if (isAxis(shape))
      origin += across - along;
    else if (shape == Shape::Plane || shape == Shape::Slot)
      origin += along;
    else
      origin = c;
    e.frame.translation() = origin;
  }
  return e;
}

} // namespace alder
