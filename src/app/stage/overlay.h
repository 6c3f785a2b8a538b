// Captions, callouts, axes and the deviation scale over the stage.
#pragma once

#include "stage/stage.h"

namespace alder::app {

class StageOverlay : public QWidget {
 public:
  StageOverlay(Stage& stage, Document& document, const Theme& theme);
  // Whose callout is drawn there.
  std::optional<RequirementId> requirementAt(const QPointF& at) const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintCaptions(QPainter& painter) const;
  void paintAxes(QPainter& painter) const;
  void paintCallouts(QPainter& painter);
  // Finds its place among those that have theirs, and draws its leader.
  void placeCallout(QPainter& painter, const Requirement& requirement);
  void paintCallout(QPainter& painter, const QRectF& box, const Requirement& requirement) const;
  // `taken`: where labels stand.
  void placeMembers();
  void paintMembers(QPainter& painter) const;
  void paintResults(QPainter& painter, std::vector<QRectF>& taken) const;
  // Of a cloud: the farthest places, and what is under the mouse.
  void paintPlaces(QPainter& painter, std::vector<QRectF>& taken) const;
  void paintScale(QPainter& painter) const;
  void paintUnshown(QPainter& painter) const;
  void paintLit(QPainter& painter) const;
  void paintEmpty(QPainter& painter) const;
  QString captionText() const;
  QString sectionWords() const;
  void chip(QPainter& painter, const QRectF& box, const QColor& border) const;

  Stage& stage_;
  Document& document_;
  const Theme& theme_;
  std::vector<std::pair<QRectF, RequirementId>> callouts_; // as painted last
  std::vector<std::pair<QRectF, QString>> members_;        // numbers of a pattern's features
};

} // namespace alder::app
