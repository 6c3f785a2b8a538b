#include "drawing/callout.h"

#include "drawing/dimension_lines.h"
#include "drawing/symbol.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace alder {
namespace {

constexpr double kTight = 2.7;         // height of a frame, of the size of its text
constexpr double kTightSide = 3;       // room beside the text in it
constexpr double kAloneSide = 1.7;     // of one that stands alone
constexpr double kAdjacent = 0.35;     // mm between compartments that touch
constexpr double kSmaller = 0.86;      // deviations, of the size of the dimension
constexpr double kHighestSymbol = 4.2; // rows that share one symbol

bool isNumber(const std::string& text) {
  bool digit = false;
  for (const char c : text) {
    if (std::isdigit(static_cast<unsigned char>(c)))
      digit = true;
    else if (c != '.' && c != ',' && c != ' ')
      return false;
  }
  return digit;
}

// "+0.2", "-0.1", "0", "−0,05", with its degree sign
bool isDeviation(std::string text) {
  for (const char* sign : {"−", "–", "‒"})
    if (text.starts_with(sign)) text = "-" + text.substr(std::string(sign).size());
  if (text.ends_with("°")) text.resize(text.size() - 2);
  if (text.empty()) return false;
  const bool sign = text[0] == '+' || text[0] == '-';
  return isNumber(text.substr(sign ? 1 : 0)) &&
         (sign || text.find_first_not_of("0., ") == std::string::npos);
}

bool isWhole(const std::string& text) {
  return !text.empty() && text.size() < 4 && std::all_of(text.begin(), text.end(), [](char c) {
    return std::isdigit(static_cast<unsigned char>(c));
  });
}

struct Piece {
  TextLine line;
  std::optional<RuledCell> cell;
  bool tight = false;
  bool used = false;
  bool limits = false; // one above the other
};

class Composer {
 public:
  explicit Composer(const DrawingSheet& sheet)
      : strokes_(strokesOf(sheet))
      , index_(strokes_.segments)
      , dimension_lines_(strokes_, index_) {
    for (TextLine& line : textLines(sheet))
      pieces_.push_back({std::move(line), {}, false, false});
  }

  std::vector<Written> compose() {
    std::map<long, std::vector<std::size_t>> by_angle;
    for (std::size_t i = 0; i < pieces_.size(); ++i)
      by_angle[std::lround(pieces_[i].line.box.angle * 100)].push_back(i);
    for (const auto& [key, all] : by_angle) {
      const Ruling ruling(strokes_, pieces_[all.front()].line.box.angle);
      for (const std::size_t i : all)
        frame(ruling, pieces_[i]);
      rows(ruling, all);
      for (const std::size_t i : all)
        if (!pieces_[i].used && pieces_[i].cell) inCell(i);
      stacked(all);
    }
    for (Piece& p : pieces_)
      if (!p.used) plain(p);
    together();
    std::stable_sort(written_.begin(), written_.end(), [](const Written& a, const Written& b) {
      const double rows = a.box.middle().y() - b.box.middle().y();
      if (std::abs(rows) > 2) return rows > 0;
      return a.box.middle().x() < b.box.middle().x();
    });
    return std::move(written_);
  }

 private:
  void frame(const Ruling& ruling, Piece& p) {
    const TextBox& box = p.line.box;
    p.cell = ruling.cellOf(box);
    if (!p.cell) return;
    const double u = ruling.local(box.at).x();
    p.tight = p.cell->height() < kTight * box.size && u - p.cell->left < kTightSide * box.size &&
              p.cell->right - u - box.length < kTightSide * box.size;
  }

  static TextBox boxOf(const Ruling& ruling, const TextBox& text, const RuledCell& cell) {
    TextBox box = text;
    const double base = ruling.local(text.at).y();
    box.at = ruling.sheet({cell.left, base});
    box.length = cell.width();
    box.below = base - cell.bottom, box.above = cell.top - base;
    return box;
  }

