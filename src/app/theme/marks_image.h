// What the core draws (paper/page.h) as an image on the screen.
#pragma once

#include "paper/page_writer.h"
#include "theme/theme.h"
#include <QImage>

namespace alder::app {

inline Ink inkOf(const QColor& c) {
  return {c.redF(), c.greenF(), c.blueF(), c.alphaF()};
}

// Without paper behind it; `dots` to a millimetre.
inline QImage imageOf(const PaperPage& page, double dots, const Theme& theme) {
  const Raster raster = rasterOf(page, dots, theme.textSetter(), Ink{0, 0, 0, 0});
  return QImage(reinterpret_cast<const uchar*>(raster.pixels.data()), raster.width, raster.height,
                QImage::Format_ARGB32_Premultiplied)
      .copy();
}

} // namespace alder::app
