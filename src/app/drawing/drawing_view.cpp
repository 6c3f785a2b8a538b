#include "drawing/drawing_view.h"

#include "drawing/balloon_layout.h"
#include "requirement/member_numbers.h"
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

constexpr double kMargin = 12;                                    // pixels round the sheet
constexpr double kPad = 3;                                        // pixels round a text
constexpr double kLeastScale = 0.3, kMostScale = 60;              // pixels for a millimetre
constexpr double kBadge = 3.2, kLeastBadge = 3.5, kMostBadge = 9; // radius: mm, pixels
constexpr double kDragged = 4;                                    // pixels

} // namespace

DrawingView::DrawingView(Document& document, OpenDrawings& drawings, const Theme& theme,
                         QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , drawings_(drawings)
    , theme_(theme) {
  setObjectName("drawing");
  setAccessibleName("Drawing");
  setFocusPolicy(Qt::StrongFocus);
  setMinimumWidth(220);
  setMouseTracking(true);
  connect(&drawings_, &OpenDrawings::changed, this, [this] {
    const DrawingFile* file = drawings_.shown();
    const std::string name = file ? file->name : std::string();
    if (name != name_) {
      name_ = name;
      page_ = 1, current_.reset(), fitted_ = true;
      emit pageChanged();
    }
    if (fitted_) fit();
    const auto* read = drawings_.read();
    if (current_ && (!read || *current_ >= read->reading.proposals.size())) current_.reset();
    update();
  });
  connect(&drawings_, &OpenDrawings::pictured, this, [this] { update(); });
  connect(&document_, &Document::selectionChanged, this, &DrawingView::followSelection);
}

std::optional<SheetSize> DrawingView::size() const {
  const auto* read = drawings_.read();
  const auto at = static_cast<std::size_t>(page_ - 1);
  if (!read || at >= read->sizes.size()) return {};
  return read->sizes[at];
}

QPointF DrawingView::toWidget(const Vec2& sheet) const {
  return {(sheet.x() - corner_.x()) * scale_, height() - (sheet.y() - corner_.y()) * scale_};
}

Vec2 DrawingView::toSheet(const QPointF& widget) const {
  return {corner_.x() + widget.x() / scale_, corner_.y() + (height() - widget.y()) / scale_};
}

void DrawingView::fit() {
  const auto sheet = size();
  fitted_ = true;
  if (!sheet || width() < 40 || height() < 40) return;
  scale_ = std::clamp(
      std::min((width() - 2 * kMargin) / sheet->width, (height() - 2 * kMargin) / sheet->height),
      kLeastScale, kMostScale);
  corner_ = {(sheet->width - width() / scale_) / 2, (sheet->height - height() / scale_) / 2};
  update();
}

void DrawingView::showPage(int page) {
  const auto* read = drawings_.read();
  if (!read || read->sizes.empty()) return;
  page = std::clamp(page, 1, static_cast<int>(read->sizes.size()));
  if (page == page_) return;
  page_ = page;
  fit();
  emit pageChanged();
}

void DrawingView::resizeEvent(QResizeEvent*) {
  if (fitted_) fit();
}

void DrawingView::zoom(double factor, const QPointF& about) {
  const Vec2 held = toSheet(about);
  scale_ = std::clamp(scale_ * factor, kLeastScale, kMostScale);
  corner_ = held - Vec2(about.x(), height() - about.y()) / scale_;
  fitted_ = false;
  update();
}

void DrawingView::wheelEvent(QWheelEvent* event) {
  zoom(std::pow(1.2, event->angleDelta().y() / 120.), event->position());
  event->accept();
}

QRectF DrawingView::frameOf(std::size_t proposal) const {
  const auto* read = drawings_.read();
  if (!read || proposal >= read->reading.proposals.size()) return {};
  const Box2 box = read->reading.proposals[proposal].box.bounds();
  return QRectF(toWidget({box.min().x(), box.max().y()}), toWidget({box.max().x(), box.min().y()}))
      .adjusted(-kPad, -kPad, kPad, kPad);
}

QPointF DrawingView::badgeOf(std::size_t proposal) const {
  const QRectF f = frameOf(proposal);
  if (const Requirement* r = drawings_.requirementOf(proposal); r && r->spot->balloon)
    return toWidget({r->spot->balloon->x, r->spot->balloon->y});
  return {f.left() - badgeRadius(proposal) - 1, f.center().y()};
}

// As large as the texts are, within reason; that of the current one can always be read.
double DrawingView::badgeRadius(std::size_t proposal) const {
  if (const Requirement* r = drawings_.requirementOf(proposal); r && r->spot->balloon)
    return std::max(kBalloonRadius * scale_, kLeastBadge);
  return current_ == proposal ? kMostBadge : std::clamp(kBadge * scale_, kLeastBadge, kMostBadge);
}

std::optional<std::size_t> DrawingView::at(const QPointF& widget, bool* badge) const {
  const auto* read = drawings_.read();
  if (badge) *badge = false;
  if (!read) return {};
  std::optional<std::size_t> found;
  double least = 1e12;
  for (std::size_t i = 0; i < read->reading.proposals.size(); ++i) {
    if (read->reading.proposals[i].page != page_) continue;
    const bool offered = drawings_.isOffered(i);
    if (!offered && read->reading.proposals[i].as != ProposedAs::NotUnderstood) continue;
    const QPointF off = widget - badgeOf(i);
    if (offered && std::hypot(off.x(), off.y()) <= badgeRadius(i) + 1.5) {
      if (badge) *badge = true;
      return i;
    }
    const QRectF f = frameOf(i);
    if (f.contains(widget) && f.width() * f.height() < least)
      least = f.width() * f.height(), found = i;
  }
  return found;
}

void DrawingView::setCurrent(std::optional<std::size_t> proposal) {
  current_ = proposal;
  if (proposal) {
    pointing_ = true;
    drawings_.point(*proposal);
    pointing_ = false;
  }
  emit currentChanged();
  update();
}

// What is selected elsewhere is shown here: its page, and its place where it is out of sight.
void DrawingView::followSelection() {
  if (pointing_ || !document_.isOpen()) return;
  const auto selected = document_.selection().requirement;
  if (!selected || !document_.plan().spec.requirements.holds(*selected)) return;
  const Requirement& r = document_.plan().spec.requirement(*selected);
  if (!r.spot) return;
  for (std::size_t i = 0; i < document_.plan().drawings.size(); ++i)
    if (document_.plan().drawings[i].name == r.spot->drawing &&
        (!drawings_.shown() || drawings_.shown()->name != r.spot->drawing))
      drawings_.show(i);
  const auto proposal = drawings_.proposalOf(r);
  // A pick for a proposal that is still open must not lead away from it.
  if (current_ && drawings_.isOffered(*current_) &&
      drawings_.state(*current_) == ProposalState::Open && hasFocus())
    return;
  current_ = proposal;
  if (proposal) keepInSight(*proposal);
  emit currentChanged();
  update();
}

void DrawingView::keepInSight(std::size_t proposal) {
  const auto* read = drawings_.read();
  showPage(read->reading.proposals[proposal].page);
  const QRectF room = QRectF(rect()).adjusted(20, 20, -20, -20);
  const QRectF f = frameOf(proposal);
  if (room.contains(f)) return;
  corner_ += toSheet(f.center()) - toSheet(QRectF(rect()).center());
  fitted_ = false;
}

void DrawingView::next(int by) {
  const auto* read = drawings_.read();
  if (!read || read->reading.proposals.empty()) return;
  const auto count = static_cast<int>(read->reading.proposals.size());
  int at = current_ ? static_cast<int>(*current_) : by > 0 ? -1 : count;
  for (int tries = 0; tries < count; ++tries) {
    at = (at + by + count) % count;
    const auto i = static_cast<std::size_t>(at);
    if (!drawings_.isOffered(i) || drawings_.state(i) != ProposalState::Open) continue;
    keepInSight(i);
    setCurrent(i);
    return;
  }
  emit document_.message("Nothing is open on this drawing", false);
}

void DrawingView::mousePressEvent(QMouseEvent* event) {
  pressed_ = last_ = event->position();
  const bool pan = event->button() != Qt::LeftButton || event->modifiers() & Qt::ShiftModifier;
  drag_ = pan ? Drag::Pan : Drag::None;
  bool badge = false;
  const auto hit = at(pressed_, &badge);
  grabbed_ = !pan && hit && badge && drawings_.requirementOf(*hit) ? hit : std::nullopt;
  setFocus();
}

void DrawingView::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  if (event->buttons() & Qt::LeftButton && drag_ == Drag::None &&
      (at - pressed_).manhattanLength() > kDragged)
    drag_ = grabbed_ ? Drag::Balloon : Drag::Frame;
  if (drag_ == Drag::Pan && event->buttons()) {
    corner_ += toSheet(last_) - toSheet(at);
    fitted_ = false;
  }
  last_ = at;
  bool badge = false;
  (void)this->at(at, &badge);
  setCursor(badge ? Qt::PointingHandCursor : Qt::ArrowCursor);
  if (drag_ != Drag::None) update();
}

