#include "report/pages_view.h"

#include "report/report_marks.h"
#include "theme/marks_image.h"
#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <algorithm>
#include <set>

namespace alder::app {
namespace {

constexpr double kBetween = 8; // mm between two pages
constexpr double kRim = 6;     // mm beside them
constexpr double kReach = 6;   // pixels that a guide takes hold from
constexpr double kHandle = 9;  // pixels
// On white paper in both themes: the colours of the paper.
QColor colorOf(const Ink& ink) {
  return QColor::fromRgbF(static_cast<float>(ink.r), static_cast<float>(ink.g),
                          static_cast<float>(ink.b));
}
const QColor accent = colorOf(inks::kAccent), guide = colorOf(inks::kOutside);
constexpr double kLeastZoom = 0.6, kMostZoom = 14;

} // namespace

PagesView::PagesView(ReportEditor& editor, const Theme& theme, QWidget* parent)
    : QAbstractScrollArea(parent)
    , editor_(editor)
    , theme_(theme) {
  setObjectName("reportPages");
  setAccessibleName("Pages of the report");
  setFrameShape(QFrame::NoFrame);
  setFocusPolicy(Qt::StrongFocus);
  viewport()->setMouseTracking(true);
  connect(&editor, &ReportEditor::composedAnew, this, [this] {
    images_.clear();
    place();
    viewport()->update();
  });
  connect(&editor, &ReportEditor::changed, this, [this] { viewport()->update(); });
}

void PagesView::place() {
  tops_.clear();
  double y = kRim, wide = 0;
  for (const PaperPage& page : editor_.composed().pages) {
    tops_.push_back(y);
    y += page.size.height + kBetween;
    wide = std::max(wide, page.size.width);
  }
  if (fits_ && wide > 0) {
    const double now = std::clamp(viewport()->width() / (wide + 2 * kRim), kLeastZoom, kMostZoom);
    if (now != zoom_) zoom_ = now, images_.clear();
  }
  const int high = static_cast<int>((y - kBetween + kRim) * zoom_),
            across = static_cast<int>((wide + 2 * kRim) * zoom_);
  verticalScrollBar()->setRange(0, std::max(0, high - viewport()->height()));
  verticalScrollBar()->setPageStep(viewport()->height());
  verticalScrollBar()->setSingleStep(30);
  horizontalScrollBar()->setRange(0, std::max(0, across - viewport()->width()));
  horizontalScrollBar()->setPageStep(viewport()->width());
}

void PagesView::setZoom(double pixels_per_mm) {
  const double before = zoom_;
  zoom_ = std::clamp(pixels_per_mm, kLeastZoom, kMostZoom);
  fits_ = false;
  if (zoom_ == before) return;
  images_.clear();
  const int at = static_cast<int>(verticalScrollBar()->value() * zoom_ / before);
  place();
  verticalScrollBar()->setValue(at);
  viewport()->update();
}

void PagesView::fitWidth() {
  fits_ = true;
  images_.clear();
  place();
  viewport()->update();
}

QPointF PagesView::toView(std::size_t page, const Vec2& at) const {
  const double wide = editor_.composed().pages[page].size.width * zoom_;
  const double left = std::max(kRim * zoom_, (viewport()->width() - wide) / 2);
  return {left - horizontalScrollBar()->value() + at.x() * zoom_,
          (tops_[page] + at.y()) * zoom_ - verticalScrollBar()->value()};
}

std::optional<std::pair<std::size_t, Vec2>> PagesView::toPage(const QPointF& at) const {
  for (std::size_t p = 0; p < tops_.size(); ++p) {
    const QPointF from = toView(p, Vec2::Zero());
    const PaperSize& size = editor_.composed().pages[p].size;
    const Vec2 mm((at.x() - from.x()) / zoom_, (at.y() - from.y()) / zoom_);
    if (Area{0, 0, size.width, size.height}.holds(mm)) return std::pair(p, mm);
  }
  return {};
}

std::size_t PagesView::layoutPageOf(std::size_t page) const {
  for (const PlacedPiece& piece : editor_.composed().placed)
    if (piece.page == page) return piece.layout_page;
  return 0;
}

QRectF PagesView::rectOf(std::size_t page, const Area& a) const {
  return {toView(page, {a.x, a.y}), QSizeF(a.w * zoom_, std::max(a.h, 1.0) * zoom_)};
}

// The smallest that is there: a title over a view is not hidden by it.
const PlacedPiece* PagesView::pieceAt(std::size_t page, const Vec2& at) const {
  const PlacedPiece* best = nullptr;
  for (const PlacedPiece& piece : editor_.composed().placed) {
    if (piece.page != page || !piece.area.inner(-0.7).holds(at)) continue;
    if (!best || piece.area.w * piece.area.h < best->area.w * best->area.h) best = &piece;
  }
  return best;
}

const PlacedPiece* PagesView::pieceOf(const LayoutPlace& place) const {
  for (const PlacedPiece& piece : editor_.composed().placed)
    if (piece.layout_page == place.page && piece.item == place.item) return &piece;
  return nullptr;
}

QRectF PagesView::handle(const PlacedPiece& piece) const {
  const QPointF corner = rectOf(piece.page, piece.area).bottomRight();
  return {corner.x() - kHandle / 2, corner.y() - kHandle / 2, kHandle, kHandle};
}

bool PagesView::onHandle(const QPointF& at) const {
  const PlacedPiece* piece = editor_.selected() ? pieceOf(*editor_.selected()) : nullptr;
  return piece && handle(*piece).adjusted(-2, -2, 2, 2).contains(at);
}

const QImage& PagesView::imageOfPage(std::size_t page) {
  const auto found = images_.find(page);
  if (found != images_.end()) return found->second;
  if (images_.size() > 12) images_.clear();
  QImage image = imageOf(editor_.composed().pages[page], zoom_ * devicePixelRatioF(), theme_);
  return images_[page] = std::move(image);
}

void PagesView::paintEvent(QPaintEvent*) {
  QPainter p(viewport());
  p.fillRect(viewport()->rect(), theme_.color("track"));
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  for (std::size_t page = 0; page < tops_.size(); ++page) {
    const PaperSize& size = editor_.composed().pages[page].size;
    const QRectF sheet = rectOf(page, {0, 0, size.width, size.height});
    if (!sheet.intersects(viewport()->rect())) continue;
    p.fillRect(sheet, Qt::white);
    p.drawImage(sheet, imageOfPage(page));
    paintItems(p, page);
    paintDrag(p, page);
  }
}

void PagesView::paintItems(QPainter& p, std::size_t page) {
  p.setBrush(Qt::NoBrush);
  for (const PlacedPiece& piece : editor_.composed().placed) {
    if (piece.page != page) continue;
    const bool selected = editor_.selected() == LayoutPlace{piece.layout_page, piece.item};
    if (!selected) continue;
    p.setPen(QPen(accent, 1.5));
    p.drawRect(rectOf(page, piece.area).adjusted(-2, -2, 2, 2));
    if (pieceOf(*editor_.selected()) != &piece) continue; // where it goes on
    p.fillRect(handle(piece), accent);
  }
}

void PagesView::paintDrag(QPainter& p, std::size_t page) {
  p.setPen(QPen(accent, 1.2, Qt::DashLine));
  if (drop_ && drop_->first == page) p.drawRect(rectOf(page, drop_->second));
  if (!drag_ || drag_->page != page || !drag_->moved) return;
  const Area& from = drag_->area;
  Area shown = drag_->shown;
  shown.x += drag_->now.area.x - from.x, shown.y += drag_->now.area.y - from.y;
  if (drag_->sizes) shown.w = drag_->now.area.w, shown.h = drag_->now.area.h;
  p.fillRect(rectOf(page, shown), QColor(accent.red(), accent.green(), accent.blue(), 24));
  p.drawRect(rectOf(page, shown));
  p.setPen(QPen(guide, 1));
  const PaperSize& size = editor_.composed().pages[page].size;
  if (drag_->now.guide_x)
    p.drawLine(toView(page, {*drag_->now.guide_x, 0}),
               toView(page, {*drag_->now.guide_x, size.height}));
  if (drag_->now.guide_y)
    p.drawLine(toView(page, {0, *drag_->now.guide_y}),
               toView(page, {size.width, *drag_->now.guide_y}));
}

void PagesView::showDropAt(const std::optional<QPointF>& at, const Area& size) {
  drop_.reset();
  if (at)
    if (const auto there = toPage(*at))
      drop_ = {there->first, {there->second.x(), there->second.y(), size.w, size.h}};
  viewport()->update();
}

void PagesView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  if (event->button() != Qt::LeftButton) return;
  const QPointF at = event->position();
  const PlacedPiece* piece = nullptr;
  const bool sizes = onHandle(at);
  if (sizes)
    piece = pieceOf(*editor_.selected());
  else if (const auto there = toPage(at))
    piece = pieceAt(there->first, there->second);
  if (!piece) return editor_.select({});
  const LayoutPlace place{piece->layout_page, piece->item};
  editor_.select(place);
  const LayoutItem* item = editor_.selectedItem();
  if (!item) return;
  drag_ = Drag{place, piece->page, at, piece->area, item->area, {item->area, {}, {}}, sizes, false};
}

