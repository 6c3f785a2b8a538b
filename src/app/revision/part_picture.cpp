#include "revision/part_picture.h"

#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

Box3 boxOf(const PartModel& part, const std::set<FaceId>& faces) {
  Box3 box;
  for (const FaceId f : faces)
    box.extend(part.face(f).box);
  return box;
}

int seenOf(const PartModel& part, const std::set<FaceId>& lit, const PartView& view,
           const QSize& size) {
  return PartPicture(part, view.towards, view.up, size.width(), size.height(), view.window)
      .pixelsOf(lit);
}

} // namespace

QImage drawPart(const PartModel& part, const std::set<FaceId>& lit, const PartView& view,
                const QSize& size, const PartColors& colors) {
  const QSize fine = 2 * size; // drawn twice as large: edges are not ragged
  const PartPicture picture(part, view.towards, view.up, fine.width(), fine.height(), view.window);
  const Picture drawn = picture.draw(
      {colors.paper.rgb(), colors.part.rgb(), colors.lit.rgb(), colors.ink.rgb(), lit});
  const QImage image(reinterpret_cast<const uchar*>(drawn.pixels.data()), drawn.width, drawn.height,
                     QImage::Format_RGB32);
  return image.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
}

PartView likelyView(const PartModel& before, const std::set<FaceId>& lit_before,
                    const PartModel& now, const std::set<FaceId>& lit_now, double aspect) {
  Box3 box = boxOf(before, lit_before);
  box.extend(boxOf(now, lit_now));
  const Box3 whole = before.mesh.box().merged(now.mesh.box());
  if (box.isEmpty()) box = whole;
  const double part = whole.diagonal().norm();
  PartView best;
  int most = -1;
  for (const double z : {1.0, -1.0})
    for (int k = 0; k < 8; ++k) {
      const double angle = kPi / 8 + k * kPi / 4;
      PartView v;
      v.towards = Vec3(std::cos(angle), std::sin(angle), 1.1 * z).normalized();
      // What changed, and enough about it that its place is known; never more than the part.
      v.window = {box.center(),
                  std::min(std::max(3.2 * box.diagonal().norm(), 0.35 * part), 1.15 * part)};
      const QSize small(96, std::max(1, static_cast<int>(96 / aspect)));
      const int count = seenOf(before, lit_before, v, small) + seenOf(now, lit_now, v, small);
      if (count > most) most = count, best = v;
    }
  return best;
}

} // namespace alder::app
