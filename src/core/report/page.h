// Drawing on PDF pages: embedded fonts, millimetres, the product's palette.
#pragma once

#include "base/error.h"
#include <cairo.h>
#include <memory>
#include <string>

namespace alder {

enum class Font { Text, Strong, Figures };

struct Ink {
  double r = 0, g = 0, b = 0;
};
constexpr Ink ink(unsigned rgb) {
  return {((rgb >> 16) & 255) / 255.0, ((rgb >> 8) & 255) / 255.0, (rgb & 255) / 255.0};
}

class Page {
 public:
  // A4 upright. Error when the fonts are missing.
  static Result<std::unique_ptr<Page>> open(std::string& out);
  ~Page();
  Page(const Page&) = delete;
  Page& operator=(const Page&) = delete;

  static constexpr double kWidth = 210, kHeight = 297; // mm
  void nextPage();
  void text(double x, double y, const std::string& text, Font font, double size, Ink color = {});
  void textRight(double x, double y, const std::string& text, Font font, double size,
                 Ink color = {});
  double width(const std::string& text, Font font, double size);
  // Cut with an ellipsis where it does not fit.
  std::string fitted(const std::string& text, Font font, double size, double width);
  void line(double x0, double y0, double x1, double y1, double thickness, Ink color);
  void box(double x, double y, double w, double h, Ink fill);
  void disc(double x, double y, double radius, Ink fill, bool filled = true);
  void diamond(double x, double y, double r, Ink ink, bool filled = true);
  void halfDisc(double x, double y, double radius, Ink fill);
  void image(double x, double y, double w, int width, int height, const unsigned* pixels);
  void finish();

 private:
  Page() = default;
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

} // namespace alder
