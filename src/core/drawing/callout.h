// What stands together on a sheet: a dimension with its deviations and the tolerance indicators
// below it, framed letters and figures, notes, cells of the title block.
#pragma once

#include "drawing/frames.h"
#include "requirement/specification.h"

namespace alder {

enum class WrittenAs {
  Plain,     // text with nothing round it
  Indicator, // a row of compartments, the first with the symbol
  Framed,    // alone in a frame: a datum letter, a theoretically exact dimension
  Cell,      // in a title block or table
};

struct Written {
  WrittenAs as = WrittenAs::Plain;
  std::string text; // as a person would type it: "6x ø11 +0.2/-0.1", "⌖ ø0.25 (M) | A | B"
  TextBox box;      // all of it; `above` and `below` reach to its frame
  bool lower_segment = false;      // shares the symbol of the indicator above
  bool no_symbol = false;          // an indicator whose symbol is not known
  bool has_dimension_line = false; // or limits one above the other
  bool scanned = false;            // told from a picture
  bool unknown = false;            // has signs whose meaning the file does not tell
  std::string caption;             // of a cell: the small text above its content
  int callout = 0;                 // those with the same number stand together; 0: alone
};

// In reading order: from above, then from the left.
std::vector<Written> writtenOn(const DrawingSheet& sheet);

} // namespace alder
