#include "timeline/timeline.h"

#include "base/units.h"
#include "timeline/short_label.h"
#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <array>
#include <cmath>

namespace alder::app {
namespace {

constexpr double kLabels = 108, kRulerTop = 30;
struct Lane {
  double top, height;
};
constexpr Lane kAccess{50, 28}, kFeatures{82, 46}, kHops{131, 22}, kWaits{156, 26};
constexpr int kPlayStep = 33; // ms
// Drawn as a block of its own, which can be dragged.
bool isBlock(const Step& s) {
  return s.origin.valid() && !s.left_out &&
         (s.kind == StepKind::Measure || s.kind == StepKind::Wait || s.kind == StepKind::Ask);
}

constexpr std::array kSpeeds{0.25, 1.0, 4.0, 10.0, 25.0, 50.0};

} // namespace

Timeline::Timeline(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , theme_(theme)
    , empty_(new EmptyHint(
          theme,
          {{"draft", "Draft from requirements"},
           {"addFirst", "Add first requirements"},
           {"open", "Open …"}},
          [this](const QString& action) { emit wanted(action); }, this)) {
  setMinimumHeight(84);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName("Timeline");
  setMouseTracking(true);
  timer_.setInterval(kPlayStep);
  connect(&timer_, &QTimer::timeout, this, [this] {
    if (!document_.routed() || document_.playhead() >= document_.routed()->rehearsal.seconds)
      return timer_.stop();
    // By the clock, so that a slow picture does not slow the machine.
    document_.setPlayhead(document_.playhead() + played_.restart() / 1000.0 * speed());
  });
  connect(&document_, &Document::opened, this, [this] { timer_.stop(); });
  for (auto signal : {&Document::opened, &Document::planChanged, &Document::routedChanged})
    connect(&document_, signal, this, &Timeline::refreshEmpty);
  connect(&document_.jobs(), &JobRunner::busyChanged, this, &Timeline::refreshEmpty);
  refreshEmpty();
  connect(&document_, &Document::routedChanged, this, [this] {
    fit();
    update();
  });
  for (auto signal :
       {&Document::planChanged, &Document::selectionChanged, &Document::playheadChanged})
    connect(&document_, signal, this, qOverload<>(&QWidget::update));
}

// The routine to scale in time stands here; without touches nothing does.
void Timeline::refreshEmpty() {
  const bool open = document_.isOpen();
  if (!open)
    return empty_->say(
        "The routine is drawn here to scale in time. Open a part or a routine first.", {"open"});
  const Routed* routed = document_.routed();
  const bool touches =
      routed && std::any_of(routed->way.positions.begin(), routed->way.positions.end(),
                            [](const Position& p) { return p.contact; });
  if (touches || document_.jobs().busy()) return empty_->say({}, {});
  if (const QString why = document_.routingFailure(); !why.isEmpty())
    return empty_->say("There is no way: " + why, {});
  if (document_.plan().spec.requirements.empty() && document_.plan().features.empty())
    return empty_->say("Nothing is asked of the part yet, so that nothing is touched.",
                       {"addFirst"});
  empty_->say("No feature has touches yet.", {"draft"});
}

void Timeline::fit() {
  const double seconds = document_.routed() ? document_.routed()->rehearsal.seconds : 0;
  scroll_ = 0;
  scale_ = seconds > 0 ? std::max(0.5, (width() - kLabels - 16) / seconds) : 4;
  update();
}

void Timeline::resizeEvent(QResizeEvent*) {
  empty_->place();
  fit();
}

double Timeline::xOf(double seconds) const {
  return kLabels + (seconds - scroll_) * scale_;
}
double Timeline::secondsAt(double x) const {
  return scroll_ + (x - kLabels) / scale_;
}

Timeline::Span Timeline::spanOf(const Step& step) const {
  const auto& times = document_.routed()->rehearsal.times;
  if (step.last < step.first || times.empty()) {
    const double t = step.first > 0 && step.first <= static_cast<int>(times.size())
                         ? times[static_cast<std::size_t>(step.first) - 1]
                         : 0;
    return {t, t};
  }
  const double start = step.first > 0 ? times[static_cast<std::size_t>(step.first) - 1] : 0;
  return {start, times[static_cast<std::size_t>(step.last)]};
}

double Timeline::secondsOf(const std::function<bool(const Step&)>& wanted) const {
  double sum = 0;
  for (const Step& s : document_.routed()->way.steps)
    if (wanted(s)) sum += spanOf(s).end - spanOf(s).start;
  return sum;
}

QRectF Timeline::blockOf(FeatureId feature) const {
  if (!document_.routed()) return {};
  for (const Step& s : document_.routed()->way.steps)
    if (s.kind == StepKind::Measure && s.feature == feature) {
      const Span span = spanOf(s);
      return {xOf(span.start), kFeatures.top, (span.end - span.start) * scale_, kFeatures.height};
    }
  return {};
}

void Timeline::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme_.color("panel"));
  paintHead(p);
  if (!document_.routed()) return;
  for (const Lane* lane : {&kAccess, &kFeatures, &kHops, &kWaits}) {
    p.setPen(theme_.color("line"));
    p.drawLine(QPointF(0, lane->top + lane->height + 1.5),
               QPointF(width(), lane->top + lane->height + 1.5));
  }
  p.setFont(theme_.text(8.5));
  p.setPen(theme_.color("second"));
  const auto of = [](std::initializer_list<StepKind> kinds) {
    return [kinds = std::vector<StepKind>(kinds)](const Step& s) {
      return std::find(kinds.begin(), kinds.end(), s.kind) != kinds.end();
    };
  };
  const std::tuple<const Lane*, const char*, double> labels[]{
      {&kAccess, "angles", secondsOf(of({StepKind::Turn}))},
      {&kFeatures, "touches", secondsOf(of({StepKind::Measure}))},
      {&kHops, "hops", secondsOf(of({StepKind::Hop, StepKind::Move}))},
      {&kWaits, "waits",
       secondsOf(of({StepKind::Manual, StepKind::Swap, StepKind::Wait, StepKind::Ask}))}};
  for (const auto& [lane, text, seconds] : labels) {
    const QRectF box(16, lane->top, kLabels - 24, lane->height);
    p.setFont(theme_.text(8.5));
    p.drawText(box, Qt::AlignVCenter | Qt::AlignLeft, text);
    p.setFont(theme_.figures(8));
    p.drawText(box, Qt::AlignVCenter | Qt::AlignRight, QString("%1 s").arg(std::lround(seconds)));
  }
  p.save();
  p.setClipRect(QRectF(kLabels - 1, 0, width() - kLabels + 1, height()));
  paintRuler(p);
  paintAccess(p);
  paintFeatures(p);
  paintHops(p);
  paintWaits(p);
  paintClashes(p);
  paintPlayhead(p);
  p.restore();
}

