#include "judge/judge.h"
#include "sheets.h"
#include <set>

using namespace alder;
using namespace alder::test;

// What constructed features, filters, sizes, directions and formulas make of a figure.
class SheetJudgingTest : public QObject {
  Q_OBJECT

 private slots:
  void constructedFeatures() {
    // Four bores on a circle of 80, one 0.2 farther out than it should be.
    J features = J::array();
    const auto bore = [](const char* id, double x, double y) {
      return cylinder(id, true, x, y, 10,
                      J::array({ring(
                                    8, 5, [](double) { return 5.0; }, x, y),
                                ring(
                                    8, 25, [](double) { return 5.0; }, x, y)}));
    };
    features = {bore("a", 40, 0),
                bore("b", 0, 40),
                bore("c", -40, 0),
                bore("d", 0, -40),
                plane("P", 0, flat),
                {{"id", "circle"},
                 {"from", {{"construct", "circle_through"}, {"of", {"a", "b", "c", "d"}}}}},
                {{"id", "half"}, {"from", {{"construct", "middle"}, {"of", {"a", "circle"}}}}},
                {{"id", "edge"}, {"from", {{"construct", "pierce"}, {"of", {"a", "P"}}}}}};
    figure(features, {{"kind", "size"}, {"feature", "circle"}, {"lower", 79}, {"upper", 81}}, 80);
    figure(features,
           {{"kind", "distance"}, {"features", {"half", "edge"}}, {"lower", 0}, {"upper", 50}},
           std::hypot(20.0, 15.0));
    // As a datum: the bore lies 40 from the centre of the circle, wherever that is.
    J moved = features;
    moved[0] = bore("a", 40.3, 0);
    moved[0]["nominal"]["point"] = {40, 0, 0};
    const J located{{"kind", "position"},
                    {"feature", "a"},
                    {"tolerance", 1},
                    {"datums", {{{"feature", "P"}}, {{"feature", "half"}}}}};
    QVERIFY(evaluate(moved, located)->actual.has_value());
    // What it stands on is not there.
    J poor = features;
    poor[0]["sections"] = J::array({ring(8, 5, [](double) { return 5.0; })});
    const auto e =
        evaluate(poor, {{"kind", "size"}, {"feature", "circle"}, {"lower", 79}, {"upper", 81}});
    VERIFY_OK(e);
    QVERIFY(!e->actual || std::isfinite(*e->actual));
  }
  void constructedFromThemselves() {
    const J features{{{"id", "x"}, {"from", {{"construct", "copy"}, {"of", {"y"}}}}},
                     {{"id", "y"}, {"from", {{"construct", "copy"}, {"of", {"x"}}}}}};
    const auto e = evaluate(
        features, {{"kind", "distance"}, {"features", {"x", "y"}}, {"lower", 0}, {"upper", 1}});
    QVERIFY(!e);
    QVERIFY2(e.error().message.find("x -> y -> x") != std::string::npos, e.error().message.c_str());
  }
  void gaugeDiameterOfACone() {
    J rings = J::array();
    for (const double z : {2.0, 10.0, 18.0})
      rings.push_back(ring(12, z, [z](double) { return 10 + 0.02 + z; }));
    J cone = cylinder("C", true, 0, 0, 20, rings);
    cone["shape"] = "cone";
    cone["nominal"]["apex_angle_deg"] = 90;
    const J gauge{{"id", "g"},
                  {"from", {{"construct", "gauge_circle"}, {"of", {"C"}}, {"diameter", 40}}}};
    // Wide by 0.04, so the gauge diameter lies 0.02 deeper: 10 from z = 0 less 0.02.
    figure(J::array({cone, gauge, plane("P", 0, flat)}),
           {{"kind", "distance"}, {"features", {"P", "g"}}, {"lower", 9}, {"upper", 11}}, 9.98);
  }
  void filtersAndOutliers() {
    // Three lobes and fast waves of 0.004: a filter of 15 undulations leaves the lobes.
    J rings = J::array();
    for (const double z : {5.0, 25.0})
      rings.push_back(ring(
          720, z, [](double a) { return 10 + 0.01 * std::cos(3 * a) + 0.004 * std::cos(90 * a); }));
    const double lobes = 0.02 * std::exp(-std::log(2.0) * std::pow(3.0 / 15, 2));
    J features = J::array({cylinder("B", true, 0, 0, 20, rings)});
    const J plain{{"kind", "roundness"}, {"feature", "B"}, {"tolerance", 0.1}};
    figure(features, plain, 0.028, 1e-4);
    J filtered = plain;
    filtered["filter"] = {{"kind", "gaussian"}, {"undulations", 15}};
    figure(features, filtered, lobes, 2e-5);
    QVERIFY(evaluate(features, filtered)->how.find("15 undulations") != std::string::npos);
    // The feature's own filter holds for requirements without one, and is not applied again.
    features[0]["filter"] = {{"kind", "gaussian"}, {"undulations", 15}};
    figure(features, plain, lobes, 2e-5);
    figure(features, filtered, lobes, 2e-5);
    J none = plain;
    none["filter"] = {{"kind", "none"}};
    figure(features, none, 0.028, 1e-4);
    // One wild point of 720 does not survive.
    J wild_rings = J::array();
    for (const double z : {5.0, 25.0})
      wild_rings.push_back(ring(720, z, [z](double a) {
        return 10 + 0.01 * std::cos(3 * a) + (z == 5 && std::abs(a - 1) < 0.0045 ? 0.5 : 0);
      }));
    const J wild = J::array({cylinder("B", true, 0, 0, 20, wild_rings)});
    J careful = plain;
    careful["filter"] = {{"outlier_sigma", 4}};
    careful["association"] = "ls";
    QVERIFY(*evaluate(wild, plain)->actual > 0.2);
    const auto kept = evaluate(wild, careful);
    VERIFY_OK(kept);
    QVERIFY2(kept->actual.has_value(), kept->how.c_str());
    NEAR(*kept->actual, 0.02, 1e-4);
    const auto& deviations = kept->features[0].deviations;
    QCOMPARE(deviations.size(), std::size_t(1440));
    QVERIFY(std::count_if(deviations.begin(), deviations.end(),
                          [](double d) { return std::isnan(d); }) >= 1);
    // A plane of scattered points has no profile.
    const auto flatness = evaluate(J::array({plane("P", 0, flat)}),
                                   {{"kind", "flatness"},
                                    {"feature", "P"},
                                    {"tolerance", 1},
                                    {"filter", {{"kind", "gaussian"}, {"cutoff_mm", 0.8}}}});
    VERIFY_OK(flatness);
    QVERIFY(!flatness->actual && flatness->how.find("no lines") != std::string::npos);
    QVERIFY(!evaluate(features, {{"kind", "roundness"},
                                 {"feature", "B"},
                                 {"tolerance", 1},
                                 {"filter", {{"kind", "gaussian"}}}}));
  }
  void distancesAndAnglesAlong() {
    const auto ball = [](const char* id, double x, double y, double z) {
      J points = J::array();
      for (const auto& d :
           {Vec3(1, 0, 0), Vec3(-1, 0, 0), Vec3(0, 1, 0), Vec3(0, -1, 0), Vec3(0, 0, 1)})
        points.push_back({x + 5 * d.x(), y + 5 * d.y(), z + 5 * d.z()});
      return J{{"id", id}, {"shape", "sphere"}, {"points", points}};
    };
    const J balls = J::array({ball("a", 0, 0, 0), ball("b", 30, 40, 7)});
    const auto distance = [&](const J& more, double expected) {
      J r{{"kind", "distance"}, {"features", {"a", "b"}}, {"lower", 0}, {"upper", 100}};
      r.update(more);
      figure(balls, r, expected);
    };
    distance(J::object(), std::sqrt(900 + 1600 + 49.0));
    distance({{"along", "x"}}, 30);
    distance({{"along", "y"}}, 40);
    distance({{"along", "z"}}, 7);
    QVERIFY(!evaluate(balls, {{"kind", "distance"},
                              {"features", {"a", "b"}},
                              {"lower", 0},
                              {"upper", 1},
                              {"along", "w"}}));
    // A step that leans by 0.001: its nearest and farthest points.
    const J step = J::array(
        {plane("low", 0, flat), plane("high", 10, [](double x, double) { return 0.001 * x; })});
    for (const auto& [extreme, expected] : {std::pair{"smallest", 10.0}, {"largest", 10.1}})
      figure(step,
             {{"kind", "distance"},
              {"features", {"low", "high"}},
              {"lower", 9},
              {"upper", 11},
              {"extreme", extreme}},
             expected);
    // A slope of 1 in 1 in x and of 0.2 in y: 45 degrees seen along y.
    const J slope = J::array(
        {plane("low", 0, flat), plane("high", 10, [](double x, double y) { return x + 0.2 * y; })});
    figure(slope,
           {{"kind", "angle"},
            {"features", {"low", "high"}},
            {"lower", 40},
            {"upper", 50},
            {"along", "y"}},
           radians(45), 1e-9);
  }
  // Every single field set to nonsense is one line or harmless, never a crash.
  void nonsenseInAnyField() {
    const J bore = cylinder("B", true, 0, 0, 20,
                            J::array({ring(8, 5, [](double) { return 10.0; }),
                                      ring(8, 25, [](double) { return 10.0; })}));
    J features = J::array({bore, plane("A", 0, flat)});
    features[0]["size_limits"] = {19.9, 20.1};
    features[0]["filter"] = {{"kind", "robust"}, {"undulations", 3}, {"outlier_sigma", 3}};
    features.push_back({{"id", "p"},
                        {"from",
                         {{"construct", "copy"},
                          {"of", {"B"}},
                          {"offset", {0, 0, 1}},
                          {"turn_deg", {0, 0, 90}}}}});
    const J good{
        {"standard", "ISO"},
        {"uncertainty", 0.001},
        {"near_share", 0.8},
        {"features", features},
        {"requirements",
         J::array(
             {{{"id", "1"},
               {"kind", "position"},
               {"feature", "B"},
               {"tolerance", 0.1},
               {"modifier", "M"},
               {"projected", 5},
               {"separate", true},
               {"datums",
                {{{"feature", "A"},
                  {"locks", "zuv"},
                  {"targets", {{{"point", {0, 0, 0}}, {"diameter", 400}}}}}}}},
              {{"id", "2"}, {"kind", "value"}, {"formula", "#1 + 1"}, {"lower", 0}, {"upper", 3}},
              {{"id", "3"},
               {"kind", "distance"},
               {"features", {"A", "p"}},
               {"lower", 0},
               {"upper", 30},
               {"along", "z"},
               {"extreme", "largest"},
               {"uncertainty", 0.01}}})}};
    QVERIFY(readSheet(good.dump(), "sheet.json").has_value());
    std::set<std::string> places; // all values and all that holds them
    const J flattened = good.flatten();
    for (const auto& [key, value] : flattened.items())
      for (std::string at = key; !at.empty(); at = at.substr(0, at.rfind('/')))
        places.insert(at);
    for (const std::string& place : places)
      for (const J& nonsense :
           {J("x"), J(-5), J(1e300), J::array({1}), J::object(), J(), J(true)}) {
        J bad = good;
        bad[J::json_pointer(place)] = nonsense;
        const auto read = readSheet(bad.dump(), "sheet.json");
        if (!read) {
          QVERIFY2(read.error().message.find('\n') == std::string::npos, place.c_str());
          continue;
        }
        for (std::size_t i = 0; i < read->listed; ++i) {
          const auto e = judge(read->plan, read->plan.spec.requirements[i], read->measured);
          QVERIFY2(!e.actual || std::isfinite(*e.actual), place.c_str());
          QVERIFY2(!e.how.empty(), place.c_str());
        }
      }
  }
  // Three lobes hide from every diameter, not from the envelope.
  void envelopeRequirement() {
    J rings = J::array();
    for (const double z : {5.0, 25.0})
      rings.push_back(ring(36, z, [](double a) { return 10 + 0.01 * std::cos(3 * a); }));
    const J bore = J::array({cylinder("B", true, 0, 0, 20, rings)});
    J r{{"kind", "size"}, {"feature", "B"}, {"lower", 19.995}, {"upper", 20.1}};
    figure(bore, r, 20, 1e-4);
    QVERIFY(evaluate(bore, r)->verdict != Verdict::Outside);
    r["envelope"] = true;
    figure(bore, r, 19.98, 1e-4);
    QVERIFY(evaluate(bore, r)->verdict == Verdict::Outside);
    QVERIFY(evaluate(bore, r)->how.find("(E)") != std::string::npos);
  }
  void localSizesByRank() {
    const J rings = J::array(
        {ring(8, 5, [](double) { return 10.0; }), ring(8, 25, [](double) { return 10.01; })});
    const J bore = J::array({cylinder("B", true, 0, 0, 20, rings)});
    const J size{{"kind", "size"}, {"feature", "B"}, {"lower", 0}, {"upper", 21}};
    for (const auto& [by, expected] : {std::pair{"two_point_min", 20.0},
                                       {"two_point_max", 20.02},
                                       {"two_point_mean", 20.01},
                                       {"two_point_range", 0.02}}) {
      J r = size;
      r["association"] = by;
      figure(bore, r, expected);
    }
  }
  void middleOfLocalSizes() {
    J rings = J::array();
    for (const double r : {10.0, 10.0, 10.01})
      rings.push_back(
          ring(8, 5 + 10 * static_cast<double>(rings.size()), [=](double) { return r; }));
    const J bore = J::array({cylinder("B", true, 0, 0, 20, rings)});
    J size{{"kind", "size"}, {"feature", "B"}, {"lower", 19.9}, {"upper", 20.1}};
    for (const auto& [by, expected] :
         {std::pair{"two_point_median", 20.0}, {"two_point_mid_range", 20.01}}) {
      size["association"] = by;
      figure(bore, size, expected);
    }
  }
  // Of r = R + a cos 3t: A = pi (R^2 + a^2 / 2), C = 2 pi (R + (3 a)^2 / (4 R)) but for a^4. A
  // polygon through the touches would be 0.025 too small.
  void calculatedSizes() {
    constexpr double kLobe = 0.02;
    const auto lobed = [](double a) { return 10 + kLobe * std::cos(3 * a); };
    const auto even = [](double) { return 9.99; };
    const J bore =
        J::array({cylinder("B", true, 0, 0, 20,
                           J::array({ring(72, 5, lobed, 0.3, -0.2), ring(24, 15, even, 0.3, -0.2),
                                     ring(24, 25, even, 0.3, -0.2)}))});
    J size{{"kind", "size"},
           {"feature", "B"},
           {"association", "area"},
           {"lower", 19.9},
           {"upper", 20.02}};
    figure(bore, size, 2 * std::sqrt(100 + kLobe * kLobe / 2), 1e-6);
    size["association"] = "circumference";
    figure(bore, size, 20 + 9 * kLobe * kLobe / 20, 1e-5);
    size["lower"] = 19.97, size["upper"] = 20.1; // now the even ones are the worst
    figure(bore, size, 19.98, 1e-9);
    const auto told = [&](const J& ring_, const char* what) {
      const auto e = evaluate(
          J::array({cylinder("B", true, 0, 0, 20, J::array({ring_, ring(24, 25, even)}))}), size);
      VERIFY_OK(e);
      QVERIFY2(!e->actual && e->how.find(what) != std::string::npos, e->how.c_str());
    };
    told(ring(7, 5, even), "over 45 degrees");
    J arc = ring(48, 5, even);
    arc.erase(arc.begin(), arc.begin() + 8);
    told(arc, "over 45 degrees");
  }
  void valuesByFormula() {
    const J features = J::array({plane("low", 0, flat), plane("high", 25.4, flat),
                                 cylinder("B", true, 0, 0, 20,
                                          J::array({ring(8, 5, [](double) { return 10.0; }),
                                                    ring(8, 25, [](double) { return 10.0; })}))});
    const auto value = [&](const std::string& formula) {
      const J sheet{
          {"features", features},
          {"requirements",
           {{{"id", "step"},
             {"kind", "distance"},
             {"features", {"low", "high"}},
             {"lower", 0},
             {"upper", 30}},
            {{"id", "twice"},
             {"kind", "value"},
             {"formula", "#1 * 2"},
             {"lower", 0},
             {"upper", 60}},
            {{"id", "v"}, {"kind", "value"}, {"formula", formula}, {"lower", 0}, {"upper", 60}},
            {{"id", "round"},
             {"kind", "value"},
             {"formula", "#3 + 1"},
             {"lower", 0},
             {"upper", 60}}}}};
      const auto read = readSheet(sheet.dump(), "sheet.json");
      return judge(read->plan, read->plan.spec.requirements[2], read->measured);
    };
    NEAR(*value("#1").actual, 25.4, 1e-9);
    NEAR(*value("#2 - 1in + 2 mm").actual, 27.4, 1e-9);
    NEAR(*value("max(\"B\".diameter, 3) / 2 + \"high\".z").actual, 35.4, 1e-9);
    NEAR(*value("10 * sin(30)").actual, 5.0, 1e-9);
    const auto says = [&](const std::string& formula, const char* words) {
      const auto e = value(formula);
      QVERIFY(!e.actual && e.verdict == Verdict::Unmeasured);
      QVERIFY2(e.how.find(words) != std::string::npos, e.how.c_str());
    };
    says("#4 + 1", "#3 -> #4 -> #3");
    says("#9", "no requirement #9");
    says("\"C\".x", "no feature");
    says("\"B\"", ".diameter");
    says("\"low\".diameter", "has no diameter");
    says("1 +", "1 +");
    says("1/0", "not a number");
    says("\"B", "quotes");
  }
  void decisionUnderUncertainty() {
    const auto verdict = [](double height, double uncertainty) {
      const J features = J::array({plane("low", 0, flat), plane("high", height, flat)});
      J r{{"kind", "distance"}, {"features", {"low", "high"}}, {"lower", 9.9}, {"upper", 10.1}};
      if (uncertainty > 0) r["uncertainty"] = uncertainty;
      return evaluate(features, r)->verdict;
    };
    // The guard band is 0.825 of the expanded uncertainty of 0.02: 0.0165.
    QVERIFY(verdict(10.08, 0) == Verdict::Within);
    QVERIFY(verdict(10.08, 0.02) == Verdict::Within);
    QVERIFY(verdict(10.085, 0.02) == Verdict::NotProved);
    QVERIFY(verdict(10.11, 0) == Verdict::Outside);
    QVERIFY(verdict(10.11, 0.02) == Verdict::NotProved);
    QVERIFY(verdict(10.12, 0.02) == Verdict::Outside);
    const auto e = evaluate(J::array({plane("low", 0, flat), plane("high", 10.11, flat)}),
                            {{"kind", "distance"},
                             {"features", {"low", "high"}},
                             {"lower", 9.9},
                             {"upper", 10.1},
                             {"uncertainty", 0.02}});
    QVERIFY(e->how.find("ISO 14253-1") != std::string::npos);
  }
  // Holes on a circle: their distance from Z and the angles between them, and where one lies.
  void polar() {
    const auto hole = [](const char* id, double radius, double degrees) {
      const double a = radians(degrees), x = radius * std::cos(a), y = radius * std::sin(a);
      return cylinder(id, true, x, y, 8, 8.0);
    };
    const J f{hole("P", 40.02, 20), hole("Q", 40.05, 140), hole("R", 30, 305)};
    const auto on = [](const char* kind, const J& features, double nominal, const char* along) {
      return J{{"kind", kind},         {"features", features}, {"lower", nominal - 1},
               {"upper", nominal + 1}, {"nominal", nominal},   {"along", along}};
    };
    figure(f, on("distance", {"P"}, 40, "radial"), 40.02);
    figure(f, on("distance", {"P", "R"}, 10, "radial"), 10.02);
    figure(f, on("distance", {"Q"}, -30, "x"), 40.05 * std::cos(radians(140)));
    figure(f, on("angle", {"P", "Q"}, 120, "z"), radians(120), 1e-9);
    figure(f, on("angle", {"P", "Q"}, 240, "z"), radians(240), 1e-9);
    figure(f, on("angle", {"R"}, 305, "z"), radians(305), 1e-9);
    figure(f, on("angle", {"R"}, -55, "z"), radians(-55), 1e-9);
    const auto none = evaluate(f, on("distance", {"P"}, 40, ""));
    QVERIFY(!none && none.error().message.find("two features") != std::string::npos);
  }
};

ALDER_TEST(SheetJudgingTest)
#include "sheet_judging_test.moc"
