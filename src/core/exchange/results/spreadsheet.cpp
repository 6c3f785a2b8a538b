// Cells of an XLSX workbook (ECMA-376-1, SpreadsheetML) as text.
#include "exchange/results/result_text.h"

#include <algorithm>
#include <charconv>
#include <map>
#include <memory>
#include <optional>
#include <pugixml.hpp>
#include <zip.h>

namespace alder {
namespace {

constexpr std::size_t kMostCells = 4'000'000, kMostColumns = 4096;

struct CloseZip {
  void operator()(zip_t* z) const { zip_discard(z); }
};

// Null where the part is not in the package, or is damaged.
std::optional<std::string> partOf(zip_t* zip, const std::string& part) {
  zip_stat_t stat;
  zip_stat_init(&stat);
  if (zip_stat(zip, part.c_str(), 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE)) return {};
  if (stat.size > 4 * kMostResultBytes) return {};
  std::string bytes(stat.size, '\0');
  zip_file_t* file = zip_fopen(zip, part.c_str(), 0);
  if (!file) return {};
  const auto read = zip_fread(file, bytes.data(), bytes.size());
  const bool intact = zip_fclose(file) == 0;
  if (!intact || read != static_cast<zip_int64_t>(bytes.size())) return {};
  return bytes;
}

// Names of elements come with a prefix or without.
std::string_view bare(const char* name) {
  const std::string_view n = name;
  const auto colon = n.find(':');
  return colon == std::string_view::npos ? n : n.substr(colon + 1);
}
pugi::xml_node child(const pugi::xml_node& node, std::string_view name) {
  for (const pugi::xml_node& c : node.children())
    if (bare(c.name()) == name) return c;
  return {};
}

// Text of <si> or <is>: runs one behind the other, without what is written over them.
std::string textOf(const pugi::xml_node& node) {
  std::string text;
  for (const pugi::xml_node& c : node.children()) {
    if (bare(c.name()) == "t") text += c.text().get();
    if (bare(c.name()) == "r") text += textOf(c);
  }
  for (char& c : text)
    if (c == '\t' || c == '\n' || c == '\r') c = ' ';
  return text;
}

// "BC12" is in column 54, counted from 0.
std::optional<std::size_t> columnNamed(std::string_view reference) {
  std::size_t column = 0, letters = 0;
  for (const char c : reference) {
    if (c < 'A' || c > 'Z') break;
    column = column * 26 + static_cast<std::size_t>(c - 'A' + 1);
    if (++letters > 3) return {};
  }
  if (letters == 0) return {};
  return column - 1;
}

// A figure as the file has it carries the noise of its binary form; 12 digits are what was meant.
std::string figureText(const char* stored) {
  const std::string_view text = stored;
  double v = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (code != std::errc{} || end != text.data() + text.size()) return stored;
  return fmt::format("{:.12g}", v);
}

class Workbook {
 public:
  Workbook(zip_t* zip, std::string label)
      : zip_(zip)
      , label_(std::move(label)) {}

  Result<ResultText> read() {
    ResultText text;
    text.spreadsheet = true;
    if (auto done = readWords(); !done) return pass(done.error());
    auto sheets = sheetParts();
    if (!sheets) return pass(sheets.error());
    for (const auto& [name, part] : *sheets)
      if (auto done = readSheet(name, part, sheets->size() > 1, text); !done)
        return pass(done.error());
    if (cells_ == 0) return fail("{}: its sheets are empty.", label_);
    return text;
  }

 private:
  Result<pugi::xml_document> xml(const std::string& part) const {
    const auto bytes = partOf(zip_, part);
    if (!bytes)
      return fail("{}: {} inside is missing or damaged; save the workbook again.", label_, part);
    pugi::xml_document document;
    if (const auto parsed = document.load_buffer(bytes->data(), bytes->size()); !parsed)
      return fail("{}: {} inside is damaged ({}); save the workbook again.", label_, part,
                  parsed.description());
    return document;
  }

