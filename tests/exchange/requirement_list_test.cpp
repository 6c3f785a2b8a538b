#include "exchange/lists/requirement_list.h"

#include "base/random.h"
#include "base/units.h"
#include "exchange/lists/take_list.h"
#include "heron.h"
#include "made_results.h"
#include "part/step_import.h"
#include "support.h"
#include <algorithm>

namespace {

using namespace alder;
using K = Characteristic;

ResultText tableOf(const std::string& text) {
  return {linesOf(text), TextEncoding::Utf8, false};
}

// A requirement as somebody means it, and the row that somebody writes.
struct Meant {
  K kind = K::Size;
  bool round = false;
  double nominal = 0, upper = 0, lower = 0; // limits
  double tolerance = 0;
  std::vector<std::string> datums;
};

std::string decimal(double v, int decimals, bool comma, bool sign = false) {
  std::string text =
      sign ? fmt::format("{:+.{}f}", v, decimals) : fmt::format("{:.{}f}", v, decimals);
  if (comma) std::replace(text.begin(), text.end(), '.', ',');
  return text;
}

class RequirementListTest : public QObject {
  Q_OBJECT

  struct Titles {
    const char *number, *words, *nominal, *upper, *lower, *tolerance, *datums;
    bool limits; // else deviations
  };
  static std::vector<Titles> titles() {
    return {
        {"No.", "Description", "Nominal", "USL", "LSL", "Tolerance", "Datums", true},
        {"Pos", "Merkmal", "Nennmaß", "Ob. Abmaß", "Unt. Abmaß", "Toleranz", "Bezug", false},
        {"#", "Characteristic", "Nominal [mm]", "Upper Tol", "Lower Tol", "Tol", "Datums", false},
        {"Nr.", "Bezeichnung", "Sollmaß", "OTG", "UTG", "Toleranz", "Bezüge", true},
        {"Numero", "Designation", "Valeur nominale", "Tol sup", "Tol inf", "Tolerance", "Reference",
         false}};
  }
  static const char* wordsFor(const Meant& m, bool german) {
    switch (m.kind) {
    case K::Size:
      return german ? "Durchmesser Bohrung" : "Bore diameter";
    case K::Distance:
      return german ? "Abstand zur Kante" : "Distance to edge";
    case K::Angle:
      return german ? "Winkel" : "Angle of seat";
    case K::Position:
      return german ? "Position" : "True position";
    case K::Flatness:
      return german ? "Ebenheit" : "Flatness of face";
    default:
      return german ? "Rechtwinkligkeit" : "Perpendicularity";
    }
  }

