// Lines with figures, sorted so that one rule reads all of a sort, and where in them the figures
// and words stand.
#pragma once

#include "exchange/results/kind_lines.h"
#include "exchange/results/propose_kind.h"

namespace alder {

// A file cut into cells in one way.
struct LookedFile {
  const ResultText& text;
  const std::vector<LookedLine>& lines;
  const CellLayout& layout;
  char decimal;
  std::optional<std::size_t> titles; // line with those of the columns
  const std::vector<Pointing>& pointings;
};

struct LineSort {
  std::string key; // begins with L: of lines whose figures stand behind words
  std::vector<std::size_t> lines;
  std::vector<CellPlace> figures;
  std::vector<CellPlace> words;
  std::vector<KindField> fields; // found in the end
};

struct SortedLines {
  std::vector<LineSort> sorts;
  std::vector<std::pair<std::size_t, std::size_t>> sequence; // line and its sort
};
SortedLines sortedLines(const LookedFile& file);

bool lineIn(const LineSort& sort, std::size_t line);
// Whether the pointing is at that place of its line, which has these cells.
bool overlaps(const CellPlace& place, const std::vector<Cell>& cells, const Pointing& pointing);
// What the title of a column says; None: there is none, or it is no word that is known.
ResultRole titleAt(const LookedFile& file, int column);

} // namespace alder
