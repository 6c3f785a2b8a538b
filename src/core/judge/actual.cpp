#include "judge/actual.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// Extent of the nominal feature along the actual axis, so that the axis is judged over the
// feature's own length whatever the depth of the touches.
void setExtent(Derived& d, const NominalFeature& f, const Points& points) {
  const Ideal& ideal = f.ideal;
  if (f.as_touched) {
    d.from = 1e300, d.to = -1e300;
    for (const Vec3& p : points) {
      const double along = (p - d.point).dot(d.direction);
      d.from = std::min(d.from, along), d.to = std::max(d.to, along);
    }
    return;
  }
  const double a = (ideal.point - d.point).dot(d.direction);
  const double b = (ideal.point + ideal.length * ideal.direction - d.point).dot(d.direction);
  d.from = std::min(a, b);
  d.to = std::max(a, b);
}

} // namespace

Shape shapeOf(const Ideal& i) {
  switch (i.type) {
  case SurfaceType::Cylinder:
    return isCircle(i) ? Shape::Circle : isLine(i) ? Shape::Line : Shape::Cylinder;
  case SurfaceType::Cone:
    return Shape::Cone;
  case SurfaceType::Sphere:
    return Shape::Sphere;
  case SurfaceType::Torus:
    return Shape::Torus;
  case SurfaceType::Slot:
    return Shape::Slot;
  default:
    return Shape::Plane;
  }
}

Derived nominalDerived(const NominalFeature& f) {
  Derived d;
  d.point = f.ideal.point;
  d.direction = f.ideal.direction;
  switch (f.ideal.type) {
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
    d.kind = Derived::Kind::Axis;
    d.to = f.ideal.length;
    break;
  case SurfaceType::Plane:
  case SurfaceType::Slot:
    d.kind = Derived::Kind::Plane;
    break;
  default:
    d.kind = Derived::Kind::Point;
  }
  return d;
}

Result<Association> associationOf(const NominalFeature& f, const MeasuredFeature& m,
                                  Criterion criterion) {
  const Ideal& i = f.ideal;
  if (i.type == SurfaceType::Freeform || isPoint(i))
    return fail("{}: a {} has no axis or size.", f.name,
                isPoint(i) ? "point" : std::string(name(i.type)) + " surface");
  const Shape shape = shapeOf(i);
  FitSettings settings;
  settings.criterion = criterion;
  settings.start = FitStart{i.point, i.direction, i.diameter, i.half_angle};
  settings.hole = i.hole;
  Points flat;
  if (shape == Shape::Circle) {
    settings.constraints.direction = i.direction;
    for (const Vec3& p : m.points)
      flat.push_back(p - (p - i.point).dot(i.direction) * i.direction);
  }
  auto fit = associate(shape, flat.empty() ? m.points : flat, settings);
  if (!fit) return fail("{}: {}", f.name, fit.error().message);
  // A circle lies where its points do.
  if (shape == Shape::Circle)
    fit->point += (centroid(m.points) - i.point).dot(i.direction) * i.direction;
  return fit;
}

Result<Actual> actualOf(const NominalFeature& f, const MeasuredFeature& m, Criterion criterion) {
  const Ideal& i = f.ideal;
  Actual a;
  a.derived.kind = nominalDerived(f).kind;
  if (isPoint(i)) {
    if (m.points.empty()) return fail("{} is not measured.", f.name);
    a.derived.point = centroid(m.points);
    return a;
  }
  auto fit = associationOf(f, m, criterion);
  if (!fit) return pass(fit.error());
  const Shape shape = fit->shape;
  a.derived.point = fit->point;
  a.derived.direction = fit->direction;
  if (a.derived.kind == Derived::Kind::Axis && !isCircle(i)) setExtent(a.derived, f, m.points);
  if (shape == Shape::Cone)
    a.half_angle = fit->half_angle;
  else if (shape != Shape::Plane && shape != Shape::Line)
    a.size = fit->diameter;
  a.form = fit->form;
  a.deviations = std::move(fit->deviations);
  a.contacts = std::move(fit->contacts);
  a.proved = fit->proved;
  if (i.hole) {
    for (double& d : a.deviations)
      d = -d;
    for (Contact& c : a.contacts)
      c.side = -c.side;
  }
  return a;
}

bool isCircle(const Ideal& i) {
  return i.type == SurfaceType::Cylinder && i.length <= 0 && i.diameter > 0;
}

bool isLine(const Ideal& i) {
  return i.type == SurfaceType::Cylinder && i.diameter <= 0;
}

bool isPoint(const Ideal& i) {
  return i.type == SurfaceType::Sphere && i.diameter <= 0;
}

std::string_view proofWords(const Actual& a) {
  return a.proved ? "" : ", of which the search did not prove that no other place is better";
}

Criterion matingEnvelope(const NominalFeature& f) {
  return f.ideal.hole ? Criterion::MaximumInscribed : Criterion::MinimumCircumscribed;
}

Criterion materialEnvelope(const NominalFeature& f) {
  return f.ideal.hole ? Criterion::MinimumCircumscribed : Criterion::MaximumInscribed;
}

std::optional<Criterion> criterionOf(AssociateBy by) {
  switch (by) {
  case AssociateBy::LeastSquares:
    return Criterion::LeastSquares;
  case AssociateBy::MinimumZone:
    return Criterion::MinimumZone;
  case AssociateBy::MaximumInscribed:
    return Criterion::MaximumInscribed;
  case AssociateBy::MinimumCircumscribed:
    return Criterion::MinimumCircumscribed;
  case AssociateBy::Tangent:
    return Criterion::Tangent;
  default:
    return {};
  }
}

} // namespace alder
