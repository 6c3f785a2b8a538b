// A shaded picture of the part drawn without a screen: parallel projection, depth buffer, lines
// where faces meet.
#pragma once

#include "paper/page.h"
#include "part/model.h"
#include <cstdint>
#include <optional>
#include <set>

namespace alder {

using Picture = Raster; // transparent where no part is

// What of it is seen: the whole part, or so much about a place. CAD frame, mm.
struct PictureWindow {
  Vec3 middle = Vec3::Zero();
  double width = 100;
};

// Opaque, in few colours (ARGB), with some faces lit.
struct PicturePaint {
  std::uint32_t paper = 0, part = 0, lit = 0, line = 0;
  std::set<FaceId> faces; // lit
};

class PartPicture {
 public:
  // `toward` points from the part to the eye, `up` is up in the picture (CAD frame).
  PartPicture(const PartModel& part, const Vec3& toward, const Vec3& up, int width, int height,
              const std::optional<PictureWindow>& window = {});

  Picture draw() const; // in the colours of its faces
  Picture draw(const PicturePaint& paint) const;
  int pixelsOf(const std::set<FaceId>& faces) const; // that show one of these
  Vec2 project(const Vec3& point) const;             // pixel coordinates
  bool visible(const Vec3& point, double tolerance) const;
  Box2 bounds() const; // of what is seen of the part, pixels; empty: nothing

 private:
  bool isLine(int x, int y) const;     // another face beside it
  Vec3 toEye(const Vec3& point) const; // pixel x, pixel y, depth (larger is nearer)
  const PartModel& part_;
  Frame view_;
  double scale_ = 1;
  Vec2 offset_ = Vec2::Zero();
  int width_, height_;
  std::vector<float> depth_;
  std::vector<int> face_;
  std::vector<std::uint8_t> shade_;
};

} // namespace alder