  // Compartments side by side are a row; with a symbol before them they are an indicator.
  void rows(const Ruling& ruling, const std::vector<std::size_t>& all) {
    std::vector<std::size_t> tight;
    for (const std::size_t i : all)
      if (pieces_[i].tight) tight.push_back(i);
    std::sort(tight.begin(), tight.end(), [&](std::size_t a, std::size_t b) {
      const RuledCell &p = *pieces_[a].cell, &q = *pieces_[b].cell;
      if (std::abs(p.bottom - q.bottom) > kAdjacent) return p.bottom > q.bottom;
      return p.left < q.left;
    });
    std::vector<bool> taken(tight.size());
    for (std::size_t i = 0; i < tight.size(); ++i) {
      if (taken[i]) continue;
      std::vector<std::size_t> row{tight[i]};
      for (std::size_t k = i + 1; k < tight.size(); ++k) {
        const RuledCell &last = *pieces_[row.back()].cell, &next = *pieces_[tight[k]].cell;
        if (taken[k] || std::abs(next.bottom - last.bottom) > kAdjacent ||
            std::abs(next.top - last.top) > kAdjacent ||
            std::abs(next.left - last.right) > kAdjacent)
          continue;
        row.push_back(tight[k]);
        taken[k] = true;
      }
      compartments(ruling, row);
    }
  }

  struct Symbol {
    RuledCell cell;
    std::optional<Characteristic> kind;
    bool lower = false; // the compartment goes on above the row
  };

  // The compartment without text to the left of a row.
  std::optional<Symbol> symbolBefore(const Ruling& ruling, const RuledCell& first) {
    const double h = first.height();
    const auto left = ruling.across(first.left - 0.5 * h, -1, 2.7 * h, first.bottom, first.top);
    if (!left) return {};
    Symbol symbol{{*left, first.left, first.bottom, first.top}, {}, false};
    // Its own lower and upper side lie farther off where rows share it.
    const auto top = ruling.along(first.top - kAdjacent, 1, kHighestSymbol * h, *left, first.left),
               bottom = ruling.along(first.bottom + kAdjacent, -1, kHighestSymbol * h, *left,
                                     first.left);
    if (!top || !bottom) return {};
    if (!ruling.across(*left - kAdjacent, 1, 2 * kAdjacent, *bottom, *top)) return {};
    symbol.cell.top = *top, symbol.cell.bottom = *bottom;
    symbol.lower = *top > first.top + kAdjacent;
    const RuledCell& c = symbol.cell;
    const double angle = std::atan2(ruling.sheet({1, 0}).y(), ruling.sheet({1, 0}).x());
    symbol.kind = drawnSymbol(strokes_, index_, {c.left, c.bottom}, {c.right, c.top}, angle);
    return symbol;
  }

  void compartments(const Ruling& ruling, const std::vector<std::size_t>& row) {
    const Piece& first = pieces_[row.front()];
    const auto symbol = symbolBefore(ruling, *first.cell);
    const bool written_symbol = row.size() > 1 && isSymbol(first.line.text);
    if (!written_symbol && !(symbol && symbol->kind)) {
      if (row.size() > 1 || symbol) return unnamedRow(ruling, row, symbol.has_value());
      return framed(ruling, row.front());
    }
    Written w;
    w.as = WrittenAs::Indicator;
    std::vector<std::string> cells;
    for (const std::size_t i : row) {
      cells.push_back(pieces_[i].line.text);
      w.unknown |= pieces_[i].line.unknown;
      w.scanned |= pieces_[i].line.scanned;
      pieces_[i].used = true;
    }
    if (!written_symbol) {
      std::string kind(name(*symbol->kind));
      std::replace(kind.begin(), kind.end(), '_', ' ');
      w.text = kind;
      w.lower_segment = symbol->lower;
    } else {
      w.text = cells.front();
      cells.erase(cells.begin());
    }
    for (std::size_t k = 0; k < cells.size(); ++k)
      w.text += (k == 0 ? " " : " | ") + cells[k];
    RuledCell whole = *first.cell;
    whole.right = pieces_[row.back()].cell->right;
    if (symbol && !written_symbol) whole.left = symbol->cell.left;
    w.box = boxOf(ruling, first.line.box, whole);
    written_.push_back(std::move(w));
  }

  static bool isSymbol(const std::string& text) {
    static const std::string signs = "⏤ ⏥ ○ ⌭ ⌒ ⌓ ∥ ⫽ ⟂ ⊥ ∠ ⌖ ⊕ ◎ ⌾ ⌯ ↗ ⌰ ⏊ // ";
    return !text.empty() && text.size() < 4 && signs.find(text + " ") != std::string::npos;
  }

