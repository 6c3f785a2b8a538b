#include "drawing/stacked_texts.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

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

class Stacks {
 public:
  Stacks(std::vector<TextPiece>& pieces, const Strokes& strokes, const SegmentIndex& index)
      : pieces_(pieces)
      , strokes_(strokes)
      , index_(index) {}

  void join(const std::vector<std::size_t>& all) {
    for (const std::size_t i : all)
      if (!pieces_[i].used) fraction(i, all);
    for (const std::size_t i : all)
      if (!pieces_[i].used) deviationsBehind(i, all);
    for (const std::size_t i : all)
      if (!pieces_[i].used) limits(i, all);
  }

 private:
  void deviationsBehind(std::size_t i, const std::vector<std::size_t>& all) {
    TextLine& main = pieces_[i].line;
    if (isDeviation(main.text) && main.text.find_first_of("+-") == 0) return;
    const TextBox& box = main.box;
    std::vector<std::size_t> behind;
    for (const std::size_t k : all) {
      const TextPiece& p = pieces_[k];
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
      const TextPiece& p = pieces_[k];
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
      TextPiece& p = pieces_[k];
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
    TextPiece& over = pieces_[i];
    if (!isWhole(over.line.text)) return;
    const TextBox& top = over.line.box;
    for (const std::size_t k : all) {
      TextPiece& under = pieces_[k];
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
        TextPiece& whole = pieces_[m];
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
      TextPiece& p = pieces_[k];
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

  std::vector<TextPiece>& pieces_;
  const Strokes& strokes_;
  const SegmentIndex& index_;
};

} // namespace

void joinStacked(std::vector<TextPiece>& pieces, const std::vector<std::size_t>& of_one_angle,
                 const Strokes& strokes, const SegmentIndex& index) {
  Stacks(pieces, strokes, index).join(of_one_angle);
}

} // namespace alder
