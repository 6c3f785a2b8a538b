// Walks over typed text character by character. Signs that are written in several ways are one.
#pragma once

#include "requirement/typed/typed.h"
#include <optional>
#include <string>
#include <string_view>

namespace alder::typed {

// Characters as written, without regard to how: ø for all signs of a diameter, x of a count, - and
// ±; a letter in a circle is the letter between kRing marks.
class Scanner {
 public:
  explicit Scanner(std::string_view utf8);

  std::size_t at() const { return at_; }
  void back(std::size_t at) { at_ = at; }
  bool atEnd();
  char32_t next() const { return at_ < text_.size() ? text_[at_] : 0; }
  char32_t following(std::size_t by) const { return at_ + by < text_.size() ? text_[at_ + by] : 0; }
  void blanks();
  bool blankBefore() const { return at_ > 0 && text_[at_ - 1] == ' '; }

  // Behind blanks. Nothing is taken where they do not stand.
  bool take(char32_t sign);
  bool takeWord(std::string_view word);   // whole, whatever the case
  bool takeWords(std::string_view words); // parted by blanks
  // ø, and what stands for it on a keyboard: dia, or d before a figure. Spherical with S before it.
  bool takeDiameter();
  bool takeSpherical();
  bool takeDegree(); // °, deg
  // A letter in a circle or in parentheses, or by itself where `bare`.
  bool takeCircled(char letter, bool bare);
  struct Figure {
    double value = 0;
    int decimals = 0;
    bool is_signed = false;
  };
  std::optional<Figure> figure(bool fractions); // with its sign
  std::optional<std::string> letters();         // a run of capital letters
  std::string word() const;                     // what stands here up to a blank

  TextFault fault(std::size_t from, std::string says) const;
  std::string text(std::size_t from, std::size_t to) const; // as written

 private:
  std::optional<double> fraction();
  std::u32string text_, written_;
  std::size_t at_ = 0;
};

inline constexpr char32_t kDiameter = U'ø', kPlusMinus = U'±', kDegree = U'°';

} // namespace alder::typed
