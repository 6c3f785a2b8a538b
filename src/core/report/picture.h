// A shaded picture of the part drawn without a screen: parallel projection, depth buffer, lines
// where faces meet. A section leaves out what lies between it and the eye; where it goes through
// material the picture is hatched, as in drawings (ISO 128-3).
#pragma once

#include "geometry/cut_plane.h"
#include "paper/page.h"
#include "part/model.h"
#include <array>
#include <cstdint>
#include <functional>
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
              const std::optional<PictureWindow>& window = {},
              const std::optional<CutPlane>& section = {});

  // What a pixel shows: the face and the place on it; nothing beside the part and in the section.
  struct Shown {
    FaceId face;
    Vec3 place = Vec3::Zero(); // CAD frame
  };
  std::optional<Shown> shownAt(int x, int y) const;
  // Red, green and blue, 0 to 1, in place of the face's own colour; nothing: that.
  using Tint = std::function<std::optional<std::array<float, 3>>(const Shown&)>;
  Picture draw(bool edges = true, const Tint& tint = {}) const; // in the colours of its faces
  Picture draw(const PicturePaint& paint) const;
  int pixelsOf(const std::set<FaceId>& faces) const; // that show one of these
  bool cutAt(int x, int y) const;                    // does the pixel show the section
  Vec2 project(const Vec3& point) const;             // pixel coordinates
  bool visible(const Vec3& point, double tolerance) const;
  Box2 bounds() const; // of what is seen of the part, pixels; empty: nothing

 private:
  void rasterize(const Triangle& triangle, int face);
  void closeSection();
  bool isLine(int x, int y) const;     // another face beside it
  bool isHatched(int x, int y) const;  // of the section
  Vec3 toEye(const Vec3& point) const; // pixel x, pixel y, depth (larger is nearer)
  Vec3 fromEye(double x, double y, double depth) const; // the other way round
  const PartModel& part_;
  Frame view_;
  double scale_ = 1;
  Vec2 offset_ = Vec2::Zero();
  int width_, height_;
  std::optional<CutPlane> section_; // its normal on the eye's side
  std::vector<float> depth_;
  std::vector<int> face_;
  // With a section: how often a ray from the eye goes into the material, less how often out of it,
  // before the plane and in all.
  std::vector<std::int8_t> before_, entered_;
  std::vector<std::uint8_t> shade_;
};

} // namespace alder
