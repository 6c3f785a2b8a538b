// Sheets with callouts drawn by lot, seed by seed: what is drawn is read, and nothing else.
#include "base/random.h"
#include "base/units.h"
#include "drafting/annotation.h"
#include "drafting/sheet_frame.h"
#include "drawing/proposal.h"
#include "sheet/sheet_file.h"
#include "support.h"
#include <map>
#include <numbers>

namespace {

using namespace alder;
using namespace alder::demo;

constexpr double kCellWidth = 95, kCellHeight = 66; // mm

struct Drawn {
  std::string pdf;
  std::map<std::string, int> asked;
};

class Lot {
 public:
  explicit Lot(std::uint64_t seed)
      : random_(seed) {}

  int upTo(int count) { return static_cast<int>(random_.uniform() * count); }
  bool perhaps(double share) { return random_.uniform() < share; }
  template <class T> const T& of(const std::vector<T>& all) {
    return all[static_cast<std::size_t>(upTo(static_cast<int>(all.size())))];
  }

  std::string figure(double from, double to, int decimals) {
    return fmt::format("{:.{}f}", from + random_.uniform() * (to - from), decimals);
  }

  // A dimension as it is drawn, and what it says.
  DimensionText dimension(std::string& says) {
    DimensionText d;
    const int count = perhaps(0.25) ? 2 + upTo(8) : 1;
    const std::string sign = of<std::string>({"ø", "", "R", "Sø"});
    const std::string nominal = figure(3, 180, upTo(3));
    d.main = (count > 1 ? fmt::format("{}x ", count) : "") + sign + nominal;
    says = count > 1 ? fmt::format("{}x ", count) : "";
    const std::string told = shortFigure(std::stod(nominal));
    switch (upTo(3)) {
    case 0: {
      const std::string t = figure(0.01, 0.4, 2);
      if (std::stod(t) == 0) return dimension(says);
      d.main += " ±" + t;
      says += sign + told + " ±" + shortFigure(std::stod(t));
      break;
    }
    case 1: {
      const std::string up = figure(0.05, 0.5, 2), low = perhaps(0.3) ? "0" : figure(0.01, 0.04, 2);
      d.upper = "+" + up;
      d.lower = low == "0" ? low : (perhaps(0.5) ? "-" : "+") + low;
      if (std::stod(low) == 0) d.lower = "0";
      const double l = std::stod(d.lower);
      says += sign + told + " +" + shortFigure(std::stod(up)) + "/" + (l > 0 ? "+" : "") +
              shortFigure(l);
      break;
    }
    default: {
      const std::string fit = of<std::string>({"H7", "g6", "H11", "js9", "N9", "f7"});
      if (sign == "R" || sign == "Sø") return dimension(says);
      d.main += " " + fit;
      says += sign + told + " " + fit;
    }
    }
    return d;
  }

  IndicatorText indicator(std::string& says) {
    static const std::vector<std::string> forms{"straightness", "flatness", "roundness",
                                                "cylindricity"};
    static const std::vector<std::string> others{
        "parallelism", "perpendicularity", "angularity",   "position",     "coaxiality",
        "symmetry",    "circular_runout",  "total_runout", "line_profile", "surface_profile"};
    IndicatorText i;
    const bool form = perhaps(0.3);
    i.kind = form ? of(forms) : of(others);
    const std::string value = figure(0.01, 0.9, 2 + upTo(2));
    if (std::stod(value) == 0) return indicator(says);
    const bool axis = i.kind == "position" || i.kind == "coaxiality" ||
                      (i.kind == "perpendicularity" && perhaps(0.5));
    const bool material = i.kind == "position" && perhaps(0.4);
    i.zone = (axis ? "ø" : "") + value + (material ? " (M)" : "");
    std::string words = i.kind;
    std::replace(words.begin(), words.end(), '_', ' ');
    says = words + " " + (axis ? "ø" : "") + shortFigure(std::stod(value)) + (material ? " M" : "");
    if (form) return i;
    static const std::vector<std::vector<std::string>> systems{
        {"A"}, {"B"}, {"A", "B"}, {"A", "B", "C"}, {"D", "A"}, {"A-B"}, {"E", "F-G", "A"}};
    i.datums = of(systems);
    for (const std::string& d : i.datums)
      says += " | " + d;
    return i;
  }

