// A part drawn without the graphic card, for small pictures beside each other: shaded, with its
// edges, some of its faces lit. Parallel projection.
#pragma once

#include "part/model.h"
#include <QColor>
#include <QImage>
#include <set>

namespace alder::app {

struct PartView {
  Vec3 right = Vec3::UnitX(), up = Vec3::UnitZ(), towards = -Vec3::UnitY(); // the eye's side
  Vec3 middle = Vec3::Zero();                                               // of the picture
  double width = 100;                                                       // of it, mm
};

struct PartColors {
  QColor paper, part, lit, ink;
};

QImage drawPart(const PartModel& part, const std::set<FaceId>& lit, const PartView& view,
                const QSize& size, const PartColors& colors);

// From where most of these faces of both models is seen, near enough to tell what changed.
PartView likelyView(const PartModel& before, const std::set<FaceId>& lit_before,
                    const PartModel& now, const std::set<FaceId>& lit_now, double aspect);

// How many pixels of a small picture show lit faces.
int seen(const PartModel& part, const std::set<FaceId>& lit, const PartView& view,
         const QSize& size);

} // namespace alder::app
