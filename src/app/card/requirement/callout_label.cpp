#include "card/requirement/callout_label.h"

#include "theme/symbols.h"
#include <algorithm>
#include <cmath>

namespace alder::app {

CalloutLabel::CalloutLabel(const Theme& theme, Requirement requirement,
                           std::optional<Verdict> verdict)
    : theme_(theme)
    , requirement_(std::move(requirement))
    , verdict_(verdict) {
  QPixmap scratch(1, 1);
  QPainter probe(&scratch);
  wide_ = verdict_ && drawCallout(probe, theme_, {0, 0}, requirement_, 23) > 165;
  setFixedHeight(wide_ ? 56 : 34);
}

void CalloutLabel::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  drawCallout(p, theme_, {0.5, wide_ ? 16.0 : height() / 2.0}, requirement_, 23);
  if (!verdict_) return;
  p.setFont(theme_.strong(9.5));
  p.setPen(theme_.verdictColor(*verdict_));
  p.drawText(rect(), (wide_ ? Qt::AlignLeft | Qt::AlignBottom : Qt::AlignRight | Qt::AlignVCenter),
             QString::fromUtf8(name(*verdict_).data()));
}

ZonePicture::ZonePicture(const Theme& theme, const Plan& plan, const Requirement& r,
                         const Evaluation& e)
    : theme_(theme)
    , zone_(r.tolerance)
    , allowed_(r.tolerance) {
  setFixedHeight(226);
  for (const FeatureResult& f : e.features) {
    allowed_ = std::max(allowed_, f.allowed);
    const Frame frame =
        frameOf(Vec3::Zero(), plan.nominal(f.feature).ideal.direction, Vec3::UnitX());
    const Vec3 d = frame.linear().transpose() * f.offset,
               u = frame.linear().transpose() * f.unshifted;
    const auto place =
        std::find(r.features.begin(), r.features.end(), f.feature) - r.features.begin();
    marks_.push_back(
        {QPointF(d.x(), -d.y()), QString::number(place + 1), QPointF(u.x(), -u.y()), f.verdict});
  }
}

void ZonePicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QPointF c(width() / 2.0, 100);
  bool shifted = false;
  double reach = allowed_ / 2;
  for (const Mark& m : marks_)
    reach = std::max(
        {reach, std::hypot(m.at.x(), m.at.y()), std::hypot(m.unshifted.x(), m.unshifted.y())});
  const double scale = 84 / (1.08 * reach);
  p.setPen(QPen(theme_.color("line"), 1));
  p.drawLine(c - QPointF(96, 0), c + QPointF(96, 0));
  p.drawLine(c - QPointF(0, 96), c + QPointF(0, 96));
  QColor soft = theme_.color("within");
  soft.setAlphaF(0.08f);
  p.setBrush(soft);
  p.setPen(QPen(theme_.color("ink"), 1.2));
  p.drawEllipse(c, zone_ / 2 * scale, zone_ / 2 * scale);
  if (allowed_ > zone_ * 1.001) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme_.color("ink"), 1, Qt::DashLine));
    p.drawEllipse(c, allowed_ / 2 * scale, allowed_ / 2 * scale);
  }
  p.setFont(theme_.figures(8));
  // Where a datum shift took an axis from.
  p.setBrush(Qt::NoBrush);
  for (const Mark& m : marks_) {
    const QPointF from = c + m.unshifted * scale, to = c + m.at * scale;
    if (std::hypot(from.x() - to.x(), from.y() - to.y()) < 2) continue;
    p.setPen(QPen(theme_.color("second"), 1, Qt::DotLine));
    p.drawLine(from, to);
    p.setPen(QPen(theme_.color("second"), 1.2));
    p.drawEllipse(from, 3.5, 3.5);
    shifted = true;
  }
  std::vector<QRectF> labels; // a number is left out where it would cover another
  for (const Mark& m : marks_) {
    const QPointF at = c + m.at * scale;
    theme_.drawVerdict(p, at, 5, m.verdict);
    p.setPen(theme_.color("ink"));
    const QRectF label(at.x() + 7, at.y() - 9, 16, 18);
    const bool covered = std::any_of(labels.begin(), labels.end(),
                                     [&](const QRectF& o) { return o.intersects(label); });
    if (marks_.size() > 1 && !covered) p.drawText(label, Qt::AlignVCenter | Qt::AlignLeft, m.label);
    labels.push_back(label);
  }
  p.setFont(theme_.text(8.5));
  p.setPen(theme_.color("second"));
  p.drawText(QRectF(0, 202, width(), 20), Qt::AlignCenter,
             QString("zone ⌀%1%2")
                     .arg(QString::fromStdString(shortFigure(zone_)))
                     .arg(allowed_ > zone_ * 1.001 ? ", with bonus dashed" : "") +
                 (shifted ? ", shift dotted" : ""));
}

} // namespace alder::app
