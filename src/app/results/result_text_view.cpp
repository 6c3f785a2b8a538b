#include "results/result_text_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

QString shownLine(const std::string& line) {
  QString text = QString::fromStdString(line);
  text.replace('\t', QChar(0x2192)); // a tab is a column
  return text;
}

bool partsWords(char c) {
  return c == ' ' || c == '\t' || c == ';' || c == '|';
}

} // namespace

RoleMark markOf(ResultRole role) {
  switch (role) {
  case ResultRole::Name:
  case ResultRole::Feature:
  case ResultRole::Axis:
  case ResultRole::Id:
    return RoleMark::Name;
  case ResultRole::Nominal:
    return RoleMark::Nominal;
  case ResultRole::Upper:
  case ResultRole::Lower:
  case ResultRole::UpperDeviation:
  case ResultRole::LowerDeviation:
  case ResultRole::Tolerance:
    return RoleMark::Limit;
  case ResultRole::Actual:
  case ResultRole::Deviation:
    return RoleMark::Actual;
  default:
    return isOfPart(role) ? RoleMark::OfPart : RoleMark::None;
  }
}

ResultTextView::ResultTextView(const Theme& theme, QWidget* parent)
    : QAbstractScrollArea(parent)
    , theme_(theme) {
  setObjectName("resultText");
  setAccessibleName("The file line by line");
  setFocusPolicy(Qt::StrongFocus);
  setFrameShape(QFrame::NoFrame);
  viewport()->setCursor(Qt::IBeamCursor);
  const QFontMetricsF metrics(theme_.figures(9));
  letter_ = metrics.horizontalAdvance('0');
  row_ = std::ceil(metrics.height()) + 4;
  gutter_ = 5 * letter_ + 18;
}

void ResultTextView::show(const ResultText& text, const ResultsRead& read) {
  const bool other = text_ != &text;
  text_ = &text, read_ = &read;
  if (other) line_ = first_ = last_ = 0;
  measure();
  viewport()->update();
}

void ResultTextView::measure() {
  if (!text_) return;
  std::size_t longest = 0;
  for (const std::string& l : text_->lines)
    longest = std::max(longest, columnOf(l, l.size()));
  const double height = row_ * static_cast<double>(text_->lines.size()),
               width = gutter_ +
                       letter_ * static_cast<double>(std::min<std::size_t>(longest, 2000)) + 12;
  verticalScrollBar()->setPageStep(viewport()->height());
  verticalScrollBar()->setSingleStep(static_cast<int>(row_));
  verticalScrollBar()->setRange(0, std::max(0, static_cast<int>(height) - viewport()->height()));
  horizontalScrollBar()->setPageStep(viewport()->width());
  horizontalScrollBar()->setRange(0, std::max(0, static_cast<int>(width) - viewport()->width()));
}

void ResultTextView::resizeEvent(QResizeEvent*) {
  measure();
}

std::vector<ResultTextView::Word> ResultTextView::wordsOf(std::size_t line) const {
  std::vector<Word> words;
  if (!text_ || line >= text_->lines.size()) return words;
  const std::string& l = text_->lines[line];
  for (std::size_t i = 0; i < l.size();) {
    if (partsWords(l[i])) {
      ++i;
      continue;
    }
    std::size_t end = i;
    while (end < l.size() && !partsWords(l[end]))
      ++end;
    words.push_back({i, end});
    i = end;
  }
  return words;
}

double ResultTextView::x(std::size_t line, std::size_t byte) const {
  return gutter_ + letter_ * static_cast<double>(columnOf(text_->lines[line], byte));
}

QRectF ResultTextView::wordRect(std::size_t line, std::size_t from, std::size_t to) const {
  const double left = x(line, from) - horizontalScrollBar()->value(),
               top = row_ * static_cast<double>(line) - verticalScrollBar()->value();
  return {left - 1, top + 1, x(line, to) - x(line, from) + 2, row_ - 2};
}

QPoint ResultTextView::pointOf(std::size_t line, std::size_t byte) const {
  return wordRect(line, byte, byte + 1).center().toPoint();
}

