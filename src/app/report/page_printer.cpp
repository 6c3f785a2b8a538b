#include "report/page_printer.h"

#include "paper/page_writer.h"
#include <QPainter>
#include <QPrinter>
#include <algorithm>

namespace alder::app {
namespace {

QPageLayout layoutOf(const PaperSize& size) {
  const bool across = size.width > size.height;
  const QSizeF upright(std::min(size.width, size.height), std::max(size.width, size.height));
  return QPageLayout(QPageSize(upright, QPageSize::Millimeter, {}, QPageSize::FuzzyMatch),
                     across ? QPageLayout::Landscape : QPageLayout::Portrait, {});
}

} // namespace

Result<int> printPages(QPrinter& printer, const std::vector<PaperPage>& pages,
                       const TextSetter& setter) {
  constexpr int kPrinterDots = 600;
  constexpr const char* kTakesNone =
      "The printer takes no pages; choose another one, or write a PDF.";
  if (pages.empty()) return fail("The report has no pages.");
  printer.setFullPage(true); // margins are the layout's
  QPainter painter;
  const int from = printer.fromPage() > 0 ? printer.fromPage() : 1,
            last = static_cast<int>(pages.size()),
            to = printer.toPage() > 0 ? std::min(printer.toPage(), last) : last;
  if (from > last) return fail("The report ends with page {}; print pages up to it.", last);
  for (int i = from; i <= to; ++i) {
    const PaperPage& page = pages[static_cast<std::size_t>(i - 1)];
    printer.setPageLayout(layoutOf(page.size));
    if (i == from ? !painter.begin(&printer) : !printer.newPage()) return fail("{}", kTakesNone);
    const double dots = std::min(printer.resolution(), kPrinterDots) / 25.4;
    const Raster raster = rasterOf(page, dots, setter);
    const QImage image(reinterpret_cast<const uchar*>(raster.pixels.data()), raster.width,
                       raster.height, 4 * raster.width, QImage::Format_RGB32);
    const QSizeF whole = printer.pageLayout().fullRectPixels(printer.resolution()).size();
    painter.drawImage(QRectF({0, 0}, whole), image);
  }
  if (!painter.isActive() || !painter.end()) return fail("{}", kTakesNone);
  return to - from + 1;
}

} // namespace alder::app
