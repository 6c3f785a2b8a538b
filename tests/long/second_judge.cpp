#include "second_judge.h"

#include "second_solver.h"
#include <Eigen/Dense>
#include <cmath>
#include <limits>
#include <map>

// Nothing of the core is used here but the data: nominals, points, requirements.
namespace alder::test {
namespace {

// ---- surfaces, at their nominal places ----

// From the axis, centre or middle plane; of a plane its height over it.
double away(const Ideal& i, const V3& q) {
  const V3 r = q - i.point;
  const double along = r.dot(i.direction);
  if (i.type == SurfaceType::Sphere) return r.norm();
  if (i.type == SurfaceType::Slot) return std::abs(along);
  if (i.type == SurfaceType::Plane) return along;
  return (r - along * i.direction).norm();
}
// Out of the material.
double outside(const Ideal& i, const V3& q) {
  if (i.type == SurfaceType::Plane) return away(i, q);
  return (i.hole ? -1 : 1) * (away(i, q) - i.diameter / 2);
}

// Motions (about the origin) that leave the situation feature of a surface where it is.
Basis leaves(const Ideal& i) {
  Eigen::Matrix<double, Eigen::Dynamic, 6> rows(0, 6);
  const auto demand = [&](const V3& along, const V3& at, bool turn) {
    rows.conservativeResize(rows.rows() + 1, 6);
    rows.row(rows.rows() - 1).setZero();
    if (turn) {
      rows.row(rows.rows() - 1).head<3>() = along.transpose();
    } else { // the velocity of the place `at`: v + w x at
      rows.row(rows.rows() - 1).head<3>() = at.cross(along).transpose() / kArm;
      rows.row(rows.rows() - 1).tail<3>() = along.transpose();
    }
  };
  const V3 u = i.direction.unitOrthogonal(), v = i.direction.cross(u);
  if (i.type == SurfaceType::Sphere) {
    for (int k = 0; k < 3; ++k)
      demand(V3::Unit(k), i.point, false);
  } else {
    demand(u, i.point, true), demand(v, i.point, true);
    if (i.type == SurfaceType::Plane || i.type == SurfaceType::Slot) {
      demand(i.direction, i.point, false);
    } else {
      demand(u, i.point, false), demand(v, i.point, false);
    }
  }
  return Eigen::FullPivLU<Eigen::MatrixXd>(rows).kernel();
}

Basis orthonormal(const Basis& b) {
  Eigen::JacobiSVD<Eigen::MatrixXd> svd(b, Eigen::ComputeThinU);
  Eigen::Index rank = 0;
  while (rank < svd.singularValues().size() && svd.singularValues()[rank] > 1e-6)
    ++rank;
  return svd.matrixU().leftCols(rank);
}
Basis common(const Basis& a, const Basis& b) {
  if (a.cols() == 0 || b.cols() == 0) return Basis(6, 0);
  const Basis p = orthonormal(a), q = orthonormal(b);
  Eigen::JacobiSVD<Eigen::MatrixXd> svd(p.transpose() * q, Eigen::ComputeFullU);
  Eigen::Index rank = 0;
  while (rank < svd.singularValues().size() && svd.singularValues()[rank] > 1 - 1e-9)
    ++rank;
  return p * svd.matrixU().leftCols(rank);
}

class Second {
 public:
  Second(const MadeBlock& block, const Requirement& r, const Suggested& suggested)
      : block_(block)
      , r_(r)
      , suggested_(suggested)
      , iso_(block.plan.spec.standard == ToleranceStandard::Iso) {}

  std::optional<SecondFigure> run() {
    switch (r_.kind) {
    case Characteristic::Flatness:
    case Characteristic::Cylindricity:
      return form();
    case Characteristic::Parallelism:
    case Characteristic::Perpendicularity:
    case Characteristic::Position:
    case Characteristic::Coaxiality:
    case Characteristic::SurfaceProfile:
      return zone();
    default:
      return {};
    }
  }

 private:
  const Ideal& ideal(FeatureId id) const { return block_.plan.spec.feature(id).ideal; }
  const Points& points(FeatureId id) const { return block_.measured.at(id).points; }

