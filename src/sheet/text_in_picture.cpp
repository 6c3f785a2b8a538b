#include "text_in_picture.h"

#include <allheaders.h>
#include <cmath>
#include <numbers>
#include <tesseract/baseapi.h>
#include <tesseract/resultiterator.h>

namespace alder {
namespace {

constexpr float kSure = 40;          // of 100, from which a word is taken
constexpr double kOfCapitals = 0.72; // height of a capital, of the size of a font

// Characters in pixels of the picture, from its upper left corner.
std::vector<Character> recognise(tesseract::TessBaseAPI& api, Pix* pix) {
  std::vector<Character> found;
  api.SetPageSegMode(tesseract::PSM_SPARSE_TEXT);
  api.SetImage(pix);
  if (api.Recognize(nullptr) != 0) return found;
  const std::unique_ptr<tesseract::ResultIterator> at(api.GetIterator());
  if (!at) return found;
  using tesseract::RIL_SYMBOL, tesseract::RIL_WORD;
  double base = 0, size = 0;
  do {
    if (at->Confidence(RIL_WORD) < kSure) continue;
    int left = 0, top = 0, right = 0, bottom = 0;
    if (at->IsAtBeginningOf(RIL_WORD)) {
      int x0 = 0, y0 = 0, x1 = 0, y1 = 0;
      at->BoundingBox(RIL_WORD, &left, &top, &right, &bottom);
      base = at->Baseline(RIL_WORD, &x0, &y0, &x1, &y1) ? (y0 + y1) / 2. : bottom;
      size = (base - top) / kOfCapitals;
    }
    if (!at->BoundingBox(RIL_SYMBOL, &left, &top, &right, &bottom) || size <= 0) continue;
    const std::unique_ptr<char[]> text(at->GetUTF8Text(RIL_SYMBOL));
    if (!text) continue;
    Character c;
    c.text = text.get();
    c.at = {left, base};
    c.advance = right - left;
    c.size = size;
    found.push_back(std::move(c));
  } while (at->Next(RIL_SYMBOL));
  return found;
}

} // namespace

std::vector<Character> textInPicture(const std::shared_ptr<Pix>& pix, const SheetSize& size) {
  std::vector<Character> all;
  tesseract::TessBaseAPI api;
  if (!pix || api.Init(nullptr, "eng") != 0) return all;
  (void)api.SetVariable("debug_file", "/dev/null");
  const double by = size.width / pixGetWidth(pix.get());
  for (Character c : recognise(api, pix.get())) {
    c.at = {c.at.x() * by, size.height - c.at.y() * by};
    c.advance *= by, c.size *= by;
    all.push_back(std::move(c));
  }
  // What reads from below stands upright when the sheet is turned clockwise.
  Pix* turned = pixRotate90(pix.get(), 1);
  for (Character c : recognise(api, turned)) {
    c.at = {c.at.y() * by, c.at.x() * by};
    c.angle = std::numbers::pi / 2;
    c.advance *= by, c.size *= by;
    all.push_back(std::move(c));
  }
  pixDestroy(&turned);
  return all;
}

} // namespace alder
