// Sheets of a drawing as PDF: lines and texts in millimetres from the lower left corner, y upward.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include <memory>
#include <string>
#include <vector>

namespace alder::demo {

enum class Pen { Thick, Thin, Hidden, Centre };

class Paper {
 public:
  // Error where the font is missing.
  static Result<std::unique_ptr<Paper>> open(std::string& out, double width, double height);
  ~Paper();
  Paper(const Paper&) = delete;
  Paper& operator=(const Paper&) = delete;

  void nextSheet();
  void line(const Vec2& a, const Vec2& b, Pen pen = Pen::Thin);
  void lines(const std::vector<Vec2>& points, bool closed, Pen pen = Pen::Thin);
  void arc(const Vec2& centre, double radius, double from, double to, Pen pen = Pen::Thin); // rad
  void circle(const Vec2& centre, double radius, Pen pen = Pen::Thin);
  void fill(const std::vector<Vec2>& points);
  // Begin of its base line; `size` is that of the font, turned anticlockwise by `angle`.
  void text(const Vec2& at, const std::string& text, double size, double angle = 0);
  double width(const std::string& text, double size);
  void finish();

 private:
  Paper() = default;
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

} // namespace alder::demo