  // Of the surface from a place of its own: what the nominal leaves of a motion does not matter.
  SecondFigure form() const {
    const FeatureId id = r_.features[0];
    const auto f = [&](const Pose& at) {
      const Eigen::Isometry3d back = at.inverse();
      Values out;
      for (const V3& p : points(id)) {
        const double d = away(ideal(id), back * p) - at.size;
        out.push_back(d), out.push_back(-d);
      }
      return out;
    };
    const Pose start(Eigen::Isometry3d::Identity(), ideal(id).diameter / 2);
    return {2 * solve(start, Basis::Identity(7, 7), f).worst, false};
  }

  // Within the basis, the size free: smallest sum of squares.
  Pose bySquares(Pose pose, const Basis& basis, FeatureId id) const {
    const Ideal& i = ideal(id);
    pose.size = i.diameter / 2;
    Eigen::MatrixXd with_size = Eigen::MatrixXd::Zero(7, basis.cols() + 1);
    with_size.topLeftCorner(6, basis.cols()) = basis;
    with_size(6, basis.cols()) = 1;
    const auto off = [&](const Pose& at) {
      const Eigen::Isometry3d back = at.inverse();
      Eigen::VectorXd d(static_cast<Eigen::Index>(points(id).size()));
      for (Eigen::Index k = 0; k < d.size(); ++k)
        d[k] = away(i, back * points(id)[static_cast<std::size_t>(k)]) - at.size;
      return d;
    };
    for (int step = 0; step < 20; ++step) {
      constexpr double h = 1e-4;
      Eigen::MatrixXd j(static_cast<Eigen::Index>(points(id).size()), with_size.cols());
      for (Eigen::Index k = 0; k < j.cols(); ++k)
        j.col(k) =
            (off(after(pose, h * with_size.col(k))) - off(after(pose, -h * with_size.col(k)))) /
            (2 * h);
      Eigen::JacobiSVD<Eigen::MatrixXd> svd(j, Eigen::ComputeThinU | Eigen::ComputeThinV);
      svd.setThreshold(1e-7);
      const Eigen::VectorXd x = svd.solve(-off(pose));
      pose = after(pose, with_size * x);
      if (x.norm() < 1e-12) break;
    }
    return pose;
  }
  // Sizes that differ by less than 1e-10 mm say nothing of the place: of such the one nearest least
  // squares (docs/decisions/014). What a pose is held to be worse by.
  std::function<double(const Pose&)> farther(const Pose& pose, const Basis& basis,
                                             FeatureId id) const {
    const Ideal& i = ideal(id);
    if (i.type != SurfaceType::Cylinder && i.type != SurfaceType::Sphere)
      return [](const Pose&) { return 0.0; };
    V3 centre = V3::Zero();
    for (const V3& p : points(id))
      centre += p / static_cast<double>(points(id).size());
    double reach = 0;
    for (const V3& p : points(id))
      reach = std::max(reach, (p - centre).norm());
    const bool sphere = i.type == SurfaceType::Sphere;
    const auto axis = [i, centre, sphere](const Pose& at) -> std::pair<V3, V3> {
      const V3 d = at.linear() * i.direction, p = at * i.point;
      return {sphere ? p : V3(p + (centre - p).dot(d) * d), d};
    };
    const auto least = axis(bySquares(pose, basis, id));
    return [=](const Pose& at) {
      const auto [point, direction] = axis(at);
      return 1e-7 * ((point - least.first).squaredNorm() +
                     (sphere ? 0 : reach * reach * (direction - least.second).squaredNorm()));
    };
  }

  // Smallest where the surface lies farthest outside the material that its points allow.
  Deviations fromOutside(const Pose& pose, const Basis& basis, FeatureId id) const {
    const Ideal& i = ideal(id);
    const double sign = i.type == SurfaceType::Plane || i.hole ? -1 : 1;
    return [this, id, sign, worse = farther(pose, basis, id)](const Pose& at) {
      Values out;
      const Eigen::Isometry3d back = at.inverse();
      const double more = worse(at);
      for (const V3& p : points(id))
        out.push_back(sign * away(ideal(id), back * p) + more);
      return out;
    };
  }