 private slots:
  // Tables by lot: separators, decimals, titles, limits or deviations, or the callout as one text.
  void byLot() {
    int all = 0;
    for (unsigned seed = 1; seed <= 60; ++seed) {
      Random random(seed * 31ull + 5);
      const auto pick = [&](int below) {
        return static_cast<int>(random.bits() % static_cast<unsigned>(below));
      };
      const Titles t = titles()[static_cast<std::size_t>(pick(5))];
      const bool german =
          std::string(t.words) != "Description" && std::string(t.words) != "Characteristic";
      const char separator = ";\t,|"[pick(4)];
      const bool comma = separator != ',' && pick(2) == 0;
      const std::string s(1, separator);
      std::string table = "Part TW-40" + s + s + "\n\n";
      table += t.number + s + t.words + s + t.nominal + s + t.upper + s + t.lower + s +
               t.tolerance + s + t.datums + "\n";
      std::vector<Meant> meant;
      const int rows = 3 + pick(12);
      for (int i = 0; i < rows; ++i) {
        Meant m;
        static constexpr std::array<K, 6> kKinds{K::Size,     K::Distance, K::Angle,
                                                 K::Position, K::Flatness, K::Perpendicularity};
        m.kind = kKinds[static_cast<std::size_t>(pick(6))];
        m.round = m.kind == K::Size;
        const std::string number = std::to_string(i + 1);
        if (isDimension(m.kind)) {
          m.nominal = std::round(random.uniform(2, 80) * 100) / 100;
          m.upper = m.nominal + std::round(random.uniform(0.01, 0.3) * 1000) / 1000;
          m.lower = m.nominal - std::round(random.uniform(0, 0.3) * 1000) / 1000;
          const bool whole = m.kind == K::Size && pick(4) == 0 && !comma;
          const auto figure = [&](double v) {
            const std::string text =
                t.limits ? decimal(v, 3, comma) : decimal(v - m.nominal, 3, comma, true);
            return text;
          };
          table += whole ? number + s +
                               fmt::format("Bore 4 ø{:.2f} {:+.3f}/{:+.3f}", m.nominal,
                                           m.upper - m.nominal, m.lower - m.nominal) +
                               s + s + s + s + s + "\n"
                         : number + s + wordsFor(m, german) + s + decimal(m.nominal, 2, comma) + s +
                               figure(m.upper) + s + figure(m.lower) + s + s + "\n";
        } else {
          m.tolerance = std::round(random.uniform(0.01, 0.5) * 1000) / 1000;
          if (m.kind == K::Position) m.datums = {"A", "B", "C"};
          if (m.kind == K::Perpendicularity) m.datums = {"A"};
          std::string datums;
          for (const std::string& d : m.datums)
            datums += (datums.empty() ? "" : separator == '|' ? " " : "|") + d;
          table += number + s + wordsFor(m, german) + s + s + s + s +
                   decimal(m.tolerance, 3, comma) + s + datums + "\n";
        }
        meant.push_back(m);
        if (pick(5) == 0) table += s + "Side view" + s + s + "\n"; // a heading of a group
      }
      const auto list = requirementList(tableOf(table), "list.csv");
      QVERIFY2(list, list ? "" : (list.error().message + "\n" + table).c_str());
      QVERIFY2(list->rows.size() == meant.size(), table.c_str());
      for (std::size_t i = 0; i < meant.size(); ++i) {
        const ListedRequirement& row = list->rows[i];
        const Meant& m = meant[i];
        const auto where = fmt::format("seed {} row {}: {} {}", seed, i + 1, row.text, row.fault);
        QVERIFY2(row.typed.size() == 1, where.c_str());
        const Requirement& r = row.typed.front().requirement;
        QVERIFY2(r.kind == m.kind, where.c_str());
        QCOMPARE(row.number, std::to_string(i + 1));
        if (isDimension(m.kind)) {
          const double unit = m.kind == K::Angle ? radians(1) : 1;
          QVERIFY2(std::abs(r.nominal - m.nominal * unit) < 1e-9, where.c_str());
          QVERIFY2(std::abs(r.upper - m.upper * unit) < 1e-9, where.c_str());
          QVERIFY2(std::abs(r.lower - m.lower * unit) < 1e-9, where.c_str());
          if (m.round) QVERIFY2(r.zone == Zone::Diametral, where.c_str());
        } else {
          QVERIFY2(std::abs(r.tolerance - m.tolerance) < 1e-9, where.c_str());
          QVERIFY2(r.datums.size() == m.datums.size(), where.c_str());
          for (std::size_t d = 0; d < m.datums.size(); ++d)
            QCOMPARE(r.datums[d].letters.front(), m.datums[d]);
        }
        ++all;
      }
    }
    QVERIFY(all > 400);
  }

  // One limit in a row of two columns for them, with a nominal or without.
  void singleLimits() {
    const std::vector<std::pair<std::string, std::string>> rows{
        {"1;Depth;10;10.2;;", "10 +0.2 MAX"},  {"2;Depth;;10.2;;", "10.2 MAX"},
        {"3;Depth;10;;9.5;", "10 -0.5 MIN"},   {"4;Radius;0.5;0.5;;", "R0.5 MAX"},
        {"5;R0.5 MAX;;;;", "R0.5 MAX"},        {"6;Bore diameter;8;8;;", "ø8 MAX"},
        {"7;Angle;45;;44.5;", "45° -0.5 MIN"},
    };
    std::string table = "No;Description;Nominal;USL;LSL;Unit\n";
    for (const auto& [row, is] : rows)
      table += row + (row[0] == '7' ? "deg\n" : "\n");
    const auto list = requirementList(tableOf(table), "single.csv");
    VERIFY_OK(list);
    QCOMPARE(list->rows.size(), rows.size());
    for (std::size_t i = 0; i < rows.size(); ++i) {
      const ListedRequirement& row = list->rows[i];
      QVERIFY2(row.typed.size() == 1, fmt::format("{}: {}", rows[i].first, row.fault).c_str());
      QCOMPARE(describe(row.typed[0].requirement), rows[i].second);
    }
  }

