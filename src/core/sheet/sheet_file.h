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

// How alderpoint-sheet hands them over.
std::string sheetsToBytes(const std::vector<DrawingSheet>& sheets);
Result<std::vector<DrawingSheet>> sheetsFromBytes(const std::string& bytes);
std::string sizesToBytes(const std::vector<SheetSize>& sizes);
std::string pictureToBytes(const SheetPicture& picture);

} // namespace alder
