// Pages drawn: as a PDF, or one of them as a picture.
#pragma once

#include "paper/text_setter.h"

namespace alder {

struct PdfHead {
  std::string title, author, subject, keywords;
  std::string created; // ISO 8601, "2026-03-01T09:30:00"; empty: left out
};

// Tagged, with metadata, outline and embedded fonts.
Result<std::string> pdfOf(const std::vector<PaperPage>& pages, const PdfHead& head,
                          const TextSetter& setter);

// `dots` a millimetre, on paper of that colour.
Raster rasterOf(const PaperPage& page, double dots, const TextSetter& setter,
                const Ink& paper = ink(0xFFFFFF));
// PNG of it.
std::string pngOf(const Raster& raster);

} // namespace alder
