#include "timeline/parts_chart.h"

#include "base/units.h"
#include "requirement/limits.h"
#include "theme/symbols.h"
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {
constexpr double kLeft = 84, kTop = 42, kBottom = 26, kRight = 24;
}

PartsChart::PartsChart(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , theme_(theme)
    , empty_(new EmptyHint(
          theme,
          {{"run", "Run on the simulated machine"},
           {"operate", "Operator view"},
           {"judgeFile", "Open measured points …"},
           {"open", "Open …"}},
          [this](const QString& action) { emit wanted(action); }, this)) {
  setMinimumHeight(84);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName("Parts");
  for (auto signal : {&Document::runsChanged, &Document::selectionChanged, &Document::planChanged})
    connect(&document_, signal, this, qOverload<>(&QWidget::update));
  for (auto signal : {&Document::opened, &Document::runsChanged})
    connect(&document_, signal, this, &PartsChart::refreshEmpty);
  refreshEmpty();
}

void PartsChart::refreshEmpty() {
  if (!document_.isOpen())
    return empty_->say("Measured parts stand here, one mark each. Open a routine first.", {"open"});
  if (document_.runs().empty())
    return empty_->say("No part is measured yet.", {"run", "operate", "judgeFile"});
  empty_->say({}, {});
}

namespace {

// Null: not judged yet.
const BriefVerdict* judged(const JudgedRun& run, RequirementId requirement) {
  const auto found = run.verdicts.find(requirement);
  return found == run.verdicts.end() ? nullptr : &found->second;
}

std::optional<double> actualOf(const JudgedRun& run, RequirementId requirement) {
  const BriefVerdict* v = judged(run, requirement);
  return v ? v->actual : std::nullopt;
}

// "part-0042" is shown as "0042".
QString shortName(const std::string& name) {
  return QString::fromStdString(name.substr(name.find('-') + 1));
}

} // namespace

void PartsChart::resizeEvent(QResizeEvent* event) {
  empty_->place();
  QWidget::resizeEvent(event);
}

PartsChart::Range PartsChart::rangeOf(const Requirement& r) const {
  Range range;
  range.two_sided = isDimension(r.kind);
  range.lower = range.two_sided ? r.lower : 0;
  range.upper = range.two_sided ? r.upper : r.tolerance;
  // An open side ends where the parts do.
  const bool below = std::isfinite(range.lower), above = std::isfinite(range.upper);
  range.low = below ? range.lower : range.upper, range.high = above ? range.upper : range.lower;
  for (const JudgedRun& run : document_.runs())
    if (const auto actual = actualOf(run, r.id)) {
      range.low = std::min(range.low, *actual);
      range.high = std::max(range.high, *actual);
    }
  const double pad = 0.12 * std::max(range.high - range.low,
                                     hasSingleLimit(r) ? 0.01 * std::abs(range.high) : 1e-9);
  range.high += pad;
  if (range.two_sided) range.low -= pad;
  return range;
}

double PartsChart::pitch() const {
  return (width() - kLeft - kRight) /
         static_cast<double>(std::max<std::size_t>(document_.runs().size(), 12));
}

QPointF PartsChart::place(std::size_t index, double share) const {
  return {kLeft + pitch() * (static_cast<double>(index) + 0.5),
          height() - kBottom - stepsHeight() - share * (height() - kTop - kBottom - stepsHeight())};
}

double PartsChart::stepsHeight() const {
  return document_.runs().size() >= 3 ? 48 : 0;
}

// By how much each part differs from the one before, with the limit for a process at rest.
void PartsChart::drawSteps(QPainter& p, const Requirement& r, const PartHistory& history) const {
  const double lane = stepsHeight();
  if (lane <= 0 || history.count < 2) return;
  const double bottom = height() - kBottom - 2, top = bottom - lane + 18;
  const auto actual = [&](std::size_t i) { return actualOf(document_.runs()[i], r.id); };
  const double dot = std::clamp(0.3 * pitch(), 1.0, 2.5);
  double most = history.range_high;
  for (std::size_t i = 1; i < document_.runs().size(); ++i)
    if (actual(i) && actual(i - 1)) most = std::max(most, std::abs(*actual(i) - *actual(i - 1)));
  if (most <= 0) return;
  const auto y = [&](double step) { return bottom - step / most * (bottom - top); };
  p.setPen(QPen(theme_.color("line"), 1));
  p.drawLine(QPointF(kLeft, bottom), QPointF(width() - kRight, bottom));
  p.setPen(QPen(theme_.color("second"), 1, Qt::DashLine));
  p.drawLine(QPointF(kLeft, y(history.range_high)),
             QPointF(width() - kRight, y(history.range_high)));
  const double scale = r.kind == Characteristic::Angle ? degrees(1) : 1;
  p.setFont(theme_.figures(8));
  p.setPen(theme_.color("second"));
  p.drawText(QRectF(4, y(history.range_high) - 9, kLeft - 12, 18),
             Qt::AlignRight | Qt::AlignVCenter,
             QString::fromStdString(figure(history.range_high * scale, r.decimals)));
  p.setFont(theme_.text(8));
  p.drawText(QRectF(8, bottom - 8, kLeft - 8, 16), Qt::AlignLeft | Qt::AlignVCenter,
             "moving range");
  for (std::size_t i = 1; i < document_.runs().size(); ++i) {
    if (!actual(i) || !actual(i - 1)) continue;
    const double step = std::abs(*actual(i) - *actual(i - 1));
    const bool beyond = step > history.range_high;
    const QColor color = theme_.color(beyond ? "outside" : "second");
    const double x = place(i, 0).x();
    p.setPen(QPen(color, std::min(2.0, 0.6 * pitch())));
    p.drawLine(QPointF(x, bottom), QPointF(x, y(step)));
    p.setPen(Qt::NoPen);
    p.setBrush(color);
    const double radius = beyond ? 1.6 * dot : dot;
    p.drawEllipse(QPointF(x, y(step)), radius, radius);
  }
}

void PartsChart::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme_.color("panel"));
  p.setFont(theme_.strong(10));
  p.setPen(theme_.color("ink"));
  p.drawText(QRectF(16, 6, 80, 22), Qt::AlignVCenter | Qt::AlignLeft, "Parts");
  p.setFont(theme_.text(8.5));
  p.setPen(theme_.color("second"));
  const QRectF head(64, 6, width() - 90, 22);
  if (!document_.isOpen() || document_.runs().empty()) return;
  const auto selected = document_.selection().requirement;
  if (!selected)
    return p.drawText(head, Qt::AlignVCenter | Qt::AlignLeft,
                      QString("%1 measured · select a requirement to see it over the parts")
                          .arg(document_.runs().size()));
  const Requirement& r = document_.plan().spec.requirement(*selected);
  int outside = 0;
  for (const JudgedRun& run : document_.runs())
    if (const BriefVerdict* v = judged(run, r.id)) outside += v->verdict == Verdict::Outside;
  const auto to_judge = document_.parts().toJudge(r.id);
  p.drawText(
      head, Qt::AlignVCenter | Qt::AlignLeft,
      QString("requirement %1 over %2 part%3 · %4 outside · mean a line, control limits dashed%5")
          .arg(r.balloon)
          .arg(document_.runs().size())
          .arg(document_.runs().size() == 1 ? "" : "s")
          .arg(outside)
          .arg(to_judge > 0 ? QString(" · %1 still being judged").arg(to_judge) : QString()));
  const Range range = rangeOf(r);
  const auto share = [&](double v) { return (v - range.low) / (range.high - range.low); };
  const double scale = r.kind == Characteristic::Angle ? degrees(1) : 1;
  const double upper = place(0, share(std::min(range.upper, range.high))).y(),
               lower = place(0, share(std::max(range.lower, range.low))).y();
  QColor band = theme_.color("within");
  band.setAlphaF(0.07f);
  p.fillRect(QRectF(QPointF(kLeft, upper), QPointF(width() - kRight, lower)), band);
  p.setFont(theme_.figures(8));
  for (const auto& [y, value] : {std::pair{upper, range.upper}, {lower, range.lower}}) {
    if (!std::isfinite(value)) continue;
    p.setPen(QPen(theme_.color("ink"), 1));
    p.drawLine(QPointF(kLeft, y), QPointF(width() - kRight, y));
    p.drawText(QRectF(4, y - 9, kLeft - 12, 18), Qt::AlignRight | Qt::AlignVCenter,
               QString::fromStdString(figure(value * scale, r.decimals)));
  }
  // Mean, and the limits within which a process at rest stays.
  const PartHistory history = document_.parts().historyOf(r.id);
  if (history.count >= 2) {
    const auto line = [&](double value, Qt::PenStyle style) {
      if (value < range.low || value > range.high) return;
      p.setPen(QPen(theme_.color("second"), 1, style));
      const double y = place(0, share(value)).y();
      p.drawLine(QPointF(kLeft, y), QPointF(width() - kRight, y));
    };
    line(history.mean, Qt::SolidLine);
    line(history.control_low, Qt::DashLine);
    line(history.control_high, Qt::DashLine);
  }
  drawSteps(p, r, history);
  drawParts(p, r, range);
}