void Timeline::paintHead(QPainter& p) const {
  p.setFont(theme_.strong(10));
  p.setPen(theme_.color("ink"));
  p.drawText(QRectF(16, 6, 100, 22), Qt::AlignVCenter | Qt::AlignLeft, "Timeline");
  p.setFont(theme_.text(8.5));
  p.setPen(theme_.color("second"));
  QString text = document_.isOpen() && document_.routingFailure().isEmpty() ? "being routed …" : "";
  if (const Routed* routed = document_.routed()) {
    int features = 0, touches = 0, turns = 0;
    for (const Step& s : routed->way.steps) {
      features += s.kind == StepKind::Measure && !s.left_out;
      turns += s.kind == StepKind::Turn;
    }
    for (const Position& q : routed->way.positions)
      touches += q.contact;
    const int seconds = static_cast<int>(std::lround(routed->rehearsal.seconds));
    text = QString("%1 min %2 s · %3 features · %4 touches · %5 head turns · ")
               .arg(seconds / 60)
               .arg(seconds % 60, 2, 10, QChar('0'))
               .arg(features)
               .arg(touches)
               .arg(turns);
    const auto clashes = routed->rehearsal.clashes.size();
    text += clashes == 0   ? QString("no clash")
            : clashes == 1 ? QString("1 clash")
                           : QString("%1 clashes").arg(clashes);
  }
  p.drawText(QRectF(90, 6, width() - 300, 22), Qt::AlignVCenter | Qt::AlignLeft, text);
  p.drawText(QRectF(width() - 220, 6, 204, 22), Qt::AlignVCenter | Qt::AlignRight,
             QString("L list   F fit   Space play ×%1").arg(speed()));
}

