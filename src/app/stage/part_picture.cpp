#include "stage/part_picture.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace alder::app {
namespace {

// What is seen at each pixel: the face, and how squarely it is looked at.
struct Seen {
  QSize size;
  std::vector<int> face; // -1: nothing
  std::vector<float> light, depth;

  explicit Seen(const QSize& s)
      : size(s)
      , face(static_cast<std::size_t>(s.width()) * static_cast<std::size_t>(s.height()), -1)
      , light(face.size(), 0)
      , depth(face.size(), -std::numeric_limits<float>::max()) {}
  std::size_t at(int x, int y) const {
    return static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width()) +
           static_cast<std::size_t>(x);
  }
};

void fill(Seen& seen, const std::array<Vec3, 3>& p, int face, float light) {
  const double area =
      (p[1].x() - p[0].x()) * (p[2].y() - p[0].y()) - (p[2].x() - p[0].x()) * (p[1].y() - p[0].y());
  if (std::abs(area) < 1e-9) return;
  const auto low = [&](int axis, int most) {
    return std::clamp(static_cast<int>(std::floor(std::min({p[0][axis], p[1][axis], p[2][axis]}))),
                      0, most);
  };
  const auto high = [&](int axis, int most) {
    return std::clamp(static_cast<int>(std::ceil(std::max({p[0][axis], p[1][axis], p[2][axis]}))),
                      0, most);
  };
  const int right = seen.size.width() - 1, bottom = seen.size.height() - 1;
  for (int y = low(1, bottom); y <= high(1, bottom); ++y)
    for (int x = low(0, right); x <= high(0, right); ++x) {
      const double px = x + 0.5, py = y + 0.5;
      const double a =
          ((p[1].x() - px) * (p[2].y() - py) - (p[2].x() - px) * (p[1].y() - py)) / area;
      const double b =
          ((p[2].x() - px) * (p[0].y() - py) - (p[0].x() - px) * (p[2].y() - py)) / area;
      const double c = 1 - a - b;
      if (a < 0 || b < 0 || c < 0) continue;
      const auto depth = static_cast<float>(a * p[0].z() + b * p[1].z() + c * p[2].z());
      const std::size_t at = seen.at(x, y);
      if (depth <= seen.depth[at]) continue;
      seen.depth[at] = depth;
      seen.face[at] = face;
      seen.light[at] = light;
    }
}

Seen look(const PartModel& part, const PartView& view, const QSize& size) {
  Seen seen(size);
  const double scale = size.width() / view.width;
  std::vector<Vec3> places;
  places.reserve(part.mesh.vertices.size());
  for (const Vec3& v : part.mesh.vertices) {
    const Vec3 d = v - view.middle;
    places.emplace_back(size.width() / 2.0 + scale * d.dot(view.right),
                        size.height() / 2.0 - scale * d.dot(view.up), d.dot(view.towards));
  }
  for (std::size_t i = 0; i < part.mesh.triangles.size(); ++i) {
    const auto& t = part.mesh.triangles[i];
    const Triangle triangle = part.mesh.triangle(i);
    const Vec3 normal = (triangle.b - triangle.a).cross(triangle.c - triangle.a).normalized();
    const auto light = static_cast<float>(std::abs(normal.dot(view.towards)));
    fill(seen,
         {places[static_cast<std::size_t>(t[0])], places[static_cast<std::size_t>(t[1])],
          places[static_cast<std::size_t>(t[2])]},
         part.mesh.tags[i], light);
  }
  return seen;
}

QColor mixed(const QColor& color, double share) {
  return QColor::fromRgbF(static_cast<float>(color.redF() * share),
                          static_cast<float>(color.greenF() * share),
                          static_cast<float>(color.blueF() * share));
}

Box3 boxOf(const PartModel& part, const std::set<FaceId>& faces) {
  Box3 box;
  for (const FaceId f : faces)
    box.extend(part.face(f).box);
  return box;
}

} // namespace

QImage drawPart(const PartModel& part, const std::set<FaceId>& lit, const PartView& view,
                const QSize& size, const PartColors& colors) {
  const QSize fine = 2 * size; // drawn twice as large: edges are not ragged
  const Seen seen = look(part, view, fine);
  QImage image(fine, QImage::Format_RGB32);
  for (int y = 0; y < fine.height(); ++y) {
    auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
    for (int x = 0; x < fine.width(); ++x) {
      const std::size_t at = seen.at(x, y);
      const int face = seen.face[at];
      const auto edge = [&](int dx, int dy) {
        const int nx = x + dx, ny = y + dy;
        return nx < fine.width() && ny < fine.height() && seen.face[seen.at(nx, ny)] != face;
      };
      if (edge(1, 0) || edge(0, 1)) {
        line[x] = colors.ink.rgb();
      } else if (face < 0) {
        line[x] = colors.paper.rgb();
      } else {
        const bool is_lit = lit.count(FaceId{face}) > 0;
        const double light = 0.62 + 0.38 * static_cast<double>(seen.light[at]);
        line[x] = mixed(is_lit ? colors.lit : colors.part, light).rgb();
      }
    }
  }
  return image.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
}

int seen(const PartModel& part, const std::set<FaceId>& lit, const PartView& view,
         const QSize& size) {
  const Seen s = look(part, view, size);
  return static_cast<int>(std::count_if(s.face.begin(), s.face.end(), [&](int face) {
    return face >= 0 && lit.count(FaceId{face}) > 0;
  }));
}

PartView likelyView(const PartModel& before, const std::set<FaceId>& lit_before,
                    const PartModel& now, const std::set<FaceId>& lit_now, double aspect) {
  Box3 box = boxOf(before, lit_before);
  box.extend(boxOf(now, lit_now));
  const Box3 whole = before.mesh.box().merged(now.mesh.box());
  if (box.isEmpty()) box = whole;
  const double part = whole.diagonal().norm();
  PartView best;
  int most = -1;
  for (const double z : {1.0, -1.0})
    for (int k = 0; k < 8; ++k) {
      const double angle = kPi / 8 + k * kPi / 4;
      PartView v;
      v.towards = Vec3(std::cos(angle), std::sin(angle), 1.1 * z).normalized();
      v.right = Vec3::UnitZ().cross(v.towards).normalized();
      v.up = v.towards.cross(v.right);
      v.middle = box.center();
      // What changed, and enough about it that its place is known; never more than the part.
      v.width = std::min(std::max(3.2 * box.diagonal().norm(), 0.35 * part), 1.15 * part);
      const QSize small(96, std::max(1, static_cast<int>(96 / aspect)));
      const int count = seen(before, lit_before, v, small) + seen(now, lit_now, v, small);
      if (count > most) most = count, best = v;
    }
  return best;
}

} // namespace alder::app
