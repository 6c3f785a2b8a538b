// Requirements from a table of others: CSV, a spreadsheet, or rows that were copied. The titles of
// its columns say what they hold, in the languages that result files are read in.
#pragma once

#include "exchange/results/result_text.h"
#include "requirement/typed/typed.h"

namespace alder {

enum class ListColumn {
  None,
  Number, // of the characteristic, balloon
  Words,  // description; may be the whole callout: "6x ø11 +0.2/-0.1"
  Kind,   // "diameter", "flatness", ⌀
  Nominal,
  Upper, // limits themselves
  Lower,
  UpperDeviation,
  LowerDeviation,
  Tolerance, // width of a zone; of dimensions to both sides, or a fit
  Datums,
  Unit,
  Count,
  Key,       // class of a key characteristic
  SheetZone, // field of the drawing: "C4"
  Page,
};
std::string_view words(ListColumn column); // for people: "number", "upper deviation"

struct ListedRequirement {
  int line = 0;       // of the table, from 1
  std::string number; // as written
  std::string text;   // the callout as it was put together: "ø11 +0.2/-0.1"
  std::string key, sheet_zone;
  std::vector<Typed> typed; // one, of chamfers two; empty: not understood
  std::string fault;        // why not, one line
};

struct RequirementList {
  std::vector<ListColumn> columns; // by place
  std::vector<std::string> titles;
  std::vector<ListedRequirement> rows;
  std::vector<int> passed; // lines that hold no figure and no callout: headings of groups, remarks
};

// Error where no line is a row of titles; it says which columns are looked for. `label` names it.
Result<RequirementList> requirementList(const ResultText& text, const std::string& label,
                                        const TypingSettings& settings = {});

} // namespace alder
