#include "base/files.h"
#include "base/units.h"
#include "exchange/points/sheet.h"
#include "judge/judge.h"
#include "sheets.h"

#include <QTemporaryDir>
#include <nlohmann/json.hpp>

using namespace alder;
using namespace alder::test;

// Requirements on points of any source: figures worked out by hand.
class SheetTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

 private slots:
  void forms() {
    // A saddle of 0.02: the zone is its height.
    const auto saddle = [](double x, double y) {
      return (x == 50 || y == 30) ? 0.0 : ((x == 0) == (y == 0) ? 0.01 : -0.01);
    };
    figure(J::array({plane("P", 40, saddle)}),
           {{"kind", "flatness"}, {"feature", "P"}, {"tolerance", 0.03}}, 0.02);
    // Three lobes of 0.005: 0.01 about the best circle, the same in each ring.
    J rings = J::array();
    for (const double z : {5.0, 15.0, 25.0})
      rings.push_back(ring(36, z, [](double a) { return 10 + 0.005 * std::cos(3 * a); }));
    const J bore = J::array({cylinder("B", true, 0, 0, 20, rings)});
    for (const char* kind : {"roundness", "cylindricity"})
      figure(bore, {{"kind", kind}, {"feature", "B"}, {"tolerance", 0.02}}, 0.01, 1e-5);
    // Generators bent by 0.01 in their middle: straight within 0.01.
    J lines = J::array();
    for (const double a : {0.0, 1.5, 3.0}) {
      J line = J::array();
      for (int i = 0; i <= 10; ++i) {
        const double r = 10 + 0.01 * (i == 5);
        line.push_back({r * std::cos(a), r * std::sin(a), 3.0 * i});
      }
      lines.push_back(line);
    }
    figure(J::array({cylinder("B", true, 0, 0, 20, lines)}),
           {{"kind", "straightness"}, {"feature", "B"}, {"tolerance", 0.02}}, 0.01, 1e-5);
    // The centres of the rings leave their line by 0.01: a cylinder of 0.01 holds them.
    J bent = J::array();
    for (const double z : {0.0, 10.0, 20.0, 30.0})
      bent.push_back(ring(
          24, z, [](double) { return 6.0; }, z == 10 || z == 20 ? 0.01 : 0));
    figure(J::array({cylinder("C", false, 0, 0, 12, bent)}),
           {{"kind", "straightness"}, {"feature", "C"}, {"tolerance", 0.02}, {"of", "median_line"}},
           0.01, 1e-5);
  }
  void sizes() {
    J rings = J::array({ring(36, 5, [](double a) { return 10 + 0.005 * std::cos(3 * a); })});
    rings.push_back(ring(36, 15, [](double a) { return 10 + 0.01 * std::cos(2 * a); }));
    const J bore = J::array({cylinder("B", true, 0, 0, 20, rings)});
    const auto size = [](const char* association) {
      J r{{"kind", "size"}, {"feature", "B"}, {"lower", 19.9}, {"upper", 20.1}};
      if (*association) r["association"] = association;
      return r;
    };
    figure(bore, size("two_point_max"), 20.02);
    figure(bore, size("two_point_min"), 19.98);
    figure(bore, size("ls"), 20.0, 1e-5);
    figure(bore, size("mi"), 19.98, 1e-3);
    // Rule #1: the envelope of a hole must not be below its least size, though each diameter is
    // not.
    J lobes = J::array();
    for (const double z : {5.0, 15.0, 25.0})
      lobes.push_back(ring(36, z, [](double a) { return 10 + 0.02 * std::cos(3 * a); }));
    const J rule = J::array({cylinder("B", true, 0, 0, 20, lobes)});
    const J limits{{"kind", "size"}, {"feature", "B"}, {"lower", 19.98}, {"upper", 20.05}};
    QVERIFY(evaluate(rule, limits)->verdict != Verdict::Outside);
    QVERIFY(evaluate(rule, limits, "ASME")->verdict == Verdict::Outside);
    figure(rule, limits, 19.96, 1e-5, "ASME");
  }
  // 20 with lobes: diameters from 19.98 to 20.02.
  void singleLimits() {
    J rings = J::array();
    for (const double z : {5.0, 15.0})
      rings.push_back(ring(36, z, [](double a) { return 10 + 0.01 * std::cos(2 * a); }));
    const J bore = J::array({cylinder("B", true, 0, 0, 20, rings)});
    const auto judged = [&](const char* which, double limit, double nominal = 20) {
      return evaluate(bore,
                      {{"kind", "size"}, {"feature", "B"}, {which, limit}, {"nominal", nominal}});
    };
    // The largest decides of an upper limit, the smallest of a lower one, however near.
    for (const auto& [which, limit, worst, verdict] :
         {std::tuple{"upper", 20.021, 20.02, Verdict::Within},
          {"upper", 20.02, 20.02, Verdict::Within},
          {"upper", 20.019, 20.02, Verdict::Outside},
          {"upper", 40.0, 20.02, Verdict::Within},
          {"lower", 19.979, 19.98, Verdict::Within},
          {"lower", 19.981, 19.98, Verdict::Outside},
          {"lower", 0.5, 19.98, Verdict::Within}}) {
      const auto e = judged(which, limit);
      VERIFY_OK(e);
      NEAR(*e->actual, worst, 1e-6);
      QVERIFY2(e->verdict == verdict, fmt::format("{} {}", which, limit).c_str());
      QVERIFY(std::isinf(e->lower) == (std::string(which) == "upper"));
      QVERIFY(std::isinf(e->upper) == (std::string(which) == "lower"));
      NEAR(*e->deviation, worst - 20, 1e-6);
    }
    // Of two holes the one that is farther from the open side.
    J small = J::array(), large = J::array();
    for (const double z : {5.0, 15.0}) {
      small.push_back(ring(36, z, [](double) { return 10.0; }));
      large.push_back(ring(
          36, z, [](double) { return 10.1; }, 50, 0));
    }
    const J two =
        J::array({cylinder("S", true, 0, 0, 20, small), cylinder("L", true, 50, 0, 20, large)});
    for (const auto& [which, worst] : {std::pair{"upper", 20.2}, {"lower", 20.0}}) {
      const auto e = evaluate(two, {{"kind", "size"}, {"features", {"S", "L"}}, {which, 20.1}});
      VERIFY_OK(e);
      QVERIFY2(e->verdict == Verdict::Outside, e->how.c_str());
      NEAR(*e->actual, worst, 1e-6);
      QCOMPARE(static_cast<int>(std::count_if(
                   e->features.begin(), e->features.end(),
                   [](const FeatureResult& f) { return f.verdict == Verdict::Outside; })),
               1);
    }
    // What is not proved by the uncertainty, on the side where there is a limit.
    const auto doubtful = evaluate(
        bore, {{"kind", "size"}, {"feature", "B"}, {"upper", 20.021}, {"uncertainty", 0.01}});
    VERIFY_OK(doubtful);
    QVERIFY(doubtful->verdict == Verdict::NotProved);
    const auto neither = evaluate(bore, {{"kind", "size"}, {"feature", "B"}});
    QVERIFY(!neither);
  }
  // M of a hole counts from its lower limit; where that is open it is said, never taken as endless.
  void singleLimitsAndMaterial() {
    const J a = plane("A", 0, flat, -1);
    J at = J::array();
    for (const double z : {5.0, 15.0, 25.0})
      at.push_back(ring(36, z, [](double) { return 10.02; }));
    const J bore = cylinder("B", true, 0, 0, 20, at);
    const auto with = [&](const char* which, const char* modifier) {
      const J sheet{{"standard", "ISO"},
                    {"features", {a, bore}},
                    {"requirements",
                     {{{"id", "s"}, {"kind", "size"}, {"feature", "B"}, {which, 20.0}},
                      {{"id", "p"},
                       {"kind", "perpendicularity"},
                       {"feature", "B"},
                       {"tolerance", 0.05},
                       {"zone", "diameter"},
                       {"modifier", modifier},
                       {"datums", {{{"feature", "A"}}}}}}}};
      const auto read = readSheet(sheet.dump(), "sheet.json");
      return read ? judge(read->plan, read->plan.spec.requirements[1], read->measured)
                  : Evaluation{};
    };
    const Evaluation bonus = with("lower", "M");
    QVERIFY2(bonus.actual.has_value(), bonus.how.c_str());
    NEAR(bonus.upper, 0.05 + 0.04, 1e-6); // 20.04 is 0.04 above its least size
    const Evaluation open = with("upper", "M");
    QVERIFY(!open.actual);
    QVERIFY2(open.how.find("lower limit of its size, which is open") != std::string::npos,
             open.how.c_str());
    QVERIFY(with("upper", "L").how.find("open") == std::string::npos);
  }
  void orientationAndLocation() {
    const J a = plane("A", 0, flat, -1);
    // A plane tilted by 0.001 over 100 mm: 0.1 to be parallel.
    figure(J::array({a, plane("P", 40, [](double x, double) { return 0.001 * x; })}),
           {{"kind", "parallelism"},
            {"feature", "P"},
            {"tolerance", 0.2},
            {"datums", {{{"feature", "A"}}}}},
           0.1);
    // An axis that leans 0.001 over 30 mm.
    J rings = J::array();
    for (const double z : {0.0, 10.0, 20.0, 30.0})
      rings.push_back(ring(
          24, z, [](double) { return 6.0; }, 70 + 0.001 * z, 20));
    const J leaning = cylinder("C", false, 70, 20, 12, rings);
    for (const char* association : {"", "ls", "median_line"}) {
      J r{{"kind", "perpendicularity"},
          {"feature", "C"},
          {"tolerance", 0.05},
          {"datums", {{{"feature", "A"}}}}};
      if (*association) r["association"] = association;
      figure(J::array({a, leaning}), r, 0.03, 1e-6);
    }
    // A bore off by (0.03, 0.04) is at twice 0.05, from the axis of a shaft in place.
    J at = J::array(), shaft = J::array();
    for (const double z : {5.0, 15.0, 25.0}) {
      at.push_back(ring(
          24, z, [](double) { return 10.0; }, 20.03, 20.04));
      shaft.push_back(ring(
          24, z, [](double) { return 6.0; }, 70, 20));
    }
    const J bore = cylinder("B", true, 20, 20, 20, at), c = cylinder("C", false, 70, 20, 12, shaft);
    const J b_side{{"id", "S"},
                   {"shape", "plane"},
                   {"nominal", {{"point", {0, 0, 0}}, {"direction", {0, -1, 0}}}},
                   {"points", {{0, 0, 0}, {100, 0, 0}, {100, 0, 20}, {0, 0, 20}}}};
    J position{{"kind", "position"},
               {"feature", "B"},
               {"tolerance", 0.2},
               {"zone", "diameter"},
               {"datums", {{{"feature", "A"}}, {{"feature", "C"}}, {{"feature", "S"}}}}};
    for (const char* datums : {"tangent", "ls"}) {
      position["datum_association"] = datums;
      figure(J::array({a, bore, c, b_side}), position, 0.1, 1e-6);
    }
    // Coaxial to itself is nothing; a runout about a neighbour is twice the distance in reach.
    figure(J::array({bore}),
           {{"kind", "coaxiality"},
            {"feature", "B"},
            {"tolerance", 0.1},
            {"datums", {{{"feature", "B"}}}}},
           0.0, 1e-7);
  }
  void bonusAndShift() {
    const J a = plane("A", 0, flat, -1);
    J at = J::array(), shaft = J::array();
    for (const double z : {5.0, 15.0, 25.0}) {
      at.push_back(ring(
          36, z, [](double) { return 10.02; }, 20.05, 20));
      shaft.push_back(ring(
          36, z, [](double) { return 6.0; }, 70, 20));
    }
    J bore = cylinder("B", true, 20, 20, 20, at);
    bore["size_limits"] = {19.9, 20.1};
    const J c = cylinder("C", false, 70, 20, 12, shaft);
    J position{{"kind", "position"}, {"feature", "B"},
               {"tolerance", 0.05},  {"zone", "diameter"},
               {"modifier", "M"},    {"datums", {{{"feature", "A"}}, {{"feature", "C"}}}}};
    auto e = evaluate(J::array({a, bore, c}), position);
    VERIFY_OK(e);
    NEAR(e->upper, 0.05 + 0.14, 1e-6); // 20.04 is 0.14 above the least size
    NEAR(*e->actual, 0.1, 1e-6);
    QVERIFY(e->verdict == Verdict::Within);
    // The shaft is 12.00 in a boundary of 12.04: the bore may follow by 0.02 each way.
    position["datums"][1]["modifier"] = "M";
    position["datums"][1]["size"] = 12.04;
    figure(J::array({a, bore, c}), position, 0.1 - 0.04, 1e-5);
    position["datums"][1]["size"] = 12.2;
    figure(J::array({a, bore, c}), position, 0.0, 1e-5);
    // Without limits there is no bonus to compute: it is said.
    bore.erase("size_limits");
    e = evaluate(J::array({a, bore, c}), position);
    VERIFY_OK(e);
    QVERIFY(!e->actual && e->how.find("limits") != std::string::npos);
  }
  void profiles() {
    const J a = plane("A", 0, flat, -1);
    const J high = plane("P", 40, [](double x, double) { return x == 100 ? 0.03 : 0.01; });
    J r{{"kind", "surface_profile"},
        {"feature", "P"},
        {"tolerance", 0.1},
        {"datums", {{{"feature", "A"}}}}};
    figure(J::array({a, high}), r, 0.06);
    r["unequal"] = 0.02;
    figure(J::array({a, high}), r, 0.02);
    r["datums"] = J::array();
    r["unequal"] = 0;
    // Free to follow: what is left of a hump is its flatness.
    figure(J::array({high}), r, 0.01, 1e-6);
  }
  void distancesAndAngles() {
    const J a = plane("A", 0, flat, -1),
            tilted = plane("P", 40, [](double x, double) { return x * std::tan(radians(1)); });
    figure(J::array({a, plane("Q", 40.02, flat)}),
           {{"kind", "distance"}, {"features", {"A", "Q"}}, {"lower", 39}, {"upper", 41}}, 40.02);
    figure(J::array({a, tilted}),
           {{"kind", "angle"}, {"features", {"A", "P"}}, {"lower", 0}, {"upper", 2}}, radians(1),
           1e-9);
  }
  void filesBesideTheSheet() {
    QString text = "x,y,z\n";
    for (const auto& [x, y] : {std::pair{0, 0}, {10, 0}, {0, 10}, {10, 10}})
      text += QString("%1,%2,%3\n").arg(x).arg(y).arg(x == y ? 0.01 : 0);
    VERIFY_OK(writeFile(dir_.filePath("p.csv").toStdString(), text.toStdString()));
    const J sheet{{"features", {{{"id", "P"}, {"shape", "plane"}, {"points", "p.csv"}}}},
                  {"requirements",
                   {{{"id", "r"}, {"kind", "flatness"}, {"feature", "P"}, {"tolerance", 0.1}}}}};
    const auto read = readSheet(sheet.dump(), dir_.filePath("sheet.json").toStdString());
    VERIFY_OK(read);
    const auto e = judge(read->plan, read->plan.spec.requirements[0], read->measured);
    QVERIFY(e.actual.has_value());
    NEAR(*e.actual, 0.01, 1e-6);
  }
  void badSheets_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    const auto row = [](const char* name, const QString& text, const char* says) {
      QTest::newRow(name) << text << QString(says);
    };
    const QString p =
        R"("features":[{"id":"P","shape":"plane","points":[[0,0,0],[1,0,0],[0,1,0]]}])";
    const QString r =
        R"("requirements":[{"id":"r","kind":"flatness","feature":"P","tolerance":1}])";
    row("empty", "", "sheet.json");
    row("not an object", "[]", "JSON object");
    row("cut off", "{\"features\": [", "line 1");
    row("no features", "{" + r + "}", "has no feature");
    row("no requirements", "{" + p + "}", "there is none");
    row("unknown feature", "{" + p + "," + QString(r).replace("\"P\"", "\"Q\"") + "}", "\"Q\"");
    row("kind", "{" + p + "," + QString(r).replace("flatness", "niceness") + "}", "characteristic");
    row("shape", "{" + QString(p).replace("plane", "banana") + "," + r + "}", "banana");
    row("point", "{" + QString(p).replace("[1,0,0]", "[1,\"x\",0]") + "," + r + "}", "points[1]");
    row("file",
        "{" + QString(p).replace("[[0,0,0],[1,0,0],[0,1,0]]", "\"none.csv\"") + "," + r + "}",
        "none.csv");
    row("tolerance", "{" + p + "," + QString(r).replace(":1}", ":-1}") + "}", "above zero");
    row("standard", "{\"standard\":\"DIN\"," + p + "," + r + "}", "not one of ISO");
    row("zero normal",
        "{" + QString(p).replace("\"points\"", "\"nominal\":{\"direction\":[0,0,0]},\"points\"") +
            "," + r + "}",
        "zero");
  }
  void badSheets() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    const auto read = readSheet(text.toStdString(), "sheet.json");
    QVERIFY(!read);
    QVERIFY2(read.error().message.find(says.toStdString()) != std::string::npos,
             read.error().message.c_str());
    QVERIFY(read.error().message.find('\n') == std::string::npos);
  }
  void tooFewPointsGiveNoFigure() {
    const J two{{"id", "P"},
                {"shape", "plane"},
                {"nominal", {{"point", {0, 0, 0}}, {"direction", {0, 0, 1}}}},
                {"points", {{0, 0, 0}, {1, 0, 0}}}};
    const auto e =
        evaluate(J::array({two}), {{"kind", "flatness"}, {"feature", "P"}, {"tolerance", 1}});
    VERIFY_OK(e);
    QVERIFY(!e->actual && e->verdict == Verdict::Unmeasured);
    QVERIFY(e->how.find("at least 3") != std::string::npos);
  }
};
ALDER_TEST(SheetTest)
#include "sheet_test.moc"
