#include "base/assignment.h"

#include <limits>

namespace alder {

std::vector<std::size_t> bestAssignment(const std::vector<std::vector<double>>& gain) {
  const std::size_t rows = gain.size();
  if (rows == 0) return {};
  const std::size_t columns = gain.front().size(), none = columns;
  // Potentials keep what is left of -gain from falling below zero.
  std::vector<double> of_row(rows, 0), of_column(columns + 1, 0);
  std::vector<std::size_t> row_of(columns + 1, rows);
  for (std::size_t r = 0; r < rows; ++r) {
    std::vector<double> least(columns, std::numeric_limits<double>::infinity());
    std::vector<std::size_t> from(columns, none);
    std::vector<bool> reached(columns + 1, false);
    std::size_t at = none;
    row_of[none] = r;
    do {
      reached[at] = true;
      const std::size_t row = row_of[at];
      double delta = std::numeric_limits<double>::infinity();
      std::size_t next = none;
      for (std::size_t c = 0; c < columns; ++c) {
        if (reached[c]) continue;
        const double left = -gain[row][c] - of_row[row] - of_column[c];
        if (left < least[c]) least[c] = left, from[c] = at;
        if (least[c] < delta) delta = least[c], next = c;
      }
      for (std::size_t c = 0; c <= columns; ++c) {
        if (reached[c])
          of_row[row_of[c]] += delta, of_column[c] -= delta;
        else if (c < columns)
          least[c] -= delta;
      }
      at = next;
    } while (row_of[at] != rows);
    while (at != none) {
      row_of[at] = row_of[from[at]];
      at = from[at];
    }
  }
  std::vector<std::size_t> column_of(rows, none);
  for (std::size_t c = 0; c < columns; ++c)
    if (row_of[c] != rows) column_of[row_of[c]] = c;
  return column_of;
}

} // namespace alder
