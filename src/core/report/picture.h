// A shaded picture of the part drawn without a screen: parallel projection, depth buffer, lines
// where faces meet.
#pragma once

#include "part/model.h"
#include <cstdint>

namespace alder {

struct Picture {
  int width = 0, height = 0;
  std::vector<std::uint32_t> pixels; // ARGB, premultiplied, row by row; transparent background
};

class PartPicture {
 public:
  // `toward` points from the part to the eye, `up` is up in the picture (CAD frame).
  PartPicture(const PartModel& part, const Vec3& toward, const Vec3& up, int width, int height);

  Picture draw() const;
  Vec2 project(const Vec3& point) const; // pixel coordinates
  bool visible(const Vec3& point, double tolerance) const;

 private:
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