// A mark for each part that is judged, joined in order. Where many stand close, the marks are
// small and not all have their name; the one that is looked at has.
void PartsChart::drawParts(QPainter& p, const Requirement& r, const Range& range) const {
  const auto& runs = document_.runs();
  const auto at = [&](std::size_t i, const BriefVerdict& v) {
    const double value = v.actual.value_or(std::max(range.lower, range.low));
    return place(i, (value - range.low) / (range.high - range.low));
  };
  const int current = document_.currentRunIndex();
  if (current >= 0) {
    const double half = std::clamp(pitch() / 2, 4.0, 22.0);
    const double x = place(static_cast<std::size_t>(current), 0).x();
    p.setPen(QPen(theme_.color("accent"), 1.5));
    QColor soft = theme_.color("accent_soft");
    soft.setAlphaF(0.6f);
    p.setBrush(soft);
    p.drawRoundedRect(QRectF(x - half, kTop - 8, 2 * half, height() - kTop - 10 - stepsHeight()), 4,
                      4);
  }
  p.setPen(QPen(theme_.color("line"), 1));
  std::optional<QPointF> before;
  for (std::size_t i = 0; i < runs.size(); ++i) {
    const BriefVerdict* v = judged(runs[i], r.id);
    const auto here = v ? std::optional(at(i, *v)) : std::nullopt;
    if (before && here) p.drawLine(*before, *here);
    before = here;
  }
  drawNames(p);
  const double size = std::clamp(0.45 * pitch(), 1.5, 5.5);
  for (std::size_t i = 0; i < runs.size(); ++i)
    if (const BriefVerdict* v = judged(runs[i], r.id))
      theme_.drawVerdict(p, at(i, *v), static_cast<int>(i) == current ? std::max(size, 3.5) : size,
                         v->verdict);
}

