// A kind of result file, described: what begins a record, and where in a line its name, nominal,
// limits and actual value stand. The description is data that is kept, shared as a file and
// corrected by pointing at words; one reader reads all kinds by it (result_reader.h).
#pragma once

#include "bench/json_fields.h"
#include "exchange/results/result_figure.h"
#include "exchange/results/result_text.h"
#include "exchange/results/result_words.h"

namespace alder {

// How a line is cut into cells.
enum class CellRule {
  Separated, // by a character; quotes hold it back (RFC 4180)
  Columns,   // where they stand, counted in characters
  Blanks,    // by `gap` blanks or more
};

std::string_view name(CellRule rule); // "separated", "columns", "blanks"

struct Cell {
  std::string text;             // trimmed, without quotes
  std::size_t from = 0, to = 0; // bytes in the line
};

struct CellLayout {
  CellRule rule = CellRule::Blanks;
  char separator = ';';
  std::vector<int> starts; // of the columns, ascending, the first 0
  int gap = 2;
  friend bool operator==(const CellLayout&, const CellLayout&) = default;
};
std::vector<Cell> cellsOf(const std::string& line, const CellLayout& layout);
// Lines beside a table whose columns are known by their places are cut by blanks.
CellLayout besideTable(const CellLayout& layout);

// Where in a line something stands: cells `first` to `last`, counted from 0, from the end where
// negative (-1 is the last). Where `after` is set, counted from what stands behind that word, in
// its own cell or the next one; a `last` of -1 then ends before the next word with a colon.
struct CellPlace {
  int first = 0, last = 0;
  std::string after; // as plainWord leaves it
  friend bool operator==(const CellPlace&, const CellPlace&) = default;
};
// The cells there; empty where the line has no such place.
std::vector<Cell> cellsAt(const CellPlace& place, const std::vector<Cell>& cells);
// Their text, joined by a blank.
std::string textAt(const CellPlace& place, const std::vector<Cell>& cells);

struct KindField {
  ResultRole role = ResultRole::None;
  CellPlace place;
  FigureUnit unit = FigureUnit::None; // of the figures there, where it is another one
  friend bool operator==(const KindField&, const KindField&) = default;
};

enum class LineUse {
  Passed,  // says nothing of a result: page header, rule, remark
  Record,  // begins a result
  More,    // goes on with the result before
  Heading, // says something of all results up to the next heading
  Part,    // says something of the part: serial number, date, operator
  // A characteristic a column: each cell of a field stands by itself. Lines with actual values are
  // a part each; the others say the same thing of all characteristics.
  Across,
};
inline constexpr int kLineUseCount = 6;
std::string_view name(LineUse use); // "passed", "record", "more", "heading", "part", "across"

// For lines that look so; see fits().
struct LineRule {
  LineUse use = LineUse::Passed;
  std::string begins;              // its first words, as plainWord leaves them; empty: any
  std::size_t least = 1, most = 0; // cells; most 0: any number
  std::vector<KindField> fields;
  friend bool operator==(const LineRule&, const LineRule&) = default;
};

struct FileKind {
  std::string name;
  std::vector<std::string> marks; // how lines of each such file begin, as plainWord leaves them
  CellLayout layout;
  char decimal = '.';
  FigureUnit unit = FigureUnit::Millimetre; // of lengths
  std::vector<LineRule> rules;              // the first that fits a line counts
  friend bool operator==(const FileKind&, const FileKind&) = default;
};

// All figure fields are figures or empty, at least one is a figure, of a record the actual value
// or, where the rule has none, the nominal. No figure with decimals is passed over by a rule: a
// result may begin as a page header does.
bool fits(const LineRule& rule, const std::vector<Cell>& cells, const std::string& line,
          char decimal);
struct RuledLine {
  const LineRule* rule = nullptr; // null: none fits
  std::vector<Cell> cells;        // as the rule counts them
};
RuledLine ruledLine(const FileKind& kind, const std::string& line);
Json toJson(const FileKind& kind);
// Error names the field.
Result<FileKind> fileKindFromText(const std::string& json, const std::string& label);

// The text holds all marks of the kind, which has some.
bool holdsMarks(const ResultText& text, const FileKind& kind);

} // namespace alder
