// The symbol of a characteristic, told by its strokes (ISO 1101 table 1, ISO 7083).
#pragma once

#include "requirement/specification.h"
#include "sheet/strokes.h"

namespace alder {

// Of the strokes wholly within the box, upright after turning by -angle; `height` is that of a row
// of the indicator. Nothing where they are no symbol.
std::optional<Characteristic> drawnSymbol(const Strokes& strokes, const SegmentIndex& index,
                                          const Vec2& low, const Vec2& high, double angle);

} // namespace alder