  // Rows that are not taken each say why.
  void faultsAreTold() {
    const std::vector<std::pair<std::string, std::string>> odd{
        {"1;Hole;M8;;;;", "touched"},
        {"2;Wall thickness;;;;;", "no figure"},
        {"3;Depth;10;0.2;;;", "upper limit 0.2 is not near its nominal"},
        {"4;Position;;;;;A|B", "no tolerance"},
        {"5;Bore ø8 ±0.1;9;;;;", "its nominal 9"},
        {"6;Bore diameter;8;;;Q99;", "Q99"},
        {"7;Length;abc;;;;", "no nominal"},
    };
    std::string table = "No;Description;Nominal;USL;LSL;Tolerance;Datums\n";
    for (const auto& [row, why] : odd)
      table += row + "\n";
    const auto list = requirementList(tableOf(table), "odd.csv");
    VERIFY_OK(list);
    QCOMPARE(list->rows.size(), odd.size());
    for (std::size_t i = 0; i < odd.size(); ++i) {
      const std::string& fault = list->rows[i].fault;
      QVERIFY2(fault.find(odd[i].second) != std::string::npos,
               fmt::format("{}: '{}'", odd[i].first, fault).c_str());
      QVERIFY(fault.find('\n') == std::string::npos);
      QVERIFY(list->rows[i].typed.empty());
    }
  }

  void noTable() {
    for (const char* text :
         {"", "hello", "1;2;3\n4;5;6\n", "x,y,z\n1,2,3\n", "No;Page;Date\n1;2;3\n"}) {
      const auto list = requirementList(tableOf(text), "none.csv");
      QVERIFY2(!list, text);
      QVERIFY(list.error().message.find("none.csv") == 0);
    }
    const auto empty =
        requirementList(tableOf("No;Description;Nominal;Tolerance\n\n;;;\n"), "a.csv");
    QVERIFY(!empty);
    QVERIFY2(empty.error().message.find("no row") != std::string::npos,
             empty.error().message.c_str());
  }

  // Limits and deviations are told apart by more than their titles, diameters from widths by words.
  void limitsAndDeviations() {
    const auto read = [](const std::string& titles, const std::string& row) {
      const auto list = requirementList(tableOf(titles + "\n" + row + "\n"), "a.csv");
      return list && list->rows.size() == 1 && list->rows[0].typed.size() == 1
                 ? list->rows[0].typed.front().requirement
                 : Requirement{};
    };
    const std::string limits = "No;Description;Nominal;USL;LSL",
                      deviations = "No;Description;Nominal;Upper tol;Lower tol";
    struct Row {
      std::string titles, row;
      double lower, upper;
    };
    for (const Row& r :
         {Row{limits, "1;Gap;0.1;0.2;0", 0, 0.2}, Row{limits, "1;Length;40;0.1;-0.1", 39.9, 40.1},
          Row{limits, "1;Length;20;19.98;19.959", 19.959, 19.98},
          Row{deviations, "1;Gap;0.15;0.2;0.1", 0.25, 0.35},
          Row{deviations, "1;Length;120;120.2;119.8", 119.8, 120.2}}) {
      const Requirement q = read(r.titles, r.row);
      QVERIFY2(std::abs(q.lower - r.lower) < 1e-9 && std::abs(q.upper - r.upper) < 1e-9,
               fmt::format("{}: {} to {}", r.row, q.lower, q.upper).c_str());
    }
    QVERIFY(read(limits, "1;Slot width next to bore;12;12.1;11.9").zone == Zone::Planar);
    QVERIFY(read(limits, "1;Whole width;12;12.1;11.9").zone == Zone::Planar);
    QVERIFY(read(limits, "1;Bore 4;12;12.1;11.9").zone == Zone::Diametral);
  }

  void inInch() {
    const auto list = requirementList(
        tableOf(
            "No;Description;Nominal [in];Tolerance\n1;Bore diameter;.500;.001\n2;Angle;45;0.5\n"),
        "inch.csv");
    VERIFY_OK(list);
    NEAR(list->rows[0].typed.front().requirement.nominal, 12.7, 1e-9);
    NEAR(list->rows[0].typed.front().requirement.upper, 12.7 + 0.0254, 1e-9);
    NEAR(list->rows[1].typed.front().requirement.nominal, radians(45), 1e-9);
    const auto by_row = requirementList(tableOf("No,Description,Nominal,Tolerance,Unit\n1,Bore "
                                                "diameter,0.5,0.001,in\n2,Length,20,0.1,mm\n"),
                                        "units.csv");
    VERIFY_OK(by_row);
    NEAR(by_row->rows[0].typed.front().requirement.nominal, 12.7, 1e-9);
    NEAR(by_row->rows[1].typed.front().requirement.nominal, 20.0, 1e-9);
  }