Pointing ResultTextView::chosen(ResultRole role) const {
  const auto words = wordsOf(line_);
  if (words.empty()) return {line_, 0, 0, role};
  const std::size_t last = words.size() - 1;
  const auto [a, b] = std::minmax(std::min(first_, last), std::min(last_, last));
  return {line_, words[a].from, words[b].to, role};
}

void ResultTextView::choose(std::size_t line, std::size_t word, bool extend) {
  if (!text_ || text_->lines.empty()) return;
  const std::size_t before = line_;
  line_ = std::min(line, text_->lines.size() - 1);
  last_ = word;
  if (!extend || line_ != before) first_ = word;
  const double top = row_ * static_cast<double>(line_);
  QScrollBar* bar = verticalScrollBar();
  if (top < bar->value()) bar->setValue(static_cast<int>(top));
  if (top + row_ > bar->value() + viewport()->height())
    bar->setValue(static_cast<int>(top + row_) - viewport()->height());
  if (const auto words = wordsOf(line_); word < words.size()) {
    const double left = x(line_, words[word].from), right = x(line_, words[word].to);
    QScrollBar* across = horizontalScrollBar();
    if (left - gutter_ < across->value()) across->setValue(static_cast<int>(left - gutter_));
    if (right + 8 > across->value() + viewport()->width())
      across->setValue(static_cast<int>(right) + 8 - viewport()->width());
  }
  viewport()->update();
  if (line_ != before) emit lineChosen(line_);
}

void ResultTextView::setLine(std::size_t line) {
  const QSignalBlocker quiet(this);
  choose(line, 0, false);
}

bool ResultTextView::nextNotRead() {
  if (!read_) return false;
  const std::size_t count = read_->lines.size();
  for (std::size_t step = 1; step <= count; ++step) {
    const std::size_t i = (line_ + step) % count;
    if (!read_->lines[i].not_read) continue;
    choose(i, 0, false);
    return true;
  }
  return false;
}

std::pair<std::size_t, std::size_t> ResultTextView::at(const QPoint& pos) const {
  const auto line =
      static_cast<std::size_t>(std::max(0.0, (pos.y() + verticalScrollBar()->value()) / row_));
  const double px = pos.x() + horizontalScrollBar()->value();
  if (!text_ || line >= text_->lines.size()) return {line, 0};
  const auto words = wordsOf(line);
  std::size_t nearest = 0;
  double best = 1e18;
  for (std::size_t i = 0; i < words.size(); ++i) {
    const double a = x(line, words[i].from), b = x(line, words[i].to);
    const double off = px < a ? a - px : px > b ? px - b : 0;
    if (off < best) best = off, nearest = i;
  }
  return {line, nearest};
}

void ResultTextView::mousePressEvent(QMouseEvent* event) {
  const auto [line, word] = at(event->pos());
  if (!text_ || line >= text_->lines.size()) return;
  choose(line, word, event->modifiers() & Qt::ShiftModifier);
}

void ResultTextView::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  if (const auto [line, word] = at(event->pos()); line == line_) choose(line, word, true);
}

void ResultTextView::mouseReleaseEvent(QMouseEvent* event) {
  const bool inside = viewport()->rect().contains(event->pos());
  if (text_ && inside && at(event->pos()).first == line_ && !wordsOf(line_).empty())
    emit pointedAt(event->globalPosition().toPoint());
}

