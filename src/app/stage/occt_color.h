// Palette colours as the CAD library draws them: unchanged, not turned from linear light.
#pragma once

#include <QColor>
#include <Quantity_Color.hxx>

namespace alder::app {

inline Quantity_Color occtColor(const QColor& c) {
  return {c.redF(), c.greenF(), c.blueF(), Quantity_TOC_RGB};
}

} // namespace alder::app