void DrawingView::mouseReleaseEvent(QMouseEvent* event) {
  const Drag was = std::exchange(drag_, Drag::None);
  if (was == Drag::Balloon) {
    if (const Requirement* r = drawings_.requirementOf(*grabbed_))
      drawings_.pinBalloon(r->id, toSheet(event->position()));
    return;
  }
  if (was == Drag::Frame) return frameDone(QRectF(pressed_, event->position()).normalized());
  if (was == Drag::Pan || event->button() != Qt::LeftButton) return;
  bool badge = false;
  const auto hit = at(event->position(), &badge);
  setCurrent(hit);
  if (!hit || !badge) return;
  // The plus takes it, and the mark of a refused one offers it again.
  if (drawings_.state(*hit) == ProposalState::Open)
    drawings_.take({*hit});
  else if (drawings_.state(*hit) == ProposalState::Refused)
    drawings_.refuse({*hit});
}

void DrawingView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  const auto hit = at(event->position(), nullptr);
  if (hit && drawings_.isOffered(*hit) && drawings_.state(*hit) == ProposalState::Open)
    drawings_.take({*hit});
}

// Everything offered in it is taken; with nothing there its text is typed by hand.
void DrawingView::frameDone(const QRectF& widget) {
  update();
  const auto* read = drawings_.read();
  const auto sheet_at = static_cast<std::size_t>(page_ - 1);
  if (!read || sheet_at >= read->sheets.size()) return;
  std::vector<std::size_t> within;
  for (std::size_t i = 0; i < read->reading.proposals.size(); ++i)
    if (read->reading.proposals[i].page == page_ && drawings_.isOffered(i) &&
        drawings_.state(i) == ProposalState::Open && widget.contains(frameOf(i).center()))
      within.push_back(i);
  if (!within.empty()) {
    if (within.size() == 1) setCurrent(within.front());
    drawings_.take(within);
    return;
  }
  const Vec2 a = toSheet(widget.bottomLeft()), b = toSheet(widget.topRight());
  const std::string text = textWithin(read->sheets[sheet_at], Box2(a.cwiseMin(b), a.cwiseMax(b)));
  const Vec2 middle = (a + b) / 2;
  emit framed(QString::fromStdString(text), page_, {middle.x(), middle.y()});
}

