// Which columns of figures are nominal, actual, deviation and limits: told by their titles and by
// the sums that must come out, as actual - nominal = deviation.
#pragma once

#include "exchange/results/result_figure.h"
#include "exchange/results/result_words.h"
#include <map>
#include <vector>

namespace alder {

struct FigureColumn {
  std::vector<std::optional<ResultFigure>> rows;
  std::map<ResultRole, double> titled; // from -1 (says the opposite) to 1
  std::optional<ResultRole> set;       // by a person
};

struct ColumnRoles {
  std::vector<ResultRole> roles; // of each column
  double score = 0;              // of rows that bear it out
};

// All columns have the same number of rows.
ColumnRoles columnRoles(const std::vector<FigureColumn>& columns);

} // namespace alder
