#include "drawing/callout.h"

#include "drawing/dimension_lines.h"
#include "drawing/stacked_texts.h"
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
constexpr double kSmaller = 0.86;      // captions, of the size of what they name
constexpr double kHighestSymbol = 4.2; // rows that share one symbol

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
      joinStacked(pieces_, all, strokes_, index_);
    }
    for (TextPiece& p : pieces_)
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
  void frame(const Ruling& ruling, TextPiece& p) {
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
    const TextPiece& first = pieces_[row.front()];
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
    TextPiece& p = pieces_[i];
    // A frame that shares its sides with others is a cell of a table.
    const RuledCell& c = *p.cell;
    for (const TextPiece& other : pieces_) {
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
      const TextPiece& p = pieces_[k];
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

  void plain(TextPiece& p) {
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
  std::vector<TextPiece> pieces_;
  std::vector<Written> written_;
};

} // namespace

std::vector<Written> writtenOn(const DrawingSheet& sheet) {
  return Composer(sheet).compose();
}

} // namespace alder