  // A row whose first compartment is no symbol that is known: an indicator still, where it looks
  // like none of a table; said to be not understood then.
  void unnamedRow(const Ruling& ruling, const std::vector<std::size_t>& row, bool has_symbol) {
    const std::size_t figures = has_symbol ? 0 : 1;
    const bool fits = row.size() > figures && isZone(pieces_[row[figures]].line.text) &&
                      std::all_of(row.begin() + static_cast<std::ptrdiff_t>(figures) + 1, row.end(),
                                  [&](std::size_t i) { return isDatum(pieces_[i].line.text); }) &&
                      (has_symbol || pieces_[row.front()].line.unknown);
    if (!fits) return;
    Written w;
    w.as = WrittenAs::Indicator;
    w.no_symbol = true;
    for (const std::size_t i : row) {
      w.text += (w.text.empty() ? "" : " | ") + pieces_[i].line.text;
      w.unknown |= pieces_[i].line.unknown;
      w.scanned |= pieces_[i].line.scanned;
      pieces_[i].used = true;
    }
    RuledCell whole = *pieces_[row.front()].cell;
    whole.right = pieces_[row.back()].cell->right;
    w.box = boxOf(ruling, pieces_[row.front()].line.box, whole);
    written_.push_back(std::move(w));
  }

  static bool isZone(const std::string& text) {
    const auto digits = static_cast<std::size_t>(
        std::count_if(text.begin(), text.end(), [](char c) { return c >= '0' && c <= '9'; }));
    return digits > 0 && text.find_first_of(".,") != std::string::npos;
  }
  static bool isDatum(const std::string& text) {
    return !text.empty() && text[0] >= 'A' && text[0] <= 'Z';
  }

  void framed(const Ruling& ruling, std::size_t i) {
    Piece& p = pieces_[i];
    // A frame that shares its sides with others is a cell of a table.
    const RuledCell& c = *p.cell;
    for (const Piece& other : pieces_) {
      if (&other == &p || !other.cell) continue;
      const RuledCell& o = *other.cell;
      if (std::abs(std::remainder(other.line.box.angle - p.line.box.angle, 6.28)) > 0.02) continue;
      const bool beside =
          (std::abs(o.left - c.right) < kAdjacent || std::abs(o.right - c.left) < kAdjacent) &&
          o.bottom < c.top - kAdjacent && o.top > c.bottom + kAdjacent;
      const bool above =
          std::abs(o.bottom - c.top) < kAdjacent || std::abs(o.top - c.bottom) < kAdjacent;
      const bool across = o.left < c.right - kAdjacent && o.right > c.left + kAdjacent;
      if (beside || (above && across && !isDatum(p.line.text))) return;
    }
    const double u = ruling.local(p.line.box.at).x(), room = kAloneSide * p.line.box.size;
    if (u - c.left > room || c.right - u - p.line.box.length > room) return;
    Written w;
    w.as = WrittenAs::Framed;
    w.text = p.line.text;
    w.unknown = p.line.unknown;
    w.scanned = p.line.scanned;
    w.box = boxOf(ruling, p.line.box, c);
    p.used = true;
    written_.push_back(std::move(w));
  }

  // Texts in one cell of a table: the smaller one above is the caption.
  void inCell(std::size_t i) {
    std::vector<std::size_t> same;
    for (std::size_t k = 0; k < pieces_.size(); ++k) {
      const Piece& p = pieces_[k];
      if (p.used || !p.cell) continue;
      const RuledCell &a = *p.cell, &b = *pieces_[i].cell;
      if (std::abs(a.left - b.left) + std::abs(a.bottom - b.bottom) + std::abs(a.right - b.right) +
              std::abs(a.top - b.top) <
          0.2)
        same.push_back(k);
    }
    // The frame of the whole sheet is no cell.
    if (same.size() > 12) return;
    const RuledCell& cell = *pieces_[i].cell;
    if (cell.height() > 40) return;
    std::sort(same.begin(), same.end(), [&](std::size_t a, std::size_t b) {
      const TextBox &p = pieces_[a].line.box, &q = pieces_[b].line.box;
      const double rows = (p.at - q.at).dot(p.across());
      return std::abs(rows) > 0.5 * p.size ? rows > 0 : (p.at - q.at).dot(p.along()) < 0;
    });
    Written w;
    w.as = WrittenAs::Cell;
    std::size_t k = 0;
    if (same.size() > 1 &&
        pieces_[same[0]].line.box.size < kSmaller * pieces_[same[1]].line.box.size)
      w.caption = pieces_[same[k++]].line.text;
    w.box = pieces_[same[k]].line.box;
    for (; k < same.size(); ++k)
      w.text += (w.text.empty() ? "" : " ") + pieces_[same[k]].line.text;
    for (const std::size_t s : same)
      pieces_[s].used = true;
    written_.push_back(std::move(w));
  }

