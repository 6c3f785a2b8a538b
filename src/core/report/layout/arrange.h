// Items of a layout put where they belong: by guides, and new ones where there is room.
#pragma once

#include "report/layout/layout.h"

namespace alder {

struct Snapped {
  Area area;
  std::optional<double> guide_x, guide_y; // lines of the page that it took hold of, mm
};
// Moved by an edge or its middle onto an edge or the middle of another item, of the margins or the
// page, where that is within `reach` mm; else to whole millimetres. It stays on the page.
Snapped snappedMove(const LayoutPage& page, std::size_t item, const Area& area, double reach);
// The same of its right and lower edge alone; at least 4 mm wide and high.
Snapped snappedSize(const LayoutPage& page, std::size_t item, const Area& area, double reach);

// One of each kind, as it is before anything is typed.
std::vector<ItemBody> freshItems();
// The size that such an item begins with on this page.
Area freshArea(const LayoutPage& page, const ItemBody& body);
// Below what is there, between the margins, as far up as there is room for it.
Area freePlace(const LayoutPage& page, const Area& wanted);

} // namespace alder
