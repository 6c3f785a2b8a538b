#include "requirements/row_delegate.h"

#include "base/units.h"
#include "requirement/limits.h"
#include "requirements/progress_head.h"
#include "requirements/sheet.h"
#include "theme/symbols.h"
#include <algorithm>

namespace alder::app {

void RowDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                        const QModelIndex& index) const {
  QPainter& p = *painter;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF row = option.rect;
  const auto& r = document_.plan().spec.requirement(
      static_cast<const RequirementModel*>(index.model())->idAt(index.row()));
  const bool selected = option.state & QStyle::State_Selected;
  p.fillRect(row, selected ? theme_.color("accent_soft") : theme_.color("panel"));
  if (selected) p.fillRect(QRectF(row.left(), row.top(), 3, row.height()), theme_.color("accent"));
  p.setPen(theme_.color("line"));
  p.drawLine(QPointF(row.left() + 12, row.bottom()), QPointF(row.right() - 12, row.bottom()));
  const double middle = row.center().y();
  theme_.drawBalloon(p, {row.left() + 22, middle}, 11, r.balloon,
                     theme_.color(selected ? "accent" : "second"), !r.key.empty());
  // The model says more of it than is judged, and nobody has seen that yet.
  if (hasUnseenNotes(document_.plan(), r)) {
    p.setPen(QPen(theme_.color("panel"), 1.5));
    p.setBrush(theme_.color("near"));
    p.drawEllipse(QPointF(row.left() + 31, middle - 8), 4.5, 4.5);
  }
  paintCallout(p, row, document_.plan().spec.withStandard(r));
  if (desk_ == Desk::Verdict)
    paintResult(p, row, r);
  else
    paintProgress(p, row, r);
  const BriefVerdict* e = document_.verdict(r.id);
  theme_.drawVerdict(p, {row.right() - 17, middle}, 6, e ? e->verdict : Verdict::Unmeasured);
  p.restore();
}

// Drawn smaller where it would not fit beside the state.
void RowDelegate::paintCallout(QPainter& p, const QRectF& row, const Requirement& r) const {
  const double room = row.width() - 43 - (desk_ == Desk::Verdict ? 94 : kCellsFromRight + 6);
  QPixmap scratch(1, 1);
  QPainter probe(&scratch);
  const double needed = drawCallout(probe, theme_, {0, 0}, r, 19);
  probe.end();
  p.save();
  p.translate(row.left() + 43, row.center().y());
  if (needed > room) p.scale(std::max(0.5, room / needed), std::max(0.5, room / needed));
  drawCallout(p, theme_, {0, 0}, r, 19);
  p.restore();
}

void RowDelegate::paintProgress(QPainter& p, const QRectF& row, const Requirement& r) const {
  const auto cells = document_.progressOf(r);
  double x = row.right() - kCellsFromRight;
  for (bool done : cells) {
    const QRectF cell(x, row.center().y() - 4, 8, 8);
    p.setPen(QPen(theme_.color(done ? "ink" : "track"), 1));
    p.setBrush(done ? theme_.color("ink") : theme_.color("panel"));
    p.drawRoundedRect(cell, 1.5, 1.5);
    x += kCellPitch;
  }
}

void RowDelegate::paintResult(QPainter& p, const QRectF& row, const Requirement& r) const {
  const BriefVerdict* e = document_.verdict(r.id);
  if (!e || !e->actual) return;
  const double shown = r.kind == Characteristic::Angle ? degrees(*e->actual) : *e->actual;
  p.setFont(theme_.figures(8.5));
  p.setPen(theme_.color(e->verdict == Verdict::Outside ? "outside" : "ink"));
  const bool has_share = !hasSingleLimit(r); // of a single limit there is no tolerance to use
  const QRectF box(row.right() - 92, has_share ? row.top() + 5 : row.center().y() - 7.5, 60, 15);
  p.drawText(box, Qt::AlignRight | Qt::AlignVCenter,
             QString::fromStdString(figure(shown, r.decimals)));
  if (!has_share) return;
  // the limit stands at 80 % of the bar, so that what is beyond it can be seen
  const QRectF bar(box.left() + 8, row.bottom() - 13, 52, 4);
  p.setPen(Qt::NoPen);
  p.setBrush(theme_.color("track"));
  p.drawRoundedRect(bar, 2, 2);
  QRectF used = bar;
  used.setWidth(bar.width() * std::clamp(0.8 * e->share, 0.02, 1.0));
  p.setBrush(theme_.verdictColor(e->verdict));
  p.drawRoundedRect(used, 2, 2);
  p.setPen(QPen(theme_.color("ink"), 1));
  const double limit = bar.left() + 0.8 * bar.width();
  p.drawLine(QPointF(limit, bar.top() - 2.5), QPointF(limit, bar.bottom() + 2.5));
}

} // namespace alder::app
