#include "report/workbook/cell_shift.h"

#include <cctype>
#include <functional>
#include <optional>

namespace alder {
namespace {

constexpr int kLastColumn = 16384, kLastRow = 1048576;

bool letter(char c) {
  return std::isalpha(static_cast<unsigned char>(c)) != 0;
}
bool digit(char c) {
  return c >= '0' && c <= '9';
}
bool wordPart(char c) {
  return letter(c) || digit(c) || c == '_' || c == '.' || (static_cast<unsigned char>(c) & 0x80);
}

// One end of a reference: column, row, or both.
struct End {
  bool column_fixed = false, row_fixed = false;
  int column = 0, row = 0; // 0: not said
  std::string text() const {
    std::string t;
    if (column > 0) t += (column_fixed ? "$" : "") + columnName(column);
    if (row > 0) t += (row_fixed ? "$" : "") + std::to_string(row);
    return t;
  }
};

std::optional<End> endAt(std::string_view text, std::size_t& at) {
  std::size_t i = at;
  End end;
  const auto dollar = [&] {
    const bool there = i < text.size() && text[i] == '$';
    if (there) ++i;
    return there;
  };
  bool fixed = dollar();
  const std::size_t letters = i;
  while (i < text.size() && letter(text[i]) && i - letters < 4) {
    end.column = 26 * end.column + std::toupper(static_cast<unsigned char>(text[i])) - 'A' + 1;
    ++i;
  }
  if (i - letters > 3 || end.column > kLastColumn) return {};
  if (i > letters) {
    end.column_fixed = fixed;
    fixed = dollar();
  }
  const std::size_t digits = i;
  while (i < text.size() && digit(text[i]) && i - digits < 8) {
    end.row = 10 * end.row + text[i] - '0';
    ++i;
  }
  if (end.row > kLastRow || (i > digits && text[digits] == '0')) return {};
  end.row_fixed = fixed && i > digits;
  if (i == digits && fixed) return {};
  if (end.column == 0 && end.row == 0) return {};
  at = i;
  return end;
}

// A reference: one cell, or a range of cells, of columns or of rows.
struct Reference {
  End from;
  std::optional<End> to;
  std::string text() const { return from.text() + (to ? ":" + to->text() : ""); }
};

std::optional<Reference> referenceAt(std::string_view text, std::size_t& at) {
  std::size_t i = at;
  const auto from = endAt(text, i);
  if (!from) return {};
  Reference reference{*from, {}};
  if (i < text.size() && text[i] == ':') {
    std::size_t k = i + 1;
    const auto to = endAt(text, k);
    if (to && (to->column > 0) == (from->column > 0) && (to->row > 0) == (from->row > 0))
      reference.to = to, i = k;
  }
  const bool cell = from->column > 0 && from->row > 0;
  if (!cell && !reference.to) return {}; // a name, or a number
  if (i < text.size() && (wordPart(text[i]) || text[i] == '(' || text[i] == '!')) return {};
  at = i;
  return reference;
}

// Calls `change` for every reference with the sheet that stands before it (empty: none), and puts
// what comes of it in its place.
std::string
eachReference(std::string_view formula,
              const std::function<void(const std::string& sheet, Reference& reference)>& change) {
  std::string out;
  std::size_t i = 0;
  while (i < formula.size()) {
    const char c = formula[i];
    if (c == '"') { // a text
      std::size_t end = i + 1;
      while (end < formula.size() &&
             (formula[end] != '"' || (end + 1 < formula.size() && formula[end + 1] == '"')))
        end += formula[end] == '"' ? 2 : 1;
      end = std::min(end + 1, formula.size());
      out += formula.substr(i, end - i);
      i = end;
      continue;
    }
    if (c == '[') { // of a table, or another workbook
      int depth = 0;
      std::size_t end = i;
      do {
        depth += formula[end] == '[' ? 1 : formula[end] == ']' ? -1 : 0;
        ++end;
      } while (end < formula.size() && depth > 0);
      out += formula.substr(i, end - i);
      i = end;
      continue;
    }
    // The name of a sheet before a reference.
    std::size_t at = i;
    std::string sheet;
    bool named = false;
    if (c == '\'') {
      ++at;
      while (at < formula.size() &&
             (formula[at] != '\'' || (at + 1 < formula.size() && formula[at + 1] == '\''))) {
        sheet += formula[at];
        at += formula[at] == '\'' ? 2 : 1;
      }
      ++at;
      named = at < formula.size() && formula[at] == '!';
      if (!named) {
        at = std::min(at, formula.size());
        out += formula.substr(i, at - i);
        i = at;
        continue;
      }
    } else if (wordPart(c) && !(i > 0 && formula[i - 1] == '$')) {
      while (at < formula.size() && wordPart(formula[at]))
        sheet += formula[at++];
      named = at < formula.size() && formula[at] == '!';
    }
    if (named) {
      out += formula.substr(i, at + 1 - i);
      i = at + 1;
    } else {
      sheet.clear();
    }
    std::size_t end = i;
    if (i < formula.size() && (letter(formula[i]) || digit(formula[i]) || formula[i] == '$'))
      if (auto reference = referenceAt(formula, end)) {
        change(sheet, *reference);
        out += reference->text();
        i = end;
        continue;
      }
    if (i >= formula.size()) break;
    // A whole word or number, so that no reference is seen within it.
    end = i + 1;
    if (wordPart(formula[i]))
      while (end < formula.size() && wordPart(formula[end]))
        ++end;
    out += formula.substr(i, end - i);
    i = end;
  }
  return out;
}

void follow(Reference& r, const RowShift& shift) {
  if (!r.to) {
    if (r.from.row > 0) r.from.row = shift.first(r.from.row);
    return;
  }
  End &a = r.from, &b = *r.to;
  const bool in_order = a.row <= b.row;
  if (a.row > 0) a.row = in_order ? shift.first(a.row) : shift.last(a.row);
  if (b.row > 0) b.row = in_order ? shift.last(b.row) : shift.first(b.row);
}

} // namespace

int RowShift::first(int row) const {
  int now = row;
  for (const auto& [at, count] : more)
    if (at < row) now += count;
  return now;
}

int RowShift::last(int row) const {
  const auto repeated = more.find(row);
  return first(row) + (repeated == more.end() ? 0 : repeated->second);
}

std::string shiftedRanges(std::string_view ranges, const RowShift& shift) {
  return eachReference(ranges, [&](const std::string&, Reference& r) {
    if (!r.to && r.from.row > 0 && shift.more.contains(r.from.row)) r.to = r.from;
    follow(r, shift);
    if (r.to && r.to->text() == r.from.text()) r.to.reset();
  });
}

std::string shiftedFormula(std::string_view formula, const std::string& sheet,
                           const SheetShifts& shifts, const CopiedRow* copied) {
  return eachReference(formula, [&](const std::string& of, Reference& r) {
    const bool own = of.empty() || of == sheet;
    const auto shift = shifts.find(of.empty() ? sheet : of);
    const auto toCopy = [&](End& end, int was) {
      if (end.row_fixed || was != copied->row) return;
      end.row = (shift == shifts.end() ? was : shift->second.first(was)) + copied->copy;
    };
    const End from = r.from;
    const std::optional<End> to = r.to;
    // Wholly within the row: its own copy. A range over more than that holds all copies.
    const bool within = own && copied && from.row == copied->row && (!to || to->row == copied->row);
    if (shift != shifts.end()) follow(r, shift->second);
    if (!within) return;
    if (from.row_fixed && (!to || to->row_fixed)) return;
    toCopy(r.from, from.row);
    if (r.to) toCopy(*r.to, to->row);
  });
}

std::string shiftedSource(std::string_view formula, const SheetShifts& shifts) {
  return eachReference(formula, [&](const std::string& of, Reference& r) {
    const auto shift = shifts.find(of);
    if (shift == shifts.end()) return;
    if (!r.to && shift->second.more.contains(r.from.row)) r.to = r.from;
    follow(r, shift->second);
  });
}

std::string movedFormula(std::string_view formula, int rows, int columns) {
  return eachReference(formula, [&](const std::string&, Reference& r) {
    const auto move = [&](End& end) {
      if (end.row > 0 && !end.row_fixed) end.row += rows;
      if (end.column > 0 && !end.column_fixed) end.column += columns;
    };
    move(r.from);
    if (r.to) move(*r.to);
  });
}

bool mentions(std::string_view formula, const std::string& sheet) {
  bool found = false;
  eachReference(formula, [&](const std::string& of, Reference&) { found |= of == sheet; });
  return found;
}

bool cellFrom(std::string_view text, SheetPlace& place) {
  std::size_t at = 0;
  const auto end = endAt(text, at);
  if (!end || at != text.size() || end->column == 0 || end->row == 0) return false;
  place = {end->column, end->row};
  return true;
}

std::string columnName(int column) {
  std::string name;
  for (; column > 0; column = (column - 1) / 26)
    name.insert(name.begin(), static_cast<char>('A' + (column - 1) % 26));
  return name;
}

} // namespace alder