 private:
  Random random_;
};

std::string told(const DrawingProposal& p) {
  const Typed& t = p.typed.front();
  if (p.as == ProposedAs::Datum) return "datum " + t.words;
  std::string text = describe(t.requirement);
  // What a fit comes to is not drawn.
  if (!t.requirement.fit.empty())
    text = text.substr(0, text.find(t.requirement.fit) + t.requirement.fit.size());
  return (t.count > 1 ? fmt::format("{}x ", t.count) : "") + text;
}

Drawn drawn(std::uint64_t seed) {
  Drawn d;
  Lot lot(seed);
  auto paper = Paper::open(d.pdf, 594, 420); // A2
  if (!paper) return d;
  drawFrame(**paper, 594, 420,
            {"TW-1", "Drawn by lot", "Saltmarsh Instruments", "bronze", "1:1", "1/1", "2026-09-14",
             "M. Tarn", "L. Oake", "A"},
            {"All dimensions in mm"});
  Annotation a(**paper);
  for (int row = 0; row < 5; ++row)
    for (int column = 0; column < 6; ++column) {
      if (row == 4 && column > 3) continue; // the title block
      const Vec2 at(30 + column * kCellWidth, 400 - row * kCellHeight);
      CalloutText text;
      std::string says;
      if (lot.perhaps(0.7)) {
        text.dimension = lot.dimension(says);
        ++d.asked[says];
      }
      for (int k = lot.upTo(text.dimension ? 3 : 2) + (text.dimension ? 0 : 1); k > 0; --k) {
        text.indicators.push_back(lot.indicator(says));
        ++d.asked[says];
      }
      if (!text.indicators.empty() && lot.perhaps(0.3)) {
        text.datum = std::string(1, static_cast<char>('A' + lot.upTo(8)));
        ++d.asked["datum " + text.datum];
      }
      if (text.dimension && text.indicators.empty()) {
        // along a line, level, upright or slanted
        const double turn = lot.of<double>({0, std::numbers::pi / 2, 0.5, -0.4});
        const Vec2 u(std::cos(turn), std::sin(turn)), middle = at + Vec2(45, -28);
        (*paper)->line(middle - 24 * u + 9 * Vec2(u.y(), -u.x()),
                       middle + 24 * u + 9 * Vec2(u.y(), -u.x()), Pen::Thick);
        a.distance(middle - 24 * u + 9 * Vec2(u.y(), -u.x()),
                   middle + 24 * u + 9 * Vec2(u.y(), -u.x()), turn, middle, *text.dimension);
      } else {
        a.leader(at + Vec2(4, -40), at + Vec2(18, -4), text);
        (*paper)->line(at + Vec2(0, -40), at + Vec2(12, -40), Pen::Thick);
      }
    }
  (*paper)->nextSheet();
  (*paper)->finish();
  return d;
}

class RandomDrawingTest : public QObject {
  Q_OBJECT

 private slots:
  void whatIsDrawnIsRead() {
    constexpr std::uint64_t kSeeds = 12;
    int all = 0, found = 0, invented = 0;
    for (std::uint64_t seed = 1; seed <= kSeeds; ++seed) {
      const Drawn d = drawn(seed);
      const auto sheets = readSheets(d.pdf, "lot.pdf", 1, 1);
      QVERIFY(sheets);
      std::map<std::string, int> read;
      for (const DrawingProposal& p : readingOf(*sheets).proposals) {
        if (p.as == ProposedAs::NotUnderstood)
          qInfo("seed %d: %s: %s", int(seed), p.text.c_str(), p.says.c_str());
        if (p.as == ProposedAs::Requirement || p.as == ProposedAs::Datum) ++read[told(p)];
      }
      for (const auto& [text, count] : d.asked) {
        all += count;
        found += std::min(count, read[text]);
        if (read[text] < count) qInfo("seed %d: not read: %s", int(seed), text.c_str());
      }
      for (const auto& [text, count] : read)
        if (const auto asked = d.asked.find(text);
            count > (asked == d.asked.end() ? 0 : asked->second)) {
          ++invented;
          qInfo("seed %d: invented: %s", int(seed), text.c_str());
        }
    }
    qInfo("%d of %d read", found, all);
    QVERIFY(found >= 0.98 * all);
    QCOMPARE(invented, 0);
  }
};

} // namespace

ALDER_TEST(RandomDrawingTest)
#include "random_drawing_test.moc"