void ResultTextView::keyPressEvent(QKeyEvent* event) {
  const bool extend = event->modifiers() & Qt::ShiftModifier;
  const auto words = wordsOf(line_);
  const auto page = static_cast<std::size_t>(std::max(1.0, viewport()->height() / row_ - 1));
  switch (event->key()) {
  case Qt::Key_Up:
    return choose(line_ > 0 ? line_ - 1 : 0, last_, false);
  case Qt::Key_Down:
    return choose(line_ + 1, last_, false);
  case Qt::Key_PageUp:
    return choose(line_ > page ? line_ - page : 0, last_, false);
  case Qt::Key_PageDown:
    return choose(line_ + page, last_, false);
  case Qt::Key_Left:
    return choose(line_, std::min(last_, words.size()) > 0 ? std::min(last_, words.size()) - 1 : 0,
                  extend);
  case Qt::Key_Right:
    return choose(line_, words.empty() ? 0 : std::min(last_ + 1, words.size() - 1), extend);
  case Qt::Key_Home:
    return choose(event->modifiers() & Qt::ControlModifier ? 0 : line_, 0, extend);
  case Qt::Key_End:
    return event->modifiers() & Qt::ControlModifier && text_
               ? choose(text_->lines.size(), 0, false)
               : choose(line_, words.empty() ? 0 : words.size() - 1, extend);
  case Qt::Key_Return:
  case Qt::Key_Enter:
  case Qt::Key_Menu:
    if (!words.empty()) {
      const Pointing p = chosen(ResultRole::None);
      emit pointedAt(viewport()->mapToGlobal(wordRect(line_, p.from, p.to).bottomLeft().toPoint()));
    }
    return;
  default:
    return QAbstractScrollArea::keyPressEvent(event);
  }
}

void ResultTextView::paintSpan(QPainter& p, const ReadSpan& span, const QRectF& rect) const {
  switch (markOf(span.role)) {
  case RoleMark::Name:
    p.fillRect(rect, theme_.color("accent_soft"));
    break;
  case RoleMark::Nominal:
    p.setPen(QPen(theme_.color("accent"), 1.5));
    p.drawLine(rect.bottomLeft(), rect.bottomRight());
    break;
  case RoleMark::Limit:
    p.setPen(QPen(theme_.color("second"), 1.5, Qt::DotLine));
    p.drawLine(rect.bottomLeft(), rect.bottomRight());
    break;
  case RoleMark::Actual:
    p.setPen(QPen(theme_.color("accent"), span.role == ResultRole::Actual ? 1.4 : 0.7));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(rect.adjusted(0, 0.5, 0, -0.5), 3, 3);
    break;
  case RoleMark::OfPart:
    p.fillRect(rect, theme_.color("wait"));
    break;
  default:
    break;
  }
}

void ResultTextView::paintLine(QPainter& p, std::size_t line, double y) const {
  const ReadLine* read = read_ && line < read_->lines.size() ? &read_->lines[line] : nullptr;
  const bool passed = !read || (read->spans.empty() && !read->not_read);
  if (line == line_)
    p.fillRect(QRectF(0, y, viewport()->width(), row_),
               theme_.color(hasFocus() ? "accent_soft" : "line"));
  if (read)
    for (const ReadSpan& s : read->spans)
      if (s.role != ResultRole::None) paintSpan(p, s, wordRect(line, s.from, s.to));
  if (line == line_ && !wordsOf(line).empty()) {
    const Pointing c = chosen(ResultRole::None);
    p.setPen(QPen(theme_.color("ink"), 1.2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(wordRect(line, c.from, c.to));
  }
  p.setFont(theme_.figures(9));
  const double base = y + row_ - 6;
  p.setPen(theme_.color(passed ? "second" : "ink"));
  p.drawText(QPointF(gutter_ - horizontalScrollBar()->value(), base),
             shownLine(text_->lines[line]));
  // The number stays in sight.
  p.fillRect(QRectF(0, y, gutter_ - 8, row_), theme_.color("panel"));
  if (read && read->not_read) {
    p.fillRect(QRectF(0, y, 4, row_), theme_.color("outside"));
    p.setPen(theme_.color("outside"));
  } else {
    p.setPen(theme_.color("second"));
  }
  p.drawText(QRectF(4, y, gutter_ - 16, row_), Qt::AlignRight | Qt::AlignVCenter,
             QString::number(line + 1));
}

void ResultTextView::paintEvent(QPaintEvent*) {
  QPainter p(viewport());
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(viewport()->rect(), theme_.color("panel"));
  if (!text_) return;
  const double top = verticalScrollBar()->value();
  const auto first = static_cast<std::size_t>(top / row_);
  const auto last = static_cast<std::size_t>((top + viewport()->height()) / row_) + 1;
  for (std::size_t i = first; i < std::min(last, text_->lines.size()); ++i)
    paintLine(p, i, row_ * static_cast<double>(i) - top);
}

} // namespace alder::app