void PagesView::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  if (!drag_) {
    viewport()->setCursor(onHandle(at) ? Qt::SizeFDiagCursor : Qt::ArrowCursor);
    return;
  }
  const QPointF by = (at - drag_->from) / zoom_;
  if (!drag_->moved && (at - drag_->from).manhattanLength() < QApplication::startDragDistance())
    return;
  drag_->moved = true;
  const LayoutPage& page = editor_.layout().pages[drag_->place.page];
  Area area = drag_->area;
  if (drag_->sizes) {
    area.w += by.x(), area.h += by.y();
    drag_->now = snappedSize(page, drag_->place.item, area, kReach / zoom_);
  } else {
    area.x += by.x(), area.y += by.y();
    drag_->now = snappedMove(page, drag_->place.item, area, kReach / zoom_);
  }
  viewport()->update();
}

void PagesView::mouseReleaseEvent(QMouseEvent*) {
  const auto drag = std::exchange(drag_, std::nullopt);
  if (drag && drag->moved) editor_.setArea(drag->place, drag->now.area);
  viewport()->update();
}

void PagesView::moveBy(double dx, double dy) {
  const LayoutItem* item = editor_.selectedItem();
  if (!item) return;
  const PaperSize size = editor_.layout().pages[editor_.selected()->page].size();
  Area area = item->area;
  area.x = std::clamp(area.x + dx, 0.0, std::max(0.0, size.width - area.w));
  area.y = std::clamp(area.y + dy, 0.0, std::max(0.0, size.height - area.h));
  editor_.setArea(*editor_.selected(), area);
}

