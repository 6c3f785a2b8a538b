#include "card/verdict/verdict_plot.h"

#include "theme/marks_image.h"

namespace alder::app {
namespace {

constexpr int kPlotHeight = 214;
constexpr double kPixels =
    4.6; // a millimetre of the drawing, so that its letters are as large as the card's

PlotInks inksOf(const Theme& theme) {
  const auto ink = [&](const char* name) { return inkOf(theme.color(name)); };
  return {ink("ink"),    ink("second"), ink("line"),   ink("field"),
          ink("within"), ink("low"),    ink("middle"), ink("high")};
}

} // namespace

VerdictPlot* VerdictPlot::make(const Theme& theme, const Plan& plan, const Requirement& r,
                               const Evaluation& e, const Measurements& measured) {
  auto plot = deviationPlot(plan, r, e, measured);
  return plot ? new VerdictPlot(theme, std::move(*plot)) : nullptr;
}

VerdictPlot::VerdictPlot(const Theme& theme, DeviationPlot plot)
    : theme_(theme)
    , plot_(std::move(plot)) {
  setObjectName("verdictPlot");
  setFixedHeight(kPlotHeight);
  setAccessibleName("Plot of the deviations");
  setAccessibleDescription(QString::fromStdString(captionOf(plot_)));
}

void VerdictPlot::paintEvent(QPaintEvent*) {
  PaperPage page;
  page.size = {width() / kPixels, height() / kPixels};
  page.marks = drawPlot(plot_, {0, 0, page.size.width, page.size.height}, inksOf(theme_),
                        theme_.textSetter());
  QPainter(this).drawImage(rect(), imageOf(page, kPixels * devicePixelRatioF(), theme_));
}

} // namespace alder::app
