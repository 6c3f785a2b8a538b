// Tolerance indicators drawn as vectors (ISO 1101, ISO 7083): symbols, and the whole frame.
#pragma once

#include "theme/theme.h"

namespace alder::app {

// The symbol of a geometrical characteristic centred in a square of side `size`.
void drawSymbol(QPainter& painter, const QPointF& centre, double size, Characteristic kind);

// The callout of a requirement from `left`, vertically centred on `middle`; returns its right end.
// By the requirement's own standard, ISO where it has none (see Specification::withStandard).
// Dimensions are written as text; geometrical tolerances as a tolerance indicator, whose
// compartments are returned in `cells` where given.
double drawCallout(QPainter& painter, const Theme& theme, const QPointF& left_middle,
                   const Requirement& requirement, double height,
                   std::vector<QRectF>* cells = nullptr);

} // namespace alder::app
