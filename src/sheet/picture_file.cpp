#include "picture_file.h"

#include <allheaders.h>
#include <cmath>

namespace alder {
namespace {

constexpr double kUsual = 200; // dots an inch, where the file does not say

double dotsPerInch(int stated) {
  return stated > 10 ? stated : kUsual;
}

const l_uint8* data(const std::string& bytes) {
  return reinterpret_cast<const l_uint8*>(bytes.data());
}

bool isTiff(const std::string& bytes) {
  return bytes.starts_with(std::string("II*\0", 4)) || bytes.starts_with(std::string("MM\0*", 4));
}

} // namespace

std::shared_ptr<Pix> owned(Pix* pix) {
  return {pix, [](Pix* p) { pixDestroy(&p); }};
}

bool PictureFile::looksLike(const std::string& bytes) {
  return bytes.starts_with("\x89PNG") || bytes.starts_with("\xff\xd8\xff") || isTiff(bytes);
}

Result<PictureFile> PictureFile::open(const std::string& bytes, const std::string& label) {
  setMsgSeverity(L_SEVERITY_NONE);
  PictureFile file;
  if (isTiff(bytes)) {
    std::size_t offset = 0;
    do {
      Pix* pix = pixReadMemFromMultipageTiff(data(bytes), bytes.size(), &offset);
      if (!pix) break;
      file.pages_.push_back(owned(pix));
    } while (offset != 0);
  } else if (Pix* pix = pixReadMem(data(bytes), bytes.size())) {
    file.pages_.push_back(owned(pix));
  }
  if (file.pages_.empty()) return fail("{}: the picture is damaged; scan it again.", label);
  return file;
}

SheetSize PictureFile::size(int page) const {
  Pix* pix = pages_[static_cast<std::size_t>(page - 1)].get();
  return {pixGetWidth(pix) * 25.4 / dotsPerInch(pixGetXRes(pix)),
          pixGetHeight(pix) * 25.4 / dotsPerInch(pixGetYRes(pix))};
}

DrawingSheet PictureFile::sheet(int page) const {
  Pix* pix = pages_[static_cast<std::size_t>(page - 1)].get();
  DrawingSheet sheet;
  sheet.size = size(page);
  sheet.pictures.push_back(
      {Vec2::Zero(), {sheet.size.width, sheet.size.height}, pixGetWidth(pix), pixGetHeight(pix)});
  return sheet;
}

Result<SheetPicture> PictureFile::picture(int page, double dots_per_inch) const {
  const auto& pix = pages_[static_cast<std::size_t>(page - 1)];
  const auto rgb = owned(pixConvertTo32(pix.get()));
  const auto factor = [&](int stated) {
    return static_cast<float>(dots_per_inch / dotsPerInch(stated));
  };
  const auto scaled =
      rgb ? owned(pixScale(rgb.get(), factor(pixGetXRes(pix.get())), factor(pixGetYRes(pix.get()))))
          : rgb;
  if (!scaled) return fail("page {} cannot be drawn at {:.0f} dots an inch.", page, dots_per_inch);
  SheetPicture picture;
  picture.width = pixGetWidth(scaled.get()), picture.height = pixGetHeight(scaled.get());
  picture.rgb.reserve(3 * static_cast<std::size_t>(picture.width) *
                      static_cast<std::size_t>(picture.height));
  for (int y = 0; y < picture.height; ++y)
    for (int x = 0; x < picture.width; ++x) {
      l_int32 r = 0, g = 0, b = 0;
      pixGetRGBPixel(scaled.get(), x, y, &r, &g, &b);
      for (const l_int32 v : {r, g, b})
        picture.rgb.push_back(static_cast<std::uint8_t>(v));
    }
  return picture;
}

std::shared_ptr<Pix> pixOf(const SheetPicture& picture) {
  auto pix = owned(pixCreate(picture.width, picture.height, 32));
  std::size_t at = 0;
  for (int y = 0; y < picture.height; ++y)
    for (int x = 0; x < picture.width; ++x, at += 3)
      pixSetRGBPixel(pix.get(), x, y, picture.rgb[at], picture.rgb[at + 1], picture.rgb[at + 2]);
  return pix;
}

} // namespace alder
