// The plot of a requirement's deviations in the card: the drawing that stands in reports.
#pragma once

#include "document/document.h"
#include "report/deviation_plot.h"
#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class VerdictPlot : public QWidget {
 public:
  // Nothing where no plot fits: sizes without points, distances, angles, values.
  static VerdictPlot* make(const Theme& theme, const Plan& plan, const Requirement& requirement,
                           const Evaluation& evaluation, const Measurements& measured);
  const DeviationPlot& plot() const { return plot_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  VerdictPlot(const Theme& theme, DeviationPlot plot);

  const Theme& theme_;
  DeviationPlot plot_;
};

} // namespace alder::app