void DrawingView::keyPressEvent(QKeyEvent* event) {
  const double step = 40 / scale_;
  switch (event->key()) {
  case Qt::Key_PageDown:
    return showPage(page_ + 1);
  case Qt::Key_PageUp:
    return showPage(page_ - 1);
  case Qt::Key_Plus:
  case Qt::Key_Equal:
    return zoom(1.25, rect().center());
  case Qt::Key_Minus:
    return zoom(0.8, rect().center());
  case Qt::Key_Home:
    return fit();
  case Qt::Key_Left:
    corner_.x() -= step;
    break;
  case Qt::Key_Right:
    corner_.x() += step;
    break;
  case Qt::Key_Up:
    corner_.y() += step;
    break;
  case Qt::Key_Down:
    corner_.y() -= step;
    break;
  case Qt::Key_N:
    return next(event->modifiers() & Qt::ShiftModifier ? -1 : 1);
  case Qt::Key_Return:
  case Qt::Key_Enter:
    if (current_) drawings_.take({*current_});
    return;
  case Qt::Key_Delete:
    if (!current_) return;
    // A requirement that was taken is removed as everywhere.
    if (drawings_.state(*current_) == ProposalState::Taken) {
      if (const Requirement* r = drawings_.requirementOf(*current_)) {
        document_.selectRequirement(r->id);
        document_.removeRequirements();
      }
    } else {
      drawings_.refuse({*current_});
    }
    return;
  case Qt::Key_Escape:
    return setCurrent({});
  default:
    return QWidget::keyPressEvent(event);
  }
  fitted_ = false;
  update();
}

