// Drives the operator's view of the real window.
#pragma once

#include "window_driver.h"

namespace alder::app {

class OperatorDriver : public WindowDriver {
 protected:
  QTemporaryDir runs_;

  OperatorView& view() { return window_->operatorView(); }
  QString headline() { return view().findChild<QLabel*>("operatorHeadline")->text(); }
  QString detail() { return view().findChild<QLabel*>("operatorDetail")->text(); }
  bool says(const QString& words, int within = 60000) {
    return QTest::qWaitFor([&] { return headline().contains(words); }, within);
  }
  void stopAndLeave() {
    if (view().running()) {
      view().worker().stop();
      QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 20000);
    }
    if (view().isVisible()) window_->setOperating(false);
  }
};

} // namespace alder::app
