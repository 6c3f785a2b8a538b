// Text of a scanned sheet, by Tesseract where its language data is installed.
#pragma once

#include "sheet/sheet.h"
#include <memory>

struct Pix;

namespace alder {

// Characters as on a printed sheet; of upright text and of text that reads from below. Nothing
// where the language data is missing.
std::vector<Character> textInPicture(const std::shared_ptr<Pix>& pix, const SheetSize& size);

} // namespace alder
