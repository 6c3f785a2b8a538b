// Content drawn over the pages of a PDF, by qpdf. By itself, in C++17: qpdf's headers are not of
// C++20 yet.
#pragma once

#include <map>
#include <string>
#include <vector>

namespace alder {

// How a page is shown: its box in its own coordinates, turned clockwise by degrees, points a unit.
struct PageFrame {
  double low_x = 0, low_y = 0, high_x = 612, high_y = 792;
  int turn = 0;
  double unit = 1;
};

// Throw std::exception where the file cannot be read.
std::vector<PageFrame> framesOfPages(const std::string& bytes, const std::string& label);
// `over`: content streams by page, from 1; they may use the font /AlderBalloon, which is Helvetica.
std::string withOverlays(const std::string& bytes, const std::string& label,
                         const std::map<int, std::string>& over);

} // namespace alder