  // Deviations one above the other behind a dimension, limits one above the other, fractions.
  void stacked(const std::vector<std::size_t>& all) {
    for (const std::size_t i : all)
      if (!pieces_[i].used) fraction(i, all);
    for (const std::size_t i : all)
      if (!pieces_[i].used) deviationsBehind(i, all);
    for (const std::size_t i : all)
      if (!pieces_[i].used) limits(i, all);
  }

  // Upper and lower text that stand one above the other at `u` behind the begin of a box.
  struct Pair {
    std::size_t upper = 0, lower = 0;
  };

  void deviationsBehind(std::size_t i, const std::vector<std::size_t>& all) {
    TextLine& main = pieces_[i].line;
    if (isDeviation(main.text) && main.text.find_first_of("+-") == 0) return;
    const TextBox& box = main.box;
    std::vector<std::size_t> behind;
    for (const std::size_t k : all) {
      const Piece& p = pieces_[k];
      if (k == i || p.used || !isDeviation(p.line.text)) continue;
      const double ratio = p.line.box.size / box.size;
      if (ratio > 1.05 || ratio < 0.3) continue;
      const Vec2 at = box.local(p.line.box.at);
      if (at.x() < box.length - 0.25 * box.size || at.x() > box.length + 1.3 * box.size) continue;
      const double middle = at.y() + (p.line.box.above / 2), own = box.above / 2;
      if (std::abs(middle - own) < 1.6 * box.size) behind.push_back(k);
    }
    if (behind.size() != 2) return;
    const auto height = [&](std::size_t k) { return box.local(pieces_[k].line.box.at).y(); };
    if (height(behind[0]) < height(behind[1])) std::swap(behind[0], behind[1]);
    const std::optional<std::size_t> upper = behind[0], lower = behind[1];
    if (height(*upper) - height(*lower) < 0.5 * pieces_[*lower].line.box.size) return;
    const TextBox &high = pieces_[*upper].line.box, &low = pieces_[*lower].line.box;
    main.text += " " + pieces_[*upper].line.text + "/" + pieces_[*lower].line.text;
    pieces_[*upper].used = pieces_[*lower].used = true;
    TextBox& grown = main.box;
    grown.above = std::max(grown.above, grown.local(high.at).y() + high.above);
    grown.below = std::max(grown.below, low.below - grown.local(low.at).y());
    grown.length = std::max({grown.length, grown.local(high.at).x() + high.length,
                             grown.local(low.at).x() + low.length});
  }

  // "32.05" above "31.95", of one size: limits. A sign of a diameter may stand with the upper one
  // or before both.
  void limits(std::size_t i, const std::vector<std::size_t>& all) {
    TextLine& upper = pieces_[i].line;
    const std::string digits = withoutPrefix(upper.text);
    if (!isNumber(digits) || digits.find_first_of(".,") == std::string::npos) return;
    for (const std::size_t k : all) {
      const Piece& p = pieces_[k];
      if (k == i || p.used || std::abs(p.line.box.size - upper.box.size) > 0.1 * upper.box.size)
        continue;
      const std::string other = withoutPrefix(p.line.text);
      if (!isNumber(other) || other.find_first_of(".,") == std::string::npos) continue;
      const Vec2 at = upper.box.local(p.line.box.at);
      const double right = upper.box.length - at.x() - p.line.box.length;
      if (at.y() > -0.9 * upper.box.size || at.y() < -1.9 * upper.box.size) continue;
      if (std::abs(right) > 0.6 * upper.box.size) continue;
      // Figures that far apart are two dimensions.
      const double a = std::strtod(dotted(digits).c_str(), nullptr),
                   b = std::strtod(dotted(other).c_str(), nullptr);
      if (a == b || std::abs(a - b) > 0.2 * std::max(a, b)) continue;
      upper.text += "/" + other;
      pieces_[i].limits = true;
      upper.box.below = p.line.box.below - at.y();
      pieces_[k].used = true;
      prefixOf(i, all);
      return;
    }
  }