  // The datums in order, each from outside the material (ISO 5459 annex A), with what it may move.
  struct System {
    Pose pose = Pose();
    Basis free = Basis::Identity(6, 6), loose = Basis::Identity(6, 6);
  };
  System system() const {
    System s;
    bool agreed = suggested_.system.has_value(); // so far
    for (const DatumReference& d : r_.datums) {
      const FeatureId id = block_.plan.spec.datum(d.letters[0])->features[0];
      const Ideal& i = ideal(id);
      const Deviations f = fromOutside(s.pose, s.free, id);
      Deviations c;
      if (i.type == SurfaceType::Plane)
        c = [&](const Pose& at) {
          Values out;
          const Eigen::Isometry3d back = at.inverse();
          for (const V3& p : points(id))
            out.push_back(away(i, back * p));
          return out;
        };
      Found found = solve(s.pose, s.free, f, c);
      if (agreed) {
        const double room = i.type == SurfaceType::Plane ? 1e-9 : 1e-12;
        const Pose theirs(*suggested_.system);
        const double worst = largest(f(theirs));
        agreed = worst < found.worst + room && (!c || largest(c(theirs)) < 1e-9);
        if (agreed) found.pose = theirs;
      }
      s.pose = found.pose;
      s.free = common(s.free, leaves(i));
      if (d.material == MaterialModifier::None) s.loose = common(s.loose, leaves(i));
    }
    return s;
  }

  double limit(FeatureId id, bool lower) const {
    for (const Requirement& r : block_.plan.spec.requirements)
      if (r.kind == Characteristic::Size && r.features[0] == id) return lower ? r.lower : r.upper;
    return 0;
  }

  // Of datum k: the limit of size, with what a requirement at the same modifier lets it do towards
  // the datums before it (ISO 2692 4.2.2; ASME Y14.5 maximum material boundary).
  double virtualSize(std::size_t k, FeatureId id) const {
    const MaterialModifier m = r_.datums[k].material;
    double tolerance = 0;
    for (const Requirement& other : block_.plan.spec.requirements) {
      if (other.kind == Characteristic::Size || other.material != m || other.features[0] != id ||
          other.datums.size() > k)
        continue;
      bool same = true;
      for (std::size_t i = 0; i < other.datums.size(); ++i)
        same = same && other.datums[i].letters == r_.datums[i].letters;
      if (same) tolerance = std::max(tolerance, other.tolerance);
    }
    const bool lower = ideal(id).hole == (m == MaterialModifier::Maximum);
    return limit(id, lower) + (lower ? -1 : 1) * tolerance;
  }

  // How far the surface lies beyond a boundary of this size.
  Values beyond(FeatureId id, MaterialModifier m, double size, const Pose& at) const {
    const Ideal& i = ideal(id);
    const double sign = i.hole == (m == MaterialModifier::Maximum) ? -1 : 1;
    Values out;
    const Eigen::Isometry3d back = at.inverse();
    for (const V3& p : points(id))
      out.push_back(sign * (away(i, back * p) - size / 2));
    return out;
  }

  // ---- derived features ----

