#include "exchange/points/csv.h"

#include <algorithm>

namespace alder {
namespace {

std::vector<std::string> splitLine(std::string_view line) {
  std::vector<std::string> fields(1);
  bool quoted = false;
  for (std::size_t i = 0; i < line.size(); ++i) {
    const char c = line[i];
    if (quoted) {
      if (c == '"' && i + 1 < line.size() && line[i + 1] == '"')
        fields.back() += line[i++];
      else if (c == '"')
        quoted = false;
      else
        fields.back() += c;
    } else if (c == '"') {
      quoted = true;
    } else if (c == ',' || c == ';' || c == '\t') {
      fields.emplace_back();
    } else if (c != '\r') {
      fields.back() += c;
    }
  }
  for (auto& f : fields) {
    while (!f.empty() && f.back() == ' ')
      f.pop_back();
    while (!f.empty() && f.front() == ' ')
      f.erase(0, 1);
  }
  return fields;
}

} // namespace

std::string csvField(const std::string& text) {
  if (text.find_first_of(",\"\n") == std::string::npos) return text;
  std::string quoted = "\"";
  for (char c : text)
    quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
  return quoted + '"';
}

int CsvTable::column(std::string_view wanted) const {
  const auto found = std::find(header.begin(), header.end(), wanted);
  return found == header.end() ? -1 : static_cast<int>(found - header.begin());
}

Result<CsvTable> readCsv(const std::string& text, const std::string& label) {
  CsvTable table;
  int line_number = 0;
  for (std::size_t at = 0; at < text.size();) {
    const auto end = std::min(text.find('\n', at), text.size());
    const std::string_view line(text.data() + at, end - at);
    at = end + 1;
    ++line_number;
    if (line.empty() || line == "\r" || line.front() == '#') continue;
    auto fields = splitLine(line);
    if (table.header.empty()) {
      table.header = std::move(fields);
      continue;
    }
    if (fields.size() < table.header.size())
      return fail("{}: line {}: has {} fields where the header names {}.", label, line_number,
                  fields.size(), table.header.size());
    table.rows.push_back(std::move(fields));
    table.lines.push_back(line_number);
  }
  if (table.header.empty())
    return fail("{}: the file is empty; it needs a header and points.", label);
  return table;
}

} // namespace alder
