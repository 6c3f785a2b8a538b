#include "report/write/svg.h"

#include "base/error.h"
#include "paper/page_writer.h"
#include <cmath>
#include <glib.h>

namespace alder {
namespace {

std::string colour(const Ink& c) {
  const auto byte = [](double v) { return static_cast<int>(std::lround(255 * v)); };
  return fmt::format("#{:02x}{:02x}{:02x}", byte(c.r), byte(c.g), byte(c.b));
}

std::string painted(double width, const Ink& ink, const std::optional<Ink>& fill, bool dashed) {
  std::string out = fill ? fmt::format(" fill=\"{}\"", colour(*fill)) : " fill=\"none\"";
  if (fill && fill->a < 1) out += fmt::format(" fill-opacity=\"{:.3g}\"", fill->a);
  if (width > 0) {
    out += fmt::format(" stroke=\"{}\" stroke-width=\"{:.3g}\"", colour(ink), width);
    if (ink.a < 1) out += fmt::format(" stroke-opacity=\"{:.3g}\"", ink.a);
    if (dashed) out += " stroke-dasharray=\"1.2\"";
  }
  return out;
}

struct SvgWriter {
  std::string& out;
  const TextSetter& setter;

  void operator()(const TextMark& m) const {
    const char* anchor = m.style.align == Align::Middle  ? "middle"
                         : m.style.align == Align::Right ? "end"
                                                         : "start";
    const double x = m.style.align == Align::Middle  ? m.area.x + m.area.w / 2
                     : m.style.align == Align::Right ? m.area.right()
                                                     : m.area.x;
    const char* family =
        m.style.face == Typeface::Figures ? "JetBrains Mono, monospace" : "Inter, sans-serif";
    const auto lines = setter.lines(m.text, m.style, m.area.w);
    const TextExtent e = setter.measure(m.text, m.style, m.area.w);
    double y = m.area.y + e.baseline;
    for (const std::string& line : lines) {
      out += fmt::format("<text x=\"{:.2f}\" y=\"{:.2f}\" font-family=\"{}\" font-size=\"{:.2f}\" "
                         "fill=\"{}\" text-anchor=\"{}\"{}>{}</text>\n",
                         x, y, family, m.style.size, colour(m.style.ink), anchor,
                         m.style.face == Typeface::Strong ? " font-weight=\"600\"" : "",
                         escapedXml(line));
      y += e.height / std::max(1, e.lines);
    }
  }
  void operator()(const LineMark& m) const {
    out += m.closed ? "<polygon points=\"" : "<polyline points=\"";
    for (const Vec2& p : m.points)
      out += fmt::format("{:.3f},{:.3f} ", p.x(), p.y());
    out += "\"" + painted(m.width, m.ink, m.fill, m.dashed) + "/>\n";
  }
  void operator()(const RoundMark& m) const {
    out += fmt::format("<circle cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"{:.3f}\"{}/>\n", m.centre.x(),
                       m.centre.y(), m.radius, painted(m.width, m.ink, m.fill, m.dashed));
  }
  void operator()(const SymbolMark& m) const {
    const double half = m.size / 2, pen = 0.13 * half;
    out += fmt::format("<g><title>{}</title>", spoken(m.symbol));
    for (const SymbolLine& line : linesOf(m.symbol)) {
      if (line.circle) {
        (*this)(RoundMark{m.centre + half * line.points[0],
                          half * (line.points[1] - line.points[0]).norm(),
                          pen,
                          m.ink,
                          {}});
        continue;
      }
      LineMark drawn{{}, line.filled ? 0 : pen, m.ink, {}, line.closed};
      if (line.filled) drawn.fill = m.ink;
      for (const Vec2& p : line.points)
        drawn.points.push_back(m.centre + half * p);
      (*this)(drawn);
    }
    out += "</g>";
  }
  void operator()(const PictureMark& m) const {
    if (!m.raster) return;
    out += fmt::format("<image x=\"{:.2f}\" y=\"{:.2f}\" width=\"{:.2f}\" height=\"{:.2f}\" "
                       "preserveAspectRatio=\"none\" href=\"data:image/png;base64,{}\"/>\n",
                       m.area.x, m.area.y, m.area.w, m.area.h, base64(pngOf(*m.raster)));
  }
  void operator()(const OpenTag&) const {}
  void operator()(const CloseTag&) const {}
};

} // namespace

std::string escapedXml(const std::string& text) {
  std::string out;
  for (const char c : text) {
    switch (c) {
    case '&':
      out += "&amp;";
      break;
    case '<':
      out += "&lt;";
      break;
    case '>':
      out += "&gt;";
      break;
    case '"':
      out += "&quot;";
      break;
    default: // of control characters XML allows only these
      if (static_cast<unsigned char>(c) >= 32 || c == '\n' || c == '\t') out += c;
    }
  }
  return out;
}

std::string base64(const std::string& bytes) {
  gchar* text = g_base64_encode(reinterpret_cast<const guchar*>(bytes.data()), bytes.size());
  std::string out(text);
  g_free(text);
  return out;
}

std::string svgOf(const std::vector<Mark>& marks, double width, double height,
                  const std::string& says, const TextSetter& setter) {
  std::string out =
      fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" role=\"img\" aria-label=\"{}\" "
                  "viewBox=\"0 0 {:.2f} {:.2f}\" style=\"width:{:.0f}mm;max-width:100%\">\n",
                  escapedXml(says), width, height, width);
  for (const Mark& mark : marks)
    std::visit(SvgWriter{out, setter}, mark);
  return out + "</svg>\n";
}

} // namespace alder
