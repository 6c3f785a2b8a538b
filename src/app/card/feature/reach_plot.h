// The head angles with which a tip reaches the selected feature, as a field of A over B. A cell is
// picked by click, or by the arrow keys and Enter.
#pragma once

#include "route/reach.h"
#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class ReachPlot : public QWidget {
  Q_OBJECT

 public:
  ReachPlot(const Theme& theme, const Access& now, QWidget* parent = nullptr);
  void setMap(const ReachMap& map); // empty: still being tried
  const ReachMap& map() const { return map_; }
  QString wordsAt(int row, int column) const; // "A45 B90: shank meets clamp 2, 5 of 12 touches"
  QPoint centreOf(int row, int column) const;

 signals:
  void picked(double a, double b);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRectF field() const;
  QRectF cellRect(int row, int column) const;
  bool cellAt(const QPointF& at, int& row, int& column) const;
  void pick(int row, int column);

  const Theme& theme_;
  Access now_;
  ReachMap map_;
  int row_ = -1, column_ = -1; // under the pointer, or chosen by keys
};

} // namespace alder::app