void PartsChart::drawNames(QPainter& p) const {
  const auto& runs = document_.runs();
  p.setFont(theme_.figures(8));
  const QFontMetricsF metrics(p.font());
  const auto current = static_cast<std::size_t>(std::max(0, document_.currentRunIndex()));
  const auto box = [&](std::size_t i) {
    const double half = metrics.horizontalAdvance(shortName(runs[i].name)) / 2 + 5;
    return QRectF(place(i, 0).x() - half, height() - kBottom + 5, 2 * half, 18);
  };
  const auto draw = [&](std::size_t i) {
    p.drawText(box(i), Qt::AlignCenter, shortName(runs[i].name));
  };
  p.setPen(theme_.color("ink"));
  draw(current);
  p.setPen(theme_.color("second"));
  double free_from = kLeft - 40;
  for (std::size_t i = 0; i < runs.size(); ++i) {
    if (i == current || box(i).left() < free_from || box(i).intersects(box(current))) continue;
    draw(i);
    free_from = box(i).right();
  }
}

void PartsChart::mousePressEvent(QMouseEvent* event) {
  const double place_in_row = (event->position().x() - kLeft) / pitch() - 0.5;
  const int index = static_cast<int>(std::lround(place_in_row));
  if (index < 0 || index >= static_cast<int>(document_.runs().size())) return;
  if (std::abs(place_in_row - index) * pitch() < 22) document_.setCurrentRun(index);
}

void PartsChart::keyPressEvent(QKeyEvent* event) {
  const int last = static_cast<int>(document_.runs().size()) - 1;
  const int now = document_.currentRunIndex();
  constexpr int kPage = 10;
  switch (event->key()) {
  case Qt::Key_Left:
    return document_.setCurrentRun(now - 1);
  case Qt::Key_Right:
    return document_.setCurrentRun(now + 1);
  case Qt::Key_PageUp:
    return document_.setCurrentRun(std::max(0, now - kPage));
  case Qt::Key_PageDown:
    return document_.setCurrentRun(std::min(last, now + kPage));
  case Qt::Key_Home:
    return document_.setCurrentRun(0);
  case Qt::Key_End:
    return document_.setCurrentRun(last);
  default:
    QWidget::keyPressEvent(event);
  }
}

} // namespace alder::app
