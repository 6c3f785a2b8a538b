// A drawing as a picture: PNG, JPEG, TIFF with pages.
#pragma once

#include "sheet/sheet_file.h"
#include <memory>

struct Pix;

namespace alder {

class PictureFile {
 public:
  static bool looksLike(const std::string& bytes);
  static Result<PictureFile> open(const std::string& bytes, const std::string& label);

  int pages() const { return static_cast<int>(pages_.size()); }
  SheetSize size(int page) const; // by its resolution; without one, 200 dots an inch
  DrawingSheet sheet(int page) const;
  Result<SheetPicture> picture(int page, double dots_per_inch) const;

 private:
  std::vector<std::shared_ptr<Pix>> pages_;
};

// Of Leptonica's pictures, with their end.
std::shared_ptr<Pix> owned(Pix* pix);
// For pages of a PDF that hold nothing but a picture.
std::shared_ptr<Pix> pixOf(const SheetPicture& picture);

} // namespace alder
