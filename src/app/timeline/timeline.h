// The routine drawn to scale in time: a lane each for stylus and head angles, features, hops, and
// waits and swaps; a playhead that moves the machine in the stage; clashes at their second.
#pragma once

#include "document/document.h"
#include "theme/empty_hint.h"
#include "theme/theme.h"
#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

namespace alder::app {

class Timeline : public QWidget {
  Q_OBJECT

 public:
  Timeline(Document& document, const Theme& theme, QWidget* parent = nullptr);

  void fit();
  void togglePlay();
  bool playing() const { return timer_.isActive(); }
  // How many times faster than the machine it plays: one further up or down the list.
  double speed() const;
  void changeSpeed(int by);
  void step(int by); // to the end of the next move, or of the one before
  void nextClash();
  QRectF blockOf(FeatureId feature) const; // of its measure step, widget coordinates
  double xOf(double seconds) const;

 signals:
  void wanted(const QString& action); // of the window, by its name

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  struct Span {
    double start = 0, end = 0;
  };
  Span spanOf(const Step& step) const;
  double secondsAt(double x) const;
  int stepAt(const QPointF& at) const;
  void paintRuler(QPainter& p) const;
  void paintAccess(QPainter& p) const;
  void paintFeatures(QPainter& p) const;
  void paintHops(QPainter& p) const;
  void paintWaits(QPainter& p) const;
  void paintClashes(QPainter& p) const;
  void paintPlayhead(QPainter& p) const;
  void paintHead(QPainter& p) const;
  void block(QPainter& p, const QRectF& box, const QColor& fill, const QColor& border,
             const QString& text, const QColor& ink) const;
  void dropSteps(const std::vector<StepId>& steps, double seconds);
  // Ctrl adds a feature to the selection or takes it out, Shift takes all from the last one on.
  void selectMore(FeatureId feature, bool range);
  double secondsOf(const std::function<bool(const Step&)>& wanted) const;

  void refreshEmpty();

  Document& document_;
  const Theme& theme_;
  EmptyHint* empty_;
  QTimer timer_;
  QElapsedTimer played_; // since the last step of playing
  int speed_ = 2;        // place in the list
  double scale_ = 4;     // pixels a second
  double scroll_ = 0;    // seconds at the left end
  bool scrubbing_ = false;
  StepId dragged_;
  QPointF pressed_, at_;
};

} // namespace alder::app
