// Text of DMIS (ISO 22093): statements with continuation, labels, figures, quoted words.
#pragma once

#include "geometry/vec.h"
#include <string>
#include <vector>

namespace alder::dmis {

// Shortest figure that keeps 1e-6 (mm, degrees); never an exponent.
std::string figure(double value);
std::string figures(const Vec3& v); // "1,2,3"
// The same to 1e-9, of directions and of turns: a part may lie metres from where it is counted.
std::string fineFigure(double value);
std::string cosines(const Vec3& v);
// DMIS is written in ASCII: what is not gets a word that says the same, or a question mark.
std::string ascii(const std::string& text);
// In single quotes, on one line; a quote within is doubled.
std::string quoted(const std::string& text);

// Begins a comment that goes on with the one before, as a line holds 80 characters.
inline constexpr const char* kGoesOn = "$$+ ";

class Program {
 public:
  // One statement; lines longer than `kLine` are broken behind a comma, with `$` (clause 5.2).
  void add(const std::string& statement);
  // "$$ text", a line each; a longer one goes on behind `kGoesOn`.
  void note(const std::string& text);
  void blank() { text_ += "\n"; }
  void indent(int by) { indent_ += by; }
  const std::string& text() const { return text_; }

  static constexpr std::size_t kLine = 79;

 private:
  std::string text_;
  int indent_ = 0;
};

} // namespace alder::dmis
