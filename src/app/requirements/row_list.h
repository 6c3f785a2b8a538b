// A list whose selected rows can be dragged to another place, or moved there by Alt and the arrows.
#pragma once

#include "theme/theme.h"
#include <QListView>
#include <optional>

namespace alder::app {

class RowList : public QListView {
  Q_OBJECT

 public:
  explicit RowList(const Theme& theme, QWidget* parent = nullptr);

 signals:
  void dropped(int row);  // before that one; the number of rows: behind all
  void shifted(int rows); // one up or down

 protected:
  void startDrag(Qt::DropActions) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override; // Escape gives up
  void paintEvent(QPaintEvent* event) override;

 private:
  int rowBefore(int y) const;
  void stop();
  const Theme& theme_;
  std::optional<int> target_; // while rows are dragged
};

} // namespace alder::app
