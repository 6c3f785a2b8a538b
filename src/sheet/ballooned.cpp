#include "ballooned.h"

#include "base/units.h"
#include "pdf_overlay.h"
#include <cmath>
#include <map>

namespace alder {
namespace {

constexpr double kPointsOfMm = 72 / 25.4;
constexpr double kArc = 0.5522847498; // of a quarter circle by one curve
constexpr const char* kFont = "/AlderBalloon";

// Of a figure in Helvetica, which is all that stands in balloons: 0.556 of its size wide; a point
// or a dash less.
double widthOf(const std::string& text) {
  double width = 0;
  for (const char c : text)
    width += c == '.' ? 0.278 : c == '-' ? 0.333 : 0.556;
  return width;
}

// From millimetres of the sheet as it is shown to the page's own coordinates.
class PagePlace {
 public:
  explicit PagePlace(const PageFrame& frame)
      : f_(frame) {}
  Vec2 operator()(const Vec2& mm) const {
    const Vec2 p = mm * kPointsOfMm / f_.unit;
    switch (f_.turn) {
    case 90:
      return {f_.high_x - p.y(), f_.low_y + p.x()};
    case 180:
      return {f_.high_x - p.x(), f_.high_y - p.y()};
    case 270:
      return {f_.low_x + p.y(), f_.high_y - p.x()};
    default:
      return {f_.low_x + p.x(), f_.low_y + p.y()};
    }
  }
  double length(double mm) const { return mm * kPointsOfMm / f_.unit; }
  double angle() const { return radians(f_.turn); } // of upright text, anticlockwise

 private:
  PageFrame f_;
};

std::string drawn(const BalloonMark& m, const PagePlace& on) {
  const Vec2 c = on(m.centre), from = on(m.leader_from), to = on(m.leader_to);
  const double r = on.length(m.radius), k = kArc * r;
  std::string s;
  if ((from - to).norm() > 0.1)
    s += fmt::format("{:.3f} {:.3f} m {:.3f} {:.3f} l S\n", from.x(), from.y(), to.x(), to.y());
  const auto circle = [&](double radius) {
    const double q = k * radius / r;
    return fmt::format("{:.3f} {:.3f} m {:.3f} {:.3f} {:.3f} {:.3f} {:.3f} {:.3f} c "
                       "{:.3f} {:.3f} {:.3f} {:.3f} {:.3f} {:.3f} c "
                       "{:.3f} {:.3f} {:.3f} {:.3f} {:.3f} {:.3f} c "
                       "{:.3f} {:.3f} {:.3f} {:.3f} {:.3f} {:.3f} c h ",
                       c.x() + radius, c.y(), c.x() + radius, c.y() + q, c.x() + q, c.y() + radius,
                       c.x(), c.y() + radius, c.x() - q, c.y() + radius, c.x() - radius, c.y() + q,
                       c.x() - radius, c.y(), c.x() - radius, c.y() - q, c.x() - q, c.y() - radius,
                       c.x(), c.y() - radius, c.x() + q, c.y() - radius, c.x() + radius, c.y() - q,
                       c.x() + radius, c.y());
  };
  s += "1 1 1 rg " + circle(r) + "B\n";
  if (m.key) s += circle(0.82 * r) + "S\n"; // a second ring marks a key characteristic
  const double cos = std::cos(on.angle()), sin = std::sin(on.angle());
  const auto write = [&](const std::string& text, double size, double up) {
    const Vec2 at =
        c - size * widthOf(text) / 2 * Vec2(cos, sin) + (up - 0.36 * size) * Vec2(-sin, cos);
    s += fmt::format(
        "BT 0 0 0 rg {} {:.3f} Tf {:.5f} {:.5f} {:.5f} {:.5f} {:.3f} {:.3f} Tm ({}) Tj ET\n", kFont,
        size, cos, sin, -sin, cos, at.x(), at.y(), text);
  };
  const bool pattern = m.members > 1;
  write(m.text, r * (m.text.size() > 2 ? 0.85 : pattern ? 0.95 : 1.1), pattern ? 0.22 * r : 0);
  if (pattern) write(fmt::format(".1-.{}", m.members), 0.5 * r, -0.5 * r);
  return s;
}

} // namespace

Result<std::string> ballooned(const std::string& bytes, const std::string& label,
                              const std::vector<BalloonMark>& marks) {
  const auto pages = framesOfPages(bytes, label);
  std::map<int, std::string> over;
  for (const BalloonMark& m : marks) {
    if (m.page < 1 || m.page > static_cast<int>(pages.size()))
      return fail("{}: there is no page {} for balloon {}.", label, m.page, m.text);
    if (m.text.find_first_not_of("0123456789.") != std::string::npos || m.text.empty())
      return fail("{}: \"{}\" is no number of a balloon.", label, m.text);
    over[m.page] += drawn(m, PagePlace(pages[static_cast<std::size_t>(m.page - 1)]));
  }
  for (auto& [page, text] : over)
    text = "q 0 0 0 RG 0.75 w [] 0 d\n" + text + "Q\n";
  return withOverlays(bytes, label, over);
}

} // namespace alder
