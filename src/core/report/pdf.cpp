#include "report/pdf.h"

#include "report/document.h"
#include "report/page.h"
#include "report/picture.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr Ink kInk = ink(0x1F262C), kSecond = ink(0x5A646D), kLine = ink(0xD9D5CB),
              kTrack = ink(0xE6E2D8), kWithin = ink(0x0B7A75), kNear = ink(0xB97800),
              kOutside = ink(0xC8401A), kNone = ink(0x8A9096);
constexpr double kLeft = 14, kRight = 196, kBottom = 282, kRow = 5.6;

Ink colorOf(Verdict v) {
  return v == Verdict::Within                            ? kWithin
         : v == Verdict::Near || v == Verdict::NotProved ? kNear
         : v == Verdict::Outside                         ? kOutside
                                                         : kNone;
}

void drawMark(Page& page, double x, double y, double r, Verdict v) {
  switch (v) {
  case Verdict::Within:
    page.disc(x, y, r, kWithin);
    break;
  case Verdict::Near:
    page.halfDisc(x, y, r, kNear);
    break;
  case Verdict::NotProved:
    page.diamond(x, y, 1.25 * r, kNear, false);
    break;
  case Verdict::Outside:
    page.diamond(x, y, 1.25 * r, kOutside);
    break;
  case Verdict::Unmeasured:
    page.disc(x, y, r, kNone, false);
    break;
  }
}

class PdfReport {
 public:
  PdfReport(const ReportModel& model, const Plan& plan, Page& page)
      : model_(model)
      , plan_(plan)
      , page_(page) {}

  void draw() {
    titleBlock();
    headerStrip();
    picture();
    tableHead();
    for (const ReportRow& row : model_.rows) {
      if (y_ + kRow > kBottom) newPage();
      tableRow(row);
    }
    howPages();
    footer();
    page_.finish();
  }

 private:
  void titleBlock() {
    page_.text(kLeft, 20, "Inspection report", Font::Strong, 6.2, kInk);
    page_.text(kLeft, 27, model_.title, Font::Text, 4.2, kSecond);
    std::vector<std::pair<const char*, std::string>> lines{
        {"Part", model_.part},
        {"Bench", model_.bench},
        {"Date", model_.date},
        {"Run", model_.part_serial.empty() ? "-" : model_.part_serial},
        {"Standard", model_.standard}};
    if (!model_.operated_by.empty())
      lines.insert(lines.end() - 1, {"Operator", model_.operated_by});
    double y = model_.operated_by.empty() ? 13 : 10;
    for (const auto& [label, value] : lines) {
      page_.text(132, y, label, Font::Text, 3, kSecond);
      page_.text(150, y, page_.fitted(value, Font::Text, 3, kRight - 150), Font::Text, 3, kInk);
      y += 4.6;
    }
    page_.line(kLeft, 33, kRight, 33, 0.3, kInk);
    double x = kLeft + 1.2;
    const std::pair<Verdict, int> counts[]{{Verdict::Within, model_.within},
                                           {Verdict::Near, model_.near},
                                           {Verdict::NotProved, model_.not_proved},
                                           {Verdict::Outside, model_.outside},
                                           {Verdict::Unmeasured, model_.unmeasured}};
    for (const auto& [verdict, count] : counts) {
      if (verdict == Verdict::NotProved && count == 0) continue; // only where uncertainties decide
      drawMark(page_, x, 38.6, 1.2, verdict);
      const auto text = fmt::format("{} {}", count, words(verdict));
      page_.text(x + 2.6, 39.7, text, Font::Text, 3.3, kInk);
      x += page_.width(text, Font::Text, 3.3) + 9;
    }
  }

  // What is known of the part, three in a row, below the counts.
  void headerStrip() {
    constexpr double wide = (kRight - kLeft) / 3, label = 22;
    for (std::size_t i = 0; i < model_.header.size(); ++i) {
      const auto& [what, which] = model_.header[i];
      const double x = kLeft + wide * static_cast<double>(i % 3);
      if (i % 3 == 0) top_ += 4.6;
      page_.text(x, top_, what, Font::Text, 2.8, kSecond);
      page_.text(x + label, top_, page_.fitted(which, Font::Text, 2.8, wide - label - 3),
                 Font::Text, 2.8, kInk);
    }
    if (!model_.header.empty()) top_ += 2;
  }

