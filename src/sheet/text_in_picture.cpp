#include "text_in_picture.h"

#include "picture_file.h"
#include <algorithm>
#include <allheaders.h>
#include <cmath>
#include <numbers>
#include <tesseract/baseapi.h>
#include <tesseract/resultiterator.h>

namespace alder {
namespace {

constexpr float kSure = 30;          // of 100, from which a letter is taken
constexpr double kOfCapitals = 0.72; // height of a capital, of the size of a font
// Millimetres: lines are longer than any letter, letters no larger than these.
constexpr double kLine = 9, kMostLetter = 9, kLeastLetter = 1.2, kWordGap = 1.6;
constexpr double kMostLine = 90, kRuled = 5.5, kThickest = 1.5;

using Owned = std::shared_ptr<Pix>;

// Black on white without ruled lines, frames and outlines.
Owned lettersOf(Pix* pix, double per_mm) {
  const Owned grey = owned(pixConvertTo8(pix, 0));
  const Owned black = owned(pixThresholdToBinary(grey.get(), 150));
  const int line = static_cast<int>(kLine * per_mm), most = static_cast<int>(kMostLetter * per_mm);
  const Owned level = owned(pixOpenBrick(nullptr, black.get(), line, 1)),
              upright = owned(pixOpenBrick(nullptr, black.get(), 1, line));
  Owned rest = owned(pixSubtract(nullptr, black.get(), level.get()));
  rest = owned(pixSubtract(nullptr, rest.get(), upright.get()));
  return owned(
      pixSelectBySize(rest.get(), most, most, 8, L_SELECT_IF_BOTH, L_SELECT_IF_LTE, nullptr));
}

// Lines that are level or upright, as paths of the sheet.
void ruled(Pix* pix, double mm_per_pixel, DrawingSheet& sheet) {
  const Owned grey = owned(pixConvertTo8(pix, 0));
  const Owned black = owned(pixThresholdToBinary(grey.get(), 150));
  const int least = static_cast<int>(kRuled / mm_per_pixel);
  for (const bool level : {true, false}) {
    const Owned lines =
        owned(pixOpenBrick(nullptr, black.get(), level ? least : 1, level ? 1 : least));
    Boxa* boxes = pixConnCompBB(lines.get(), 8);
    for (int i = 0; i < boxaGetCount(boxes); ++i) {
      int x = 0, y = 0, w = 0, h = 0;
      boxaGetBoxGeometry(boxes, i, &x, &y, &w, &h);
      const double thick = (level ? h : w) * mm_per_pixel;
      if (thick > kThickest) continue;
      const auto at = [&](double px, double py) -> Vec2 {
        return {px * mm_per_pixel, sheet.size.height - py * mm_per_pixel};
      };
      SheetPath path;
      path.points = level ? std::vector<Vec2>{at(x, y + h / 2.), at(x + w, y + h / 2.)}
                          : std::vector<Vec2>{at(x + w / 2., y), at(x + w / 2., y + h)};
      path.width = thick;
      sheet.paths.push_back(std::move(path));
    }
    boxaDestroy(&boxes);
  }
}

struct Line {
  int x, y, w, h;
};

// Letters that follow each other closely.
std::vector<Line> linesOf(Pix* letters, double per_mm) {
  std::vector<Line> lines;
  const Owned joined =
      owned(pixCloseSafeBrick(nullptr, letters, static_cast<int>(kWordGap * per_mm) | 1, 1));
  Boxa* boxes = pixConnCompBB(joined.get(), 8);
  for (int i = 0; i < boxaGetCount(boxes); ++i) {
    Line l{};
    boxaGetBoxGeometry(boxes, i, &l.x, &l.y, &l.w, &l.h);
    if (l.h >= kLeastLetter * per_mm && l.h <= kMostLetter * per_mm && l.w <= kMostLine * per_mm &&
        l.w >= 0.8 * per_mm)
      lines.push_back(l);
  }
  boxaDestroy(&boxes);
  return lines;
}

// Characters in pixels of the picture, from its upper left corner.
// `long_only`: of lines that are much longer than high.
std::vector<Character> recognise(tesseract::TessBaseAPI& api, Pix* pix, double per_mm,
                                 bool long_only) {
  std::vector<Character> found;
  const Owned letters = lettersOf(pix, per_mm);
  api.SetPageSegMode(tesseract::PSM_SINGLE_LINE);
  using tesseract::RIL_SYMBOL;
  const int room = static_cast<int>(0.8 * per_mm) + 1;
  for (const Line& l : linesOf(letters.get(), per_mm)) {
    constexpr double kLong = 2.2, kOneLetter = 4; // mm
    if (long_only ? l.w < kLong * l.h : l.h > kLong * l.w || l.h > kOneLetter * per_mm + l.w)
      continue;
    // By itself, with white round it.
    Box* box = boxCreate(l.x, l.y, l.w, l.h);
    const Owned cut = owned(pixClipRectangle(letters.get(), box, nullptr));
    boxDestroy(&box);
    if (!cut) continue;
    const Owned framed = owned(pixAddBorder(cut.get(), room, 0));
    api.SetImage(framed.get());
    api.SetSourceResolution(static_cast<int>(per_mm * 25.4));
    if (api.Recognize(nullptr) != 0) continue;
    const std::unique_ptr<tesseract::ResultIterator> at(api.GetIterator());
    if (!at) continue;
    do {
      int left = 0, top = 0, right = 0, bottom = 0;
      if (!at->BoundingBox(RIL_SYMBOL, &left, &top, &right, &bottom)) continue;
      const std::unique_ptr<char[]> text(at->GetUTF8Text(RIL_SYMBOL));
      if (!text || at->Confidence(RIL_SYMBOL) < kSure) continue;
      Character c;
      c.text = text.get();
      c.at = {l.x + left - room, l.y + l.h};
      c.advance = right - left;
      c.size = l.h / kOfCapitals;
      c.scanned = true;
      found.push_back(std::move(c));
    } while (at->Next(RIL_SYMBOL));
  }
  return found;
}

} // namespace

void readPicture(const std::shared_ptr<Pix>& pix, DrawingSheet& sheet) {
  if (!pix) return;
  const double by = sheet.size.width / pixGetWidth(pix.get());
  ruled(pix.get(), by, sheet);
  tesseract::TessBaseAPI api;
  // Danish knows the sign of a diameter as a letter.
  if (api.Init(nullptr, "eng+dan") != 0 && api.Init(nullptr, "eng") != 0) return;
  (void)api.SetVariable("debug_file", "/dev/null");
  (void)api.SetVariable("load_system_dawg", "0");
  (void)api.SetVariable("load_freq_dawg", "0");
  auto& all = sheet.characters;
  for (Character c : recognise(api, pix.get(), 1 / by, false)) {
    c.at = {c.at.x() * by, sheet.size.height - c.at.y() * by};
    c.advance *= by, c.size *= by;
    all.push_back(std::move(c));
  }
  // What reads from below stands upright when the sheet is turned clockwise.
  const Owned turned = owned(pixRotate90(pix.get(), 1));
  for (Character c : recognise(api, turned.get(), 1 / by, true)) {
    c.at = {c.at.y() * by, c.at.x() * by};
    c.angle = std::numbers::pi / 2;
    c.advance *= by, c.size *= by;
    all.push_back(std::move(c));
  }
}

} // namespace alder
