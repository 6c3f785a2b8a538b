#include "page_reader.h"

#include <GfxState.h>
#include <UnicodeMapFuncs.h>
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kMmOfPoint = 25.4 / 72;
constexpr std::size_t kMost = 2'000'000; // characters and points of one page
constexpr int kPiecesOfCurve = 8;
constexpr double kWhite = 0.97; // fills as light as this are paper

Vec2 onSheet(GfxState* state, double x, double y) {
  double px = 0, py = 0;
  state->transform(x, y, &px, &py);
  return Vec2(px, py) * kMmOfPoint;
}

std::string utf8(const Unicode* u, int length) {
  std::string text;
  for (int i = 0; i < length; ++i) {
    char bytes[8];
    const int n = mapUTF8(u[i], bytes, sizeof bytes);
    if (u[i] >= 32) text.append(bytes, static_cast<std::size_t>(std::max(0, n)));
  }
  return text;
}

bool isWhite(GfxState* state, bool filled) {
  GfxRGB rgb;
  if (filled)
    state->getFillRGB(&rgb);
  else
    state->getStrokeRGB(&rgb);
  return colToDbl(rgb.r) > kWhite && colToDbl(rgb.g) > kWhite && colToDbl(rgb.b) > kWhite;
}

SheetPath fromSubpath(GfxState* state, const GfxSubpath& sub) {
  SheetPath path;
  path.closed = sub.isClosed();
  for (int i = 0; i < sub.getNumPoints(); ++i) {
    const Vec2 p = onSheet(state, sub.getX(i), sub.getY(i));
    if (i + 2 >= sub.getNumPoints() || !sub.getCurve(i) || path.points.empty()) {
      path.points.push_back(p);
      continue;
    }
    path.curved = true;
    const Vec2 a = path.points.back(), q = onSheet(state, sub.getX(i + 1), sub.getY(i + 1)),
               b = onSheet(state, sub.getX(i + 2), sub.getY(i + 2));
    for (int k = 1; k <= kPiecesOfCurve; ++k) {
      const double t = static_cast<double>(k) / kPiecesOfCurve, s = 1 - t;
      path.points.push_back(s * s * s * a + 3 * s * s * t * p + 3 * s * t * t * q + t * t * t * b);
    }
    i += 2;
  }
  return path;
}

} // namespace

bool PageReader::full(std::size_t more) {
  if (taken_ + more > kMost) {
    sheet_.cut = true;
    return true;
  }
  taken_ += more;
  return false;
}

void PageReader::drawChar(GfxState* state, double x, double y, double dx, double dy, double, double,
                          CharCode code, int bytes, const Unicode* u, int length) {
  if (full(1)) return;
  Character c;
  c.text = utf8(u, length);
  c.at = onSheet(state, x, y);
  double xx = 0, xy = 0, yx = 0, yy = 0;
  state->getFontTransMat(&xx, &xy, &yx, &yy);
  c.angle = std::atan2(xy, xx);
  c.size = std::hypot(yx, yy) * kMmOfPoint;
  // The advance without what is added between characters and words.
  double spacing = state->getCharSpace();
  if (bytes == 1 && code == 0x20) spacing += state->getWordSpace();
  double sx = 0, sy = 0, ax = 0, ay = 0;
  state->textTransformDelta(spacing * state->getHorizScaling(), 0, &sx, &sy);
  state->transformDelta(dx - sx, dy - sy, &ax, &ay);
  c.advance = (ax * std::cos(c.angle) + ay * std::sin(c.angle)) * kMmOfPoint;
  c.scanned = state->getRender() == 3;
  if (std::isfinite(c.at.sum() + c.advance + c.angle + c.size) && c.size > 0)
    sheet_.characters.push_back(std::move(c));
}

void PageReader::take(GfxState* state, bool filled) {
  if (isWhite(state, filled)) return;
  const GfxPath* path = state->getPath();
  double phase = 0;
  const bool dashed = !filled && !state->getLineDash(&phase).empty();
  for (int i = 0; i < path->getNumSubpaths(); ++i) {
    const GfxSubpath& sub = *path->getSubpath(i);
    if (sub.getNumPoints() < 2) continue;
    SheetPath taken = fromSubpath(state, sub);
    if (full(taken.points.size())) return;
    taken.filled = filled;
    taken.dashed = dashed;
    taken.width = filled ? 0 : state->getTransformedLineWidth() * kMmOfPoint;
    const bool good = std::all_of(taken.points.begin(), taken.points.end(),
                                  [](const Vec2& p) { return std::isfinite(p.sum()); });
    if (good) sheet_.paths.push_back(std::move(taken));
  }
}

void PageReader::stroke(GfxState* state) {
  take(state, false);
}

void PageReader::fill(GfxState* state) {
  take(state, true);
}

void PageReader::picture(GfxState* state, int width, int height) {
  PictureBox box;
  box.width = width, box.height = height;
  Box2 bounds;
  for (const auto& [x, y] : {std::pair{0., 0.}, {1., 0.}, {0., 1.}, {1., 1.}})
    bounds.extend(onSheet(state, x, y));
  box.low = bounds.min(), box.high = bounds.max();
  if (!full(1)) sheet_.pictures.push_back(box);
}

void PageReader::drawImage(GfxState* state, Object* ref, Stream* str, int width, int height,
                           GfxImageColorMap* colors, bool interpolate, const int* mask,
                           bool is_inline) {
  picture(state, width, height);
  OutputDev::drawImage(state, ref, str, width, height, colors, interpolate, mask, is_inline);
}

void PageReader::drawImageMask(GfxState* state, Object* ref, Stream* str, int width, int height,
                               bool invert, bool interpolate, bool is_inline) {
  picture(state, width, height);
  OutputDev::drawImageMask(state, ref, str, width, height, invert, interpolate, is_inline);
}

void PageReader::drawMaskedImage(GfxState* state, Object*, Stream*, int width, int height,
                                 GfxImageColorMap*, bool, Stream*, int, int, bool, bool) {
  picture(state, width, height);
}

void PageReader::drawSoftMaskedImage(GfxState* state, Object*, Stream*, int width, int height,
                                     GfxImageColorMap*, bool, Stream*, int, int, GfxImageColorMap*,
                                     bool) {
  picture(state, width, height);
}

} // namespace alder
