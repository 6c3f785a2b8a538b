#include "pdf_overlay.h"

#include <algorithm>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace alder {
namespace {

void open(QPDF& pdf, const std::string& bytes, const std::string& label) {
  pdf.setSuppressWarnings(true);
  pdf.processMemoryFile(label.c_str(), bytes.data(), bytes.size());
}

} // namespace

std::vector<PageFrame> framesOfPages(const std::string& bytes, const std::string& label) {
  QPDF pdf;
  open(pdf, bytes, label);
  std::vector<PageFrame> frames;
  for (QPDFPageObjectHelper& page : QPDFPageDocumentHelper(pdf).getAllPages()) {
    PageFrame f;
    auto box = page.getCropBox(false, false);
    if (box.isRectangle()) {
      const auto r = box.getArrayAsRectangle();
      f.low_x = std::min(r.llx, r.urx), f.low_y = std::min(r.lly, r.ury);
      f.high_x = std::max(r.llx, r.urx), f.high_y = std::max(r.lly, r.ury);
    }
    auto rotate = page.getAttribute("/Rotate", false);
    if (rotate.isInteger()) f.turn = ((rotate.getIntValueAsInt() % 360) + 360) % 360;
    auto unit = page.getObjectHandle().getKey("/UserUnit");
    if (unit.isNumber() && unit.getNumericValue() > 0) f.unit = unit.getNumericValue();
    frames.push_back(f);
  }
  return frames;
}

std::string withOverlays(const std::string& bytes, const std::string& label,
                         const std::map<int, std::string>& over) {
  QPDF pdf;
  open(pdf, bytes, label);
  auto pages = QPDFPageDocumentHelper(pdf).getAllPages();
  const auto font = pdf.makeIndirectObject(QPDFObjectHandle::parse(
      "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>"));
  for (const auto& entry : over) {
    QPDFPageObjectHelper& page = pages.at(static_cast<std::size_t>(entry.first - 1));
    // Resources may be shared with other pages.
    auto resources = page.getAttribute("/Resources", true);
    if (!resources.isDictionary()) {
      resources = QPDFObjectHandle::newDictionary();
      page.getObjectHandle().replaceKey("/Resources", resources);
    }
    auto fonts = resources.getKey("/Font");
    fonts = fonts.isDictionary() ? fonts.shallowCopy() : QPDFObjectHandle::newDictionary();
    fonts.replaceKey("/AlderBalloon", font);
    resources.replaceKey("/Font", fonts);
    // What is drawn before must not move what is drawn now.
    page.addPageContents(QPDFObjectHandle::newStream(&pdf, "q\n"), true);
    page.addPageContents(QPDFObjectHandle::newStream(&pdf, "\nQ\n" + entry.second), false);
  }
  QPDFWriter writer(pdf);
  writer.setOutputMemory();
  writer.setStaticID(true); // the same drawing, the same file
  writer.write();
  const auto out = writer.getBufferSharedPointer();
  return std::string(reinterpret_cast<const char*>(out->getBuffer()), out->getSize());
}

} // namespace alder
