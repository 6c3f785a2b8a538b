// Lines of a result file sorted by what they look like, for one way of cutting them into cells.
#pragma once

#include "exchange/results/file_kind.h"

namespace alder {

enum class LineLook {
  Blank,
  Text,    // no figure that counts
  Titles,  // of columns
  OfPart,  // serial number, date, operator
  Figures, // a result, or a piece of one
  Page,    // comes again on each page
};

// A word that says what stands behind it: "Soll 32,000", "Merkmal: Bohrung".
struct Label {
  std::string word; // as plainWord leaves it
  ResultRole role = ResultRole::None;
};

struct LookedLine {
  LineLook look = LineLook::Blank;
  std::vector<Cell> cells;
  std::vector<Label> labels;
  std::size_t figures = 0, words = 0; // the last cells: so many figures, and words behind them
};

std::vector<LookedLine> lookedLines(const ResultText& text, const CellLayout& layout, char decimal);

} // namespace alder
