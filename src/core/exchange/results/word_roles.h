// What columns of words in a result file say: names, numbers, axes, units.
#pragma once

#include "exchange/results/file_kind.h"

namespace alder {

struct WordColumn {
  CellPlace place;
  std::vector<std::string> rows;
  ResultRole titled = ResultRole::None;
  bool foreign_title = false;    // a word that says none of the roles
  std::optional<ResultRole> set; // by a person
};

// Role of each; none twice. What a person set comes first, then titles, then what the words are.
std::vector<ResultRole> wordRoles(const std::vector<WordColumn>& columns);

// Of the rows that hold something.
double shareOf(const std::vector<std::string>& rows, bool (*is)(const std::string&));
bool isAxisWord(const std::string& text);
bool isUnitWord(const std::string& text);
bool isStatusWord(const std::string& text);
// Numbers of characteristics: each once, or one after the other.
bool areNumbers(const std::vector<std::string>& rows);

} // namespace alder
