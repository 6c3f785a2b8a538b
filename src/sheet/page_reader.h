// What is printed on a PDF page: characters with their places and meaning, lines, pictures.
#pragma once

#include "sheet/sheet.h"
#include <OutputDev.h>

namespace alder {

class PageReader : public OutputDev {
 public:
  explicit PageReader(DrawingSheet& sheet)
      : sheet_(sheet) {}

  bool upsideDown() override { return false; }
  bool useDrawChar() override { return true; }
  bool interpretType3Chars() override { return false; }

  void drawChar(GfxState* state, double x, double y, double dx, double dy, double origin_x,
                double origin_y, CharCode code, int bytes, const Unicode* u, int length) override;
  void stroke(GfxState* state) override;
  void fill(GfxState* state) override;
  void eoFill(GfxState* state) override { fill(state); }
  void drawImage(GfxState* state, Object* ref, Stream* str, int width, int height,
                 GfxImageColorMap* colors, bool interpolate, const int* mask,
                 bool is_inline) override;
  void drawImageMask(GfxState* state, Object* ref, Stream* str, int width, int height, bool invert,
                     bool interpolate, bool is_inline) override;
  void drawMaskedImage(GfxState* state, Object* ref, Stream* str, int width, int height,
                       GfxImageColorMap* colors, bool interpolate, Stream* mask, int mask_width,
                       int mask_height, bool mask_invert, bool mask_interpolate) override;
  void drawSoftMaskedImage(GfxState* state, Object* ref, Stream* str, int width, int height,
                           GfxImageColorMap* colors, bool interpolate, Stream* mask, int mask_width,
                           int mask_height, GfxImageColorMap* mask_colors,
                           bool mask_interpolate) override;

 private:
  void take(GfxState* state, bool filled);
  void picture(GfxState* state, int width, int height);
  bool full(std::size_t more);

  DrawingSheet& sheet_;
  std::size_t taken_ = 0; // characters and points
};

} // namespace alder