bool PagesView::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride) {
    static const std::set<int> kOwn{
        Qt::Key_Left,      Qt::Key_Right,  Qt::Key_Up,       Qt::Key_Down,  Qt::Key_Delete,
        Qt::Key_Backspace, Qt::Key_D,      Qt::Key_Plus,     Qt::Key_Minus, Qt::Key_0,
        Qt::Key_Return,    Qt::Key_PageUp, Qt::Key_PageDown, Qt::Key_Escape};
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool arrow = key->key() >= Qt::Key_Left && key->key() <= Qt::Key_Down;
    if (kOwn.contains(key->key()) &&
        (arrow || !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier))))
      event->accept();
  }
  return QAbstractScrollArea::event(event);
}

void PagesView::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
  const bool sizes = event->modifiers() & Qt::ControlModifier;
  const auto arrow = [&](double dx, double dy) {
    if (!editor_.selectedItem()) {
      if (dy != 0)
        verticalScrollBar()->setValue(verticalScrollBar()->value() + static_cast<int>(60 * dy));
      return;
    }
    if (!sizes) return moveBy(step * dx, step * dy);
    Area area = editor_.selectedItem()->area;
    const PaperSize size = editor_.layout().pages[editor_.selected()->page].size();
    area.w = std::clamp(area.w + step * dx, 4.0, size.width - area.x);
    area.h = std::clamp(area.h + step * dy, 4.0, size.height - area.y);
    editor_.setArea(*editor_.selected(), area);
  };
  switch (event->key()) {
  case Qt::Key_Left:
    return arrow(-1, 0);
  case Qt::Key_Right:
    return arrow(1, 0);
  case Qt::Key_Up:
    return arrow(0, -1);
  case Qt::Key_Down:
    return arrow(0, 1);
  case Qt::Key_Delete:
  case Qt::Key_Backspace:
    return editor_.removeSelected();
  case Qt::Key_Return:
  case Qt::Key_Enter:
    if (editor_.selectedItem()) emit editWanted();
    return;
  case Qt::Key_D:
    return editor_.duplicateSelected();
  case Qt::Key_Plus:
    return setZoom(zoom_ * 1.2);
  case Qt::Key_Minus:
    return setZoom(zoom_ / 1.2);
  case Qt::Key_0:
    return fitWidth();
  case Qt::Key_PageDown:
    return verticalScrollBar()->triggerAction(QAbstractSlider::SliderPageStepAdd);
  case Qt::Key_PageUp:
    return verticalScrollBar()->triggerAction(QAbstractSlider::SliderPageStepSub);
  case Qt::Key_Escape:
    if (drag_) {
      drag_.reset();
      return viewport()->update();
    }
    if (editor_.selected()) return editor_.select({});
    emit left();
    return;
  default:
    QAbstractScrollArea::keyPressEvent(event);
  }
}

// Tab goes from item to item; Return to the fields of the one that is selected.
bool PagesView::focusNextPrevChild(bool next) {
  editor_.selectNext(next ? 1 : -1);
  showSelected();
  return true;
}

void PagesView::showSelected() {
  const PlacedPiece* piece = editor_.selected() ? pieceOf(*editor_.selected()) : nullptr;
  if (!piece) return;
  const QRectF rect = rectOf(piece->page, piece->area);
  if (rect.top() >= 0 && rect.bottom() <= viewport()->height()) return;
  verticalScrollBar()->setValue(verticalScrollBar()->value() + static_cast<int>(rect.top() - 40));
}

void PagesView::wheelEvent(QWheelEvent* event) {
  if (event->modifiers() & Qt::ControlModifier)
    setZoom(zoom_ * (event->angleDelta().y() > 0 ? 1.15 : 1 / 1.15));
  else
    QAbstractScrollArea::wheelEvent(event);
}

void PagesView::resizeEvent(QResizeEvent*) {
  place();
}

} // namespace alder::app
