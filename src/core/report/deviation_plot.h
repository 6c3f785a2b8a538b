// Deviations of a feature drawn as the kind of requirement asks: round features in polar form or
// unrolled, lines as a strip, faces as a map. Contact points, which hold the zone, are ringed; the
// worst is named. The same drawing on screen and paper.
#pragma once

#include "judge/verdict.h"
#include "paper/text_setter.h"
#include "plan/plan.h"

namespace alder {

struct DeviationPlot {
  enum class Kind { Polar, Unrolled, Strip, Map };
  struct Point {
    double u = 0, v = 0; // angle (rad) and height; along and beside; place on the face. mm
    double deviation = 0;
    bool contact = false;
  };
  Kind kind = Kind::Map;
  std::vector<Point> points;
  double low = 0, high = 0;    // of the deviations
  double zone = 0, middle = 0; // width and middle of the zone the deviations must lie in
  bool about_nominal = false;  // the zone stands about the nominal surface
};

// Nothing where no plot fits: sizes without points, distances, angles, values.
std::optional<DeviationPlot> deviationPlot(const Plan& plan, const Requirement& requirement,
                                           const Evaluation& evaluation,
                                           const Measurements& measured);
std::string captionOf(const DeviationPlot& plot); // "-0.0031 … 0.0042 mm, allowed 0.05"

struct PlotInks {
  Ink ink, second, line, field, within, low, middle, high;
};
// Of a deviation as share of half the zone, from -1 to 1.
Ink deviationInk(const PlotInks& inks, double share);

std::vector<Mark> drawPlot(const DeviationPlot& plot, const Area& area, const PlotInks& inks,
                           const TextSetter& setter);

} // namespace alder