void Timeline::paintRuler(QPainter& p) const {
  static constexpr double kSteps[]{1, 2, 5, 10, 20, 30, 60, 120, 300, 600};
  double step = 600;
  for (double s : kSteps)
    if (s * scale_ > 70) {
      step = s;
      break;
    }
  p.setFont(theme_.figures(8));
  for (double t = std::floor(scroll_ / step) * step; xOf(t) < width(); t += step) {
    if (t < 0) continue;
    p.setPen(theme_.color("second"));
    p.drawLine(QPointF(xOf(t), kRulerTop + 6), QPointF(xOf(t), kRulerTop + 14));
    const QString label = QString("%1 s").arg(t);
    const double wide = p.fontMetrics().horizontalAdvance(label), x = xOf(t) + 4;
    if (x + wide < width()) p.drawText(QPointF(x, kRulerTop + 13), label); // else it would be cut
  }
}

void Timeline::block(QPainter& p, const QRectF& box, const QColor& fill, const QColor& border,
                     const QString& text, const QColor& ink) const {
  p.setPen(border.isValid() ? QPen(border, 1) : QPen(Qt::NoPen));
  p.setBrush(fill);
  p.drawRoundedRect(box, 3, 3);
  if (box.width() < 26) return;
  p.setPen(ink);
  const QFontMetricsF m(p.font());
  p.drawText(box.adjusted(5, 0, -3, 0), Qt::AlignVCenter | Qt::AlignLeft,
             m.elidedText(text, Qt::ElideRight, box.width() - 8));
}

void Timeline::paintAccess(QPainter& p) const {
  const auto& way = document_.routed()->way;
  p.setFont(theme_.text(8.5));
  // runs of one access
  for (std::size_t i = 0; i < way.steps.size();) {
    std::size_t j = i;
    while (j < way.steps.size() && way.steps[j].access == way.steps[i].access &&
           (j == i || (way.steps[j].kind != StepKind::Turn && way.steps[j].kind != StepKind::Swap)))
      ++j;
    double start = spanOf(way.steps[i]).start;
    const double end = spanOf(way.steps[j - 1]).end;
    const Access& a = way.steps[i].access;
    if (way.steps[i].kind == StepKind::Turn || way.steps[i].kind == StepKind::Swap) {
      const Span s = spanOf(way.steps[i]);
      const bool turns = way.steps[i].kind == StepKind::Turn;
      block(p,
            QRectF(xOf(s.start), kAccess.top + 2, std::max(3.0, (s.end - s.start) * scale_),
                   kAccess.height - 4),
            theme_.color(turns ? "turn" : "swap"), {}, turns ? "turn" : "swap",
            theme_.color("panel"));
      start = s.end;
    }
    const QString text =
        QString("%1 · A%2 B%3")
            .arg(QString::fromStdString(
                document_.plan().bench.styli[static_cast<std::size_t>(a.stylus)].name))
            .arg(shownDegrees(a.a))
            .arg(shownDegrees(a.b));
    // Not qualified, stale or out of limits: as verdicts are marked, in short blocks instead of
    // words.
    const double width = (end - start) * scale_;
    const TipState state = document_.tipState(a);
    const bool marked = document_.plan().bench.has_sphere && state != TipState::Qualified;
    block(p, QRectF(xOf(start) + 1, kAccess.top + 2, std::max(1.0, width - 2), kAccess.height - 4),
          theme_.color("bar"), {},
          marked && width < 64 ? QString() : shortLabel(text, QFontMetricsF(p.font()), width - 10),
          theme_.color("ink"));
    if (marked && width > 12)
      theme_.drawVerdict(
          p, {xOf(end) - std::min(10.0, width / 2), kAccess.top + kAccess.height / 2.0}, 4,
          state == TipState::Unqualified ? Verdict::Unmeasured
          : state == TipState::Stale     ? Verdict::Near
                                         : Verdict::Outside);
    i = j;
  }
}