QString DrawingView::wordsOf(std::size_t proposal) const {
  const auto* read = drawings_.read();
  const DrawingProposal& p = read->reading.proposals[proposal];
  QString words = QString::fromStdString(p.text);
  if (const Requirement* r = drawings_.requirementOf(proposal)) {
    words = QString("%1: ").arg(r->balloon) +
            QString::fromStdString(describe(document_.plan().spec, *r));
    if (r->features.empty()) words += " · waits for its features";
    return words;
  }
  if (p.as == ProposedAs::Requirement) {
    words = QString::fromStdString(describe(p.typed.back().requirement));
    if (p.typed.back().count > 1) words = QString("%1x ").arg(p.typed.back().count) + words;
    if (p.typed.back().limits_open) words += " · general tolerances";
  } else if (p.as == ProposedAs::Datum) {
    words = "Datum " + words;
  }
  if (p.scanned) words += " · told from a scan: compare it";
  if (!p.says.empty()) words += " · " + QString::fromStdString(p.says);
  if (drawings_.state(proposal) == ProposalState::Refused) return words + " · refused";
  if (proposal < read->ties.suggestions.size() && drawings_.isOffered(proposal)) {
    const auto& s = read->ties.suggestions[proposal];
    words += s.empty() ? " · pick its features in the stage"
                       : " · " + QString::fromStdString(s.front().why) +
                             (s.front().sure ? QString() : " · not sure");
  }
  return words;
}

bool DrawingView::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    if (const auto hit = at(help->pos(), nullptr))
      QToolTip::showText(help->globalPos(), wordsOf(*hit), this);
    else
      QToolTip::hideText();
    return true;
  }
  return QWidget::event(event);
}

