#include "cloud/edge_zone.h"

#include "part/face_region.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kLeastCell = 0.05;
// Of a strip-like face of width w twice the zone takes at most this share of w.
constexpr double kMostShare = 0.4;

} // namespace

EdgeZone::EdgeZone(const PartModel& part, double width)
    : cell_(std::max(width, kLeastCell))
    , widths_(part.faces.size(), 0.0)
    , surfaces_(part.faces.size(), -1) {
  if (width <= 0) return;
  for (const Surface& surface : part.surfaces) {
    const FaceRegion region(part, surface.faces);
    double area = 0, length = 0;
    for (const FaceId face : surface.faces)
      area += part.face(face).area;
    for (const Segment& s : region.edges())
      length += (s.b - s.a).norm();
    // A strip of width w and length l has the area w l and the edge 2 l.
    const double narrow = length > 0 ? 2 * area / length : width / kMostShare;
    const double own = std::min(width, kMostShare / 2 * narrow);
    for (const FaceId face : surface.faces) {
      widths_[static_cast<std::size_t>(face.value)] = own;
      surfaces_[static_cast<std::size_t>(face.value)] = surface.id.value;
    }
    for (const Segment& s : region.edges())
      insert(surface.id.value, s, own);
  }
}

EdgeZone::Cell EdgeZone::cellOf(const Vec3& p) const {
  return {static_cast<int>(std::floor(p.x() / cell_)), static_cast<int>(std::floor(p.y() / cell_)),
          static_cast<int>(std::floor(p.z() / cell_))};
}

std::uint64_t EdgeZone::key(const Cell& c) {
  const auto part = [](int v) { return static_cast<std::uint64_t>(v + (1 << 20)) & 0x1fffff; };
  return part(c[0]) << 42 | part(c[1]) << 21 | part(c[2]);
}

// Into every cell that lies within the width of it.
void EdgeZone::insert(int surface, const Segment& segment, double width) {
  const Vec3 along = segment.b - segment.a;
  const int pieces = std::max(1, static_cast<int>(std::ceil(along.norm() / (4 * cell_))));
  for (int k = 0; k < pieces; ++k) {
    const Segment piece{segment.a + along * k / pieces, segment.a + along * (k + 1) / pieces};
    Box3 box(piece.a);
    box.extend(piece.b);
    const Cell low = cellOf(box.min() - Vec3::Constant(width)),
               high = cellOf(box.max() + Vec3::Constant(width));
    const double reach = width + cell_ * std::sqrt(3.0) / 2;
    for (int x = low[0]; x <= high[0]; ++x)
      for (int y = low[1]; y <= high[1]; ++y)
        for (int z = low[2]; z <= high[2]; ++z) {
          const Vec3 middle = cell_ * Vec3(x + 0.5, y + 0.5, z + 0.5);
          if ((closestOnSegment(middle, piece) - middle).norm() <= reach)
            cells_[key({x, y, z})].push_back({surface, piece});
        }
  }
}

bool EdgeZone::holds(FaceId face, const Vec3& place) const {
  const auto f = static_cast<std::size_t>(face.value);
  const double width = widths_[f];
  if (width <= 0) return false;
  const auto found = cells_.find(key(cellOf(place)));
  if (found == cells_.end()) return false;
  return std::any_of(found->second.begin(), found->second.end(), [&](const Piece& p) {
    return p.surface == surfaces_[f] &&
           (closestOnSegment(place, p.segment) - place).squaredNorm() < width * width;
  });
}

} // namespace alder
