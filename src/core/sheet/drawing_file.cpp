#include "sheet/drawing_file.h"

#include <algorithm>

namespace alder {

bool DrawingFile::operator==(const DrawingFile& other) const {
  const bool same_bytes = bytes == other.bytes || (bytes && other.bytes && *bytes == *other.bytes);
  return same_bytes && name == other.name && unit == other.unit && refused == other.refused;
}

Done validate(const DrawingFile& drawing) {
  constexpr std::size_t kLongest = 200;
  const std::string& n = drawing.name;
  const bool odd = std::any_of(n.begin(), n.end(), [](char c) {
    return c == '/' || c == '\\' || static_cast<unsigned char>(c) < 32;
  });
  if (n.empty() || n == "." || n == ".." || n.size() > kLongest || odd)
    return fail("\"{}\" is no name for a file; rename the file.", n);
  if (!drawing.bytes || drawing.bytes->empty()) return fail("{}: the file is empty.", n);
  return {};
}

} // namespace alder