  void prefixOf(std::size_t i, const std::vector<std::size_t>& all) {
    TextLine& main = pieces_[i].line;
    for (const std::size_t k : all) {
      Piece& p = pieces_[k];
      if (k == i || p.used || !isPrefix(p.line.text)) continue;
      const Vec2 at = main.box.local(p.line.box.at);
      const double gap = -at.x() - p.line.box.length;
      if (gap < -0.3 * main.box.size || gap > 1.2 * main.box.size) continue;
      if (at.y() > 0.5 * main.box.size || at.y() < -1.6 * main.box.size) continue;
      main.text = p.line.text + " " + main.text;
      main.box.at = main.box.point(at.x(), 0);
      main.box.length += -at.x();
      p.used = true;
      return;
    }
  }

  static bool isPrefix(const std::string& text) {
    return text == "ø" || text == "Ø" || text == "⌀" || text == "R" || text == "SR" ||
           text == "Sø" || text == "SØ" || isCount(text);
  }
  static bool isCount(const std::string& text) {
    const auto x = text.find_first_of("xX");
    if (x == std::string::npos || x == 0) return false;
    std::string rest = text.substr(x + 1);
    for (const char* sign : {" ø", " Ø", " ⌀", "ø", "Ø", "⌀", " R", "R"})
      if (rest == sign) rest.clear();
    return isWhole(text.substr(0, x)) && rest.empty();
  }
  static std::string withoutPrefix(std::string text) {
    for (const char* sign : {"Sø", "SØ", "ø", "Ø", "⌀", "SR", "R"})
      if (text.starts_with(sign)) {
        text.erase(0, std::string(sign).size());
        break;
      }
    while (text.starts_with(" "))
      text.erase(0, 1);
    return text;
  }
  static std::string dotted(std::string text) {
    std::replace(text.begin(), text.end(), ',', '.');
    return text;
  }

  // "3" over a line over "8", behind a whole number or alone.
  void fraction(std::size_t i, const std::vector<std::size_t>& all) {
    Piece& over = pieces_[i];
    if (!isWhole(over.line.text)) return;
    const TextBox& top = over.line.box;
    for (const std::size_t k : all) {
      Piece& under = pieces_[k];
      if (k == i || under.used || !isWhole(under.line.text)) continue;
      const TextBox& low = under.line.box;
      if (std::abs(low.size - top.size) > 0.1 * top.size) continue;
      const Vec2 at = top.local(low.middle()) - top.local(top.middle());
      if (std::abs(at.x()) > 0.3 * top.size || at.y() > -0.8 * top.size || at.y() < -1.8 * top.size)
        continue;
      if (!barBetween(top, low)) continue;
      std::string text = over.line.text + "/" + under.line.text;
      over.line.box.below = low.below - top.local(low.at).y();
      under.used = true;
      // The whole number before it.
      for (const std::size_t m : all) {
        Piece& whole = pieces_[m];
        if (m == i || whole.used || whole.line.text.empty() ||
            !std::isdigit(static_cast<unsigned char>(whole.line.text.back())))
          continue;
        const TextBox& b = whole.line.box;
        const Vec2 from = b.local(top.at);
        const double middle = (top.above + over.line.box.below) / 2;
        if (b.size < top.size || from.x() < b.length - 0.3 * b.size ||
            from.x() > b.length + 0.8 * b.size || std::abs(from.y()) > middle + b.size)
          continue;
        whole.line.text += " " + text;
        whole.line.box.length = from.x() + top.length;
        over.used = true;
        joinBehind(m, all);
        return;
      }
      over.line.text = text;
      joinBehind(i, all);
      return;
    }
  }

