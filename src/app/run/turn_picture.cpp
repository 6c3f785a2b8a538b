#include "run/turn_picture.h"

#include <QPainter>
#include <array>

namespace alder::app {
namespace {

constexpr int kBetween = 34, kCaption = 22; // pixels

// Where the eye is, seen from above; the machine is operated from -Y.
struct Eye {
  double x, y;
  const char* words;
};
constexpr std::array<Eye, 6> kEyes{{{0.45, -1, ""},
                                    {-0.45, -1, ""},
                                    {1, -0.45, "from the right"},
                                    {-1, -0.45, "from the left"},
                                    {0.45, 1, "from behind"},
                                    {-0.45, 1, "from behind"}}};

PartView seenFrom(const Eye& from, const PartModel& model, const Frame& placement) {
  const Mat3 to_cad = placement.linear().transpose();
  PartView view;
  view.towards = to_cad * Vec3(from.x, from.y, 0.55).normalized();
  view.up = to_cad * Vec3::UnitZ();
  const Box3 box = model.mesh.box();
  view.window = {box.center(), 1.05 * box.diagonal().norm()};
  return view;
}

// The first from where what comes to lie below is seen as it lies now.
const Eye& eyeFor(const Turning& turning) {
  constexpr int kTried = 96, kLeastSeen = 40; // pixels
  for (const Eye& from : kEyes) {
    const PartView view = seenFrom(from, *turning.part, turning.before);
    const PartPicture small(*turning.part, view.towards, view.up, kTried, kTried, view.window);
    if (small.pixelsOf(turning.below) >= kLeastSeen) return from;
  }
  return kEyes.front();
}

void drawArrow(QPainter& p, const QRectF& room, const QColor& color) {
  const double y = room.center().y(), right = room.right() - 8, left = room.left() + 8;
  p.setPen(QPen(color, 2));
  p.drawLine(QPointF(left, y), QPointF(right, y));
  p.drawLine(QPointF(right - 6, y - 5), QPointF(right, y));
  p.drawLine(QPointF(right - 6, y + 5), QPointF(right, y));
}

} // namespace

QImage turnPicture(const Turning& turning, const TurnLook& look, const QSize& size) {
  const PartColors& colors = look.colors;
  const QSize half((size.width() - kBetween) / 2, size.height() - kCaption);
  QImage image(size, QImage::Format_RGB32);
  image.fill(colors.paper);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(look.font);
  const Eye& from = eyeFor(turning);
  const QString side = *from.words ? QString(", ") + from.words : QString();
  const auto drawHalf = [&](int left, const Frame& placement, const QString& words) {
    const PartView view = seenFrom(from, *turning.part, placement);
    p.drawImage(left, 0, drawPart(*turning.part, turning.below, view, half, colors));
    p.setPen(look.words);
    p.drawText(QRect(left, half.height(), half.width(), kCaption), Qt::AlignCenter, words + side);
  };
  drawHalf(0, turning.before, "as it lies");
  drawHalf(half.width() + kBetween, turning.after, "as it is to lie");
  drawArrow(p, QRectF(half.width(), 0, kBetween, half.height()), colors.ink);
  return image;
}

} // namespace alder::app
