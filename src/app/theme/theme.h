// Colours, fonts and the marks that recur everywhere. One palette file, light and dark.
#pragma once

#include "judge/verdict.h"
#include "paper/text_setter.h"
#include <QColor>
#include <QFont>
#include <QPainter>
#include <QString>
#include <map>
#include <memory>

namespace alder::app {

class Theme {
 public:
  static Result<Theme> load(bool dark); // reads assets/palette.json and the fonts

  QColor color(const char* name) const;
  QFont text(double points = 9.5) const;
  QFont strong(double points = 9.5) const;
  QFont figures(double points = 9) const; // fixed-width digits
  QString styleSheet() const;
  QColor verdictColor(Verdict verdict) const;
  // -1 low limit, 0 nominal, +1 high limit; clamped beyond
  QColor deviationColor(double share) const;

  // Verdicts differ by shape as well as by colour: disc, half disc, diamond, hollow ring.
  void drawVerdict(QPainter& painter, const QPointF& centre, double radius, Verdict verdict) const;
  void drawBalloon(QPainter& painter, const QPointF& centre, double radius, int number,
                   const QColor& ring, bool key = false) const; // key: a second ring

  // For what the core draws; made when it is first asked for. Of the window's thread.
  const TextSetter& textSetter() const;

 private:
  mutable std::shared_ptr<const TextSetter> setter_;
  std::map<std::string, QColor> colors_;
  QString text_family_, figure_family_;
};

} // namespace alder::app