  struct Axis {
    V3 point, direction;
  };
  // Smallest sum of squares, by Gauss and Newton over (two tilts, two moves, radius).
  Axis leastSquaresAxis(FeatureId id) const {
    const Ideal& i = ideal(id);
    Axis a{i.point, i.direction};
    double radius = i.diameter / 2;
    for (int step = 0; step < 60; ++step) {
      const V3 u = a.direction.unitOrthogonal(), v = a.direction.cross(u);
      Eigen::Matrix<double, 5, 5> m = Eigen::Matrix<double, 5, 5>::Zero();
      Eigen::Matrix<double, 5, 1> b = Eigen::Matrix<double, 5, 1>::Zero();
      for (const V3& p : points(id)) {
        const V3 r = p - a.point;
        const double along = r.dot(a.direction);
        const V3 across = r - along * a.direction, n = across.normalized();
        Eigen::Matrix<double, 5, 1> g;
        g << -n.dot(u), -n.dot(v), -along * n.dot(u), -along * n.dot(v), -1;
        m += g * g.transpose();
        b -= g * (across.norm() - radius);
      }
      const Eigen::Matrix<double, 5, 1> x = m.ldlt().solve(b);
      a.point += x[0] * u + x[1] * v;
      a.direction = (a.direction + x[2] * u + x[3] * v).normalized();
      radius += x[4];
      if (x.norm() < 1e-13) break;
    }
    return a;
  }
  // Circles by squares, each seen along the axis.
  Points medianLine(FeatureId id) const {
    const Axis a = leastSquaresAxis(id);
    const V3 u = a.direction.unitOrthogonal(), v = a.direction.cross(u);
    const MeasuredFeature& m = block_.measured.at(id);
    std::map<int, std::vector<V3>> rings;
    for (std::size_t k = 0; k < m.points.size(); ++k) {
      const V3 r = m.points[k] - a.point;
      rings[m.rows[k]].emplace_back(r.dot(u), r.dot(v), r.dot(a.direction));
    }
    Points centres;
    for (const auto& [row, ring] : rings) {
      double x = 0, y = 0, z = 0, radius = ideal(id).diameter / 2;
      for (const V3& p : ring)
        z += p.z() / static_cast<double>(ring.size());
      for (int step = 0; step < 60; ++step) {
        Eigen::Matrix3d n = Eigen::Matrix3d::Zero();
        V3 b = V3::Zero();
        for (const V3& p : ring) {
          const double dx = p.x() - x, dy = p.y() - y, d = std::hypot(dx, dy);
          const V3 g(-dx / d, -dy / d, -1);
          n += g * g.transpose();
          b -= g * (d - radius);
        }
        const V3 s = n.ldlt().solve(b);
        x += s.x(), y += s.y(), radius += s.z();
        if (s.norm() < 1e-13) break;
      }
      centres.push_back(a.point + x * u + y * v + z * a.direction);
    }
    return centres;
  }
  // Where the unrelated mating envelope places the nominal of the feature.
  Pose matingPlace(FeatureId id) const {
    const Basis all = Basis::Identity(6, 6);
    const Deviations f = fromOutside(Pose(), all, id);
    const Found found = solve(Pose(), all, f);
    const auto theirs = suggested_.mating.find(id);
    const bool better =
        theirs != suggested_.mating.end() && largest(f(theirs->second)) < found.worst;
    return better ? Pose(theirs->second) : found.pose;
  }
  V3 leastSquaresCentre(FeatureId id) const {
    V3 c = ideal(id).point;
    double radius = ideal(id).diameter / 2;
    for (int step = 0; step < 60; ++step) {
      Eigen::Matrix4d m = Eigen::Matrix4d::Zero();
      Eigen::Vector4d b = Eigen::Vector4d::Zero();
      for (const V3& p : points(id)) {
        Eigen::Vector4d g;
        g << -(p - c).normalized(), -1;
        m += g * g.transpose();
        b -= g * ((p - c).norm() - radius);
      }
      const Eigen::Vector4d x = m.ldlt().solve(b);
      c += x.head<3>(), radius += x[3];
    }
    return c;
  }
  // Middle plane of least squares: both sides with one direction, width free.
  Axis leastSquaresMiddle(FeatureId id) const {
    const Ideal& i = ideal(id);
    Axis a{i.point, i.direction};
    double half = i.diameter / 2;
    for (int step = 0; step < 60; ++step) {
      const V3 u = a.direction.unitOrthogonal(), v = a.direction.cross(u);
      Eigen::Matrix4d m = Eigen::Matrix4d::Zero();
      Eigen::Vector4d b = Eigen::Vector4d::Zero();
      for (const V3& p : points(id)) {
        const V3 r = p - a.point;
        const double along = r.dot(a.direction), side = along > 0 ? 1 : -1;
        const Eigen::Vector4d g(-side, side * r.dot(u), side * r.dot(v), -1);
        m += g * g.transpose();
        b -= g * (std::abs(along) - half);
      }
      const Eigen::Vector4d x = m.ldlt().solve(b);
      a.point += x[0] * a.direction;
      a.direction = (a.direction + x[1] * u + x[2] * v).normalized();
      half += x[3];
    }
    return a;
  }

