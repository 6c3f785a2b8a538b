// Text on pages: shaped, wrapped and measured by Pango, in the product's fonts; what they have no
// signs for is taken from those of the system.
#pragma once

#include "base/error.h"
#include "paper/page.h"

typedef struct _cairo cairo_t;

namespace alder {

inline constexpr double kPointsPerMm = 72 / 25.4;

struct TextExtent {
  double width = 0, height = 0; // mm
  double baseline = 0;          // of the first line, from the top
  int lines = 0;
  int unknown = 0; // signs that no font has
};

// Not to be shared by threads.
class TextSetter {
 public:
  // Error where the product's own fonts are missing.
  static Result<std::unique_ptr<TextSetter>> create();
  ~TextSetter();
  TextSetter(const TextSetter&) = delete;
  TextSetter& operator=(const TextSetter&) = delete;

  // Wrapped to `width` mm, between words, and within them where a word is wider; 0: not wrapped.
  TextExtent measure(const std::string& text, const TextStyle& style, double width = 0) const;
  double width(const std::string& text, const TextStyle& style) const;
  // The same text line by line.
  std::vector<std::string> lines(const std::string& text, const TextStyle& style,
                                 double width) const;
  // Where the context's unit is a point (1/72 inch) of the page.
  void draw(cairo_t* cairo, const TextMark& mark) const;
  void draw(cairo_t* cairo, const SymbolMark& mark) const;

 private:
  TextSetter();
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

} // namespace alder
