#include "pdf_file.h"

#include "page_reader.h"
#include <Error.h>
#include <ErrorCodes.h>
#include <GlobalParams.h>
#include <PDFDoc.h>
#include <SplashOutputDev.h>
#include <Stream.h>
#include <cmath>
#include <splash/SplashBitmap.h>

namespace alder {
namespace {

constexpr double kPoints = 72, kMmPerPoint = 25.4 / kPoints;
constexpr double kMostPixels = 100e6;

void quiet(ErrorCategory, Goffset, const char*) {}

} // namespace

PdfFile::PdfFile(std::unique_ptr<PDFDoc> document, std::string label)
    : document_(std::move(document))
    , label_(std::move(label)) {}
PdfFile::PdfFile(PdfFile&&) noexcept = default;
PdfFile::~PdfFile() = default;

Result<PdfFile> PdfFile::open(const std::string& bytes, const std::string& label) {
  if (!globalParams) globalParams = std::make_unique<GlobalParams>();
  setErrorCallback(quiet);
  auto document = std::make_unique<PDFDoc>(
      new MemStream(bytes.data(), 0, static_cast<Goffset>(bytes.size()), Object(objNull)));
  if (!document->isOk()) {
    if (document->getErrorCode() == errEncrypted)
      return fail("{}: it is locked by a password; save it without one.", label);
    return fail("{}: it is damaged, or no PDF; export or print it again.", label);
  }
  if (document->getNumPages() < 1) return fail("{}: it has no pages; export it again.", label);
  return PdfFile(std::move(document), label);
}

int PdfFile::pages() const {
  return document_->getNumPages();
}

SheetSize PdfFile::size(int page) const {
  SheetSize size{document_->getPageCropWidth(page) * kMmPerPoint,
                 document_->getPageCropHeight(page) * kMmPerPoint};
  if (document_->getPageRotate(page) % 180 != 0) std::swap(size.width, size.height);
  return size;
}

DrawingSheet PdfFile::sheet(int page) const {
  DrawingSheet sheet;
  sheet.size = size(page);
  PageReader reader(sheet);
  document_->displayPage(&reader, page, kPoints, kPoints, 0, false, true, false);
  return sheet;
}

Result<SheetPicture> PdfFile::picture(int page, double dots_per_inch) const {
  const SheetSize mm = size(page);
  const double pixels = mm.width * mm.height * std::pow(dots_per_inch / 25.4, 2);
  if (!(pixels >= 1) || pixels > kMostPixels)
    return fail("{}: page {} is {:.0f} mm by {:.0f} mm, which cannot be drawn so large.", label_,
                page, mm.width, mm.height);
  SplashColor paper{255, 255, 255};
  SplashOutputDev out(splashModeRGB8, 1, false, paper);
  out.setFontAntialias(true);
  out.setVectorAntialias(true);
  out.startDoc(document_.get());
  document_->displayPage(&out, page, dots_per_inch, dots_per_inch, 0, false, true, false);
  const SplashBitmap* bitmap = out.getBitmap();
  SheetPicture picture;
  picture.width = bitmap->getWidth(), picture.height = bitmap->getHeight();
  const auto row = 3 * static_cast<std::size_t>(picture.width);
  picture.rgb.resize(row * static_cast<std::size_t>(picture.height));
  for (int y = 0; y < picture.height; ++y) {
    const unsigned char* from =
        bitmap->getDataPtr() + static_cast<std::ptrdiff_t>(y) * bitmap->getRowSize();
    std::copy(from, from + row, picture.rgb.begin() + static_cast<std::ptrdiff_t>(row) * y);
  }
  return picture;
}

} // namespace alder
