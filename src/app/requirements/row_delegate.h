#pragma once

#include "requirements/sheet.h"
#include <QStyledItemDelegate>

namespace alder::app {

// Paints one requirement.
class RowDelegate : public QStyledItemDelegate {
 public:
  RowDelegate(Document& document, const Theme& theme, QObject* parent)
      : QStyledItemDelegate(parent)
      , document_(document)
      , theme_(theme) {}
  void setDesk(Desk desk) { desk_ = desk; }
  void paint(QPainter* painter, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {200, 38};
  }

 private:
  void paintCallout(QPainter& p, const QRectF& row, const Requirement& r) const;
  void paintProgress(QPainter& p, const QRectF& row, const Requirement& r) const;
  void paintResult(QPainter& p, const QRectF& row, const Requirement& r) const;
  Document& document_;
  const Theme& theme_;
  Desk desk_ = Desk::Part;
};

} // namespace alder::app
