#include "judge/judge.h"
#include "sheets.h"

using namespace alder;
using namespace alder::test;

// What the shape of a zone, its datums and what it is held with make of a figure.
class SheetZonesTest : public QObject {
  Q_OBJECT

 private slots:
  // Two holes, both off by 0.3 along X and one by 0.02 along Y: the lower segment forgets what they
  // share, within the datums' turn.
  void composite() {
    const J features{plane("A", 0, flat, -1), cylinder("D", true, 0, 0, 20, 20.0),
                     cylinder("h1", true, 0, 0, 8, 8.0), cylinder("h2", true, 0, 0, 8, 8.0)};
    J moved = features;
    moved[2] = cylinder("h1", true, 40.3, 0, 8, 8.0),
    moved[3] = cylinder("h2", true, 80.3, 0.02, 8, 8.0);
    moved[2]["nominal"]["point"] = {40, 0, 0}, moved[3]["nominal"]["point"] = {80, 0, 0};
    const J slot{{"id", "E"},
                 {"shape", "slot"},
                 {"hole", true},
                 {"nominal", {{"point", {-40, 0, 15}}, {"direction", {0, 1, 0}}, {"width", 12}}},
                 {"points",
                  {{-55, -6, 5},
                   {-25, -6, 5},
                   {-55, -6, 25},
                   {-25, -6, 25},
                   {-55, 6, 5},
                   {-25, 6, 5},
                   {-55, 6, 25},
                   {-25, 6, 25}}}};
    moved.push_back(slot);
    const J datums{{{"feature", "A"}}, {{"feature", "D"}}, {{"feature", "E"}}};
    const J upper{{"id", "up"},       {"kind", "position"}, {"features", {"h1", "h2"}},
                  {"tolerance", 0.5}, {"zone", "diameter"}, {"datums", datums}};
    J lower = upper;
    lower["id"] = "low", lower["tolerance"] = 0.1, lower["upper_segment"] = "up";
    const auto judged = [&](const J& requirements) {
      const J sheet{{"standard", "ISO"}, {"features", moved}, {"requirements", requirements}};
      return readSheet(sheet.dump(), "sheet.json").map([](const Sheet& s) {
        return judgeAll(s.plan, s.measured);
      });
    };
    const auto both = judged({upper, lower});
    VERIFY_OK(both);
    NEAR(*both->at(0).actual, 2 * std::hypot(0.3, 0.02), 1e-6);
    NEAR(*both->at(1).actual, 0.02, 1e-6); // half of the 0.02 to either side, as a diameter
    const auto wrong = judged(J::array({lower}));
    QVERIFY(!wrong);
    QVERIFY2(wrong.error().message.find("upper_segment") != std::string::npos,
             wrong.error().message.c_str());
  }
  void projectedZones() {
    // A bore that leans by 0.001 about its bottom: 0.06 wide at its top of 30, 0.1 at 20 above.
    J rings = J::array();
    for (const double z : {5.0, 25.0})
      rings.push_back(ring(
          8, z, [](double) { return 5.0; }, 0.001 * z));
    const J features = J::array({cylinder("B", true, 0, 0, 10, rings), plane("P", 30, flat)});
    J r{{"kind", "position"},
        {"feature", "B"},
        {"tolerance", 1},
        {"association", "ls"},
        {"datums", {{{"feature", "P"}}}}};
    r["kind"] = "perpendicularity";
    r["zone"] = "diameter";
    figure(features, r, 0.03, 1e-5);
    r["projected"] = 20;
    figure(features, r, 0.02, 1e-5);
    r["projected"] = 50;
    figure(features, r, 0.05, 1e-5);
  }
  void overAnyLength() {
    // A wave of 0.01 over 100: over any 20 it bends far less.
    J line = J::array();
    for (int i = 0; i <= 100; ++i)
      line.push_back({i, 0, 0.01 * std::sin(kPi * i / 100)});
    J surface = plane("P", 0, flat);
    surface.erase("points");
    surface["sections"] = J::array({line, line});
    for (J& p : surface["sections"][1])
      p[1] = 30;
    J r{{"kind", "straightness"}, {"feature", "P"}, {"tolerance", 1}};
    figure(J::array({surface}), r, 0.01, 1e-6);
    r["unit_length"] = 20;
    const double arch = 0.01 * (1 - std::cos(kPi / 10)); // the top 20
    figure(J::array({surface}), r, arch, 1e-6);
    r["kind"] = "flatness";
    r["unit_length"] = 35;
    QVERIFY(*evaluate(J::array({surface}), r)->actual < 0.004);
  }
  // The tertiary plane is touched beyond the axis alone: from outside the material it turns until
  // it touches, which is 40 times the turn at the hole.
  void tertiaryPlaneOnOneSide() {
    const auto side = [](const std::vector<std::pair<double, double>>& heights) {
      J points = J::array();
      for (const double z : {5.0, 25.0})
        for (const auto& [x, y] : heights)
          points.push_back({x, y, z});
      return J{{"id", "C"},
               {"shape", "plane"},
               {"nominal", {{"point", {0, 20, 0}}, {"direction", {0, 1, 0}}}},
               {"points", points}};
    };
    const J hole = cylinder("h", true, 40, 0, 8, 8.0);
    const auto features = [&](const J& c) {
      return J::array({plane("A", 0, flat, -1), cylinder("B", true, 0, 0, 10, 10.0), c, hole});
    };
    const J r{{"kind", "position"},
              {"feature", "h"},
              {"tolerance", 0.06},
              {"datums", {{{"feature", "A"}}, {{"feature", "B"}}, {{"feature", "C"}}}}};
    // Turned by t the plane holds the middle point: 20.02 cos t - 20 sin t = 20.
    double t = 0;
    for (int step = 0; step < 50; ++step)
      t += (20.02 * std::cos(t) - 20 * std::sin(t) - 20) / (20.02 * std::sin(t) + 20 * std::cos(t));
    const double off = 2 * 40 * 2 * std::sin(t / 2);
    const J one_side = features(side({{10, 20}, {20, 20.02}, {30, 20}}));
    figure(one_side, r, off, 1e-6);
    QVERIFY(evaluate(one_side, r)->verdict == Verdict::Outside);
    // Low in the middle, the ends decide, and it lies as it is meant to.
    figure(features(side({{10, 20}, {20, 19.98}, {30, 20}})), r, 0, 1e-6);
    // On both sides no turn brings it outside; the least largest deviation counts.
    figure(features(side({{-20, 20.02}, {20, 20.02}})), r, 0, 1e-6);
  }
  void totalRunoutOfACone() {
    J rings = J::array();
    for (const double z : {2.0, 10.0, 18.0})
      rings.push_back(ring(
          36, z, [z](double) { return 10.02 + z; }, 0.03, 0)); // too wide, and beside the axis
    J cone = cylinder("C", true, 0, 0, 20, rings);
    cone["shape"] = "cone";
    cone["nominal"]["apex_angle_deg"] = 90;
    J r{{"kind", "total_runout"},
        {"feature", "C"},
        {"tolerance", 0.1},
        {"datums", J::array({{{"feature", "B"}}})}};
    const J axis = cylinder("B", true, 0, 0, 8, 8.0);
    figure(J::array({cone, axis}), r, 0.06 * std::sqrt(0.5), 1e-6); // square to the surface
    rings = J::array();
    for (const double z : {2.0, 10.0, 18.0})
      rings.push_back(ring(36, z, [z](double) { return 10 + 1.001 * z; }));
    cone["sections"] = rings;
    figure(J::array({cone, axis}), r, 0.016 * std::sqrt(0.5), 1e-6); // its angle is off
    r["kind"] = "circular_runout";
    figure(J::array({cone, axis}), r, 0, 1e-6);
  }
  // A saddle over a square of 20 that stands on its corner; no square along the sides holds it.
  void squaresAtAnyAngle() {
    const double d = 14.1, h = 0.01;
    J points{{d, 0, h}, {-d, 0, h}, {0, d, -h}, {0, -d, -h}};
    for (const double x : {100.0, 108.0})
      for (const double y : {-4.0, 4.0})
        points.push_back({x, y, 0});
    const J surface{{"id", "P"},
                    {"shape", "plane"},
                    {"nominal", {{"point", {0, 0, 0}}, {"direction", {0, 0, 1}}}},
                    {"points", points}};
    J r{{"kind", "flatness"}, {"feature", "P"}, {"tolerance", 0.015}, {"unit_length", 20}};
    for (const char* by : {"", "ls"}) {
      r["association"] = by;
      figure(J::array({surface}), r, 2 * h, 1e-6);
    }
    QVERIFY(evaluate(J::array({surface}), r)->verdict == Verdict::Outside);
    r["unit_length"] = 15; // too small for it
    figure(J::array({surface}), r, 0, 1e-6);
  }
  void patternsApart() {
    // Two bores, both 0.1 too far to the right: apart 0.2 each, one pattern without datum none.
    const auto bore = [](const char* id, double x) {
      J b = cylinder(id, true, x, 0, 10,
                     J::array({ring(
                                   8, 5, [](double) { return 5.0; }, x + (x > 0 ? 0.1 : -0.1)),
                               ring(
                                   8, 25, [](double) { return 5.0; }, x + (x > 0 ? 0.1 : -0.1))}));
      return b;
    };
    const J features = J::array({bore("a", -20), bore("b", 20)});
    J r{{"kind", "position"}, {"features", {"a", "b"}}, {"tolerance", 1}};
    figure(features, r, 0.2, 1e-6);
    r["separate"] = true;
    figure(features, r, 0, 1e-6);
    figure(features, r, 0.2, 1e-6, "ASME"); // SEP REQT leaves the pattern one
    QVERIFY(evaluate(features, r, "ASME")->how.find("SEP REQT") != std::string::npos);
  }
  void datumsThatFixLess() {
    // A lies tilted by 0.001 about y; B is square to nothing. Locking z alone, A turns nothing.
    const auto tilted = [](double x, double) { return 0.001 * (x - 50); };
    const J features = J::array({plane("A", 0, tilted), plane("P", 20, flat)});
    J r{{"kind", "surface_profile"},
        {"feature", "P"},
        {"tolerance", 1},
        {"datums", {{{"feature", "A"}}}},
        {"datum_association", "ls"}};
    figure(features, r, 0.1, 1e-4); // 0.05 up and down at the ends, twice
    r["datums"][0]["locks"] = "z";
    figure(features, r, 0, 1e-4);
    r["datums"][0]["locks"] = "uv"; // free in z: the tilt stays
    figure(features, r, 0.1, 1e-4);
    r["datums"][0]["locks"] = "q";
    QVERIFY(!evaluate(features, r));
  }
  void datumTargets() {
    // A bump of 0.1 in the middle does not lift a part that stands on three targets.
    const auto bump = [](double x, double y) { return x == 50 && y == 30 ? 0.1 : 0.0; };
    const J features = J::array({plane("A", 0, bump), plane("P", 20, flat)});
    J r{{"kind", "surface_profile"},
        {"feature", "P"},
        {"tolerance", 1},
        {"datums", {{{"feature", "A"}}}}};
    QVERIFY(*evaluate(features, r)->actual > 0.05);
    r["datums"][0]["targets"] = J::array({{{"point", {0, 0, 0}}},
                                          {{"point", {100, 0, 0}}, {"diameter", 4}},
                                          {{"point", {0, 60, 0}}, {"to", {100, 60, 0}}}});
    figure(features, r, 0, 1e-9);
    r["datums"][0]["targets"][0]["point"] = {20, 10, 0};
    const auto missing = evaluate(features, r);
    VERIFY_OK(missing);
    QVERIFY2(missing->how.find("datum target A1") != std::string::npos, missing->how.c_str());
  }
  // ø10 +0.1/0 at ø0.05 M R, exact in place but 0.03 below its lower limit: what position leaves
  // covers it; a hole off by 0.01 (ø0.02) leaves 0.03, one off by more does not.
  void reciprocity() {
    for (const double off : {0.0, 0.01, 0.012}) {
      J hole = cylinder("H", true, 50 + off, 0, 10, 9.97);
      hole["nominal"]["point"][0] = 50;
      hole["size_limits"] = {10.0, 10.1};
      const J a = plane("A", 0, flat, -1);
      const J sheet{
          {"features", {a, hole, cylinder("Z", true, 0, 0, 20, 20.0)}},
          {"requirements",
           {{{"id", "size"}, {"kind", "size"}, {"feature", "H"}, {"lower", 10.0}, {"upper", 10.1}},
            {{"id", "place"},
             {"kind", "position"},
             {"feature", "H"},
             {"tolerance", 0.05},
             {"modifier", "M"},
             {"reciprocity", true},
             {"datums", {{{"feature", "A"}}, {{"feature", "Z"}}}}}}}};
      auto read = readSheet(sheet.dump(), "sheet.json");
      VERIFY_OK(read);
      const Evaluation size = judge(read->plan, read->plan.spec.requirements[0], read->measured);
      QVERIFY2(size.actual, size.how.c_str());
      NEAR(size.lower, 10 - (0.05 - 2 * off), 1e-6);
      NEAR(size.upper, 10.1, 1e-12);
      QCOMPARE(size.verdict == Verdict::Outside, off > 0.011);
      // The virtual condition decides both alike: 9.97 - 2 off >= 9.95.
      const Evaluation place = judge(read->plan, read->plan.spec.requirements[1], read->measured);
      NEAR(place.upper, 0.02, 1e-6);
      QCOMPARE(place.verdict == Verdict::Outside, off > 0.011);
    }
  }
  // A plane 0.2 too high with a ripple of +-0.01 and the bore as it should be: at any offset only
  // the ripple counts.
  void profileAtAnyOffset() {
    const J top = plane("T", 30, [](double x, double) { return x == 50 ? 0.21 : 0.19; });
    const J a = plane("A", 0, flat, -1);
    const J profile{{"kind", "surface_profile"},
                    {"feature", "T"},
                    {"tolerance", 0.05},
                    {"datums", {{{"feature", "A"}}}}};
    figure({a, top}, profile, 0.42);
    J free = profile;
    free["free_offset"] = true;
    figure({a, top}, free, 0.02);
    // Turned by the datum it still counts; without one the tilt goes.
    const J tilted = plane("T", 30, [](double x, double) { return 0.2 + (x - 50) * 1e-4; });
    figure({a, tilted}, free, 0.01, 1e-5);
    free.erase("datums");
    figure({a, tilted}, free, 0.0, 1e-5);
    // A bore too large by 0.06 all round: its form is perfect.
    const J bore = cylinder("B", true, 0, 0, 20, 20.06);
    figure(J::array({bore}), {{"kind", "surface_profile"}, {"feature", "B"}, {"tolerance", 0.05}},
           0.06, 1e-5);
    figure(
        J::array({bore}),
        {{"kind", "surface_profile"}, {"feature", "B"}, {"tolerance", 0.05}, {"free_offset", true}},
        0.0, 1e-5);
  }
  // Datum A is a roof: two halves that fall away by 1:1000 from a ridge at x = 50. The plane of
  // least largest gap lies level; resting on one half or the other also counts by ASME, where the
  // top is parallel to it.
  void rockingDatum() {
    const auto roof = [](double x, double) { return -(50 - std::abs(x - 50)) * 1e-3; };
    J a = plane("A", 0, roof, -1);
    const J top = plane("T", 30, [](double x, double) { return -x * 1e-3; });
    const J parallel{{"kind", "parallelism"},
                     {"feature", "T"},
                     {"tolerance", 0.05},
                     {"datums", {{{"feature", "A"}}}}};
    figure({a, top}, parallel, 0.1, 1e-5);
    figure({a, top}, parallel, 0.0, 1e-5, "ASME");
    const auto e = evaluate({a, top}, parallel, "ASME");
    QVERIFY2(e->how.find("rocks") != std::string::npos, e->how.c_str());
    // By least squares nothing rocks.
    J squares = parallel;
    squares["datum_association"] = "ls";
    figure({a, top}, squares, 0.1, 1e-5, "ASME");
    // A flat datum has one plane only.
    const auto flat_one = evaluate({plane("A", 0, flat, -1), top}, parallel, "ASME");
    QVERIFY2(flat_one->how.find("rocks") == std::string::npos, flat_one->how.c_str());
  }
  void simultaneousByAsmeAlone() {
    // Two bores about a datum bore that lets the part turn: one 0.1 clockwise, one counter. Each by
    // itself turns to nothing; held together by one placement neither can.
    const auto at = [](const char* id, double x, double y, double dy) {
      return cylinder(id, true, x, y, 10,
                      J::array({ring(
                                    8, 5, [](double) { return 5.0; }, x, y + dy),
                                ring(
                                    8, 25, [](double) { return 5.0; }, x, y + dy)}));
    };
    const J features = J::array(
        {plane("A", 0, flat, -1), at("B", 0, 0, 0), at("p", 40, 0, 0.1), at("q", 80, 0, -0.2)});
    const auto two = [&](const char* standard, bool separate) {
      const J datums = J::array({{{"feature", "A"}}, {{"feature", "B"}}});
      const J sheet{{"standard", standard},
                    {"features", features},
                    {"requirements", J::array({{{"id", "1"},
                                                {"kind", "position"},
                                                {"feature", "p"},
                                                {"tolerance", 1},
                                                {"datums", datums},
                                                {"separate", separate}},
                                               {{"id", "2"},
                                                {"kind", "position"},
                                                {"feature", "q"},
                                                {"tolerance", 1},
                                                {"datums", datums}}})}};
      const auto read = readSheet(sheet.dump(), "sheet.json");
      return judge(read->plan, read->plan.spec.requirements[0], read->measured);
    };
    // (Turning by 1/400 also shortens 40 by 0.000125.) Both count the same when turned by t: 0.1 -
    // 40 t = 0.2 + 80 t at t = -1/1200, so 2 * 0.1333.
    NEAR(*two("ASME", false).actual, 2 * (0.1 + 40.0 / 1200), 1e-4);
    QVERIFY(two("ASME", false).how.find("same time") != std::string::npos);
    NEAR(*two("ASME", true).actual, 0.0, 3e-4);
    NEAR(*two("ISO", false).actual, 0.0, 3e-4);
  }
};

ALDER_TEST(SheetZonesTest)
#include "sheet_zones_test.moc"
