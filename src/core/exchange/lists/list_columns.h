// What the columns of a table of requirements hold.
#pragma once

#include "exchange/lists/requirement_list.h"
#include "exchange/results/file_kind.h"

namespace alder {

// By a title; None: no word that is known for one.
ListColumn listColumnOf(std::string_view title);

struct ListHead {
  std::size_t line = 0; // of the titles, from 0
  CellLayout layout;
  std::vector<ListColumn> columns;
  std::vector<std::string> titles;
  bool inch = false; // a title says so: "Nominal [in]"
};
// The line with most titles among the first ones; nothing: none holds a nominal or a description.
std::optional<ListHead> listHead(const ResultText& text);

// ',' where figures are written so.
char decimalOf(const ResultText& text, const ListHead& head);

} // namespace alder
