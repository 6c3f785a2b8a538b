// Deviations of the touches as they come: the last one large, those before it as marks and lines.
#pragma once

#include "run/run_worker.h"
#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class LiveGauge : public QWidget {
 public:
  LiveGauge(const Theme& theme, QWidget* parent = nullptr);
  // The names that go with the touches.
  void showTouches(const std::deque<RunScene::Live>& live, const QStringList& names);
  QString figureText() const; // of the last touch, as shown

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const Theme& theme_;
  std::deque<RunScene::Live> live_;
  QStringList names_;
};

} // namespace alder::app
