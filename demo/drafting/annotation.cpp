#include "drafting/annotation.h"

#include <cmath>
#include <numbers>

namespace alder::demo {
namespace {

constexpr double kSmall = kFont * 0.7, kGap = 1; // stacked deviations
constexpr double kPad = 1.6;                     // within a compartment
constexpr double kRing = 2.6;                    // radius of a circled letter

Vec2 along(double angle) {
  return {std::cos(angle), std::sin(angle)};
}
Vec2 across(double angle) {
  return {-std::sin(angle), std::cos(angle)};
}

} // namespace

void Annotation::arrow(const Vec2& tip, const Vec2& from) {
  const Vec2 u = (from - tip).normalized(), v(-u.y(), u.x());
  paper_.fill({tip, tip + 3 * u + 0.5 * v, tip + 3 * u - 0.5 * v});
}

void Annotation::frame(const Vec2& low, const Vec2& high) {
  paper_.lines({low, {high.x(), low.y()}, high, {low.x(), high.y()}}, true);
}

double Annotation::width(const DimensionText& text) {
  double w = paper_.width(text.main, kFont);
  if (!text.upper.empty())
    w += kGap + std::max(paper_.width(text.upper, kSmall), paper_.width(text.lower, kSmall));
  return w;
}

void Annotation::draw(const DimensionText& text, const Vec2& at, double angle) {
  const Vec2 u = along(angle), v = across(angle);
  paper_.text(at, text.main, kFont, angle);
  const double main = paper_.width(text.main, kFont);
  if (!text.upper.empty()) {
    const Vec2 behind = at + (main + kGap) * u;
    paper_.text(behind + 0.58 * kLetter * v, text.upper, kSmall, angle);
    paper_.text(behind - 0.4 * kLetter * v, text.lower, kSmall, angle);
  }
  if (text.basic) {
    const Vec2 low = at - 1 * u - 1.5 * v;
    const double w = main + 2, h = kLetter + 3;
    paper_.lines({low, low + w * u, low + w * u + h * v, low + h * v}, true);
  }
}

double Annotation::zoneWidth(const std::string& zone) {
  double w = 0;
  for (std::size_t i = 0; i < zone.size();) {
    const auto ring = zone.find('(', i);
    w += paper_.width(zone.substr(i, ring - i), kFont);
    if (ring == std::string::npos) break;
    w += 2 * kRing;
    i = zone.find(')', ring) + 1;
  }
  return w;
}

void Annotation::zoneText(const std::string& zone, Vec2 at) {
  for (std::size_t i = 0; i < zone.size();) {
    const auto ring = zone.find('(', i);
    const std::string plain = zone.substr(i, ring - i);
    paper_.text(at, plain, kFont);
    at.x() += paper_.width(plain, kFont);
    if (ring == std::string::npos) break;
    const auto end = zone.find(')', ring);
    const std::string letter = zone.substr(ring + 1, end - ring - 1);
    const Vec2 middle = at + Vec2(kRing, kLetter / 2);
    paper_.circle(middle, kRing - 0.3);
    paper_.text(middle - Vec2(paper_.width(letter, kFont * 0.85) / 2, kLetter * 0.85 / 2), letter,
                kFont * 0.85);
    at.x() += 2 * kRing;
    i = end + 1;
  }
}

double Annotation::width(const CalloutText& text) {
  double most = text.dimension ? width(*text.dimension) : 0;
  for (const IndicatorText& i : text.indicators) {
    double w = kRow + zoneWidth(i.zone) + 2 * kPad;
    for (const std::string& d : i.datums)
      w += zoneWidth(d) + 2 * kPad;
    most = std::max(most, w);
  }
  return most;
}

double Annotation::draw(const CalloutText& text, const Vec2& at) {
  double y = at.y();
  if (text.dimension) {
    draw(*text.dimension, {at.x(), y - kRow + (kRow - kLetter) / 2});
    y -= kRow;
  }
  for (std::size_t k = 0; k < text.indicators.size(); ++k) {
    const IndicatorText& i = text.indicators[k];
    const bool tall = k + 1 < text.indicators.size() && text.indicators[k + 1].lower_segment;
    double x = at.x();
    if (!i.lower_segment) {
      const double low = y - (tall ? 2 : 1) * kRow;
      frame({x, low}, {x + kRow, y});
      symbol(i.kind, {x + kRow / 2, (low + y) / 2});
    }
    x += kRow;
    std::vector<std::string> cells{i.zone};
    cells.insert(cells.end(), i.datums.begin(), i.datums.end());
    for (const std::string& cell : cells) {
      const double w = zoneWidth(cell) + 2 * kPad;
      frame({x, y - kRow}, {x + w, y});
      zoneText(cell, {x + kPad, y - kRow + (kRow - kLetter) / 2});
      x += w;
    }
    y -= kRow;
  }
  if (!text.datum.empty()) {
    const Vec2 under(at.x() + kRow / 2, y);
    datum(under, -std::numbers::pi / 2, 6, text.datum);
    y -= 6 + kRow;
  }
  return y;
}

void Annotation::datum(const Vec2& on, double angle, double length, const std::string& letter) {
  const Vec2 u = along(angle), v = across(angle);
  paper_.fill({on + 1.5 * v, on - 1.5 * v, on + 2.4 * u});
  paper_.line(on + 2.4 * u, on + length * u);
  const Vec2 middle = on + (length + kRow / 2) * u;
  frame(middle - Vec2(kRow / 2, kRow / 2), middle + Vec2(kRow / 2, kRow / 2));
  paper_.text(middle - Vec2(paper_.width(letter, kFont) / 2, kLetter / 2), letter, kFont);
}

void Annotation::extensions(const Vec2& a, const Vec2& b, double angle, const Vec2& through,
                            Vec2& on_a, Vec2& on_b) {
  const Vec2 u = along(angle);
  on_a = through + u * u.dot(a - through);
  on_b = through + u * u.dot(b - through);
  for (const auto& [from, to] : {std::pair{a, on_a}, {b, on_b}}) {
    const double off = (to - from).norm();
    if (off < 1) continue;
    const Vec2 w = (to - from) / off;
    paper_.line(from + 0.8 * w, to + 1.5 * w);
  }
}

void Annotation::distance(const Vec2& a, const Vec2& b, double angle, const Vec2& through,
                          const DimensionText& text) {
  Vec2 p, q;
  extensions(a, b, angle, through, p, q);
  paper_.line(p, q);
  arrow(p, q), arrow(q, p);
  const Vec2 u = along(angle);
  draw(text, (p + q) / 2 - u * width(text) / 2 + 1.2 * across(angle), angle);
}

void Annotation::distance(const Vec2& a, const Vec2& b, double angle, const Vec2& through,
                          const CalloutText& text, double shelf) {
  Vec2 p, q;
  extensions(a, b, angle, through, p, q);
  paper_.line(p, q);
  const Vec2 u = along(angle), out = (q - p).dot(u) > 0 ? q : p;
  arrow(p, q), arrow(q, p);
  const Vec2 end = std::abs(u.x()) > 0.5 ? Vec2(shelf, out.y()) : out + 8 * u;
  paper_.line(out, end);
  const double from = std::abs(u.x()) > 0.5 ? end.x() : shelf;
  const double w = width(text);
  paper_.line(end, {from > end.x() - 1e-9 ? from + w : from, end.y()});
  draw(text, {from, end.y() + (text.dimension ? kRow : kRow / 2)});
}

void Annotation::angle(const Vec2& apex, double radius, double from, double to,
                       const DimensionText& text) {
  paper_.arc(apex, radius, from, to);
  arrow(apex + radius * along(from), apex + radius * along(from) + across(from));
  arrow(apex + radius * along(to), apex + radius * along(to) - across(to));
  const double middle = (from + to) / 2;
  const Vec2 at = apex + (radius + 2 + kLetter) * along(middle);
  draw(text, at - Vec2(std::cos(middle) < -0.3  ? width(text)
                       : std::cos(middle) > 0.3 ? 0
                                                : width(text) / 2,
                       std::sin(middle) > 0 ? kLetter / 2 : 0));
}

void Annotation::leader(const Vec2& tip, const Vec2& at, const CalloutText& text) {
  const double w = width(text);
  const double y = at.y() - (text.dimension ? kRow : kRow / 2);
  const bool from_left = tip.x() < at.x() + w / 2;
  const Vec2 end(from_left ? at.x() : at.x() + w, y);
  const Vec2 knee = end + Vec2(from_left ? -4 : 4, 0);
  paper_.line(tip, knee);
  paper_.line(knee, text.dimension ? Vec2(from_left ? at.x() + w : at.x(), y) : end);
  arrow(tip, knee);
  draw(text, at);
}

// ISO 1101, ISO 7083: strokes in a square of the height of a row.
void Annotation::symbol(const std::string& kind, const Vec2& m) {
  const double h = 2; // half of its height
  const auto at = [&](double x, double y) { return Vec2(m + h * Vec2(x, y)); };
  const auto slanted = [&](double x) {
    paper_.line(at(x - 0.6, -1), at(x + 0.6, 1));
  };
  const auto runout = [&](double x, double y) {
    paper_.line(at(x - 0.9, y - 0.9), at(x + 0.9, y + 0.9));
    arrow(at(x + 0.9, y + 0.9), at(x - 0.9, y - 0.9));
  };
  if (kind == "straightness") {
    paper_.line(at(-1.2, 0), at(1.2, 0));
  } else if (kind == "flatness") {
    paper_.lines({at(-1.4, -0.7), at(0.7, -0.7), at(1.4, 0.7), at(-0.7, 0.7)}, true);
  } else if (kind == "roundness") {
    paper_.circle(m, h);
  } else if (kind == "cylindricity") {
    paper_.circle(m, 0.7 * h);
    paper_.line(at(-1.25, -1), at(-0.25, 1));
    paper_.line(at(0.25, -1), at(1.25, 1));
  } else if (kind == "line_profile") {
    paper_.arc(at(0, -0.6), 1.2 * h, 0, std::numbers::pi);
  } else if (kind == "surface_profile") {
    paper_.arc(at(0, -0.6), 1.2 * h, 0, std::numbers::pi);
    paper_.line(at(-1.2, -0.6), at(1.2, -0.6));
  } else if (kind == "parallelism") {
    slanted(-0.45), slanted(0.45);
  } else if (kind == "perpendicularity") {
    paper_.line(at(-1.1, -1), at(1.1, -1));
    paper_.line(at(0, -1), at(0, 1));
  } else if (kind == "angularity") {
    paper_.line(at(1.1, -0.8), at(-1.1, -0.8));
    paper_.line(at(-1.1, -0.8), at(0.9, 0.8));
  } else if (kind == "position") {
    paper_.circle(m, 0.75 * h);
    paper_.line(at(-1.2, 0), at(1.2, 0));
    paper_.line(at(0, -1.2), at(0, 1.2));
  } else if (kind == "coaxiality") {
    paper_.circle(m, h);
    paper_.circle(m, 0.5 * h);
  } else if (kind == "symmetry") {
    paper_.line(at(-1.2, 0), at(1.2, 0));
    for (const double y : {-0.55, 0.55})
      paper_.line(at(-0.7, y), at(0.7, y));
  } else if (kind == "circular_runout") {
    runout(0, 0);
  } else if (kind == "total_runout") {
    runout(-0.5, 0), runout(0.5, 0);
    paper_.line(at(-1.4, -0.9), at(-0.4, -0.9));
  }
}

} // namespace alder::demo
