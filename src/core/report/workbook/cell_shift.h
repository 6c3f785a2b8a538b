// Rows put into a sheet, and what refers to its cells after that: references in formulas, ranges,
// single cells, as ECMA-376 writes them ("B7", "$A$1:C9", "'Sheet 2'!B7").
#pragma once

#include <map>
#include <string>
#include <string_view>

namespace alder {

// A row of the template and how many rows more stand in its place.
struct RowShift {
  std::map<int, int> more; // rows count from 1
  bool empty() const { return more.empty(); }
  int first(int row) const; // where the row is now; of a repeated one its first
  int last(int row) const;  // of a repeated one its last
};

// By name of sheet.
using SheetShifts = std::map<std::string, RowShift>;

// A range or a cell, or several with blanks between them. A range that begins or ends with a
// repeated row holds all of them.
std::string shiftedRanges(std::string_view ranges, const RowShift& shift);

// Of the k-th copy of a repeated row, 0 its first; nothing of it: an ordinary formula.
struct CopiedRow {
  int row = 0, copy = 0;
};

// A formula in a cell of `sheet`. References to a sheet that has more rows now follow what they
// referred to; a formula in a copied row refers to its own copy where it referred to its row.
std::string shiftedFormula(std::string_view formula, const std::string& sheet,
                           const SheetShifts& shifts, const CopiedRow* copied = nullptr);

// What a chart or the name of a range refers to: one cell of a repeated row becomes all of them.
std::string shiftedSource(std::string_view formula, const SheetShifts& shifts);

// The formula of a cell further down and to the right, of one that several cells share.
std::string movedFormula(std::string_view formula, int rows, int columns);

// Does it refer to that sheet by its name?
bool mentions(std::string_view formula, const std::string& sheet);

// "AB12": 28, 12; nothing: no cell.
struct SheetPlace {
  int column = 0, row = 0; // from 1
};
bool cellFrom(std::string_view text, SheetPlace& place);
std::string columnName(int column);

} // namespace alder
