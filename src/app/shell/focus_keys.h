// Space presses the button that the keyboard came to and marks rows of trees; elsewhere it is a key
// of the window. A button that was clicked keeps the focus, but not the key: Space goes on playing
// then.
#pragma once

#include <QObject>

namespace alder::app {

class FocusKeys : public QObject {
 public:
  explicit FocusKeys(QWidget& window); // and all within it
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  QWidget& window_;
};

} // namespace alder::app
