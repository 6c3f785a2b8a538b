// Drawings are read by a process of their own, alderpoint-sheet: PDF, and pictures as PNG, JPEG or
// TIFF.
#pragma once

#include "base/reader_process.h"
#include "sheet/sheet.h"
#include <cstdint>

namespace alder {

// Size of each page. One line of error where it is no drawing, damaged, or locked by a password.
Result<std::vector<SheetSize>> sheetsOf(const std::string& bytes, const std::string& label,
                                        const Progress& progress = {});

// Pages first..last, from 1.
Result<std::vector<DrawingSheet>> readSheets(const std::string& bytes, const std::string& label,
                                             int first, int last, const Progress& progress = {});

struct SheetPicture {
  int width = 0, height = 0;
  std::vector<std::uint8_t> rgb; // row by row from the top, three bytes a pixel
};
Result<SheetPicture> drawSheet(const std::string& bytes, const std::string& label, int page,
                               double dots_per_inch, const Progress& progress = {});

// Millimetres of the page as it is shown.
struct BalloonMark {
  int page = 1;
  std::string text; // "7"
  Vec2 centre = Vec2::Zero(), leader_from = Vec2::Zero(), leader_to = Vec2::Zero();
  double radius = 3.6;
  bool key = false; // a key characteristic
  int members = 0;  // of a pattern: .1 to that; 0: of one feature
};
// The PDF with balloons over it, its own contents untouched. Error for pictures.
Result<std::string> drawBalloons(const std::string& bytes, const std::string& label,
                                 const std::vector<BalloonMark>& marks,
                                 const Progress& progress = {});

// How alderpoint-sheet hands them over.
std::string sheetsToBytes(const std::vector<DrawingSheet>& sheets);
Result<std::vector<DrawingSheet>> sheetsFromBytes(const std::string& bytes);
std::string sizesToBytes(const std::vector<SheetSize>& sizes);
std::string pictureToBytes(const SheetPicture& picture);
std::string marksToText(const std::vector<BalloonMark>& marks);
Result<std::vector<BalloonMark>> marksFromText(const std::string& text);

} // namespace alder
