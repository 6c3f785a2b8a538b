#include "run/live_gauge.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

QString signedFigure(double mm, int decimals) {
  return (mm < 0 ? QString::fromUtf8("\u2212") : QString("+")) +
         QString::fromStdString(figure(std::abs(mm), decimals));
}

} // namespace

LiveGauge::LiveGauge(const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , theme_(theme) {
  setMinimumHeight(236);
  setAccessibleName("Deviation of the last touch");
}

void LiveGauge::showTouches(const std::deque<RunScene::Live>& live, const QStringList& names) {
  live_ = live;
  names_ = names;
  setAccessibleDescription(figureText());
  update();
}

QString LiveGauge::figureText() const {
  return live_.empty() ? QString() : signedFigure(live_.front().deviation, 4) + " mm";
}

void LiveGauge::paintEvent(QPaintEvent*) {
  if (live_.empty()) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(theme_.color("second"));
  p.setFont(theme_.text(9.5));
  p.drawText(QRectF(0, 0, width(), 20), Qt::AlignLeft | Qt::AlignVCenter,
             "Last touch, off nominal");
  p.setPen(theme_.color("ink"));
  p.setFont(theme_.figures(24));
  p.drawText(QRectF(0, 22, width(), 42), Qt::AlignLeft | Qt::AlignVCenter, figureText());
  // A scale that holds all marks: 0.01, 0.02, 0.05, 0.1 ... mm to either side.
  double most = 0.01;
  for (const auto& touch : live_)
    most = std::max(most, std::abs(touch.deviation));
  double reach = std::pow(10, std::floor(std::log10(most)));
  for (const double step : {1.0, 2.0, 5.0, 10.0})
    if (step * reach >= most * 0.999) {
      reach *= step;
      break;
    }
  const double middle = width() / 2.0, half = width() / 2.0 - 12, y = 84;
  p.setPen(QPen(theme_.color("line"), 2));
  p.drawLine(QPointF(middle - half, y), QPointF(middle + half, y));
  p.setPen(QPen(theme_.color("ink"), 1));
  for (const double at : {-1.0, 0.0, 1.0})
    p.drawLine(QPointF(middle + at * half, y - 7), QPointF(middle + at * half, y + 7));
  for (std::size_t i = live_.size(); i-- > 0;) {
    const double x = middle + live_[i].deviation / reach * half;
    p.setPen(Qt::NoPen);
    QColor ink = theme_.color("accent");
    ink.setAlphaF(i == 0 ? 1.0f : 0.35f);
    p.setBrush(ink);
    p.drawEllipse(QPointF(x, y), i == 0 ? 6 : 4, i == 0 ? 6 : 4);
  }
  p.setPen(theme_.color("second"));
  p.setFont(theme_.figures(8.5));
  p.drawText(QRectF(0, y + 10, 80, 16), Qt::AlignLeft, signedFigure(-reach, 3));
  p.drawText(QRectF(middle - 40, y + 10, 80, 16), Qt::AlignHCenter, "0");
  p.drawText(QRectF(width() - 80, y + 10, 80, 16), Qt::AlignRight, signedFigure(reach, 3));
  double line = y + 38;
  for (std::size_t i = 0; i < live_.size() && line + 18 <= height(); ++i, line += 18) {
    p.setPen(theme_.color(i == 0 ? "ink" : "second"));
    p.setFont(theme_.text(9.5));
    const QString words =
        i < static_cast<std::size_t>(names_.size()) ? names_[static_cast<int>(i)] : QString();
    p.drawText(QRectF(0, line, width() - 110, 18), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(words, Qt::ElideRight, width() - 110));
    p.setFont(theme_.figures(9.5));
    p.drawText(QRectF(width() - 110, line, 110, 18), Qt::AlignRight | Qt::AlignVCenter,
               signedFigure(live_[i].deviation, 4));
  }
}

} // namespace alder::app
