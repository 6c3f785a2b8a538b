// The pages of a report as they will be printed, with the items of its layout to be selected, moved
// and sized by mouse and keys.
#pragma once

#include "report/report_editor.h"
#include "theme/theme.h"
#include <QAbstractScrollArea>
#include <QImage>

namespace alder::app {

class PagesView : public QAbstractScrollArea {
  Q_OBJECT

 public:
  PagesView(ReportEditor& editor, const Theme& theme, QWidget* parent = nullptr);
  void setZoom(double pixels_per_mm);
  double zoom() const { return zoom_; }
  void fitWidth();
  // Of a place on a composed page, mm, in the viewport; and back: the page and the place on it.
  QPointF toView(std::size_t page, const Vec2& at) const;
  std::optional<std::pair<std::size_t, Vec2>> toPage(const QPointF& at) const;
  // The layout's page that a composed page belongs to.
  std::size_t layoutPageOf(std::size_t page) const;
  // Where an item that is dragged in from outside would land; nothing: it is not over a page.
  void showDropAt(const std::optional<QPointF>& at, const Area& size);

 signals:
  void left();       // by Escape with nothing selected
  void editWanted(); // of the selected item, by Return

 protected:
  bool event(QEvent* event) override; // keys that mean something else elsewhere
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool focusNextPrevChild(bool next) override;

 private:
  struct Drag {
    LayoutPlace place;
    std::size_t page = 0; // composed
    QPointF from;
    Area shown, area; // where it stands on the page; of the layout, as it was
    Snapped now;
    bool sizes = false, moved = false;
  };
  void place(); // scroll bars and tops of the pages
  void showSelected();
  const PlacedPiece* pieceAt(std::size_t page, const Vec2& at) const;
  const PlacedPiece* pieceOf(const LayoutPlace& place) const;
  bool onHandle(const QPointF& at) const;
  QRectF handle(const PlacedPiece& piece) const;
  QRectF rectOf(std::size_t page, const Area& area) const;
  void paintItems(QPainter& p, std::size_t page);
  void paintDrag(QPainter& p, std::size_t page);
  const QImage& imageOfPage(std::size_t page);
  void moveBy(double dx, double dy);

  ReportEditor& editor_;
  const Theme& theme_;
  double zoom_ = 2.6;        // pixels a millimetre
  bool fits_ = true;         // the width, until a person zooms
  std::vector<double> tops_; // of the pages, mm from the first
  std::map<std::size_t, QImage> images_;
  std::optional<Drag> drag_;
  std::optional<std::pair<std::size_t, Area>> drop_; // composed page, area on it
};

} // namespace alder::app
