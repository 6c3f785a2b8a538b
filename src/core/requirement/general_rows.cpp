// A table of one's own of general tolerances, as text.
#include "base/units.h"
#include "requirement/general_tolerances.h"
#include <charconv>
#include <cmath>

namespace alder {
namespace {

constexpr std::size_t kMostRows = 100;

// All figures of a line, whatever words and signs stand between; "±" is none, a comma counts as a
// point between digits.
std::vector<double> figuresIn(std::string line) {
  for (std::size_t i = 1; i + 1 < line.size(); ++i)
    if (line[i] == ',' && std::isdigit(static_cast<unsigned char>(line[i - 1])) &&
        std::isdigit(static_cast<unsigned char>(line[i + 1])))
      line[i] = '.';
  std::vector<double> all;
  for (std::size_t i = 0; i < line.size();) {
    const bool begins = std::isdigit(static_cast<unsigned char>(line[i])) ||
                        (line[i] == '.' && i + 1 < line.size() &&
                         std::isdigit(static_cast<unsigned char>(line[i + 1])));
    if (!begins) {
      ++i;
      continue;
    }
    double value = 0;
    const auto end = std::from_chars(line.data() + i, line.data() + line.size(), value,
                                     std::chars_format::fixed);
    all.push_back(value);
    i = std::max<std::size_t>(i + 1, static_cast<std::size_t>(end.ptr - line.data()));
  }
  return all;
}

} // namespace

Result<std::vector<GeneralRow>> generalRows(std::string_view text) {
  std::vector<GeneralRow> rows;
  int number = 0;
  while (!text.empty()) {
    const auto end = std::min(text.find('\n'), text.size());
    const std::string line(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
    ++number;
    if (line.find_first_not_of(" \t\r") == std::string::npos) continue;
    const auto figures = figuresIn(line);
    if (figures.empty() && rows.empty()) continue; // a title
    if (figures.size() < 2 || figures.size() > 3)
      return fail("Line {}: two figures are needed, a size up to which it holds and ±.", number);
    const GeneralRow row{figures[figures.size() - 2], figures.back()};
    if (!(row.up_to > 0 && row.half > 0) || row.up_to > 1e6 || row.half > row.up_to)
      return fail("Line {}: the size and its ± are above zero, and ± the smaller.", number);
    const double before = rows.empty() ? 0 : rows.back().up_to;
    if (row.up_to <= before)
      return fail("Line {}: {} is not above the size of the line before.", number,
                  shortFigure(row.up_to));
    // The first may begin above zero.
    if (figures.size() == 3 && !rows.empty() && std::abs(figures[0] - before) > 1e-9)
      return fail("Line {}: it begins at {}, and the line before ends at {}.", number,
                  shortFigure(figures[0]), shortFigure(before));
    if (rows.size() == kMostRows) return fail("Line {}: more than {} rows.", number, kMostRows);
    rows.push_back(row);
  }
  return rows;
}

std::string textOf(const std::vector<GeneralRow>& rows) {
  std::string text;
  for (const GeneralRow& row : rows)
    text += fmt::format("up to {}: ±{}\n", shortFigure(row.up_to), shortFigure(row.half, 6));
  return text;
}

} // namespace alder