void Timeline::paintFeatures(QPainter& p) const {
  const auto& way = document_.routed()->way;
  const auto& selected = document_.selection().features;
  p.setFont(theme_.text(8.5));
  for (const Step& s : way.steps) {
    if (s.kind != StepKind::Measure || s.left_out) continue;
    const Span span = spanOf(s);
    const bool chosen = std::find(selected.begin(), selected.end(), s.feature) != selected.end();
    const QRectF box(xOf(span.start) + 0.5, kFeatures.top + 2,
                     std::max(3.0, (span.end - span.start) * scale_ - 1), kFeatures.height - 4);
    p.setPen(QPen(theme_.color(chosen ? "accent" : "line"), chosen ? 2 : 1));
    p.setBrush(theme_.color(chosen ? "accent_soft" : "field"));
    p.drawRoundedRect(box, 3, 3);
    if (box.width() > 24) {
      p.setPen(theme_.color("ink"));
      const QFontMetricsF m(p.font());
      p.drawText(box.adjusted(5, 3, -3, -24), Qt::AlignVCenter | Qt::AlignLeft,
                 shortLabel(QString::fromStdString(document_.plan().nominal(s.feature).name), m,
                            box.width() - 8));
    }
    p.setPen(QPen(theme_.color("ink"), 1));
    for (int i = s.first; i <= s.last; ++i)
      if (way.positions[static_cast<std::size_t>(i)].contact) {
        const double x = xOf(document_.routed()->rehearsal.times[static_cast<std::size_t>(i)]);
        p.drawLine(QPointF(x, kFeatures.top + 26), QPointF(x, kFeatures.top + 38));
      }
  }
  if (dragged_.valid()) {
    p.setPen(QPen(theme_.color("accent"), 2));
    p.drawLine(QPointF(at_.x(), kFeatures.top), QPointF(at_.x(), kFeatures.top + kFeatures.height));
  }
}

// Over the shell: high, with slanting ends. Close: low, along the part. Led: low with its own
// corner in the middle.
void Timeline::paintHops(QPainter& p) const {
  const auto& selected = document_.selection().features;
  for (const Step& s : document_.routed()->way.steps) {
    if (s.kind != StepKind::Hop && s.kind != StepKind::Move) continue;
    const Span span = spanOf(s);
    const double left = xOf(span.start) + 0.5,
                 right = left + std::max(2.0, (span.end - span.start) * scale_ - 1);
    const double top = kHops.top + 3, bottom = kHops.top + kHops.height - 3;
    const double slant = std::min(4.0, (right - left) / 3), low = bottom - 7;
    QPolygonF shape;
    if (s.hop == HopMode::Over)
      shape = {{left, bottom}, {left + slant, top}, {right - slant, top}, {right, bottom}};
    else if (s.hop == HopMode::Led)
      shape = {{left, bottom},
               {left, low},
               {(left + right) / 2, top + 1},
               {right, low},
               {right, bottom}};
    else
      shape = {{left, bottom}, {left, low}, {right, low}, {right, bottom}};
    const bool chosen = s.feature.valid() &&
                        std::find(selected.begin(), selected.end(), s.feature) != selected.end();
    p.setPen(chosen ? QPen(theme_.color("accent"), 1.5) : QPen(Qt::NoPen));
    p.setBrush(theme_.color(s.hop != HopMode::Over ? "hop_close" : "hop"));
    p.drawPolygon(shape);
  }
}

void Timeline::paintWaits(QPainter& p) const {
  const auto& selected = document_.selection().steps;
  p.setFont(theme_.text(8.5));
  for (const Step& s : document_.routed()->way.steps) {
    const Span span = spanOf(s);
    const QRectF box(xOf(span.start), kWaits.top + 3,
                     std::max(3.0, (span.end - span.start) * scale_), kWaits.height - 6);
    if (s.kind == StepKind::Manual)
      block(p, box, theme_.color("wait"), {}, QString::fromStdString(s.text), theme_.color("ink"));
    if (s.kind == StepKind::Swap)
      block(p, box, theme_.color("wait"), {}, QString::fromStdString(s.text), theme_.color("ink"));
    if (s.kind == StepKind::Wait || s.kind == StepKind::Ask) {
      const bool chosen = std::find(selected.begin(), selected.end(), s.origin) != selected.end();
      block(p, box, theme_.color("wait"), theme_.color(chosen ? "accent" : "swap"),
            QString::fromStdString(s.text), theme_.color("ink"));
    }
    if (s.kind == StepKind::UseFrame) {
      p.setPen(QPen(theme_.color("accent"), 2));
      p.drawLine(QPointF(box.left(), kWaits.top + 2),
                 QPointF(box.left(), kWaits.top + kWaits.height - 2));
    }
  }
}