void DrawingView::paintProposal(QPainter& painter, std::size_t i) const {
  const auto* read = drawings_.read();
  const DrawingProposal& p = read->reading.proposals[i];
  const bool offered = drawings_.isOffered(i);
  if (!offered && p.as != ProposedAs::NotUnderstood) return;
  const QRectF frame = frameOf(i);
  const QPointF badge = badgeOf(i);
  const bool current = current_ == i;
  const ProposalState state = offered ? drawings_.state(i) : ProposalState::Open;
  const QColor accent = theme_.color("accent"), second = theme_.color("second"), paper = Qt::white;
  painter.setBrush(Qt::NoBrush);
  if (current) {
    QColor soft = accent;
    soft.setAlpha(38);
    painter.fillRect(frame, soft);
  }
  const double r = badgeRadius(i);
  const auto mark = [&](const QString& sign, const QColor& color) {
    const QRectF box(badge - QPointF(r - 1, r - 1), badge + QPointF(r - 1, r - 1));
    painter.setPen(QPen(color, 1.2));
    painter.setBrush(paper);
    painter.drawRect(box);
    QFont font = theme_.strong(8.5);
    font.setPixelSize(std::max(5, static_cast<int>(1.5 * r)));
    painter.setFont(font);
    painter.drawText(box.adjusted(-3, -3, 3, 3), Qt::AlignCenter, sign);
  };
  if (p.as == ProposedAs::NotUnderstood) {
    painter.setPen(QPen(theme_.color("outside"), current ? 2 : 1.2, Qt::DotLine));
    painter.drawRect(frame);
    mark("?", theme_.color("outside"));
  } else if (state == ProposalState::Refused) {
    painter.setPen(QPen(second, current ? 2 : 1, Qt::DotLine));
    painter.drawLine(frame.left(), frame.center().y(), frame.right(), frame.center().y());
    mark("–", second);
  } else if (state == ProposalState::Taken) {
    const Requirement* taken = drawings_.requirementOf(i);
    const bool waits = taken && taken->features.empty();
    QColor whole = waits ? theme_.color("near") : accent;
    if (!current && !waits) whole.setAlpha(150); // what stands in it comes first
    painter.setPen(QPen(whole, current ? 2.2 : 1));
    painter.drawRect(frame);
    if (taken) {
      const QPointF stands = drag_ == Drag::Balloon && grabbed_ == i ? last_ : badge;
      const QPointF edge(std::clamp(stands.x(), frame.left(), frame.right()),
                         std::clamp(stands.y(), frame.top(), frame.bottom()));
      painter.drawLine(stands, edge);
      painter.setPen(QPen(waits ? theme_.color("near") : accent, 1));
      painter.setBrush(paper);
      painter.drawEllipse(stands, r, r);
      QFont font = theme_.figures(8);
      font.setPixelSize(std::max(5, static_cast<int>((taken->balloon > 99 ? 0.95 : 1.25) * r)));
      painter.setFont(font);
      painter.setPen(Qt::black);
      const auto members = memberNumbers(*taken).size();
      const QPointF up(0, members > 0 ? -0.2 * r : 0);
      painter.drawText(QRectF(stands - QPointF(r, r) + up, stands + QPointF(r, r) + up),
                       Qt::AlignCenter, QString::number(taken->balloon));
      if (members > 0) {
        font.setPixelSize(std::max(4, static_cast<int>(0.55 * r)));
        painter.setFont(font);
        painter.drawText(QRectF(stands - QPointF(r, -0.2 * r), stands + QPointF(r, r)),
                         Qt::AlignHCenter | Qt::AlignTop, QString(".1–.%1").arg(members));
      }
    }
  } else {
    painter.setPen(QPen(accent, current ? 2.2 : 1.2, Qt::DashLine));
    painter.drawRect(frame);
    const bool sure = drawings_.isSure(i);
    mark(sure ? "+" : "…", accent);
  }
}

void DrawingView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme_.color("stage_bottom"));
  const auto* read = drawings_.read();
  const auto sheet = size();
  painter.setFont(theme_.text(9));
  if (!sheet) {
    painter.setPen(theme_.color("second"));
    const QString words = !drawings_.shown()               ? "Add a drawing: PDF, PNG, JPEG or TIFF"
                          : read && !read->error.isEmpty() ? read->error
                                                           : "Reading …";
    painter.drawText(QRectF(rect()).adjusted(20, 0, -20, 0), Qt::AlignCenter | Qt::TextWordWrap,
                     words);
    return;
  }
  const QRectF page(toWidget({0, sheet->height}), toWidget({sheet->width, 0}));
  painter.fillRect(page, Qt::white);
  const double ratio = devicePixelRatioF();
  const QImage image = drawings_.picture(page_, scale_ * ratio * 25.4);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  if (!image.isNull()) painter.drawImage(page, image);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(theme_.color("line"));
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(page);
  for (std::size_t i = 0; i < read->reading.proposals.size(); ++i)
    if (read->reading.proposals[i].page == page_) paintProposal(painter, i);
  if (drag_ == Drag::Frame) {
    painter.setPen(QPen(theme_.color("accent"), 1.2, Qt::DashDotLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(pressed_, last_).normalized());
  }
}

} // namespace alder::app
