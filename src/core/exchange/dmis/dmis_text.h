// Text of DMIS (ISO 22093): statements with continuation, labels, figures, quoted words.
#pragma once

#include "geometry/vec.h"
#include <string>
#include <vector>

namespace alder::dmis {

// Shortest figure that keeps 1e-6 (mm, degrees, cosines); never an exponent.
std::string figure(double value);
std::string figures(const Vec3& v); // "1,2,3"
// DMIS is written in ASCII: what is not gets a word that says the same, or a question mark.
std::string ascii(const std::string& text);
// In single quotes, on one line; a quote within is doubled.
std::string quoted(const std::string& text);

class Program {
 public:
  // One statement; lines longer than `kLine` are broken behind a comma, with `$` (clause 5.2).
  void add(const std::string& statement);
  void note(const std::string& text); // "$$ text", a line each
  void blank() { text_ += "\n"; }
  void indent(int by) { indent_ += by; }
  const std::string& text() const { return text_; }

  static constexpr std::size_t kLine = 79;

 private:
  std::string text_;
  int indent_ = 0;
};

} // namespace alder::dmis