  // Places of the derived feature, in the frame of the points; `pose` lays the ends.
  Points samples(FeatureId id, const Pose& pose) const {
    const Ideal& i = ideal(id);
    if (i.type == SurfaceType::Sphere)
      return {iso_ ? leastSquaresCentre(id) : V3(matingPlace(id) * i.point)};
    Axis a;
    if (i.type == SurfaceType::Cylinder && iso_) return medianLine(id);
    if (i.type == SurfaceType::Slot && iso_) {
      a = leastSquaresMiddle(id);
    } else {
      const Pose place = matingPlace(id);
      a = {place * i.point, place.linear() * i.direction};
    }
    Points out;
    if (i.type == SurfaceType::Slot) {
      for (const V3& p : points(id))
        out.push_back(p - (p - a.point).dot(a.direction) * a.direction);
      return out;
    }
    for (const double along : {0.0, i.length}) {
      const V3 end = pose * V3(i.point + along * i.direction);
      out.push_back(a.point + (end - a.point).dot(a.direction) * a.direction);
    }
    return out;
  }

  std::optional<SecondFigure> zone() {
    const bool orientation =
        r_.kind == Characteristic::Parallelism || r_.kind == Characteristic::Perpendicularity;
    const System s = system();
    const bool shift = std::any_of(r_.datums.begin(), r_.datums.end(), [](const DatumReference& d) {
      return d.material != MaterialModifier::None;
    });
    Basis free = shift ? s.loose : s.free;
    if (orientation) {
      Basis wider(6, free.cols() + 3);
      wider << free, Basis::Identity(6, 6).rightCols(3);
      free = orthonormal(wider);
    }
    const bool bounded = r_.material != MaterialModifier::None;
    std::map<FeatureId, Points> derived;
    for (FeatureId id : r_.features) {
      const auto type = ideal(id).type;
      if (bounded || type == SurfaceType::Plane || r_.kind == Characteristic::SurfaceProfile)
        continue;
      derived[id] = samples(id, s.pose);
    }
    const auto f = [&](const Pose& at) {
      Values out;
      const Eigen::Isometry3d back = at.inverse();
      for (FeatureId id : r_.features) {
        const Ideal& i = ideal(id);
        if (bounded) {
          const bool lower = i.hole == (r_.material == MaterialModifier::Maximum);
          const double size = limit(id, lower) + (lower ? -1 : 1) * r_.tolerance;
          for (const double d : beyond(id, r_.material, size, at))
            out.push_back(d);
        } else if (const auto d = derived.find(id); d != derived.end()) {
          for (const V3& p : d->second)
            out.push_back(away(i, back * p));
        } else {
          for (const V3& p : points(id))
            out.push_back(std::abs(outside(i, back * p)));
        }
      }
      return out;
    };
    Deviations c;
    if (shift)
      c = [&](const Pose& at) {
        Values out;
        for (std::size_t k = 0; k < r_.datums.size(); ++k) {
          const DatumReference& d = r_.datums[k];
          if (d.material == MaterialModifier::None) continue;
          const FeatureId id = block_.plan.spec.datum(d.letters[0])->features[0];
          for (const double v : beyond(id, d.material, virtualSize(k, id), at))
            out.push_back(v);
        }
        return out;
      };
    const Found found = solve(s.pose, free, f, c);
    const double worst = largest(f(found.pose));
    return SecondFigure{bounded ? -2 * worst : 2 * worst, bounded};
  }

  const MadeBlock& block_;
  const Requirement r_;
  const Suggested suggested_;
  bool iso_;
};

} // namespace

std::optional<SecondFigure> secondFigure(const MadeBlock& block, const Requirement& r,
                                         const Suggested& suggested) {
  return Second(block, r, suggested).run();
}

} // namespace alder::test
