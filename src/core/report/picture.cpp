#include "report/picture.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// Instead of a face, in the picture.
constexpr int kNothing = -1, kCut = -2;
// The place in a pixel: beside its middle, so that no edge that stands straight in the picture runs
// through it, and what is counted there is counted once.
constexpr double kAsideX = 0.5 + 1.37e-4, kAsideY = 0.5 + 2.71e-4;

} // namespace

PartPicture::PartPicture(const PartModel& part, const Vec3& toward, const Vec3& up, int width,
                         int height, const std::optional<PictureWindow>& window,
                         const std::optional<CutPlane>& section)
    : part_(part)
    , width_(width)
    , height_(height)
    , depth_(static_cast<std::size_t>(width) * height, -1e30f)
    , face_(static_cast<std::size_t>(width) * height, kNothing)
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
  if (section) {
    section_ = facing(*section, z);
    before_.assign(face_.size(), 0), entered_.assign(face_.size(), 0);
  }
  for (std::size_t i = 0; i < part.mesh.triangles.size(); ++i)
    rasterize(part.mesh.triangle(i), part.mesh.tags[i]);
  if (section_) closeSection();
}

void PartPicture::rasterize(const Triangle& t, int face) {
  static const Vec3 light = Vec3(-0.35, 0.5, 0.8).normalized();
  const Vec3 a = toEye(t.a), b = toEye(t.b), c = toEye(t.c);
  const Vec3 n = (view_.linear() * (t.b - t.a).cross(t.c - t.a)).normalized();
  const bool from_behind = n.z() <= 0;
  if (from_behind && !section_) return;
  const auto shade =
      static_cast<std::uint8_t>(std::clamp(90 + 150 * std::max(0.0, n.dot(light)), 0.0, 255.0));
  const double area = (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
  if (std::abs(area) < 1e-9) return;
  const Vec3 heights =
      section_ ? Vec3(section_->height(t.a), section_->height(t.b), section_->height(t.c))
               : Vec3(-1, -1, -1);
  const int x0 = std::max(0, static_cast<int>(std::min({a.x(), b.x(), c.x()})));
  const int x1 = std::min(width_ - 1, static_cast<int>(std::max({a.x(), b.x(), c.x()})) + 1);
  const int y0 = std::max(0, static_cast<int>(std::min({a.y(), b.y(), c.y()})));
  const int y1 = std::min(height_ - 1, static_cast<int>(std::max({a.y(), b.y(), c.y()})) + 1);
  for (int py = y0; py <= y1; ++py)
    for (int px = x0; px <= x1; ++px) {
      const double x_ = px + kAsideX, y_ = py + kAsideY;
      const double u = ((x_ - a.x()) * (c.y() - a.y()) - (y_ - a.y()) * (c.x() - a.x())) / area;
      const double v = ((b.x() - a.x()) * (y_ - a.y()) - (b.y() - a.y()) * (x_ - a.x())) / area;
      if (u < -1e-6 || v < -1e-6 || u + v > 1 + 1e-6) continue;
      const auto at = static_cast<std::size_t>(py) * width_ + px;
      if (section_) {
        const bool removed = heights.dot(Vec3(1 - u - v, u, v)) > 0;
        if (u >= 0 && v >= 0 && u + v <= 1) {
          entered_[at] = static_cast<std::int8_t>(entered_[at] + (from_behind ? -1 : 1));
          if (removed) before_[at] = static_cast<std::int8_t>(before_[at] + (from_behind ? -1 : 1));
        }
        if (removed || from_behind) continue;
      }
      const auto d = static_cast<float>(a.z() + u * (b.z() - a.z()) + v * (c.z() - a.z()));
      if (d <= depth_[at]) continue;
      depth_[at] = d;
      face_[at] = face;
      shade_[at] = shade;
    }
}

// Where a ray from the eye has gone into the material before the plane more often than out of it,
// and all in all as often, the plane runs through material. One that stands alone went through the
// crack between two faces.
void PartPicture::closeSection() {
  const Vec3 n = view_.linear() * section_->normal; // the eye's axes
  if (n.z() < 1e-9) return;
  const auto inside = [&](int x, int y) {
    if (x < 0 || y < 0 || x >= width_ || y >= height_) return false;
    const auto at = static_cast<std::size_t>(y) * width_ + x;
    return before_[at] > 0 && entered_[at] == 0;
  };
  for (int y = 0; y < height_; ++y)
    for (int x = 0; x < width_; ++x) {
      if (!inside(x, y)) continue;
      bool alone = true;
      for (int k = 0; k < 9 && alone; ++k)
        alone = k == 4 || !inside(x - 1 + k % 3, y - 1 + k / 3);
      if (alone) continue;
      const auto at = static_cast<std::size_t>(y) * width_ + x;
      const double h = section_->height(fromEye(x + 0.5, y + 0.5, 0));
      face_[at] = kCut, shade_[at] = 235;
      depth_[at] = static_cast<float>(-h / n.z());
    }
}

Vec3 PartPicture::toEye(const Vec3& point) const {
  const Vec3 v = view_ * point;
  return {offset_.x() + scale_ * v.x(), offset_.y() - scale_ * v.y(), v.z()};
}

Vec3 PartPicture::fromEye(double x, double y, double depth) const {
  return view_.inverse() * Vec3((x - offset_.x()) / scale_, (offset_.y() - y) / scale_, depth);
}

std::optional<PartPicture::Shown> PartPicture::shownAt(int x, int y) const {
  if (x < 0 || y < 0 || x >= width_ || y >= height_) return {};
  const auto at = static_cast<std::size_t>(y) * width_ + x;
  if (face_[at] < 0) return {};
  return Shown{FaceId{face_[at]}, fromEye(x + 0.5, y + 0.5, static_cast<double>(depth_[at]))};
}

Vec2 PartPicture::project(const Vec3& point) const {
  return toEye(point).head<2>();
}

bool PartPicture::visible(const Vec3& point, double tolerance) const {
  if (section_ && section_->height(point) > tolerance) return false;
  const Vec3 e = toEye(point);
  const int x = static_cast<int>(e.x()), y = static_cast<int>(e.y());
  if (x < 0 || y < 0 || x >= width_ || y >= height_) return false;
  return e.z() + tolerance >= static_cast<double>(depth_[static_cast<std::size_t>(y) * width_ + x]);
}

Box2 PartPicture::bounds() const {
  Box2 box;
  for (int y = 0; y < height_; ++y)
    for (int x = 0; x < width_; ++x)
      if (face_[static_cast<std::size_t>(y) * width_ + x] != kNothing)
        box.extend(Vec2(x + 0.5, y + 0.5));
  return box;
}

bool PartPicture::isLine(int x, int y) const {
  const std::size_t at = static_cast<std::size_t>(y) * width_ + x;
  const int face = face_[at];
  return x == 0 || y == 0 || x == width_ - 1 || y == height_ - 1 || face_[at - 1] != face ||
         face_[at + 1] != face || face_[at - static_cast<std::size_t>(width_)] != face ||
         face_[at + static_cast<std::size_t>(width_)] != face;
}

// At 45 degrees, as far apart as the picture is large.
bool PartPicture::isHatched(int x, int y) const {
  const int apart = std::max(5, std::min(width_, height_) / 40), wide = std::max(1, apart / 12);
  return (x + y) % apart < wide;
}

Picture PartPicture::draw(bool edges, const Tint& tint) const {
  constexpr std::array<float, 3> kCutColor{0.93f, 0.91f, 0.86f};
  Picture p{width_, height_, std::vector<std::uint32_t>(depth_.size(), 0)};
  for (int y = 0; y < height_; ++y)
    for (int x = 0; x < width_; ++x) {
      const auto at = static_cast<std::size_t>(y) * width_ + x;
      if (face_[at] == kNothing) continue;
      const bool cut = face_[at] == kCut;
      std::array<float, 3> c = cut ? kCutColor : part_.face(FaceId{face_[at]}).color;
      double k = shade_[at] / 255.0, least = 0.35;
      if ((edges || cut) && isLine(x, y)) {
        k = 0.25;
      } else if (cut && isHatched(x, y)) {
        k = 0.5;
      } else if (tint && !cut) {
        if (const auto other = tint(*shownAt(x, y))) // its colour tells a figure
          c = *other, k = 0.8 + 0.2 * k, least = 0;
      }
      const auto channel = [&](float v) {
        return static_cast<std::uint32_t>(
            std::clamp((least + (1 - least) * v) * k * 255, 0.0, 255.0));
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
      if (face_[at] == kNothing) continue;
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

bool PartPicture::cutAt(int x, int y) const {
  return x >= 0 && y >= 0 && x < width_ && y < height_ &&
         face_[static_cast<std::size_t>(y) * width_ + x] == kCut;
}

int PartPicture::pixelsOf(const std::set<FaceId>& faces) const {
  return static_cast<int>(std::count_if(face_.begin(), face_.end(), [&](int face) {
    return face >= 0 && faces.count(FaceId{face}) > 0;
  }));
}

} // namespace alder