  Done readWords() {
    if (zip_name_locate(zip_, "xl/sharedStrings.xml", 0) < 0) return {};
    auto document = xml("xl/sharedStrings.xml");
    if (!document) return pass(document.error());
    for (const pugi::xml_node& item : document->document_element().children())
      if (bare(item.name()) == "si") words_.push_back(textOf(item));
    return {};
  }

  Result<std::vector<std::pair<std::string, std::string>>> sheetParts() const {
    auto book = xml("xl/workbook.xml");
    if (!book) return pass(book.error());
    auto relations = xml("xl/_rels/workbook.xml.rels");
    if (!relations) return pass(relations.error());
    std::map<std::string, std::string> targets;
    for (const pugi::xml_node& r : relations->document_element().children()) {
      const std::string target = r.attribute("Target").value();
      targets[r.attribute("Id").value()] =
          target.starts_with("/") ? target.substr(1) : "xl/" + target;
    }
    std::vector<std::pair<std::string, std::string>> sheets;
    for (const pugi::xml_node& s : child(book->document_element(), "sheets").children()) {
      std::string id;
      for (const pugi::xml_attribute& a : s.attributes())
        if (bare(a.name()) == "id" && std::string_view(a.name()) != "id") id = a.value();
      if (const auto target = targets.find(id); target != targets.end())
        sheets.emplace_back(s.attribute("name").value(), target->second);
    }
    if (sheets.empty()) return fail("{}: holds no sheet.", label_);
    return sheets;
  }

  Done readSheet(const std::string& name, const std::string& part, bool named, ResultText& text) {
    auto document = xml(part);
    if (!document) return pass(document.error());
    if (named) text.lines.push_back(name);
    std::size_t expected = 1;
    for (const pugi::xml_node& row : child(document->document_element(), "sheetData").children()) {
      const auto number = row.attribute("r").as_uint(static_cast<unsigned>(expected));
      // Empty rows between are kept, but not a million of them.
      for (; expected < number && number - expected < 1000; ++expected)
        text.lines.emplace_back();
      expected = number + std::size_t{1};
      std::vector<std::string> cells;
      for (const pugi::xml_node& cell : row.children()) {
        const std::size_t column = columnNamed(cell.attribute("r").value()).value_or(cells.size());
        if (column >= kMostColumns || ++cells_ > kMostCells)
          return fail("{}: sheet {} is larger than a table of results.", label_, name);
        cells.resize(std::max(cells.size(), column + 1));
        cells[column] = cellText(cell);
      }
      std::string line;
      for (std::size_t i = 0; i < cells.size(); ++i)
        line += (i > 0 ? "\t" : "") + cells[i];
      text.lines.push_back(std::move(line));
    }
    return {};
  }

  std::string cellText(const pugi::xml_node& cell) const {
    const std::string_view type = cell.attribute("t").value();
    if (type == "inlineStr") return textOf(child(cell, "is"));
    const char* value = child(cell, "v").text().get();
    if (type == "s") {
      const auto index = child(cell, "v").text().as_ullong(words_.size());
      return index < words_.size() ? words_[index] : "";
    }
    return type.empty() || type == "n" ? figureText(value) : value;
  }

  zip_t* zip_;
  std::string label_;
  std::vector<std::string> words_;
  std::size_t cells_ = 0;
};

} // namespace

bool isWorkbook(std::string_view bytes) {
  return bytes.starts_with("PK\x03\x04");
}

Result<ResultText> workbookText(const std::string& bytes, const std::string& label) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
  zip_t* opened = source ? zip_open_from_source(source, ZIP_RDONLY, &error) : nullptr;
  if (!opened) {
    if (source) zip_source_free(source);
    zip_error_fini(&error);
    return fail("{}: is a damaged workbook; save it again.", label);
  }
  const std::unique_ptr<zip_t, CloseZip> zip(opened);
  if (zip_name_locate(zip.get(), "xl/workbook.xml", 0) < 0)
    return fail("{}: is a packed file but no workbook (*.xlsx); unpack it first.", label);
  return Workbook(zip.get(), label).read();
}

} // namespace alder
