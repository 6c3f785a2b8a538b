// The part as it lies and as it is to lie next, beside each other: what the operator turns. The
// faces that come to lie on something are lit.
#pragma once

#include "plan/plan.h"
#include "revision/part_picture.h"
#include <QFont>

namespace alder::app {

struct Turning {
  PartPtr part;
  Frame before = Frame::Identity(), after = Frame::Identity(); // CAD frame in the machine frame
  std::set<FaceId> below;                                      // that it comes to lie on
};

struct TurnLook {
  PartColors colors;
  QColor words;
  QFont font;
};

// Both seen from the same side, a little from above: from in front of the machine where what comes
// to lie below is seen from there, else as the words below say.
QImage turnPicture(const Turning& turning, const TurnLook& look, const QSize& size);

} // namespace alder::app
