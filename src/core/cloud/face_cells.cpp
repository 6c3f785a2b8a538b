#include "cloud/face_cells.h"

#include "base/units.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr double kLeastSize = 0.5, kCellsOfSurface = 800, kPointsOfCell = 30, kFewestCells = 60;
constexpr int kLeastRings = 3;
// Angles of a ring that are whole degrees, so that those of all rings stand above each other.
constexpr std::array<int, 10> kPerTurn{24, 36, 40, 45, 60, 72, 90, 120, 180, 360};

int perTurn(double radius, double size, int least) {
  const double wanted = std::max<double>(least, 2 * kPi * radius / size);
  for (const int n : kPerTurn)
    if (n >= wanted - 1e-9) return n;
  return kPerTurn.back();
}

} // namespace

double cellSizeFor(double area, double points) {
  const double wanted = std::max(kLeastSize, std::sqrt(area / kCellsOfSurface));
  const double dense = points > 0 ? std::sqrt(kPointsOfCell * area / points) : 0;
  return std::max(wanted, std::min(dense, std::sqrt(area / kFewestCells)));
}

FaceCells::FaceCells(const PartModel& part, FaceId face_id, double size,
                     const std::optional<Vec3>& lines) {
  const Face& face = part.face(face_id);
  ideal_ = face.ideal;
  size_ = size;
  switch (ideal_.type) {
  case SurfaceType::Plane: {
    kind_ = Kind::Grid;
    // Rows along an axis of the part where the plane lies along one.
    Vec3 along = std::abs(ideal_.direction.x()) < 0.9 ? Vec3::UnitX() : Vec3::UnitY();
    if (lines && lines->cross(ideal_.direction).norm() > 0.1) along = *lines;
    frame_ = frameOf(ideal_.point, ideal_.direction, along);
    break;
  }
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
    kind_ = Kind::Rings;
    // Rings of the halves of one bore stand at the same heights: from where the axis passes the
    // origin.
    frame_ = frameOf(ideal_.point - ideal_.point.dot(ideal_.direction) * ideal_.direction,
                     ideal_.direction);
    break;
  case SurfaceType::Sphere:
    kind_ = Kind::Cap;
    frame_ = frameOf(ideal_.point, ideal_.direction);
    break;
  default:
    kind_ = Kind::Cubes;
  }
  inverse_ = frame_.inverse();
  Points local;
  for (std::size_t t = 0; t < part.mesh.triangles.size(); ++t)
    if (part.mesh.tags[t] == face_id.value)
      for (const int v : part.mesh.triangles[t])
        local.push_back(inverse_ * part.mesh.vertices[static_cast<std::size_t>(v)]);
  divide(local);
}

void FaceCells::divide(const Points& local) {
  Box3 box;
  for (const Vec3& p : local)
    box.extend(p);
  if (box.isEmpty()) return;
  if (kind_ == Kind::Cap) return divideCap(box.min().z(), box.max().z());
  if (kind_ == Kind::Rings) {
    const double length = box.max().z() - box.min().z();
    step_.z() = std::min(size_, length / kLeastRings);
    if (!(step_.z() > 1e-6)) return;
    low_.z() = step_.z() * std::floor(box.min().z() / step_.z());
    n_[0] = static_cast<int>(std::floor((box.max().z() - low_.z()) / step_.z())) + 1;
    const double radius = std::max(radiusAt(box.min().z()), radiusAt(box.max().z()));
    n_[1] = perTurn(radius, size_, kPerTurn.front());
    count_ = static_cast<std::size_t>(n_[0]) * static_cast<std::size_t>(n_[1]);
    return;
  }
  low_ = box.min() - Vec3::Constant(1e-6);
  // Across the row first, so that rows follow each other.
  const Vec3 sizes = box.sizes();
  step_.setConstant(size_);
  n_ = {static_cast<int>(sizes.y() / size_) + 1, static_cast<int>(sizes.x() / size_) + 1,
        kind_ == Kind::Grid ? 1 : static_cast<int>(sizes.z() / size_) + 1};
  count_ = static_cast<std::size_t>(n_[0]) * static_cast<std::size_t>(n_[1]) *
           static_cast<std::size_t>(n_[2]);
}

