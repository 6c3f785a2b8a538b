// Text of a scanned sheet, by Tesseract where its language data is installed.
#pragma once

#include "sheet/sheet.h"
#include <memory>

struct Pix;

namespace alder {

// Adds characters as on a printed sheet, of upright text and of text that reads from below, and
// lines that are level or upright. No text where the language data is missing.
void readPicture(const std::shared_ptr<Pix>& pix, DrawingSheet& sheet);

} // namespace alder
