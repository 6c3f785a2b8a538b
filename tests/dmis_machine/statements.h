// A program by ISO 22093 as statements: the second opinion's own reading of the text, which shares
// no code with the reader and the writer.
#pragma once

#include <string>
#include <vector>

namespace dmis_machine {

struct Said {
  int line = 0;
  std::string kind, label;        // "D" and "ROUGH" of D(ROUGH)=...
  std::string word;               // before the slash
  std::vector<std::string> items; // behind it
  bool has(std::size_t i, const char* item) const { return i < items.size() && items[i] == item; }
  double number(std::size_t i) const; // throws std::runtime_error with the line
};

// "BORE" of "FA(BORE)"; throws where it is no such name.
std::string labelIn(const Said& said, std::size_t i, const char* kind);

// Comments left aside. Throws std::runtime_error where a line is longer than 80 characters, holds
// what is not ASCII, or ends within a text or a bracket.
std::vector<Said> saidIn(const std::string& program);

} // namespace dmis_machine