  // Exactly one place fits: tied at once. Else it waits, and the place meant is among those
  // proposed, with a reason.
  void featuresOfTheHeron() {
    const auto step = demo::heronPlainStep();
    VERIFY_OK(step);
    const auto part = importStep(*step, "heron.step");
    VERIFY_OK(part);
    const auto list = requirementList(
        tableOf("No;Zone;Description;Nominal;Upper tol;Lower tol;Tolerance;Datums;Key\n"
                "10;C4;Well bore diameter;32;0.025;0;;;SC\n"
                "20;C4;Cylindricity of bore;;;;0.015;;\n"
                "30;D5;6x ø11 +0.2/-0.1;;;;;;CC\n"
                "40;;Height of boss;40;0.1;-0.1;;;\n"
                "30;;Dowel hole diameter;8;;;H8;;\n"
                "x;;Bore ø77 ±0.1;;;;;;\n"),
        "heron.csv");
    VERIFY_OK(list);
    const TakenList taken = takeList(**part, {}, *list, "heron.csv");
    QCOMPARE(taken.taken.size(), std::size_t(6));
    QCOMPARE(taken.tied, std::size_t(2));
    const auto r = [&](std::size_t i) -> const Requirement& {
      return taken.spec.requirement(taken.taken[i]);
    };
    QCOMPARE(r(0).balloon, 10);
    QCOMPARE(r(0).key, std::string("SC"));
    QCOMPARE(r(0).sheet_zone, std::string("C4"));
    QCOMPARE(taken.spec.feature(r(0).features.front()).name, std::string("Bore ø32"));
    QCOMPARE(r(2).features.size(), std::size_t(6));
    QVERIFY(r(1).features.empty() && r(3).features.empty() && r(4).features.empty());
    // Numbers that are given twice, or are none, go on behind the others.
    QVERIFY(r(4).balloon > 40 && r(5).balloon > 40 && r(4).balloon != r(5).balloon);
    const auto bore = suggestionsFor(**part, taken.spec, r(1));
    QVERIFY(!bore.empty());
    QVERIFY(bore.front().faces == taken.spec.feature(r(0).features.front()).faces);
    const auto height = suggestionsFor(**part, taken.spec, r(3));
    QVERIFY(!height.empty() && !height.front().why.empty());
    QVERIFY(suggestionsFor(**part, taken.spec, r(5)).empty()); // no ø77 on it
    // Told which, it has them, and keeps its number and class.
    const auto now = tied(**part, taken.spec, r(1).id, bore.front().faces);
    VERIFY_OK(now);
    const Requirement& after = now->spec.requirement(r(1).id);
    QCOMPARE(after.features, r(0).features);
    QCOMPARE(after.balloon, 20);
    NEAR(after.tolerance, 0.015, 1e-12);
    QVERIFY(!tied(**part, taken.spec, r(1).id, {}));
    // Once more: what is tied is there already.
    const TakenList again = takeList(**part, taken.spec, *list, "heron.csv");
    QCOMPARE(again.tied, std::size_t(0));
    QCOMPARE(std::count_if(again.notes.begin(), again.notes.end(),
                           [](const std::string& n) {
                             return n.find("is there already") != std::string::npos;
                           }),
             2);
  }

  void fromAWorkbook() {
    const std::string bytes =
        test::madeWorkbook({{"No", "Description", "Nominal", "Tolerance", "Datums"},
                            {"1", "Bore diameter", "32", "0.02", ""},
                            {"2", "Flatness", "", "0.05", ""}},
                           true);
    const auto text = resultText(bytes, "list.xlsx");
    VERIFY_OK(text);
    const auto list = requirementList(*text, "list.xlsx");
    VERIFY_OK(list);
    QCOMPARE(list->rows.size(), std::size_t(2));
    NEAR(list->rows[0].typed.front().requirement.nominal, 32.0, 1e-12);
    QVERIFY(list->rows[1].typed.front().requirement.kind == K::Flatness);
  }
};

} // namespace

ALDER_TEST(RequirementListTest)
#include "requirement_list_test.moc"
