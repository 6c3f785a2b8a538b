#include "paper/assignment.h"

#include <limits>

namespace alder {

std::vector<std::size_t> leastAssignment(const Eigen::MatrixXd& cost) {
  const auto rows = static_cast<std::size_t>(cost.rows()),
             columns = static_cast<std::size_t>(cost.cols());
  const auto at = [&](std::size_t r, std::size_t c) {
    return cost(static_cast<Eigen::Index>(r), static_cast<Eigen::Index>(c));
  };
  constexpr double kFar = std::numeric_limits<double>::infinity();
  // Column 0 stands for none; potentials of rows and columns keep reduced costs from 0 up.
  std::vector<double> row_potential(rows + 1, 0), column_potential(columns + 1, 0);
  std::vector<std::size_t> row_of(columns + 1, 0), before(columns + 1, 0);
  for (std::size_t row = 1; row <= rows; ++row) {
    row_of[0] = row;
    std::size_t column = 0;
    std::vector<double> least(columns + 1, kFar);
    std::vector<char> done(columns + 1, 0);
    do {
      done[column] = 1;
      const std::size_t r = row_of[column];
      double delta = kFar;
      std::size_t next = 0;
      for (std::size_t c = 1; c <= columns; ++c) {
        if (done[c]) continue;
        const double reduced = at(r - 1, c - 1) - row_potential[r] - column_potential[c];
        if (reduced < least[c]) least[c] = reduced, before[c] = column;
        if (least[c] < delta) delta = least[c], next = c;
      }
      for (std::size_t c = 0; c <= columns; ++c) {
        if (done[c])
          row_potential[row_of[c]] += delta, column_potential[c] -= delta;
        else
          least[c] -= delta;
      }
      column = next;
    } while (row_of[column] != 0);
    while (column != 0) {
      row_of[column] = row_of[before[column]];
      column = before[column];
    }
  }
  std::vector<std::size_t> column_of(rows, 0);
  for (std::size_t c = 1; c <= columns; ++c)
    if (row_of[c] != 0) column_of[row_of[c] - 1] = c - 1;
  return column_of;
}

} // namespace alder