  // A place on each requirement's first feature, for its leader.
  std::optional<Vec3> anchor(const Requirement& r, const PartPicture& picture) const {
    for (FeatureId id : r.features) {
      const auto& touches = plan_.feature(id).touches;
      for (const Touch& t : touches)
        if (picture.visible(t.point, 0.4)) return t.point;
    }
    if (r.features.empty()) return {};
    const NominalFeature& f = plan_.nominal(r.features.front());
    if (f.faces.empty()) return f.ideal.point; // a constructed feature
    return plan_.part->face(f.faces.front()).box.center();
  }

  struct Callout {
    const ReportRow* row;
    Vec2 anchor;
  };

  void picture() {
    constexpr int w = 1500, h = 1000;
    constexpr double left = 32, wide = 146;
    const double top = top_;
    const Vec3 up = plan_.placement.linear().transpose() * Vec3::UnitZ();
    const Vec3 toward = plan_.placement.linear().transpose() * Vec3(0.55, -0.95, 0.85);
    const PartPicture part(*plan_.part, toward, up, w, h);
    const Picture image = part.draw();
    page_.image(left, top, wide, w, h, image.pixels.data());
    std::vector<Callout> callouts;
    for (const ReportRow& row : model_.rows)
      if (const auto at = anchor(plan_.spec.requirement(row.requirement), part))
        callouts.push_back({&row, Vec2(left, top) + part.project(*at) * (wide / w)});
    std::stable_sort(callouts.begin(), callouts.end(), [](const Callout& a, const Callout& b) {
      return a.anchor.x() < b.anchor.x();
    });
    const auto middle = callouts.begin() + static_cast<std::ptrdiff_t>(callouts.size() / 2);
    column(callouts.begin(), middle, kLeft + 4, top);
    column(middle, callouts.end(), kRight - 4, top);
    y_ = top + wide * h / w + 4;
  }

  // Balloons in a column, in the order of their anchors, so that leaders do not cross.
  void column(std::vector<Callout>::iterator begin, std::vector<Callout>::iterator end, double x,
              double top) {
    std::stable_sort(
        begin, end, [](const Callout& a, const Callout& b) { return a.anchor.y() < b.anchor.y(); });
    const auto count = static_cast<double>(end - begin);
    const double step = std::min(7.0, 96 / std::max(count, 1.0));
    double y = top + 48 - step * (count - 1) / 2;
    for (auto c = begin; c != end; ++c, y += step) {
      const Ink color = colorOf(c->row->verdict);
      const double side = c->anchor.x() > x ? 1 : -1;
      page_.line(x + side * 2.6, y, c->anchor.x(), c->anchor.y(), 0.12, kSecond);
      page_.disc(c->anchor.x(), c->anchor.y(), 0.45, color);
      const auto number = std::to_string(c->row->balloon);
      page_.disc(x, y, 2.5, ink(0xFFFFFF));
      page_.disc(x, y, 2.5, color, false);
      page_.text(x - page_.width(number, Font::Figures, 2.6) / 2, y + 0.95, number, Font::Figures,
                 2.6, color);
    }
  }

  void tableHead() {
    const auto head = [&](double x, const char* text, bool right = false) {
      if (right)
        page_.textRight(x, y_ + 3.6, text, Font::Strong, 2.6, kSecond);
      else
        page_.text(x, y_ + 3.6, text, Font::Strong, 2.6, kSecond);
    };
    head(kLeft, "No.");
    head(22, "Requirement");
    head(70, "Feature");
    head(112, "Nominal", true);
    head(127, "Lower", true);
    head(142, "Upper", true);
    head(157, "Actual", true);
    head(171, "Deviation", true);
    head(174, "Tolerance used");
    y_ += 5;
    page_.line(kLeft, y_, kRight, y_, 0.25, kInk);
  }