// Rings of equal height over the sphere's axis, each with its own number of places.
void FaceCells::divideCap(double low, double high) {
  const double radius = ideal_.diameter / 2;
  const double from = std::asin(std::clamp(low / radius, -1.0, 1.0)),
               to = std::asin(std::clamp(high / radius, -1.0, 1.0));
  // The triangles do not reach over a pole that the face holds.
  const double tilt = std::max(size_ / radius, 1e-6);
  low_.z() = std::max(-kPi / 2, from - tilt), step_.z() = tilt;
  n_[0] = static_cast<int>((std::min(kPi / 2, to + tilt) - low_.z()) / tilt) + 1;
  for (int row = 0; row <= n_[0]; ++row) {
    first_.push_back(count_);
    const double middle = low_.z() + (row + 0.5) * tilt;
    count_ += static_cast<std::size_t>(
        std::max(1.0, std::round(2 * kPi * std::max(0.0, std::cos(middle)) / tilt)));
  }
  count_ = first_.back();
}

double FaceCells::radiusAt(double along) const {
  const double start = ideal_.point.dot(ideal_.direction);
  return ideal_.diameter / 2 + (along - start) * std::tan(ideal_.half_angle);
}

std::optional<std::size_t> FaceCells::cellAt(const Vec3& place) const {
  if (count_ == 0) return {};
  const Vec3 q = inverse_ * place;
  const auto within = [](double v, int n) -> std::optional<std::size_t> {
    const double f = std::floor(v);
    if (!(f >= 0) || f >= n) return {};
    return static_cast<std::size_t>(f);
  };
  const auto turn = [&](std::size_t n) {
    const double angle = std::atan2(q.y(), q.x()) / (2 * kPi) * static_cast<double>(n);
    const auto k = static_cast<long>(std::lround(angle));
    return static_cast<std::size_t>((k + static_cast<long>(n)) % static_cast<long>(n));
  };
  if (kind_ == Kind::Rings) {
    const auto row = within((q.z() - low_.z()) / step_.z(), n_[0]);
    if (!row) return {};
    const auto per = static_cast<std::size_t>(n_[1]);
    return *row * per + turn(per);
  }
  if (kind_ == Kind::Cap) {
    const double norm = q.norm();
    const double tilt = norm > 0 ? std::asin(std::clamp(q.z() / norm, -1.0, 1.0)) : 0;
    const auto row = within((tilt - low_.z()) / step_.z(), n_[0]);
    if (!row) return {};
    return first_[*row] + turn(first_[*row + 1] - first_[*row]);
  }
  const auto x = within((q.x() - low_.x()) / step_.x(), n_[1]),
             y = within((q.y() - low_.y()) / step_.y(), n_[0]);
  if (!x || !y) return {};
  std::size_t layer = 0;
  if (kind_ == Kind::Cubes) {
    const auto z = within((q.z() - low_.z()) / step_.z(), n_[2]);
    if (!z) return {};
    layer = *z;
  }
  return (layer * static_cast<std::size_t>(n_[0]) + *y) * static_cast<std::size_t>(n_[1]) + *x;
}

int FaceCells::rowOf(std::size_t cell) const {
  if (kind_ != Kind::Cap) return static_cast<int>(cell / static_cast<std::size_t>(n_[1]));
  const auto after = std::upper_bound(first_.begin(), first_.end(), cell);
  return static_cast<int>(after - first_.begin()) - 1;
}

Vec3 FaceCells::middleOf(std::size_t cell, const Vec3& place) const {
  if (kind_ != Kind::Rings) return place;
  const auto per = static_cast<std::size_t>(n_[1]);
  return onRing(2 * kPi * static_cast<double>(cell % per) / static_cast<double>(per), cell / per);
}

Vec3 FaceCells::onRing(double angle, std::size_t ring) const {
  const double along = low_.z() + (static_cast<double>(ring) + 0.5) * step_.z();
  const double radius = radiusAt(along);
  return frame_ * Vec3(radius * std::cos(angle), radius * std::sin(angle), along);
}

Vec3 FaceCells::levelled(std::size_t cell, const Vec3& foot) const {
  if (ideal_.type != SurfaceType::Cone) return foot;
  const Vec3 q = inverse_ * foot;
  return onRing(std::atan2(q.y(), q.x()), cell / static_cast<std::size_t>(n_[1]));
}

} // namespace alder
