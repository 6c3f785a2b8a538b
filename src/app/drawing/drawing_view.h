// A page of a drawing: zoomed with the wheel, moved with the middle or right button or Shift, as
// the stage is. What is offered stands in a broken frame with a plus, what is taken in a whole one
// with its balloon, what is refused under a stroke.
#pragma once

#include "drawing/open_drawings.h"
#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class DrawingView : public QWidget {
  Q_OBJECT

 public:
  DrawingView(Document& document, OpenDrawings& drawings, const Theme& theme,
              QWidget* parent = nullptr);

  int page() const { return page_; }
  void showPage(int page);
  void fit();
  std::optional<std::size_t> current() const { return current_; }
  // To the next offered proposal that is open, over the pages.
  void next(int by);
  QPointF toWidget(const Vec2& sheet) const;
  Vec2 toSheet(const QPointF& widget) const;
  QRectF frameOf(std::size_t proposal) const;  // on the widget
  QPointF badgeOf(std::size_t proposal) const; // its plus, or its balloon
  double badgeRadius(std::size_t proposal) const;

 signals:
  void pageChanged();
  void currentChanged();
  // A frame was drawn with nothing offered in it: its text, and its middle on the sheet.
  void framed(const QString& text, int page, const QPointF& middle);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool event(QEvent* event) override; // tool tips

 private:
  std::optional<SheetSize> size() const;
  std::optional<std::size_t> at(const QPointF& widget, bool* badge) const;
  void setCurrent(std::optional<std::size_t> proposal);
  void followSelection();
  void zoom(double factor, const QPointF& about);
  void keepInSight(std::size_t proposal);
  void frameDone(const QRectF& widget);
  void paintProposal(QPainter& painter, std::size_t proposal) const;
  QString wordsOf(std::size_t proposal) const;

  Document& document_;
  OpenDrawings& drawings_;
  const Theme& theme_;
  int page_ = 1;
  std::string name_;           // of the drawing that was shown last
  double scale_ = 2;           // pixels for a millimetre
  Vec2 corner_ = Vec2::Zero(); // of the sheet at the widget's lower left
  bool fitted_ = true;
  bool pointing_ = false; // the selection changes because of a click here
  std::optional<std::size_t> current_;
  QPointF pressed_, last_;
  std::optional<std::size_t> grabbed_; // whose balloon was pressed
  enum class Drag { None, Pan, Frame, Balloon } drag_ = Drag::None;
};

} // namespace alder::app
