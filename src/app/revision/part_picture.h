// A part before and now, as small pictures beside each other, with some faces lit.
#pragma once

#include "report/picture.h"
#include <QColor>
#include <QImage>

namespace alder::app {

struct PartView {
  Vec3 towards = Vec3::UnitX(); // the eye's side
  Vec3 up = Vec3::UnitZ();      // in the picture
  PictureWindow window;
};

struct PartColors {
  QColor paper, part, lit, ink;
};

QImage drawPart(const PartModel& part, const std::set<FaceId>& lit, const PartView& view,
                const QSize& size, const PartColors& colors);

// From where most of these faces of both models is seen, near enough to tell what changed.
PartView likelyView(const PartModel& before, const std::set<FaceId>& lit_before,
                    const PartModel& now, const std::set<FaceId>& lit_now, double aspect);

} // namespace alder::app