void Timeline::paintClashes(QPainter& p) const {
  p.setPen(QPen(theme_.color("panel"), 1));
  p.setBrush(theme_.color("outside"));
  for (const Clash& c : document_.routed()->rehearsal.clashes) {
    const double x = xOf(c.seconds);
    p.drawPolygon(QPolygonF({QPointF(x, kHops.top), QPointF(x + 6, kHops.top + 11),
                             QPointF(x, kHops.top + 22), QPointF(x - 6, kHops.top + 11)}));
  }
}

void Timeline::paintPlayhead(QPainter& p) const {
  const double x = xOf(document_.playhead());
  p.setPen(QPen(theme_.color("outside"), 1.5));
  p.drawLine(QPointF(x, kRulerTop), QPointF(x, kWaits.top + kWaits.height));
  p.setBrush(theme_.color("outside"));
  p.setPen(Qt::NoPen);
  p.drawPolygon(QPolygonF(
      {QPointF(x - 6, kRulerTop - 2), QPointF(x + 6, kRulerTop - 2), QPointF(x, kRulerTop + 8)}));
}

int Timeline::stepAt(const QPointF& at) const {
  if (!document_.routed()) return -1;
  const auto& steps = document_.routed()->way.steps;
  const auto wanted = [&](const Step& s) {
    if (at.y() >= kFeatures.top && at.y() < kFeatures.top + kFeatures.height)
      return s.kind == StepKind::Measure && !s.left_out;
    if (at.y() >= kHops.top && at.y() < kHops.top + kHops.height)
      return s.kind == StepKind::Hop || s.kind == StepKind::Move;
    if (at.y() >= kWaits.top)
      return s.kind == StepKind::Manual || s.kind == StepKind::Swap || s.kind == StepKind::Wait ||
             s.kind == StepKind::Ask;
    if (at.y() >= kAccess.top && at.y() < kAccess.top + kAccess.height)
      return s.kind == StepKind::Turn || s.kind == StepKind::Swap;
    return false;
  };
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const Span s = spanOf(steps[i]);
    if (wanted(steps[i]) && at.x() >= xOf(s.start) &&
        at.x() <= std::max(xOf(s.end), xOf(s.start) + 3))
      return static_cast<int>(i);
  }
  return -1;
}

void Timeline::mousePressEvent(QMouseEvent* event) {
  if (!document_.routed() || event->button() != Qt::LeftButton) return;
  pressed_ = at_ = event->position();
  if (pressed_.y() < kAccess.top) {
    scrubbing_ = true;
    document_.setPlayhead(secondsAt(pressed_.x()));
    return;
  }
  const int step = stepAt(pressed_);
  if (step < 0) return document_.clearSelection();
  const FeatureId feature = document_.routed()->way.steps[static_cast<std::size_t>(step)].feature;
  if (feature.valid() && event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier))
    return selectMore(feature, event->modifiers() & Qt::ShiftModifier);
  // Pressed on one of several that are selected: they may be dragged together.
  const auto& selected = document_.selection().features;
  if (selected.size() > 1 && std::find(selected.begin(), selected.end(), feature) != selected.end())
    return;
  document_.selectStep(step);
  document_.setPlayhead(
      spanOf(document_.routed()->way.steps[static_cast<std::size_t>(step)]).start);
}

void Timeline::mouseMoveEvent(QMouseEvent* event) {
  at_ = event->position();
  if (scrubbing_) return document_.setPlayhead(secondsAt(at_.x()));
  if (event->buttons() & Qt::LeftButton && !dragged_.valid() &&
      std::abs(at_.x() - pressed_.x()) > 6) {
    const int step = stepAt(pressed_);
    if (step >= 0 && isBlock(document_.routed()->way.steps[static_cast<std::size_t>(step)]))
      dragged_ = document_.routed()->way.steps[static_cast<std::size_t>(step)].origin;
  }
  if (dragged_.valid()) update();
}

