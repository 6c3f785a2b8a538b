#include "requirement/datum_freedom.h"

namespace alder {
namespace {

using Row = Eigen::Matrix<double, 6, 1>;

// The motions that a contact at `p` along `n` prevents; rotations count about the origin of the
// geometry, scaled so that all entries are of one size.
Row contact(const Vec3& p, const Vec3& n, const Vec3& origin, double reach) {
  Row row;
  row << ((p - origin) / reach).cross(n), n;
  return row;
}

std::vector<Row> contactsOf(const Ideal& i, const Vec3& origin, double reach) {
  std::vector<Row> rows;
  const Vec3 x = anyPerpendicular(i.direction), y = i.direction.cross(x);
  const auto add = [&](const Vec3& p, const Vec3& n) {
    rows.push_back(contact(p, n, origin, reach));
  };
  switch (i.type) {
  case SurfaceType::Plane:
  case SurfaceType::Slot:
    for (const Vec3& p : {Vec3(Vec3::Zero()), Vec3(reach * x), Vec3(reach * y)})
      add(i.point + p, i.direction);
    break;
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
  case SurfaceType::Torus:
    for (const double along : {0.0, reach})
      for (const Vec3& n : {x, y})
        if (i.type != SurfaceType::Torus || along == 0) add(i.point + along * i.direction, n);
    if (i.type == SurfaceType::Torus)
      for (const Vec3& p : {Vec3(reach * x), Vec3(reach * y)})
        add(i.point + p, i.direction);
    if (i.type != SurfaceType::Cylinder) add(i.point, i.direction);
    break;
  case SurfaceType::Sphere:
    for (int k = 0; k < 3; ++k)
      add(i.point, Vec3::Unit(k));
    break;
  case SurfaceType::Freeform: // holds everything
    for (int k = 0; k < 3; ++k) {
      add(i.point, Vec3::Unit(k));
      rows.push_back(Row::Unit(k));
    }
    break;
  }
  return rows;
}

} // namespace

std::vector<int> freedomTaken(const Specification& spec,
                              const std::vector<DatumReference>& references) {
  Box3 box;
  for (const NominalFeature& f : spec.features)
    box.extend(f.ideal.point);
  const Vec3 origin = box.isEmpty() ? Vec3(Vec3::Zero()) : Vec3(box.center());
  const double reach = box.isEmpty() ? 1 : std::max(1.0, box.diagonal().norm());
  std::vector<Row> basis; // orthonormal
  std::vector<int> taken;
  for (const DatumReference& reference : references) {
    int count = 0;
    for (const auto& letter : reference.letters) {
      const Datum* datum = spec.datum(letter);
      if (!datum) continue;
      for (FeatureId id : datum->features)
        for (Row row : contactsOf(spec.feature(id).ideal, origin, reach)) {
          for (int pass = 0; pass < 2; ++pass)
            for (const Row& b : basis)
              row -= b.dot(row) * b;
          if (row.norm() < 1e-5) continue;
          basis.push_back(row.normalized());
          ++count;
        }
    }
    taken.push_back(count);
  }
  return taken;
}

} // namespace alder