  void tableRow(const ReportRow& r) {
    const double base = y_ + 3.9;
    page_.textRight(20, base, std::to_string(r.balloon), Font::Figures, 2.7, kInk);
    page_.text(22, base, page_.fitted(r.text, Font::Text, 2.7, 46), Font::Text, 2.7, kInk);
    page_.text(70, base, page_.fitted(r.features, Font::Text, 2.7, 27), Font::Text, 2.7, kSecond);
    page_.textRight(112, base, r.nominal, Font::Figures, 2.5, kInk);
    page_.textRight(127, base, r.lower, Font::Figures, 2.5, kInk);
    page_.textRight(142, base, r.upper, Font::Figures, 2.5, kInk);
    page_.textRight(157, base, r.actual, Font::Figures, 2.5, colorOf(r.verdict));
    page_.textRight(171, base, r.deviation, Font::Figures, 2.5, kInk);
    if (!r.actual.empty() && r.share) {
      page_.box(174, y_ + 2.1, 14, 1.4, kTrack);
      page_.box(174, y_ + 2.1, 14 * std::clamp(*r.share, 0.0, 1.0), 1.4, colorOf(r.verdict));
    }
    drawMark(page_, 192, y_ + 2.8, 1.2, r.verdict);
    y_ += kRow;
    page_.line(kLeft, y_, kRight, y_, 0.1, kLine);
  }

  void newPage() {
    footer();
    page_.nextPage();
    ++number_;
    y_ = 16;
    tableHead();
  }

  // How each figure came about, so that it can be defended.
  void howPages() {
    footer();
    page_.nextPage();
    ++number_;
    y_ = 22;
    page_.text(kLeft, y_, "How the figures came about", Font::Strong, 4.4, kInk);
    y_ += 6;
    for (const ReportRow& r : model_.rows) {
      const auto lines = wrapped(r.how, 158, 2.8);
      if (y_ + 4.4 + 3.8 * static_cast<double>(lines.size()) > kBottom) {
        footer();
        page_.nextPage();
        ++number_;
        y_ = 20;
      }
      page_.textRight(20, y_ + 3, std::to_string(r.balloon), Font::Figures, 2.8, kInk);
      page_.text(24, y_ + 3, r.text, Font::Strong, 2.8, kInk);
      y_ += 3.8;
      for (const auto& line : lines) {
        page_.text(24, y_ + 3, line, Font::Text, 2.8, kSecond);
        y_ += 3.8;
      }
      y_ += 1.4;
    }
    lines("Tips", model_.tips);
    lines("Measured again", model_.again);
  }

  // What touched, and what was known of it.
  void lines(const std::string& head, const std::vector<std::string>& texts) {
    if (texts.empty()) return;
    const double height = 10 + 3.8 * static_cast<double>(texts.size());
    if (y_ + height > kBottom) {
      footer();
      page_.nextPage();
      ++number_;
      y_ = 20;
    }
    y_ += 3;
    page_.text(kLeft, y_ + 3, head, Font::Strong, 3.4, kInk);
    y_ += 6;
    for (const auto& text : texts)
      for (const auto& line : wrapped(text, 158, 2.8)) {
        page_.text(24, y_ + 3, line, Font::Text, 2.8, kSecond);
        y_ += 3.8;
      }
  }

  std::vector<std::string> wrapped(const std::string& text, double width, double size) {
    std::vector<std::string> lines(1);
    std::size_t at = 0;
    while (at < text.size()) {
      const auto end = std::min(text.find(' ', at), text.size());
      const auto word = text.substr(at, end - at);
      at = end + 1;
      const auto longer = lines.back().empty() ? word : lines.back() + " " + word;
      if (!lines.back().empty() && page_.width(longer, Font::Text, size) > width)
        lines.push_back(word);
      else
        lines.back() = longer;
    }
    return lines;
  }

  void footer() {
    page_.text(kLeft, 290, "Alderpoint · " + model_.title, Font::Text, 2.6, kSecond);
    page_.textRight(kRight, 290, "page " + std::to_string(number_), Font::Text, 2.6, kSecond);
  }

  const ReportModel& model_;
  const Plan& plan_;
  Page& page_;
  double top_ = 45; // of the picture
  double y_ = 0;
  int number_ = 1;
};

} // namespace

Result<std::string> reportPdf(const ReportModel& model, const Plan& plan) {
  std::string bytes;
  {
    auto page = Page::open(bytes);
    if (!page) return pass(page.error());
    PdfReport(model, plan, **page).draw();
  }
  return bytes;
}

} // namespace alder