void Timeline::mouseReleaseEvent(QMouseEvent* event) {
  scrubbing_ = false;
  if (!dragged_.valid()) return;
  const StepId step = dragged_;
  dragged_ = {};
  const auto selected = document_.selectedSteps();
  const bool together = std::find(selected.begin(), selected.end(), step) != selected.end();
  dropSteps(together ? selected : std::vector<StepId>{step}, secondsAt(event->position().x()));
  update();
}

void Timeline::selectMore(FeatureId feature, bool range) {
  auto features = document_.selection().features;
  const auto order = measuringOrder(document_.plan().steps);
  const auto at = std::find(order.begin(), order.end(), feature);
  if (range && !features.empty()) {
    const auto from = std::find(order.begin(), order.end(), features.back());
    const auto [first, last] = std::minmax(from, at);
    if (last != order.end()) features.assign(first, last + 1);
  } else if (const auto found = std::find(features.begin(), features.end(), feature);
             found != features.end()) {
    features.erase(found);
  } else {
    features.push_back(feature);
  }
  document_.selectFeatures(std::move(features));
}

void Timeline::dropSteps(const std::vector<StepId>& moved, double seconds) {
  // before the first block whose middle lies behind the place of the drop
  std::optional<StepId> before;
  for (const Step& s : document_.routed()->way.steps) {
    const Span span = spanOf(s);
    if (isBlock(s) && std::find(moved.begin(), moved.end(), s.origin) == moved.end() &&
        (span.start + span.end) / 2 > seconds) {
      before = s.origin;
      break;
    }
  }
  document_.moveSteps(moved, before);
}

void Timeline::wheelEvent(QWheelEvent* event) {
  if (event->modifiers() & Qt::ShiftModifier ||
      std::abs(event->angleDelta().x()) > std::abs(event->angleDelta().y())) {
    scroll_ = std::max(0.0, scroll_ - (event->angleDelta().x() + event->angleDelta().y()) / scale_);
  } else {
    const double fixed = secondsAt(event->position().x());
    scale_ = std::clamp(scale_ * std::pow(1.0015, event->angleDelta().y()), 0.2, 400.0);
    scroll_ = std::max(0.0, fixed - (event->position().x() - kLabels) / scale_);
  }
  update();
}

void Timeline::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
  if (event->key() == Qt::Key_Left) return document_.setPlayhead(document_.playhead() - step);
  if (event->key() == Qt::Key_Right) return document_.setPlayhead(document_.playhead() + step);
  if (event->key() == Qt::Key_Home) return document_.setPlayhead(0);
  QWidget::keyPressEvent(event);
}

void Timeline::togglePlay() {
  if (timer_.isActive()) return timer_.stop();
  if (!document_.routed()) return;
  if (document_.playhead() >= document_.routed()->rehearsal.seconds) document_.setPlayhead(0);
  played_.start();
  timer_.start();
}

double Timeline::speed() const {
  return kSpeeds[static_cast<std::size_t>(speed_)];
}

void Timeline::changeSpeed(int by) {
  speed_ = std::clamp(speed_ + by, 0, static_cast<int>(kSpeeds.size()) - 1);
  update();
}

void Timeline::step(int by) {
  timer_.stop();
  const Routed* routed = document_.routed();
  if (!routed) return;
  const auto& times = routed->rehearsal.times;
  const double now = document_.playhead();
  if (by > 0) {
    const auto next = std::upper_bound(times.begin(), times.end(), now + 1e-9);
    if (next != times.end()) document_.setPlayhead(*next);
  } else {
    const auto next = std::lower_bound(times.begin(), times.end(), now - 1e-9);
    document_.setPlayhead(next == times.begin() ? 0 : *(next - 1));
  }
}

void Timeline::nextClash() {
  if (!document_.routed()) return;
  const auto& clashes = document_.routed()->rehearsal.clashes;
  if (clashes.empty()) {
    emit document_.message("The routine is clear of clashes", false);
    return;
  }
  const Clash* next = &clashes.front();
  for (const Clash& c : clashes)
    if (c.seconds > document_.playhead() + 1e-6) {
      next = &c;
      break;
    }
  document_.selectStep(next->step);
  document_.setPlayhead(next->seconds);
}

} // namespace alder::app
