// A PDF file in memory.
#pragma once

#include "sheet/sheet_file.h"
#include <memory>

class PDFDoc;

namespace alder {

class PdfFile {
 public:
  // The bytes must outlive it.
  static Result<PdfFile> open(const std::string& bytes, const std::string& label);
  PdfFile(PdfFile&&) noexcept;
  ~PdfFile();

  int pages() const;
  SheetSize size(int page) const; // from 1, as shown
  DrawingSheet sheet(int page) const;
  Result<SheetPicture> picture(int page, double dots_per_inch) const;

 private:
  explicit PdfFile(std::unique_ptr<PDFDoc> document, std::string label);
  std::unique_ptr<PDFDoc> document_;
  std::string label_;
};

} // namespace alder
