// Text with commas, semicolons or tabs between its fields (RFC 4180), in and out.
#pragma once

#include "base/error.h"
#include <string>
#include <vector>

namespace alder {

struct CsvTable {
  std::vector<std::string> header;
  std::vector<std::vector<std::string>> rows;
  std::vector<int> lines;                  // line of each row in the file
  int column(std::string_view name) const; // -1 if absent
};
// Error names the line. Empty lines and lines that begin with # are passed over.
Result<CsvTable> readCsv(const std::string& text, const std::string& label);

// Quoted where it must be.
std::string csvField(const std::string& text);

} // namespace alder
