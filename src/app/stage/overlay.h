// Captions, callouts, axes and the deviation scale over the stage.
#pragma once

#include "paper/callout_layout.h"
#include "stage/stage.h"

namespace alder::app {

class StageOverlay : public QWidget {
 public:
  StageOverlay(Stage& stage, Document& document, const Theme& theme);
  // Whose callout is drawn there.
  std::optional<RequirementId> requirementAt(const QPointF& at) const;
  QPointF middleOf(RequirementId requirement) const; // of its label, as painted last
  struct PaintedCallout {
    RequirementId requirement;
    QRectF box;
    QLineF leader; // from the label to what it speaks of
  };
  const std::vector<PaintedCallout>& callouts() const { return callouts_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintCaptions(QPainter& painter) const;
  void paintAxes(QPainter& painter) const;
  void paintCallouts(QPainter& painter);
  // By the layout that reports have too; where there is no room is told.
  void placeCallouts();
  std::vector<std::optional<CalloutPlaced>> laidOut(std::vector<CalloutAsked>& asked,
                                                    CalloutSpace space, const Box2& anchors) const;
  QSizeF sizeOf(const Requirement& requirement) const;
  void paintCallout(QPainter& painter, const QRectF& box, const Requirement& requirement) const;
  QString resultText(const Requirement& requirement) const; // of the part on screen; may be empty
  // `taken`: where labels stand.
  void placeMembers();
  void paintMembers(QPainter& painter) const;
  void paintResults(QPainter& painter, std::vector<QRectF>& taken) const;
  // Of a cloud: the farthest places, and what is under the mouse.
  void paintPlaces(QPainter& painter, std::vector<QRectF>& taken) const;
  void paintScale(QPainter& painter) const;
  void paintUnshown(QPainter& painter) const;
  void paintLit(QPainter& painter) const;
  // overlay_section.cpp: its frame, with what it is dragged by
  void paintSection(QPainter& painter) const;
  void paintRuler(QPainter& painter) const; // between two things that are picked
  void paintEmpty(QPainter& painter) const;
  QString captionText() const;
  QString sectionWords() const;
  void chip(QPainter& painter, const QRectF& box, const QColor& border) const;

  Stage& stage_;
  Document& document_;
  const Theme& theme_;
  std::vector<PaintedCallout> callouts_;            // as painted last
  QStringList without_room_;                        // numbers
  std::vector<std::pair<QRectF, QString>> members_; // numbers of a pattern's features
};

} // namespace alder::app