  // What stands on the base line behind a fraction goes with it: its sign of inches, ±1/64.
  void joinBehind(std::size_t i, const std::vector<std::size_t>& all) {
    TextLine& main = pieces_[i].line;
    for (const std::size_t k : all) {
      Piece& p = pieces_[k];
      if (k == i || p.used) continue;
      const Vec2 at = main.box.local(p.line.box.at);
      if (at.x() < main.box.length - 0.3 * main.box.size ||
          at.x() > main.box.length + 0.9 * main.box.size ||
          std::abs(at.y()) > 0.4 * main.box.size + main.box.below)
        continue;
      if (p.line.text.find("±") != 0 && p.line.text.find('"') != 0) continue;
      main.text += (p.line.text[0] == '"' ? "" : " ") + p.line.text;
      main.box.length = at.x() + p.line.box.length;
      p.used = true;
      return;
    }
  }

  bool barBetween(const TextBox& top, const TextBox& low) const {
    Box2 area = top.bounds();
    area.extend(low.bounds());
    for (const std::size_t i : index_.near(area)) {
      const StraightStroke& s = strokes_.segments[i];
      const Vec2 a = top.local(s.a), b = top.local(s.b);
      if (std::abs(a.y() - b.y()) > 0.1 * top.size || s.length() > 4 * top.size) continue;
      if (a.y() > 0.1 * top.size || a.y() < -1.2 * top.size) continue;
      const double middle = (a.x() + b.x()) / 2;
      if (std::abs(middle - top.length / 2) < 0.6 * top.size) return true;
    }
    return false;
  }

  void plain(Piece& p) {
    Written w;
    w.text = p.line.text;
    w.box = p.line.box;
    w.unknown = p.line.unknown;
    w.scanned = p.line.scanned;
    w.has_dimension_line = p.limits || dimension_lines_.runsAlong(p.line.box);
    p.used = true;
    written_.push_back(std::move(w));
  }

  // Rows below each other, and the dimension above the first or below the last of them.
  void together() {
    std::vector<std::size_t> parent(written_.size());
    std::iota(parent.begin(), parent.end(), 0U);
    const auto root = [&](std::size_t i) {
      while (parent[i] != i)
        i = parent[i] = parent[parent[i]];
      return i;
    };
    for (std::size_t i = 0; i < written_.size(); ++i)
      for (std::size_t k = 0; k < written_.size(); ++k)
        if (i != k && hangsBelow(written_[i], written_[k])) parent[root(k)] = root(i);
    std::map<std::size_t, std::vector<std::size_t>> groups;
    for (std::size_t i = 0; i < written_.size(); ++i)
      groups[root(i)].push_back(i);
    int number = 0;
    for (const auto& [first, all] : groups) {
      if (all.size() < 2) continue;
      ++number;
      for (const std::size_t i : all)
        written_[i].callout = number;
    }
  }

  // The lower one directly below the upper one, begun on the left with it.
  static bool hangsBelow(const Written& upper, const Written& lower) {
    const bool row = lower.as == WrittenAs::Indicator, above_row = upper.as == WrittenAs::Indicator;
    const bool datum = lower.as == WrittenAs::Framed && isDatum(lower.text);
    if (!row && !(above_row && (lower.as == WrittenAs::Plain || datum))) return false;
    if (upper.as == WrittenAs::Cell || lower.as == WrittenAs::Cell) return false;
    if (upper.as == WrittenAs::Framed && isDatum(upper.text)) return false;
    if (std::abs(std::remainder(upper.box.angle - lower.box.angle, 6.283)) > 0.02) return false;
    const Vec2 at = upper.box.local(lower.box.at);
    const double size = std::max(upper.box.size, lower.box.size);
    const double gap = -upper.box.below - (at.y() + lower.box.above);
    // A letter hangs on a line of its own, with its triangle.
    const double most = datum ? 3.2 * size : row && above_row ? 0.15 * size : 0.9 * size;
    if (gap > most || gap < -0.75 * size) return false;
    if (datum) return at.x() > -0.5 * size && at.x() < upper.box.length;
    const double overlap =
        std::min(upper.box.length, at.x() + lower.box.length) - std::max(0., at.x());
    if (row && above_row) return overlap > 0.3 * std::min(upper.box.length, lower.box.length);
    return std::abs(at.x()) < 2 * size && overlap > 0;
  }

  Strokes strokes_;
  SegmentIndex index_;
  DimensionLines dimension_lines_;
  std::vector<Piece> pieces_;
  std::vector<Written> written_;
};

} // namespace

std::vector<Written> writtenOn(const DrawingSheet& sheet) {
  return Composer(sheet).compose();
}

} // namespace alder
