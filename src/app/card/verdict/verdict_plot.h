// Deviations drawn as the kind of requirement asks: round features in polar form or unrolled, lines
// as a strip, faces as a map. Contact points, which hold the zone, are ringed; the worst is named.
#pragma once

#include "document/document.h"
#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class VerdictPlot : public QWidget {
 public:
  enum class Kind { Polar, Unrolled, Strip, Map };
  // Nothing where no plot fits: sizes without points, distances, angles, values.
  static VerdictPlot* make(const Theme& theme, const Plan& plan, const Requirement& requirement,
                           const Evaluation& evaluation, const Measurements& measured);
  Kind kind() const { return kind_; }
  std::size_t markCount() const { return marks_.size(); }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Mark {
    double u = 0, v = 0; // angle (rad) and height; along and beside; place on the face
    double deviation = 0;
    bool contact = false;
  };
  VerdictPlot(const Theme& theme, Kind kind);
  void place(const NominalFeature& feature, const MeasuredFeature& measured,
             const FeatureResult& result);
  void keepWorstRow();
  void level();
  void paintPolar(QPainter& p) const;
  void paintStrip(QPainter& p) const;
  void paintPlaces(QPainter& p) const; // unrolled and map
  void mark(QPainter& p, const QPointF& at, const Mark& mark) const;

  const Theme& theme_;
  Kind kind_;
  std::vector<Mark> marks_;
  std::vector<int> rows_;
  double low_ = 0, high_ = 0;    // of the deviations
  double zone_ = 0, middle_ = 0; // width and middle of the zone the deviations must lie in
  bool limits_ = false;          // the zone stands about the nominal surface
  QString caption_;
};

} // namespace alder::app
