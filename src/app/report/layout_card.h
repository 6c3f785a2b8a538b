// What is being laid out, beside the pages: the layout, its pages, the selected item's fields, and
// what can be added.
#pragma once

#include "report/pages_view.h"
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

namespace alder::app {

// Something that is put on a page: by a click where there is room, or dragged where it belongs.
class NewItemButton : public QPushButton {
  Q_OBJECT

 public:
  explicit NewItemButton(const QString& words)
      : QPushButton(words) {}

 signals:
  void dragged(const QPoint& global);
  void dropped(const QPoint& global);

 protected:
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  QPoint from_;
  bool dragging_ = false;
};

class LayoutCard : public QScrollArea {
  Q_OBJECT

 public:
  LayoutCard(ReportEditor& editor, PagesView& pages, const Theme& theme);
  void focusFields(); // of the selected item

 signals:
  void left();
  void writeWanted();
  void printWanted();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override; // Escape goes back to the pages

 private:
  void rebuildSoon();
  void rebuild();
  void addLayoutRows(QVBoxLayout& layout);
  void addShopRows(QVBoxLayout& layout);
  void addApprovalRows(QVBoxLayout& layout);
  void addItemRows(QVBoxLayout& layout);
  void addPageRows(QVBoxLayout& layout);
  void addNewItems(QVBoxLayout& layout);
  QLabel* head(QVBoxLayout& layout, const QString& words);
  std::size_t pageShown() const; // of the layout

  ReportEditor& editor_;
  PagesView& pages_;
  const Theme& theme_;
  bool pending_ = false;
  std::size_t page_ = 0;
};

} // namespace alder::app
