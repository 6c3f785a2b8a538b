#include "report/picture.h"

#include <algorithm>
#include <cmath>

namespace alder {

PartPicture::PartPicture(const PartModel& part, const Vec3& toward, const Vec3& up, int width,
                         int height, const std::optional<PictureWindow>& window)
    : part_(part)
    , width_(width)
    , height_(height)
    , depth_(static_cast<std::size_t>(width) * height, -1e30f)
    , face_(static_cast<std::size_t>(width) * height, -1)
    , shade_(static_cast<std::size_t>(width) * height, 0) {
  const Vec3 z = toward.normalized(), x = up.cross(z).normalized();
  view_ = frameOf(Vec3::Zero(), z, x).inverse();
  Vec3 middle;
  if (window) {
    scale_ = width / std::max(window->width, 1e-9);
    middle = view_ * window->middle;
  } else {
    Box3 box;
    for (const Vec3& v : part.mesh.vertices)
      box.extend(view_ * v);
    scale_ = 0.94 * std::min(width / std::max(box.sizes().x(), 1e-9),
                             height / std::max(box.sizes().y(), 1e-9));
    middle = box.center();
  }
  offset_ = Vec2(width / 2.0, height / 2.0) - scale_ * Vec2(middle.x(), -middle.y());
  const Vec3 light = Vec3(-0.35, 0.5, 0.8).normalized();
  for (std::size_t i = 0; i < part.mesh.triangles.size(); ++i) {
    const Triangle t = part.mesh.triangle(i);
    const Vec3 a = toEye(t.a), b = toEye(t.b), c = toEye(t.c);
    const Vec3 n = (view_.linear() * (t.b - t.a).cross(t.c - t.a)).normalized();
    if (n.z() <= 0) continue;
    const auto shade =
        static_cast<std::uint8_t>(std::clamp(90 + 150 * std::max(0.0, n.dot(light)), 0.0, 255.0));
    const double area = (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
    if (std::abs(area) < 1e-9) continue;
    const int x0 = std::max(0, static_cast<int>(std::min({a.x(), b.x(), c.x()})));
    const int x1 = std::min(width - 1, static_cast<int>(std::max({a.x(), b.x(), c.x()})) + 1);
    const int y0 = std::max(0, static_cast<int>(std::min({a.y(), b.y(), c.y()})));
    const int y1 = std::min(height - 1, static_cast<int>(std::max({a.y(), b.y(), c.y()})) + 1);
    for (int py = y0; py <= y1; ++py)
      for (int px = x0; px <= x1; ++px) {
        const double x_ = px + 0.5, y_ = py + 0.5;
        const double u = ((x_ - a.x()) * (c.y() - a.y()) - (y_ - a.y()) * (c.x() - a.x())) / area;
        const double v = ((b.x() - a.x()) * (y_ - a.y()) - (b.y() - a.y()) * (x_ - a.x())) / area;
        if (u < -1e-6 || v < -1e-6 || u + v > 1 + 1e-6) continue;
        const auto d = static_cast<float>(a.z() + u * (b.z() - a.z()) + v * (c.z() - a.z()));
        const auto at = static_cast<std::size_t>(py) * width + px;
        if (d <= depth_[at]) continue;
        depth_[at] = d;
        face_[at] = part.mesh.tags[i];
        shade_[at] = shade;
      }
  }
}

Vec3 PartPicture::toEye(const Vec3& point) const {
  const Vec3 v = view_ * point;
  return {offset_.x() + scale_ * v.x(), offset_.y() - scale_ * v.y(), v.z()};
}

Vec2 PartPicture::project(const Vec3& point) const {
  return toEye(point).head<2>();
}

bool PartPicture::visible(const Vec3& point, double tolerance) const {
  const Vec3 e = toEye(point);
  const int x = static_cast<int>(e.x()), y = static_cast<int>(e.y());
  if (x < 0 || y < 0 || x >= width_ || y >= height_) return false;
  return e.z() + tolerance >= static_cast<double>(depth_[static_cast<std::size_t>(y) * width_ + x]);
}

Box2 PartPicture::bounds() const {
  Box2 box;
  for (int y = 0; y < height_; ++y)
    for (int x = 0; x < width_; ++x)
      if (face_[static_cast<std::size_t>(y) * width_ + x] >= 0) box.extend(Vec2(x + 0.5, y + 0.5));
  return box;
}

bool PartPicture::isLine(int x, int y) const {
  const std::size_t at = static_cast<std::size_t>(y) * width_ + x;
  const int face = face_[at];
  return x == 0 || y == 0 || x == width_ - 1 || y == height_ - 1 || face_[at - 1] != face ||
         face_[at + 1] != face || face_[at - static_cast<std::size_t>(width_)] != face ||
         face_[at + static_cast<std::size_t>(width_)] != face;
}

Picture PartPicture::draw() const {
  Picture p{width_, height_, std::vector<std::uint32_t>(depth_.size(), 0)};
  for (int y = 0; y < height_; ++y)
    for (int x = 0; x < width_; ++x) {
      const auto at = static_cast<std::size_t>(y) * width_ + x;
      if (face_[at] < 0) continue;
      const auto& c = part_.face(FaceId{face_[at]}).color;
      const double k = isLine(x, y) ? 0.25 : shade_[at] / 255.0;
      const auto channel = [&](float v) {
        return static_cast<std::uint32_t>(std::clamp((0.35 + 0.65 * v) * k * 255, 0.0, 255.0));
      };
      p.pixels[at] = 0xff000000u | channel(c[0]) << 16 | channel(c[1]) << 8 | channel(c[2]);
    }
  return p;
}

Picture PartPicture::draw(const PicturePaint& paint) const {
  Picture p{width_, height_, std::vector<std::uint32_t>(depth_.size(), paint.paper)};
  for (int y = 0; y < height_; ++y)
    for (int x = 0; x < width_; ++x) {
      const auto at = static_cast<std::size_t>(y) * width_ + x;
      if (face_[at] < 0) continue;
      if (isLine(x, y)) {
        p.pixels[at] = paint.line;
        continue;
      }
      const std::uint32_t c = paint.faces.count(FaceId{face_[at]}) > 0 ? paint.lit : paint.part;
      const double k = 0.5 + 0.5 * shade_[at] / 255.0;
      const auto channel = [&](int shift) {
        return static_cast<std::uint32_t>(k * ((c >> shift) & 0xffu)) << shift;
      };
      p.pixels[at] = 0xff000000u | channel(16) | channel(8) | channel(0);
    }
  return p;
}

int PartPicture::pixelsOf(const std::set<FaceId>& faces) const {
  return static_cast<int>(std::count_if(face_.begin(), face_.end(), [&](int face) {
    return face >= 0 && faces.count(FaceId{face}) > 0;
  }));
}

} // namespace alder
