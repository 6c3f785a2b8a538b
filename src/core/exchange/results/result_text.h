// Files of results as lines of text, whatever they were written in: encodings, spreadsheets.
#pragma once

#include "base/error.h"
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

enum class TextEncoding { Utf8, Utf16, Windows1252 };
std::string_view name(TextEncoding encoding); // "UTF-8", "UTF-16", "Windows-1252"

struct ResultText {
  std::vector<std::string> lines; // UTF-8, without their ends
  TextEncoding encoding = TextEncoding::Utf8;
  // Of a spreadsheet: a row is a line with tabs between its cells; figures have a decimal point
  // whatever the sheet shows.
  bool spreadsheet = false;
};

// Bytes of a file of results; refused above `kMostResultBytes`, before they are read.
inline constexpr std::uintmax_t kMostResultBytes = 64u << 20;
Result<std::string> resultBytes(const std::filesystem::path& path);

// Text in whatever encoding as UTF-8, without a mark at its beginning; nothing where it holds bytes
// that no text has.
struct PlainText {
  std::string text;
  TextEncoding encoding = TextEncoding::Utf8;
};
std::optional<PlainText> plainText(std::string_view bytes);
std::vector<std::string> linesOf(std::string_view text);

// Error names the file: it is empty, or no text and no spreadsheet. `label` names it.
Result<ResultText> resultText(const std::string& bytes, const std::string& label);

// spreadsheet.cpp: sheets of an XLSX workbook (ECMA-376), one below the other, each begun by a line
// with its name.
bool isWorkbook(std::string_view bytes);
Result<ResultText> workbookText(const std::string& bytes, const std::string& label);

// So many characters (code points) stand before the byte.
std::size_t columnOf(std::string_view line, std::size_t byte);
std::size_t byteOf(std::string_view line, std::size_t column);

} // namespace alder
