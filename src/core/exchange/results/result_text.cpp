#include "exchange/results/result_text.h"

#include "base/files.h"
#include <algorithm>
#include <array>

namespace alder {
namespace {

void putCodePoint(std::string& out, char32_t c) {
  const auto put = [&](char32_t byte) { out += static_cast<char>(byte); };
  if (c < 0x80) {
    put(c);
  } else if (c < 0x800) {
    put(0xC0 | (c >> 6)), put(0x80 | (c & 0x3F));
  } else if (c < 0x10000) {
    put(0xE0 | (c >> 12)), put(0x80 | ((c >> 6) & 0x3F)), put(0x80 | (c & 0x3F));
  } else {
    put(0xF0 | (c >> 18)), put(0x80 | ((c >> 12) & 0x3F));
    put(0x80 | ((c >> 6) & 0x3F)), put(0x80 | (c & 0x3F));
  }
}

bool isContinuation(char c) {
  return (static_cast<unsigned char>(c) & 0xC0) == 0x80;
}

bool isUtf8(std::string_view bytes) {
  for (std::size_t i = 0; i < bytes.size();) {
    const auto c = static_cast<unsigned char>(bytes[i]);
    const std::size_t length = c < 0x80                ? 1
                               : c >= 0xC2 && c < 0xE0 ? 2
                               : c >= 0xE0 && c < 0xF0 ? 3
                               : c >= 0xF0 && c < 0xF5 ? 4
                                                       : 0;
    if (length == 0 || i + length > bytes.size()) return false;
    for (std::size_t k = 1; k < length; ++k)
      if (!isContinuation(bytes[i + k])) return false;
    i += length;
  }
  return true;
}

// 0x80 to 0x9F; the rest is as in Latin-1. What the code page leaves open is a question mark.
constexpr std::array<char32_t, 32> kWindows1252{
    0x20AC, '?',    0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021, 0x02C6, 0x2030, 0x0160,
    0x2039, 0x0152, '?',    0x017D, '?',    '?',    0x2018, 0x2019, 0x201C, 0x201D, 0x2022,
    0x2013, 0x2014, 0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, '?',    0x017E, 0x0178};

std::string fromWindows1252(std::string_view bytes) {
  std::string out;
  for (const char b : bytes) {
    const auto c = static_cast<unsigned char>(b);
    putCodePoint(out, c >= 0x80 && c < 0xA0 ? kWindows1252[c - 0x80u] : c);
  }
  return out;
}

std::string fromUtf16(std::string_view bytes, bool big) {
  std::string out;
  const auto unit = [&](std::size_t i) {
    const auto a = static_cast<unsigned char>(bytes[i]),
               b = static_cast<unsigned char>(bytes[i + 1]);
    return static_cast<char32_t>(big ? a << 8 | b : b << 8 | a);
  };
  for (std::size_t i = 0; i + 1 < bytes.size(); i += 2) {
    char32_t c = unit(i);
    if (c >= 0xD800 && c < 0xDC00 && i + 3 < bytes.size() && (unit(i + 2) & 0xFC00) == 0xDC00) {
      c = 0x10000 + ((c - 0xD800) << 10) + (unit(i + 2) - 0xDC00);
      i += 2;
    }
    putCodePoint(out, c >= 0xD800 && c < 0xE000 ? '?' : c);
  }
  return out;
}

// Without a mark at its beginning UTF-16 is told by zeros in every other byte.
std::optional<bool> utf16Order(std::string_view bytes) {
  if (bytes.starts_with("\xFF\xFE")) return false;
  if (bytes.starts_with("\xFE\xFF")) return true;
  const std::size_t looked = std::min<std::size_t>(bytes.size(), 2000) / 2 * 2;
  std::size_t even = 0, odd = 0;
  for (std::size_t i = 0; i < looked; i += 2)
    even += bytes[i] == 0, odd += bytes[i + 1] == 0;
  if (looked >= 8 && odd * 5 > looked * 2 && even == 0) return false;
  if (looked >= 8 && even * 5 > looked * 2 && odd == 0) return true;
  return {};
}

} // namespace

std::string_view name(TextEncoding encoding) {
  constexpr std::array<std::string_view, 3> kNames{"UTF-8", "UTF-16", "Windows-1252"};
  return kNames[static_cast<std::size_t>(encoding)];
}

std::vector<std::string> linesOf(std::string_view text) {
  std::vector<std::string> lines;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find_first_of("\n\r\f", at), text.size());
    lines.emplace_back(text.substr(at, end - at));
    at = end + 1;
    if (end < text.size() && text[end] == '\r' && at < text.size() && text[at] == '\n') ++at;
  }
  return lines;
}

std::optional<PlainText> plainText(std::string_view bytes) {
  PlainText plain;
  if (const auto big = utf16Order(bytes)) {
    plain.encoding = TextEncoding::Utf16;
    plain.text = fromUtf16(bytes, *big);
    if (plain.text.starts_with("\xEF\xBB\xBF")) plain.text.erase(0, 3);
  } else {
    const std::string_view body = bytes.substr(bytes.starts_with("\xEF\xBB\xBF") ? 3 : 0);
    plain.encoding = isUtf8(body) ? TextEncoding::Utf8 : TextEncoding::Windows1252;
    plain.text = plain.encoding == TextEncoding::Utf8 ? std::string(body) : fromWindows1252(body);
  }
  if (plain.text.find('\0') != std::string::npos) return {};
  return plain;
}

Result<std::string> resultBytes(const std::filesystem::path& path) {
  std::error_code code;
  const auto size = std::filesystem::file_size(path, code);
  if (!code && size > kMostResultBytes)
    return fail("{}: holds {} MB, more than a file of results has ({} MB at most); a point cloud "
                "is opened as one.",
                path.string(), size >> 20, kMostResultBytes >> 20);
  return readFile(path);
}

Result<ResultText> resultText(const std::string& bytes, const std::string& label) {
  if (isWorkbook(bytes)) return workbookText(bytes, label);
  auto plain = plainText(bytes);
  if (!plain)
    return fail("{}: is neither text nor a workbook (*.xlsx); save the results as one of them.",
                label);
  ResultText result;
  result.encoding = plain->encoding;
  const std::string& text = plain->text;
  std::size_t odd = 0;
  for (const char c : text)
    odd += static_cast<unsigned char>(c) < 0x20 && c != '\n' && c != '\r' && c != '\t' && c != '\f';
  if (odd * 50 > text.size())
    return fail("{}: is neither text nor a workbook (*.xlsx); save the results as one of them.",
                label);
  result.lines = linesOf(text);
  // What has no line ends is no table, and every look at such a line would be a long one.
  constexpr std::size_t kLongestLine = 50'000;
  for (std::size_t i = 0; i < result.lines.size(); ++i)
    if (result.lines[i].size() > kLongestLine)
      return fail("{}: line {} has {} characters; no table or report has such lines.", label, i + 1,
                  result.lines[i].size());
  const bool blank = std::all_of(result.lines.begin(), result.lines.end(), [](const auto& l) {
    return l.find_first_not_of(" \t") == std::string::npos;
  });
  if (blank) return fail("{}: the file is empty.", label);
  return result;
}

std::size_t columnOf(std::string_view line, std::size_t byte) {
  std::size_t column = 0;
  for (std::size_t i = 0; i < std::min(byte, line.size()); ++i)
    column += !isContinuation(line[i]);
  return column;
}

std::size_t byteOf(std::string_view line, std::size_t column) {
  std::size_t i = 0;
  for (; i < line.size(); ++i)
    if (!isContinuation(line[i]) && column-- == 0) break;
  return i;
}

} // namespace alder
